"""Which moment of an attempt stands for which of the model: the alignment that costs least.

The costs are those of Gotoh, "An improved algorithm for matching biological sequences" (1982): a gap costs more to
open than to go on, so that what is left out or added stays together.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .line import Line, Moment

__all__ = ["MOST_CELLS", "Pair", "TooLong", "aligned", "alike", "all_alike"]

Pair = tuple[int | None, int | None]
"""The index of a moment of the model and of the attempt; None where one has nothing there."""

MOST_CELLS = 100_000_000
"""Pairs of moments that are weighed at most: a byte of memory each."""
_OPEN = 110
_GO_ON = 95
_LENGTH = 30
_UNREAD = 70
# the cost of a pitch a step or octaves away, and of any other
_NEAR = 90
_OTHER = 100
_SLIP = (1, 2, 12, 24)  # semitones
_CHORD = (40, 60)  # the cost of a chord that is not quite the same: at least, and more by what is not shared
_TOLERANCE = 0.04  # of the longer of two lengths
_MATCH = 0
_MISSING = 1
_ADDED = 2
_GOES_ON_MISSING = 4
_GOES_ON_ADDED = 8
_FAR = 1 << 40  # a cost beyond all others
_BLOCK = 1_000_000  # pairs that are weighed at a time

_Ticks = NDArray[np.float64]


class TooLong(Exception):  # noqa: N818 - the caller says it to the user
    """Two lines differ over too long a stretch to be compared."""


def alike(one: float, other: float) -> bool:
    """Return whether two lengths are the same but for rounding, as 0.33 and 1/3."""
    return abs(one - other) <= _TOLERANCE * max(one, other)


def all_alike(some: NDArray[np.int64] | _Ticks, others: _Ticks) -> NDArray[np.bool_]:
    """Which of many lengths are the same, as :func:`alike`."""
    close: NDArray[np.bool_] = np.abs(some - others) <= _TOLERANCE * np.maximum(some, others)
    return close


def aligned(model: Line, attempt: Line, semitones: int = 0, times: float = 1.0) -> list[Pair]:
    """Pairs in order of time, for an attempt that is so many semitones higher and so many times as long.

    Raises TooLong.
    """
    numbers = [_shifted(moment, semitones) for moment in attempt.moments]
    lengths = attempt.lengths / times
    same = [
        bool(one.numbers) and one.numbers == other and alike(one.length, length)
        for one, other, length in zip(model.moments, numbers, lengths.tolist(), strict=False)
    ]
    head = same.index(False) if False in same else len(same)
    tail = 0
    most = min(len(model), len(attempt)) - head
    while tail < most and _same(model, numbers, lengths, tail + 1):
        tail += 1
    inner = slice(head, len(model) - tail), slice(head, len(attempt) - tail)
    middle = _cheapest(
        [moment.numbers for moment in model.moments[inner[0]]],
        numbers[inner[1]],
        model.lengths[inner[0]].astype(np.float64),
        lengths[inner[1]],
    )
    shifted = [(_plus(one, head), _plus(other, head)) for one, other in middle]
    last = [(len(model) - place, len(attempt) - place) for place in range(tail, 0, -1)]
    return [*((place, place) for place in range(head)), *shifted, *last]


def _same(model: Line, numbers: Sequence[tuple[int, ...]], lengths: _Ticks, back: int) -> bool:
    one = model.moments[-back]
    return bool(one.numbers) and one.numbers == numbers[-back] and alike(one.length, float(lengths[-back]))


def _plus(place: int | None, more: int) -> int | None:
    return None if place is None else place + more


def _shifted(moment: Moment, semitones: int) -> tuple[int, ...]:
    return tuple(number - semitones for number in moment.numbers) if semitones else moment.numbers


def _cheapest(
    model: Sequence[tuple[int, ...]], attempt: Sequence[tuple[int, ...]], lengths: _Ticks, others: _Ticks
) -> list[Pair]:
    rows = len(model)
    columns = len(attempt)
    if not rows or not columns:
        return [*((place, None) for place in range(rows)), *((None, place) for place in range(columns))]
    if rows * columns > MOST_CELLS:
        raise TooLong
    ways = _ways(*_costs(model, attempt), lengths, others)
    return _traced(ways, rows, columns)


def _costs(
    model: Sequence[tuple[int, ...]], attempt: Sequence[tuple[int, ...]]
) -> tuple[NDArray[np.int64], NDArray[np.intp], NDArray[np.intp]]:
    """The cost of each kind of moment for each other, and the kinds of both lines; kinds stand in order of pitch."""
    kinds = sorted({*model, *attempt})
    place = {kind: index for index, kind in enumerate(kinds)}
    one, other = (np.array([place[each] for each in line], dtype=np.intp) for line in (model, attempt))
    used, used_other = (np.unique(line).tolist() for line in (one, other))
    table = np.zeros((len(kinds), len(kinds)), dtype=np.int64)
    for row in used:
        for column in used_other:
            table[row, column] = _cost(kinds[row], kinds[column])
    return table, one, other


def _cost(one: tuple[int, ...], other: tuple[int, ...]) -> int:
    if not one or not other:
        return _UNREAD
    if one == other:
        return 0
    if len(one) == len(other) == 1:
        return _NEAR if abs(one[0] - other[0]) in _SLIP else _OTHER
    shared = len({*one} & {*other})
    every = len({*one} | {*other})
    return _CHORD[0] + _CHORD[1] * (every - shared) // every


def _ways(
    table: NDArray[np.int64], model: NDArray[np.intp], attempt: NDArray[np.intp], lengths: _Ticks, others: _Ticks
) -> NDArray[np.uint8]:
    """For every pair of places, the last step of the cheapest way to it; shape (model + 1, attempt + 1).

    A gap goes before the other where both cost the same and its moment is the lower, so that the way is the same
    with model and attempt exchanged.
    """
    rows = len(model)
    columns = len(attempt)
    ways = np.zeros((rows + 1, columns + 1), dtype=np.uint8)
    along = _GO_ON * np.arange(columns + 1, dtype=np.int64)
    best = _OPEN - _GO_ON + along
    best[0] = 0
    ways[0, 1:] = _ADDED | _GOES_ON_ADDED
    ways[0, 1] = _ADDED
    missing = np.full(columns + 1, _FAR)
    height = max(1, _BLOCK // (columns + 1))
    for top in range(0, rows, height):
        block = slice(top, min(rows, top + height))
        other_length = ~all_alike(lengths[block, None], others)
        costs = table[model[block, None], attempt] + _LENGTH * other_length
        weighed = _Weighed.of(costs, along, best, missing)
        lower = np.ones(weighed.best[1:].shape, dtype=bool)
        lower[:, 1:] = model[block, None] <= attempt
        ways[top + 1 : block.stop + 1] = weighed.ways(lower)
        best = weighed.best[-1]
        missing = weighed.missing[-1]
    return ways


class _Weighed(NamedTuple):
    """Some rows of the table of costs, the row before them first: of the ways that end in a match, in a moment that
    is missing or added, and of the cheapest."""

    match: NDArray[np.int64]
    missing: NDArray[np.int64]
    added: NDArray[np.int64]
    best: NDArray[np.int64]

    @classmethod
    def of(
        cls, costs: NDArray[np.int64], along: NDArray[np.int64], best: NDArray[np.int64], missing: NDArray[np.int64]
    ) -> _Weighed:
        """Weigh rows from the costs of their matches and from the row before them."""
        made = cls(*(np.full((len(costs) + 1, len(along)), _FAR) for _ in range(4)))
        made.best[0] = best
        made.missing[0] = missing
        onwards = along[1:] + (_OPEN - _GO_ON)
        for row, cost in enumerate(costs, 1):
            before = made.best[row - 1]
            gone = made.missing[row]
            match = made.match[row]
            added = made.added[row]
            least = made.best[row]
            np.add(before[:-1], cost, out=match[1:])
            np.minimum(before + _OPEN, made.missing[row - 1] + _GO_ON, out=gone)
            np.minimum(match, gone, out=least)
            np.add(np.minimum.accumulate(least - along)[:-1], onwards, out=added[1:])
            np.minimum(least, added, out=least)
        return made

    def ways(self, lower: NDArray[np.bool_]) -> NDArray[np.uint8]:
        """The last steps to all but the first row; ``lower`` says where the model's moment is not the higher."""
        match, missing, added, best = (rows[1:] for rows in self)
        gap = np.where((missing < added) | ((missing == added) & lower), _MISSING, _ADDED)
        code = np.where(match == best, _MATCH, gap)
        code += _GOES_ON_MISSING * (self.missing[:-1] + _GO_ON < self.best[:-1] + _OPEN)
        before = np.minimum(match, missing)
        code[:, 2:] += _GOES_ON_ADDED * (added[:, 2:] < before[:, 1:-1] + _OPEN)
        return code.astype(np.uint8)


def _traced(ways: NDArray[np.uint8], row: int, column: int) -> list[Pair]:
    """The cheapest way, walked back from its end."""
    found: list[Pair] = []
    step: int | None = None
    while row or column:
        code = int(ways[row, column])
        step = code & 3 if step is None else step
        if step == _MATCH:
            row -= 1
            column -= 1
            step = None
            found.append((row, column))
        elif step == _MISSING:
            step = _MISSING if code & _GOES_ON_MISSING else None
            row -= 1
            found.append((row, None))
        else:
            step = _ADDED if code & _GOES_ON_ADDED else None
            column -= 1
            found.append((None, column))
    return found[::-1]
