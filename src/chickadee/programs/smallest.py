"""The smallest program of a row of steps: the fewest steps that it takes with repeats inside one another."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from typing import NamedTuple, Union

__all__ = ["Again", "Once", "Row", "fewest_steps", "smallest"]

_LONGEST = 200  # steps in a row for which the fewest are found exactly


class Once(NamedTuple):
    """A step."""

    place: int
    """Its place in the row, from 0; in a repeat that of its first turn."""


class Again(NamedTuple):
    """Steps that are repeated."""

    turns: int
    """At least 2."""
    body: tuple[Row, ...]


Row = Union[Once, Again]  # noqa: UP007 - its members name it


def smallest(steps: Sequence[Hashable]) -> tuple[Row, ...]:
    """Return the smallest program with repeats, whose heads are one step each.

    Exact for up to 200 steps; a longer row is parted, so that it is never more than line by line.

    >>> smallest("abab")
    (Again(turns=2, body=(Once(place=0), Once(place=1))),)
    """
    found: list[Row] = []
    for start in range(0, len(steps), _LONGEST):
        found += _Table(steps[start : start + _LONGEST]).rows(start)
    return tuple(found)


def fewest_steps(steps: Sequence[Hashable]) -> int:
    """Return the number of steps of the smallest program with repeats, whose heads are one step each.

    >>> fewest_steps("abab"), fewest_steps("aabaab"), fewest_steps("abc")
    (3, 4, 3)
    """
    return sum(_Table(steps[start : start + _LONGEST]).count for start in range(0, len(steps), _LONGEST))


class _Table:
    """A dynamic program: the fewest steps from each place to each other, whose last is a step or a repeat."""

    def __init__(self, steps: Sequence[Hashable]) -> None:
        self._size = len(steps)
        self._fewest = [[0] * (self._size + 1) for _ in range(self._size + 1)]
        self._repeats: dict[tuple[int, int], tuple[int, int]] = {}
        """For a start and an end the period and the start of the repeat that ends there, where one is best."""
        self._fill(steps)

    @property
    def count(self) -> int:
        """The fewest steps of the whole row."""
        return self._fewest[0][self._size]

    def _fill(self, steps: Sequence[Hashable]) -> None:
        size = self._size
        alike = _alike(steps)
        periods = [_periods(alike, end) for end in range(size + 1)]
        for start in reversed(range(size)):
            row = self._fewest[start]
            before: dict[tuple[int, int], tuple[int, int]] = {}
            """The fewest steps before a repeat and where it starts, by its period and end, whatever its turns."""
            for end in range(start + 1, size + 1):
                best = row[end - 1] + 1
                for period in periods[end]:
                    at = end - 2 * period
                    if at < start:
                        break
                    least = row[at], at
                    if alike[end - period][period] >= 2 * period:  # one turn less is a repeat as well
                        least = min(least, before.get((period, end - period), least))
                    before[period, end] = least
                    cost = least[0] + 1 + self._fewest[end - period][end]
                    if cost < best:
                        best = cost
                        self._repeats[start, end] = period, least[1]
                row[end] = best

    def rows(self, offset: int) -> list[Row]:
        """Return the program; ``offset`` is the place of the row's first step."""
        return self._between(0, self._size, offset)

    def _between(self, start: int, end: int, offset: int) -> list[Row]:
        found: list[Row] = []
        while end > start:
            repeat = self._repeats.get((start, end))
            if repeat is None:
                end -= 1
                found.append(Once(end + offset))
                continue
            period, at = repeat
            body = self._between(end - period, end, offset + at - end + period)
            found.append(Again((end - at) // period, tuple(body)))
            end = at
        found.reverse()
        return found


def _periods(alike: Sequence[Sequence[int]], end: int) -> list[int]:
    """The periods with which the steps before a place repeat, without multiples of smaller ones."""
    found: list[int] = []
    for period in range(1, end // 2 + 1):
        is_new = not any(period % each == 0 and alike[end - each][each] >= period - each for each in found)
        if is_new and alike[end - period][period] >= period:
            found.append(period)
    return found


def _alike(steps: Sequence[Hashable]) -> list[list[int]]:
    """For each place and period how many steps before the place's block are the same as those a period later.

    ``alike[place][period]`` counts the steps backwards from ``place + period - 1``.
    """
    size = len(steps)
    found = [[0] * (size + 1) for _ in range(size + 1)]
    for period in range(1, size // 2 + 1):
        run = 0
        for last in range(period, size):
            run = run + 1 if steps[last] == steps[last - period] else 0
            place = last + 1 - period
            found[place][period] = run
    return found
