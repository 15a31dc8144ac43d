"""The tune on staves as a page."""

from __future__ import annotations

from dataclasses import replace

from ..song import Song
from .bars import voice_of
from .canvas import Canvas
from .request import Request
from .shapes import Page
from .staff_score import SPACE, HeadLabels, add_systems, staff_engraver

__all__ = ["staff_pages", "staff_picture"]

_FOR_HEADS = 2.9
"""Millimetres of a staff space where names or numbers stand in the heads."""


def staff_pages(song: Song, request: Request) -> list[Page]:
    """As many systems as the tune needs, of the voice that is read or of all that were asked for."""
    return _canvas(song, request).pages()


def staff_picture(song: Song, request: Request) -> list[Page]:
    """The same without lines for a name and a date, no higher than it need be where one page is enough."""
    canvas = _canvas(song, replace(request, for_pupils=False))
    pages = canvas.pages()
    if len(pages) > 1:
        return pages
    paper = replace(request.paper, height=min(request.paper.height, canvas.y + request.paper.margin))
    return [replace(pages[0], paper=paper)]


def _canvas(song: Song, request: Request) -> Canvas:
    voices = request.voices or (voice_of(song, request),)
    canvas = Canvas(request, song.title or "Tune")
    labels = HeadLabels(request.labels)
    engraver = staff_engraver(song, voices, labels, request.bars, request.clef, request.beside)
    space = (_FOR_HEADS if labels.is_in_heads else SPACE) * request.scale
    add_systems(canvas, engraver, space, request.bars_in_line)
    return canvas
