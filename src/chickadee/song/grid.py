"""Bars and beats along a song, from its meters."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .meter import Meter

__all__ = ["BarGrid", "Bars", "Place"]


@dataclass(frozen=True, slots=True)
class Place:
    """A place in a song as people count it.

    >>> BarGrid.of(Meter(3, 4)).place(3 * Meter(3, 4).beat_ticks)
    Place(bar=2, beat=Fraction(1, 1))
    """

    bar: int
    """The bar's number; the first whole bar is 1, a pickup bar is 0."""
    beat: Fraction
    """The beat inside that bar, counted from 1."""


class Bars(NamedTuple):
    """Bars as columns; each has shape (bars,)."""

    start: NDArray[np.int64]
    """Ticks."""
    end: NDArray[np.int64]
    """The tick at which the next one begins."""
    beat: NDArray[np.int64]
    """The ticks of a beat of its meter."""


@dataclass(frozen=True)
class BarGrid:
    """Where every bar begins, whatever the meters.

    >>> grid = BarGrid.of(Meter(3, 4))
    >>> grid.start(2) == 3 * grid.meter_at(0).beat_ticks, grid.number_at(0)
    (True, 1)
    """

    changes: tuple[tuple[int, Meter], ...]
    """(tick, meter) from tick 0 on; a change begins a new bar where it stands."""
    pickup: int = 0
    """Ticks of bar 0, before bar 1 begins; 0 where there is none."""

    @classmethod
    def of(cls, meter: Meter, pickup: int = 0) -> BarGrid:
        """A grid with one meter all along."""
        return cls(((0, meter),), pickup)

    def meter_at(self, tick: int) -> Meter:
        """The meter in force at a tick."""
        return self.changes[self._change_at(tick) if len(self.changes) > 1 else 0][1]

    def beats(self, tick: int, ticks: int | Fraction) -> Fraction:
        """How many beats of the meter at a tick so many ticks are.

        >>> BarGrid.of(Meter(6, 8)).beats(0, 8_064_000)
        Fraction(2, 1)
        """
        return Fraction(ticks) / self.meter_at(tick).beat_ticks

    def ticks(self, tick: int, beats: Fraction) -> int:
        """How many whole ticks so many beats of the meter at a tick are."""
        return int(beats * self.meter_at(tick).beat_ticks)

    def number_at(self, tick: int) -> int:
        """The number of the bar that a tick lies in."""
        return self._bar_at(tick)[0]

    def place(self, tick: int) -> Place:
        """The bar and beat of a tick."""
        number, start = self._bar_at(tick)
        return Place(number, 1 + Fraction(tick - start, self.meter_at(tick).beat_ticks))

    def start(self, number: int) -> int:
        """The tick at which a bar begins."""
        place = max(0, bisect_right(self._numbers, number) - 1)
        first, origin = self._first[place]
        return max(0, origin + (number - first) * self.changes[place][1].bar_ticks)

    def starts(self, until: int) -> list[tuple[int, int]]:
        """(number, tick) of every bar that begins before ``until``, and of the first in any case."""
        number, start = self._bar_at(0)
        found = [(number, start)]
        while (tick := self.end(number)) < until:
            number += 1
            found.append((number, tick))
        return found

    def end(self, number: int) -> int:
        """The tick at which a bar ends, where the next one begins."""
        return self.start(number + 1)

    def bars_at(self, ticks: NDArray[np.int64]) -> Bars:
        """The bars that many ticks lie in."""
        change = np.maximum(np.searchsorted(self._ticks, ticks, "right") - 1, 0)
        origins = np.array([origin for _, origin in self._first])
        size = np.array([meter.bar_ticks for _, meter in self.changes])[change]
        beat = np.array([meter.beat_ticks for _, meter in self.changes])[change]
        start = origins[change] + (ticks - origins[change]) // size * size
        end = np.minimum(start + size, np.append(origins[1:], np.iinfo(np.int64).max)[change])
        inside = ticks < self.pickup
        return Bars(np.where(inside, 0, start), np.where(inside, self.pickup, end), beat)

    def _change_at(self, tick: int) -> int:
        return max(0, bisect_right(self._ticks, tick) - 1)

    def _bar_at(self, tick: int) -> tuple[int, int]:
        if self.pickup and tick < self.pickup:
            return 0, 0
        place = self._change_at(tick)
        first, origin = self._first[place]
        size = self.changes[place][1].bar_ticks
        bars = (tick - origin) // size
        return first + bars, origin + bars * size

    @cached_property
    def _ticks(self) -> list[int]:
        return [tick for tick, _ in self.changes]

    @cached_property
    def _numbers(self) -> list[int]:
        return [number for number, _ in self._first]

    @cached_property
    def _first(self) -> list[tuple[int, int]]:
        """For each change, the number of its first bar and the tick where that bar begins."""
        number = 1
        found = [(number, self.pickup)]
        for (_, meter), (tick, _) in zip(self.changes, self.changes[1:], strict=False):
            first, origin = found[-1]
            if tick <= origin:
                found.append((first, max(tick, origin)))
                continue
            bars = -(-(tick - origin) // meter.bar_ticks)
            found.append((first + bars, tick))
        return found
