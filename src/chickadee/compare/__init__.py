"""Attempts at a tune, compared with it: aligned, judged, and explained.

The room itself can be called, as ``chickadee.compare(model, attempts)``.
"""

from __future__ import annotations

import sys
from collections.abc import Iterable
from types import ModuleType

from ..formats.imported import Form, Imported, found_in_sheet
from ..sheet import Reading
from ..song import Song
from .comparison import Comparison, Verdict, best_reading, compared, unreadable
from .model import Model

__all__ = ["Comparison", "Model", "Verdict", "best_reading", "compare", "compared", "unreadable"]


def compare(model: Reading | Song, attempts: Iterable[Reading | Song]) -> list[Comparison]:
    """Judge attempts against a model, each by itself.

    >>> from chickadee.sheet import read
    >>> model, attempt = read("C4 D4 E4=2"), read("C4 D4 F4=2")
    >>> [(judged.verdict.value, judged.sentence) for judged in compare(model, [attempt])]
    [('differs', '1 difference, at bar 1 beat 3: F4 for E4.')]
    """
    song = model.song if isinstance(model, Reading) else model
    wanted = Model(song)
    return [compared(wanted, _found(attempt)) for attempt in attempts]


def _found(attempt: Reading | Song) -> Imported:
    return found_in_sheet(attempt, Form.SHEET) if isinstance(attempt, Reading) else Imported(attempt, Form.SHEET)


class _Room(ModuleType):
    """A module that is called as its function of the same name."""

    def __call__(self, model: Reading | Song, attempts: Iterable[Reading | Song]) -> list[Comparison]:
        return compare(model, attempts)


sys.modules[__name__].__class__ = _Room
