"""A class's attempts as pages to give back."""

from __future__ import annotations

from collections.abc import Sequence

from ..attempts import Attempt, attempt_beside
from ..comparison import Model, Verdict
from ..comparison.points import Points
from ..comparison.summary import judged_by_bar
from ..handout.attempt_page import AttemptSheet, TriedMoment
from .class_table import label_of, marked, sentences_on

__all__ = ["attempt_sheets", "sheets_of"]


def attempt_sheets(model: Model, attempts: Sequence[Attempt], points: Points | None = None) -> list[AttemptSheet]:
    """A sheet for each attempt that could be read; files are read once more for what they hold."""
    return [_sheet(model, each, points) for each in attempts if each.comparison.verdict is not Verdict.UNREADABLE]


def sheets_of(rule: tuple[Model, Points | None], attempts: Sequence[Attempt]) -> list[AttemptSheet]:
    """The same, as the work of a process of its own: ``rule`` is the model and the points."""
    model, points = rule
    return attempt_sheets(model, attempts, points)


def _sheet(model: Model, attempt: Attempt, points: Points | None) -> AttemptSheet:
    comparison = attempt.comparison
    first = comparison.differences[0] if comparison.differences else None
    look_at = (first.start, first.start + first.length) if first is not None else None
    laid = attempt_beside(model, attempt.source) if judged_by_bar(comparison) else None
    beside = laid.beside if laid is not None else ()
    moments = tuple(
        TriedMoment(each.start, each.length, marked(each, model.song.grid), each.kind is None) for each in beside
    )
    return AttemptSheet(label_of(attempt), sentences_on(attempt, points), moments, look_at)
