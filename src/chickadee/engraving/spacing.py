"""Spacing on paper: columns of what sounds together, as far apart as their lengths ask and their shapes need."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from ..song import TICKS_PER_QUARTER

__all__ = ["Column", "TextSpan", "ideal_gap", "positions", "stretch_to_fill"]

_QUARTER = 3.3  # staff spaces from a quarter note to what follows it
_POWER = 0.55  # of the length, by which space grows
_LEAST_GAP = 0.45  # staff spaces between the shapes of two columns
_WORD_GAP = 0.6
_STEPS = 40
_MOST_STRETCH = 1e9


class TextSpan(NamedTuple):
    """A text of one row under or over a column."""

    row: str
    left: float
    """Staff spaces left of the column's x; below 0 where it begins right of it."""
    right: float


class Column(NamedTuple):
    """Things that have one x: heads struck together, a bar line, a change of key."""

    left: float
    """Staff spaces that it needs left of its x."""
    right: float
    gap: float
    """Staff spaces to the next column, where there is room."""
    texts: tuple[TextSpan, ...] = ()
    is_fixed: bool = False
    """True if the gap is not stretched."""


def ideal_gap(ticks: int) -> float:
    """Staff spaces that a length asks for: more for a longer one, but not in proportion."""
    return float(_QUARTER * (max(1, ticks) / TICKS_PER_QUARTER) ** _POWER)


def positions(columns: Sequence[Column], stretch: float = 1.0) -> list[float]:
    """The x of each column, all at 0 or more; gaps are ``stretch`` times theirs, but for those that are fixed."""
    found: list[float] = []
    ends: dict[str, float] = {}  # of the last text of each row
    before: Column | None = None
    for column in columns:
        if before is None:
            x = max(column.left, 0.0)
        else:
            x = found[-1] + max(
                before.gap if before.is_fixed else before.gap * stretch, before.right + column.left + _LEAST_GAP
            )
        for text in column.texts:
            x = max(x, text.left, ends.get(text.row, -_WORD_GAP) + _WORD_GAP + text.left)
        for text in column.texts:
            ends[text.row] = x + text.right
        found.append(x)
        before = column
    found[-1] = max(found[-1], *ends.values(), 0.0)  # no text stands out at the end
    return found


def stretch_to_fill(columns: Sequence[Column], width: float) -> float:
    """The stretch at which the last column stands at ``width``; 0 where even then there is too little room."""
    low = 0.0
    high = 1.0
    while positions(columns, high)[-1] < width and high < _MOST_STRETCH:
        high *= 4
    for _ in range(_STEPS):
        middle = (low + high) / 2
        if positions(columns, middle)[-1] > width:
            high = middle
        else:
            low = middle
    return low
