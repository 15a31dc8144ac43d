"""A take that was played in time, as a line of the sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from ..sheet import Reading
from ..sheet.edits import length_text

__all__ = ["Taken", "written_take"]


@dataclass(frozen=True, slots=True)
class Taken:
    """A note that was played in time."""

    number: int
    start: float
    """Ticks."""
    end: float
    loudness: int
    voice: str | None = None
    """The name of the voice it is for; None for the one in front."""


def written_take(reading: Reading, taken: Sequence[Taken], grid: Fraction) -> str:
    """Notes snapped to a grid, in beats, with rests and bar lines from the song's start on.

    Notes struck within one step of the grid are a chord; one that is held into the next is let go there.
    """
    song = reading.song
    chords: dict[int, list[Taken]] = {}
    for note in taken:
        beat = song.grid.meter_at(max(0, int(note.start))).beat_ticks
        step = int(grid * beat)
        chords.setdefault(max(0, round(note.start / step)) * step, []).append(note)
    signs: list[str] = []
    here = 0
    starts = sorted(chords)
    for place, start in enumerate(starts):
        signs += _filled(reading, here, start, "rest", "rest", bool(signs))
        step = int(grid * song.grid.meter_at(start).beat_ticks)
        wanted = max(round((note.end - note.start) / step) for note in chords[start])
        end = start + max(1, wanted) * step
        if place + 1 < len(starts):
            end = min(end, starts[place + 1])
        key = song.key_at(start)
        numbers = sorted({note.number for note in chords[start]})
        names = "&".join(song.naming.pitch_text(key.spell(number)) for number in numbers)
        signs += _filled(reading, start, end, names, "-", bool(signs))
        here = end
    return " ".join(signs)


def _filled(reading: Reading, here: int, until: int, first: str, then: str, after_something: bool) -> list[str]:
    """A stretch of time written with one sign and, beyond each bar line, with another."""
    grid = reading.song.grid
    found: list[str] = []
    while here < until:
        number = grid.number_at(here)
        end = min(until, grid.end(number))
        if here == grid.start(number) and (found or after_something):
            found.append("|")
        found.append(f"{first}{length_text(reading, here, end - here)}")
        first = then
        here = end
    return found
