"""The kinds of pages by name, and sets of sheets for a class."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from ..song import Song
from .cards import keys_pages
from .charts import song_pages, strip_pages
from .codes import code_of, pupil_seed
from .flash_cards import flash_card_pages
from .pitch_chart import chart_pages
from .program_gaps import gap_pages
from .program_page import program_pages
from .program_puzzle import puzzle_pages
from .request import Request
from .shapes import Page
from .staff_page import staff_pages
from .staff_tasks import staff_task_pages
from .trace_table import trace_pages
from .tune_page import tune_pages
from .worksheet import worksheet_pages

__all__ = ["FOR_PUPILS", "OF_PROGRAMS", "PAGES", "class_set", "pages_of"]

PAGES: dict[str, tuple[str, Callable[[Song, Request], list[Page]]]] = {
    "tune": ("The tune", tune_pages),
    "staff": ("The tune on a staff", staff_pages),
    "staff-worksheet": ("Worksheet on a staff", staff_task_pages),
    "flashcards": ("Flash cards", flash_card_pages),
    "worksheet": ("Worksheet", worksheet_pages),
    "keys": ("Key card", keys_pages),
    "chart": ("Pitch chart", chart_pages),
    "song": ("Song chart", song_pages),
    "strip": ("Number strip", strip_pages),
    "program": ("Program", program_pages),
    "puzzle": ("Program puzzle", puzzle_pages),
    "gaps": ("Program with gaps", gap_pages),
    "trace": ("Trace table", trace_pages),
}
"""By the name that the command line gives them: what they are called, and what makes them."""
OF_PROGRAMS = frozenset(("program", "puzzle", "gaps", "trace"))
"""The pages that need the tune as a program."""
FOR_PUPILS = frozenset(("worksheet", "staff-worksheet", "puzzle", "gaps", "trace"))
"""The pages that have answers, and can be another for each pupil."""


def pages_of(kind: str, song: Song, request: Request) -> list[Page]:
    """The pages of a kind. Raises HandoutFault where the tune has no notes."""
    return PAGES[kind][1](song, request)


def class_set(song: Song, request: Request, pupils: int, seed: int, kind: str = "worksheet") -> list[list[Page]]:
    """A sheet for each pupil, each with gaps or an order of its own and a code that gives them back."""
    found = []
    for pupil in range(1, pupils + 1):
        gaps = replace(request.gaps, seed=pupil_seed(seed, pupil))
        found.append(pages_of(kind, song, replace(request, gaps=gaps, code=code_of(seed, pupil))))
    return found
