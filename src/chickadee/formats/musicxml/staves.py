"""The written notes of a part as the notes of its staves, tied ones joined, in the order in which bars are played."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from typing import NamedTuple

from ...song import TICKS_PER_QUARTER, Note
from ...theory import Pitch

__all__ = ["WrittenBar", "WrittenNote", "joined_staves", "tick_of"]

_MOST_HELD = 16  # notes of one number that wait for the end of their ties


@dataclass(slots=True)
class WrittenNote:
    """A note as a part has it."""

    start: Fraction
    """Quarter notes from the start of its bar."""
    length: Fraction
    """Quarter notes."""
    pitch: Pitch
    number: int
    loudness: int
    short: bool
    syllable: str
    staff: str
    line: str
    """The voice of the staff."""
    goes_on: bool
    """True if a tie begins at it."""
    came: bool
    """True if a tie ends at it."""
    drum: bool


@dataclass(slots=True)
class WrittenBar:
    """A bar of one part."""

    notes: list[WrittenNote] = field(default_factory=list)
    length: Fraction = Fraction(0)
    """Quarter notes."""


class _Staff(NamedTuple):
    name: str
    drums: bool


class _Held(NamedTuple):
    """A note that is tied on, and the line it is tied from."""

    staff: _Staff
    line: str
    place: int
    """In the notes of its staff."""


def joined_staves(
    bars: Sequence[WrittenBar], order: Sequence[int], starts: Iterable[Fraction]
) -> tuple[list[tuple[bool, list[Note]]], int]:
    """(whether drums, notes) of each staff of a part, and how many ties never found their first note.

    ``order`` has the places of the bars as they are played, ``starts`` the quarter notes at which each begins. A tie
    may end in another voice or staff of the part.
    """
    joining = _Joining()
    for place, start in zip(order, starts, strict=True):
        if place < len(bars):
            for index, note in sorted(enumerate(bars[place].notes), key=lambda each: each[1].start):
                joining.add(note, start, (place, index))
    staves = [(staff.drums, joining.notes[staff]) for staff in sorted(joining.notes)]
    return staves, len(joining.alone - joining.joined)


class _Joining:
    def __init__(self) -> None:
        self.notes: dict[_Staff, list[Note]] = {}
        self.joined: set[tuple[int, int]] = set()
        """The written notes that continue another, by (bar, place in the bar)."""
        self.alone: set[tuple[int, int]] = set()
        """Those that say so, and at least once, as a repeat may come to them, do not."""
        self._held: dict[int, list[_Held]] = {}  # by number

    def add(self, written: WrittenNote, bar_start: Fraction, name: tuple[int, int]) -> None:
        """Add a written note where it is played; ``name`` is (bar, place in the bar)."""
        staff = _Staff(written.staff, written.drum)
        start = tick_of(bar_start + written.start)
        end = tick_of(bar_start + written.start + written.length)
        held = self._taken(written, staff, start) if written.came else None
        if held is not None:
            self.joined.add(name)
            row = self.notes[held.staff]
            row[held.place] = row[held.place]._replace(length=end - row[held.place].start)
        else:
            if written.came:
                self.alone.add(name)
            row = self.notes.setdefault(staff, [])
            held = _Held(staff, written.line, len(row))
            row.append(
                Note(
                    start,
                    0,
                    max(1, end - start),
                    written.pitch,
                    written.number,
                    written.loudness,
                    written.short,
                    ((0, 0),),
                    written.syllable,
                )
            )
        if written.goes_on:
            kept = [each for each in self._held.get(written.number, ()) if self._end(each) >= start]
            self._held[written.number] = [*kept, held._replace(line=written.line)][-_MOST_HELD:]

    def _taken(self, written: WrittenNote, staff: _Staff, start: int) -> _Held | None:
        """The note that a tie comes from: of the same line where there is one, else of any."""
        waiting = self._held.get(written.number, [])
        fitting = [each for each in waiting if each.staff.drums == staff.drums and self._end(each) == start]
        if not fitting:
            return None
        held = min(fitting, key=lambda each: (each.line != written.line, each.staff != staff))
        waiting.remove(held)
        return held

    def _end(self, held: _Held) -> int:
        return self.notes[held.staff][held.place].end


def tick_of(quarters: Fraction) -> int:
    """The tick that is nearest to some quarter notes."""
    return round(quarters * TICKS_PER_QUARTER)
