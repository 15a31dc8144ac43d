"""Notes that overlap, as lines of which each can be followed."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import groupby, pairwise
from operator import attrgetter
from typing import NamedTuple

from .song import Note

__all__ = ["Strike", "into_lines"]


_BESIDE = 7  # semitones by which a line that has fewer must be nearer


class Strike(NamedTuple):
    """Notes struck and let go together."""

    start: int
    """In ticks."""
    length: int
    """In ticks."""
    notes: tuple[Note, ...]

    @property
    def height(self) -> float:
        """The middle of the MIDI numbers."""
        return sum(note.number for note in self.notes) / len(self.notes)


def into_lines(strikes: Iterable[Strike]) -> list[list[Strike]]:
    """Strikes, in order of start, as few lines in which none overlaps another; one line where there are none.

    Each goes on in the line that has most, unless another line's last one is clearly nearer to it in pitch. Several
    lines are in order from the highest.
    """
    every = list(strikes)
    if all(one.start + one.length <= other.start for one, other in pairwise(every)):
        return [every]
    lines: list[list[Strike]] = [[]]
    for start, together in groupby(every, key=attrgetter("start")):
        for strike in sorted(together, key=attrgetter("height"), reverse=True):
            free = [line for line in lines if not line or line[-1].start + line[-1].length <= start]
            if free:
                most = max(map(len, lines))
                line = min(free, key=lambda line: _distance(line, strike) + _BESIDE * (len(line) < most))
            else:
                lines.append(line := [])
            line.append(strike)
    if len(lines) > 1:
        lines.sort(key=lambda line: -sum(strike.height for strike in line) / len(line))
    return lines


def _distance(line: list[Strike], strike: Strike) -> float:
    """Semitones from a line's last strike to another."""
    return abs(line[-1].height - strike.height) if line else 0.0
