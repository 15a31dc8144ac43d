"""The tempo map: ticks to seconds and back, through steps and even ramps."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .ticks import TICKS_PER_QUARTER

__all__ = ["DEFAULT_TEMPO", "EVEN", "MOST_SWING", "Tempo", "TempoMap", "playable"]

DEFAULT_TEMPO = 120.0
EVEN = 0.5
"""The part of a quarter that its first half takes where there is no swing."""
MOST_SWING = 0.8
"""The largest such part."""
"""Quarter notes a minute where a sheet names no tempo."""
# quarters a minute
_SLOWEST = 4.0
_FASTEST = 4000.0


@dataclass(frozen=True, slots=True)
class Tempo:
    """A tempo from a tick on.

    A ramp of ``ramp`` ticks moves evenly, in ticks, from ``quarters_per_minute`` to ``target``; a step has no
    ramp.
    """

    tick: int
    quarters_per_minute: float
    ramp: int = 0
    target: float = 0.0

    def at(self, tick: int) -> float:
        """The tempo at a tick from there on, in quarter notes a minute, as long as no other follows."""
        if not self.ramp:
            return self.quarters_per_minute
        part = min(1.0, (tick - self.tick) / self.ramp)
        return self.quarters_per_minute + (self.target - self.quarters_per_minute) * part


def playable(quarters_per_minute: float) -> float:
    """A tempo within what a MIDI file and a clock can keep."""
    return min(_FASTEST, max(_SLOWEST, quarters_per_minute))


class TempoMap:
    """Exact ticks to seconds and back.

    >>> tempo = TempoMap([Tempo(0, 60.0)])
    >>> float(tempo.seconds(2 * TICKS_PER_QUARTER)), tempo.tick(1.5) == 1.5 * TICKS_PER_QUARTER
    (2.0, True)

    On a ramp from q0 to q1 quarters a minute over L quarters, x quarters in, the tempo is
    q(x) = q0 + (q1 - q0)·x/L and the time t(x) = 60·L/(q1 - q0)·ln(q(x)/q0) seconds.

    Swing p bends the ticks before that: fraction f of a quarter note becomes 2·p·f up to the half, and
    p + 2·(1 - p)·(f - 1/2) after it. A swing that begins inside a quarter note bends from the next one on: time never
    goes back.
    """

    def __init__(
        self, tempos: Iterable[Tempo] = (), swings: Iterable[tuple[int, float]] = (), origin: int = 0
    ) -> None:
        self.tempos = tuple(tempos) or (Tempo(0, DEFAULT_TEMPO),)
        """Steps and ramps in order of tick, the first at tick 0."""
        self.swings = tuple(swings)
        """(tick, part) from where on the first half of a quarter note takes that part of it; 0.5 is even."""
        self.origin = origin
        """The tick from which quarter notes are counted for the swing."""
        self._swing_ticks = np.array([-np.inf, *(tick for tick, _ in self.swings)])
        self._swing_parts = np.array([0.5, *(part for _, part in self.swings)])
        pieces = _pieces(self.tempos)
        self._starts = self.swung(np.array([piece.start for piece in pieces]))
        ends = self.swung(np.array([piece.end for piece in pieces]))
        self._from = np.array([piece.tempo for piece in pieces])
        gained = np.array([piece.gained for piece in pieces])
        lasts = np.where(ends > self._starts, ends - self._starts, 1.0) / TICKS_PER_QUARTER
        self._slope = gained / lasts  # quarters a minute gained a quarter
        spans = np.diff(self._starts) / TICKS_PER_QUARTER
        self._times = np.concatenate([[0.0], np.cumsum(self._elapsed(spans, np.arange(len(spans))))])

    def __eq__(self, other: object) -> bool:
        return isinstance(other, TempoMap) and self._known == other._known

    def __hash__(self) -> int:
        return hash(self._known)

    @property
    def _known(self) -> tuple[object, ...]:
        """The parts of it that it is made of."""
        return self.tempos, self.swings, self.origin

    def tempo_at(self, tick: int) -> float:
        """The tempo in force at a tick, in quarter notes a minute."""
        at = float(self.swung(tick))
        index = max(0, bisect_right(self._starts, at) - 1)
        return float(self._from[index] + self._slope[index] * (at - self._starts[index]) / TICKS_PER_QUARTER)

    def seconds(self, ticks: ArrayLike) -> NDArray[np.float64]:
        """Seconds from the song's start for one tick or an array of them, in the same shape."""
        given = np.asarray(ticks, dtype=np.float64)
        flat = self.swung(given.reshape(-1))
        index = np.maximum(np.searchsorted(self._starts, flat, side="right") - 1, 0)
        into = (flat - self._starts[index]) / TICKS_PER_QUARTER
        return (self._times[index] + self._elapsed(into, index)).reshape(given.shape)

    def tick(self, seconds: float) -> float:
        """The inverse of :meth:`seconds`: the tick, a real number, reached after some seconds."""
        index = max(0, bisect_right(self._times, seconds) - 1)
        minutes = (seconds - float(self._times[index])) / 60
        tempo = float(self._from[index])
        slope = float(self._slope[index])
        into = tempo * minutes if slope == 0 else tempo * math.expm1(slope * minutes) / slope
        return self._unswung(float(self._starts[index]) + into * TICKS_PER_QUARTER)

    def at_speed(self, speed: float) -> TempoMap:
        """The same map, everything ``speed`` times as fast."""
        tempos = (
            replace(tempo, quarters_per_minute=tempo.quarters_per_minute * speed, target=tempo.target * speed)
            for tempo in self.tempos
        )
        return TempoMap(tempos, self.swings, self.origin)

    def from_tick(self, tick: int) -> TempoMap:
        """The map from a tick on, moved so that it becomes the start."""
        begins = float(self._quarter(np.asarray(tick)))
        later = ((max(1, start - tick), part) for start, part in self.swings if start > begins)
        swings = [(0, float(self._part(np.asarray(tick)))), *later]
        return TempoMap(self._tempos_from(tick), swings, self.origin - tick)

    def swung(self, ticks: ArrayLike) -> NDArray[np.float64]:
        """Where swing moves ticks to, one or an array of them, in the same shape: off-beats come later."""
        ticks = np.asarray(ticks, dtype=np.float64)
        if not self.swings:
            return ticks
        part = self._part(ticks)
        whole, inside = np.divmod(ticks - self.origin, TICKS_PER_QUARTER)
        place = inside / TICKS_PER_QUARTER
        bent = np.where(place <= 0.5, 2 * part * place, part + 2 * (1 - part) * (place - 0.5))
        return np.asarray(self.origin + (whole + bent) * TICKS_PER_QUARTER)

    def _quarter(self, ticks: NDArray[np.float64]) -> NDArray[np.float64]:
        """Where the quarter notes begin in which ticks lie; the first may be cut off by the start."""
        begins = self.origin + np.floor((ticks - self.origin) / TICKS_PER_QUARTER) * TICKS_PER_QUARTER
        return np.asarray(np.maximum(begins, 0))

    def _part(self, ticks: NDArray[np.float64]) -> NDArray[np.float64]:
        """How much the first half takes of the quarter notes in which ticks lie: as in force where they begin."""
        found = np.searchsorted(self._swing_ticks, self._quarter(ticks), side="right") - 1
        return np.asarray(self._swing_parts[found])

    def _unswung(self, tick: float) -> float:
        if not self.swings:
            return tick
        part = float(self._part(np.asarray(tick)))
        whole, inside = divmod(tick - self.origin, TICKS_PER_QUARTER)
        bent = inside / TICKS_PER_QUARTER
        place = bent / (2 * part) if bent <= part else 0.5 + (bent - part) / (2 * (1 - part))
        return self.origin + (whole + place) * TICKS_PER_QUARTER

    def _tempos_from(self, tick: int) -> list[Tempo]:
        found = [Tempo(0, self.tempo_at(tick))]
        for tempo in self.tempos:
            if tempo.tick >= tick:
                found.append(replace(tempo, tick=tempo.tick - tick))
            elif tempo.tick + tempo.ramp > tick:
                left = tempo.tick + tempo.ramp - tick
                found = [Tempo(0, self.tempo_at(tick), left, tempo.target)]
        return found[1:] if len(found) > 1 and found[1].tick == 0 else found

    def _elapsed(self, into: NDArray[np.float64], index: NDArray[np.intp]) -> NDArray[np.float64]:
        """Seconds spent ``into`` quarters of the pieces numbered ``index``."""
        tempo = self._from[index]
        slope = self._slope[index]
        even = into / tempo
        ramped = np.log1p(slope * into / tempo) / np.where(slope == 0, 1.0, slope)
        return np.asarray(60.0 * np.where(slope == 0, even, ramped))


class _Piece(NamedTuple):
    """A stretch of one tempo, or of a ramp."""

    start: int
    """Ticks."""
    end: int
    """Of the ramp; the start where there is none."""
    tempo: float
    """Quarters a minute at the start."""
    gained: float
    """Quarters a minute from the start to the end."""


def _pieces(tempos: tuple[Tempo, ...]) -> list[_Piece]:
    """The stretches of some tempos; a ramp is followed by its target, held."""
    found: list[_Piece] = []
    for index, tempo in enumerate(tempos):
        end = tempo.tick + tempo.ramp
        gained = tempo.target - tempo.quarters_per_minute if tempo.ramp else 0.0
        found.append(_Piece(tempo.tick, end, tempo.quarters_per_minute, gained))
        if tempo.ramp and (index + 1 == len(tempos) or tempos[index + 1].tick > end):
            found.append(_Piece(end, end, tempo.target, 0.0))
    return found
