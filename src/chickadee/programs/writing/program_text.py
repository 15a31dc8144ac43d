"""The lines of a program, and what each does when: the way from a line to the notes and back."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass, field
from enum import Enum
from functools import cached_property
from typing import NamedTuple

__all__ = ["Around", "Performance", "Performed", "ProgramLine", "ProgramText", "Role"]


class Role(Enum):
    """The kinds of lines."""

    STEP = "step"
    """A strike, a rest or a tempo."""
    REPEAT = "repeat"
    """The head of a repeat or of a loop over data."""
    PART = "part"
    """The head of a part."""
    CALL = "call"
    LIST = "list"
    FRAME = "frame"
    """A line that does nothing by itself, such as a closing brace."""


class ProgramLine(NamedTuple):
    """A line of a program."""

    text: str
    """With its indentation."""
    role: Role
    depth: int = 0
    """How many repeats and parts it stands in."""


class Around(NamedTuple):
    """The turn of a repeat or the call of a part in which a step is done."""

    line: int
    """The head of the repeat, or the call; from 1."""
    turn: int
    """The turn of the repeat, or how often the part has been called; from 1."""
    turns: int
    """Of how many."""
    part: str = ""
    """The part's name, where it is a call."""
    up: int = 0
    """The semitones by which such a call moves it."""
    counter: str = ""
    """The name of what counts the turns from 0, where the language has one."""


class Performed(NamedTuple):
    """A step, done."""

    tick: int
    end: int
    """The tick at which what it sounds is over, or its silence."""
    line: int
    """From 1."""
    notes: tuple[int, ...]
    """The indices of its notes in the song."""
    around: tuple[Around, ...] = ()
    """The outermost first."""


@dataclass(frozen=True)
class Performance:
    """All that a program does, step by step: the way from its lines to the notes and back."""

    performed: tuple[Performed, ...] = ()
    """Every step, in the order in which they are done; their ticks never fall."""

    @cached_property
    def places_of_notes(self) -> dict[int, int]:
        """The step that sounds each note, by the note's index."""
        return {note: place for place, each in enumerate(self.performed) for note in each.notes}

    @cached_property
    def lines_of_notes(self) -> dict[int, int]:
        """The line that sounds each note, by the note's index."""
        return {note: self.performed[place].line for note, place in self.places_of_notes.items()}

    @cached_property
    def notes_of_lines(self) -> dict[int, tuple[int, ...]]:
        """The notes that each line makes, by its number from 1; a head or a call makes those of what is in it."""
        found: dict[int, list[int]] = {}
        for each in self.performed:
            for line in (each.line, *(around.line for around in each.around)):
                found.setdefault(line, []).extend(each.notes)
        return {line: tuple(notes) for line, notes in found.items()}

    @cached_property
    def _starts(self) -> list[int]:
        return [each.tick for each in self.performed]

    @cached_property
    def _longest(self) -> int:
        return max((each.end - each.tick for each in self.performed), default=0)

    def sounding(self, tick: float) -> list[int]:
        """The places among the performed steps of what sounds, or is silent, at a tick; in order."""
        last = bisect_right(self._starts, tick)
        first = bisect_right(self._starts, tick - self._longest - 1)
        return [place for place in range(first, last) if self.performed[place].end > tick]


@dataclass
class ProgramText:
    """A program as text.

    >>> text = ProgramText()
    >>> text.add("play(60, 1)", Role.STEP, 1, "  ")
    1
    >>> text.lines[0].text
    '  play(60, 1)'
    """

    lines: list[ProgramLine] = field(default_factory=list)
    performed: list[Performed] = field(default_factory=list)
    """In the order in which they are done."""
    items: dict[tuple[int, int], tuple[tuple[int, int, int], ...]] = field(default_factory=dict)
    """For the head of a loop over data and each of its turns the items: their lines, and columns from and to."""

    def add(self, text: str, role: Role, depth: int, indent: str) -> int:
        """Add a text of one line or several, indented; return the number of its first line, from 1."""
        first = len(self.lines) + 1
        for each in text.split("\n"):
            self.lines.append(ProgramLine(indent + each if each else "", role, depth))
        return first
