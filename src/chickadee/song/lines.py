"""Notes that overlap, as lines of which each can be followed."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import groupby
from operator import attrgetter
from typing import Protocol, TypeVar

__all__ = ["Strike", "into_lines"]


class Strike(Protocol):
    """Something struck that lasts."""

    @property
    def start(self) -> int:
        """In ticks."""

    @property
    def length(self) -> int:
        """In ticks."""

    @property
    def height(self) -> float:
        """The middle of its MIDI numbers."""


_S = TypeVar("_S", bound=Strike)


def into_lines(strikes: Iterable[_S]) -> list[list[_S]]:
    """Strikes, in order of start, as few lines in which none overlaps another; one line where there are none.

    Each goes on in the line whose last one is nearest to it in pitch. Several lines are in order from the highest.
    """
    lines: list[list[_S]] = [[]]
    for start, together in groupby(strikes, key=attrgetter("start")):
        for strike in sorted(together, key=attrgetter("height"), reverse=True):
            free = [line for line in lines if not line or line[-1].start + line[-1].length <= start]
            if free:
                line = min(free, key=lambda line: abs(line[-1].height - strike.height) if line else 0.0)
            else:
                lines.append(line := [])
            line.append(strike)
    if len(lines) > 1:
        lines.sort(key=lambda line: -sum(strike.height for strike in line) / len(line))
    return lines
