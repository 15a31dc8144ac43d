"""The beats of a bar that writing shows: where notes are tied, and where beams end."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from dataclasses import dataclass
from enum import Enum
from functools import lru_cache
from itertools import accumulate

from ..song import TICKS_PER_QUARTER, Meter
from .lengths import FINEST

__all__ = ["BarBeats", "Level", "LevelKind", "bar_beats"]

_MOST_METERS = 200
_LONG_BEAT = 4  # the lower number up to which beams go by beats and not by groups
_LONGEST_BEAMED = 2 * TICKS_PER_QUARTER


class LevelKind(Enum):
    """How freely a note may reach across the boundaries of a level."""

    GROUP = "group"
    """From boundary to boundary alone."""
    HALF = "half"
    """The middle of a bar of four: as a group, but a note from the bar's start may end on any beat."""
    BEAT = "beat"
    """Syncopations of half a beat are written as they are."""
    PART = "part"
    """Inside a beat: from a boundary of what encloses it, or evenly across."""


@dataclass(frozen=True, slots=True)
class Level:
    """Boundaries of equal weight, in ticks from the start of a whole bar, its ends among them."""

    kind: LevelKind
    boundaries: tuple[int, ...]

    def inside(self, start: int, end: int) -> tuple[int, ...]:
        """The boundaries between two ticks, without them."""
        return self.boundaries[bisect_right(self.boundaries, start) : bisect_left(self.boundaries, end)]

    def has(self, tick: int) -> bool:
        """Return whether a tick is a boundary."""
        place = bisect_left(self.boundaries, tick)
        return place < len(self.boundaries) and self.boundaries[place] == tick

    def around(self, tick: int) -> tuple[int, int]:
        """The boundaries at or before a tick, and after it."""
        place = bisect_right(self.boundaries, tick)
        return self.boundaries[max(0, place - 1)], self.boundaries[min(place, len(self.boundaries) - 1)]


@dataclass(frozen=True, slots=True)
class BarBeats:
    """A whole bar's levels, from the one whose boundaries weigh most."""

    levels: tuple[Level, ...]
    beams: Level
    """The groups that a beam may join."""
    beat: int
    """Ticks of what is counted as one: a beat, or the three beats of a compound meter's pulse."""

    @property
    def end(self) -> int:
        """Ticks of the bar."""
        return self.beams.boundaries[-1]


@lru_cache(_MOST_METERS)
def bar_beats(meter: Meter) -> BarBeats:
    """The levels of a meter's bar.

    >>> [len(level.boundaries) - 1 for level in bar_beats(Meter(7, 8)).levels[:2]]
    [3, 7]
    """
    beat = meter.beat_ticks
    groups = _grouped(_groups(meter), beat)
    beats = tuple(range(0, meter.bar_ticks + 1, beat))
    compound = meter.pulse_beats == 3
    levels = []
    if compound and meter.upper == 12:
        levels.append(Level(LevelKind.GROUP, groups[::2]))
    levels.append(Level(LevelKind.HALF if meter.upper == 4 else LevelKind.GROUP, groups))
    simple = meter.upper <= 4 or (meter.lower <= _LONG_BEAT and not compound)
    levels.append(Level(LevelKind.BEAT if simple else LevelKind.PART, beats))
    part = beat
    while part % 2 == 0 and part // 2 >= FINEST:
        part //= 2
        levels.append(Level(LevelKind.PART, tuple(range(0, meter.bar_ticks + 1, part))))
    joined = tuple(range(0, meter.bar_ticks + 1, min(beat, _LONGEST_BEAMED)))
    beams = Level(LevelKind.GROUP, joined if meter.lower <= _LONG_BEAT else groups)
    return BarBeats(tuple(levels), beams, meter.pulse_beats * beat if compound else beat)


def _groups(meter: Meter) -> tuple[int, ...]:
    """The beats of each group: pulses, the halves of four, three and two for five, else twos and at last a three."""
    upper = meter.upper
    if upper % 3 == 0 and upper > 3:
        return (3,) * (upper // 3)
    if upper <= 3:
        return (upper,)
    if upper == 5:
        return (3, 2)
    twos = upper // 2
    return (2,) * twos if upper % 2 == 0 else (*(2,) * (twos - 1), 3)


def _grouped(groups: tuple[int, ...], beat: int) -> tuple[int, ...]:
    return tuple(beat * place for place in accumulate(groups, initial=0))
