"""Runs of instructions that come again, as they are or moved by semitones."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator, Sequence
from operator import attrgetter
from typing import NamedTuple

__all__ = ["Moment", "Passage", "moved_by", "passages"]

_LONGEST = 128  # items of a passage
_MOST_MOVED = 24  # semitones


class Moment(NamedTuple):
    """An item of a row, as far as it can be like another."""

    key: Hashable
    """The same for items that are alike."""
    shape: Hashable = None
    """The same for items that are alike but for their pitch; None for what cannot be moved."""
    pitch: int | None = None
    """The MIDI number of its lowest note; None for a silence."""


class Passage(NamedTuple):
    """A run of items that comes again."""

    size: int
    places: tuple[tuple[int, int], ...]
    """The row and the start of each time, in order, none of which overlap."""
    moves: tuple[int, ...]
    """For each time the semitones by which it is moved against the first."""

    @property
    def saving(self) -> int:
        """How many steps it saves to make it a part, where nothing in it is repeated."""
        return _saving(len(self.places), self.size)


def _saving(times: int, size: int) -> int:
    """The steps that a part saves: its head and a call each time, in the place of its steps each time."""
    return (times - 1) * (size - 1) - 2


Likeness = Callable[[Sequence[Moment], int, int], Hashable | None]
"""The part of an item in a run, given the row, the run's start and the item's place; None where it has none."""


def passages(rows: Sequence[Sequence[Moment]], can_move: bool) -> list[Passage]:
    """Return the passages that save steps, the most first; of equals those that are exactly alike."""
    found = list(_grown(rows, _exact))
    if can_move:
        found += _grown(rows, _moved)
    return sorted(found, key=attrgetter("saving"), reverse=True)


def moved_by(one: Sequence[Moment], other: Sequence[Moment]) -> int | None:
    """Return the semitones by which a run is moved against another; None where they are otherwise not alike."""
    alike = len(one) == len(other) and all(
        a.shape is not None and a.shape == b.shape for a, b in zip(one, other, strict=True)
    )
    if not alike:
        return None
    moves = {
        b.pitch - a.pitch for a, b in zip(one, other, strict=True) if a.pitch is not None and b.pitch is not None
    }
    return moves.pop() if len(moves) == 1 else None


def _exact(row: Sequence[Moment], start: int, place: int) -> Hashable | None:
    return row[place].key


def _moved(row: Sequence[Moment], start: int, place: int) -> Hashable | None:
    moment = row[place]
    if moment.shape is None:
        return None
    before = next((row[at].pitch for at in range(place - 1, start - 1, -1) if row[at].pitch is not None), None)
    rise = None if before is None or moment.pitch is None else moment.pitch - before
    return moment.shape, rise


def _grown(rows: Sequence[Sequence[Moment]], likeness: Likeness) -> Iterator[Passage]:
    """Yield every passage: runs that are alike are made longer, item by item, as long as they are."""
    runs: dict[int, list[tuple[int, int]]] = {
        0: [(number, start) for number, row in enumerate(rows) for start in range(len(row))]
    }
    for size in range(_LONGEST):
        longer: dict[Hashable, list[tuple[int, int]]] = {}
        for number, places in runs.items():
            for row, start in places:
                if start + size < len(rows[row]):
                    sign = likeness(rows[row], start, start + size)
                    if sign is not None:
                        longer.setdefault((number, sign), []).append((row, start))
        runs = dict(enumerate(places for places in longer.values() if len(places) > 1))
        if not runs:
            return
        for places in runs.values():
            if _saving(len(places), size + 1) > 0:
                passage = _apart(rows, places, size + 1)
                if passage.saving > 0:
                    yield passage


def _apart(rows: Sequence[Sequence[Moment]], places: Sequence[tuple[int, int]], size: int) -> Passage:
    """The passage at those of some places that do not overlap, from the first on."""
    chosen: list[tuple[int, int]] = []
    moves: list[int] = []
    row, start = places[0]
    first = rows[row][start : start + size]
    pitched = next((place for place, moment in enumerate(first) if moment.pitch is not None), None)
    for row, start in places:
        if chosen and chosen[-1][0] == row and chosen[-1][1] + size > start:
            continue
        move = 0 if pitched is None else (rows[row][start + pitched].pitch or 0) - (first[pitched].pitch or 0)
        if abs(move) <= _MOST_MOVED:
            chosen.append((row, start))
            moves.append(move)
    return Passage(size, tuple(chosen), tuple(moves))
