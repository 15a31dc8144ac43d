"""The kinds of pages by name, and sets of worksheets for a class."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from ..song import Song
from .cards import chart_pages, keys_pages
from .charts import song_pages, strip_pages
from .request import Request
from .shapes import Page
from .tune_page import tune_pages
from .worksheet import code_of, pupil_seed, worksheet_pages

__all__ = ["PAGES", "class_set", "pages_of"]

PAGES: dict[str, tuple[str, Callable[[Song, Request], list[Page]]]] = {
    "tune": ("The tune", tune_pages),
    "worksheet": ("Worksheet", worksheet_pages),
    "keys": ("Key card", keys_pages),
    "chart": ("Pitch chart", chart_pages),
    "song": ("Song chart", song_pages),
    "strip": ("Number strip", strip_pages),
}
"""By the name that the command line gives them: what they are called, and what makes them."""


def pages_of(kind: str, song: Song, request: Request) -> list[Page]:
    """The pages of a kind. Raises HandoutFault where the tune has no notes."""
    return PAGES[kind][1](song, request)


def class_set(song: Song, request: Request, pupils: int, seed: int) -> list[list[Page]]:
    """A worksheet for each pupil, each with gaps of its own and a code that gives them back."""
    found = []
    for pupil in range(1, pupils + 1):
        gaps = replace(request.gaps, seed=pupil_seed(seed, pupil))
        found.append(pages_of("worksheet", song, replace(request, gaps=gaps, code=code_of(seed, pupil))))
    return found
