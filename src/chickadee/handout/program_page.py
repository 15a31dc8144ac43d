"""The program as a page: its steps with line numbers, and a bar with a count beside what is repeated."""

from __future__ import annotations

from ..song import Song
from .canvas import Canvas
from .program_lines import Writing, sheet_of
from .request import Request
from .shapes import Page

__all__ = ["program_pages"]


def program_pages(song: Song, request: Request) -> list[Page]:
    """As many pages as the program needs. Raises HandoutFault."""
    sheet = sheet_of(request)
    canvas = Canvas(request, song.title or "Tune")
    Writing(canvas, sheet).lines()
    return canvas.pages()
