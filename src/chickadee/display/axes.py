"""The timeline's geometry: ticks to pixels, MIDI numbers to lanes."""

from __future__ import annotations

from dataclasses import dataclass

from ..song import TICKS_PER_QUARTER

__all__ = ["Axes", "with_room"]


@dataclass(frozen=True, slots=True)
class Axes:
    """Where ticks and MIDI numbers are drawn, in pixels from the roll's top left corner.

    >>> axes = Axes(quarter=40, scroll=0, lane=15, top=72)
    >>> axes.x(TICKS_PER_QUARTER), axes.y(71), axes.number(16)
    (40.0, 15, 71)
    """

    quarter: float
    """Pixels to a quarter note."""
    scroll: float
    """Pixels scrolled to the right."""
    lane: int
    """Pixels to a semitone."""
    top: int
    """The MIDI number of the highest lane that is wholly or partly seen."""

    def x(self, tick: float) -> float:
        """The pixel of a tick."""
        return tick * self.quarter / TICKS_PER_QUARTER - self.scroll

    def tick(self, x: float) -> float:
        """The tick at a pixel."""
        return (x + self.scroll) * TICKS_PER_QUARTER / self.quarter

    def y(self, number: int) -> int:
        """The top pixel of a MIDI number's lane."""
        return (self.top - number) * self.lane

    def number(self, y: float) -> int:
        """The MIDI number whose lane a pixel lies in."""
        return self.top - int(y // self.lane)


def with_room(low: int, high: int) -> tuple[int, int]:
    """The lowest and highest lane to show for a range of MIDI numbers: a little more, and at least 20 semitones.

    >>> with_room(60, 72), with_room(0, 127)
    ((56, 76), (0, 127))
    """
    low = low - 2
    high = high + 2
    while high - low < 20:
        low = low - 1
        high = high + 1
    return max(0, low), min(127, high)
