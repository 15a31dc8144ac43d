"""The tick of a board: the longest of which every length is a whole number, or the best compromise."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import gcd

from ..song import Song
from .lines import Line

__all__ = ["TickChoice", "tick_choices"]

_PARTS = (1, 2, 3, 4, 6, 8, 12, 16, 24, 32)
_CHOICES = 3
_FINEST = 960  # ticks to a beat, beyond which cells would be more than a board could have


@dataclass(frozen=True, slots=True)
class TickChoice:
    """A tick, and what it costs."""

    ticks: int
    """Of the song, to one tick of the board."""
    changed: int
    """How many notes begin or end elsewhere."""
    worst: float
    """Milliseconds by which the worst of them does."""


def tick_choices(song: Song, lines: Sequence[Line], shortest: float) -> list[TickChoice]:
    """Ticks worth choosing from, the best first: the least that is heard to change, then the longest tick.

    ``shortest`` are milliseconds. The first keeps every length where one that is long enough does.
    """
    times = sorted({time for line in lines for note in line.notes for time in (note.start, note.end)})
    beat = song.meter.beat_ticks
    exact = gcd(*times) if times else beat
    least = _least_ticks(song, shortest)
    choices = [_choice(song, lines, exact)] if exact >= max(least, beat // _FINEST) else []
    parts = [beat // part for part in _PARTS if beat % part == 0 and beat // part >= least]
    choices += [_choice(song, lines, ticks) for ticks in parts or [least] if not choices or ticks != exact]
    unique = {choice.ticks: choice for choice in choices}
    return sorted(unique.values(), key=lambda each: (each.changed, each.worst, -each.ticks))[:_CHOICES]


def _least_ticks(song: Song, shortest: float) -> int:
    """The fewest ticks of the song that last so many milliseconds at its quickest."""
    quickest = max((tempo.quarters_per_minute for tempo in song.tempo.tempos), default=120.0)
    per_millisecond = (
        Fraction(quickest).limit_denominator(1000) / 60_000 * song.meter.beat_ticks * song.meter.lower / 4
    )
    return max(1, -int(-Fraction(shortest).limit_denominator(1000) * per_millisecond // 1))


def _choice(song: Song, lines: Sequence[Line], ticks: int) -> TickChoice:
    changed = 0
    worst = 0
    for line in lines:
        for note in line.notes:
            away = max(abs(note.start - _nearest(note.start, ticks)), abs(note.end - _nearest(note.end, ticks)))
            changed += away > 0
            worst = max(worst, away)
    seconds = float(song.tempo.seconds(worst))
    return TickChoice(ticks, changed, seconds * 1000)


def _nearest(time: int, ticks: int) -> int:
    return (time + ticks // 2) // ticks * ticks
