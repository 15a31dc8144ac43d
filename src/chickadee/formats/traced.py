"""Facts about a program besides its notes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

__all__ = ["ProgramFault", "TracedProgram", "TracedStrike", "Uses"]


@dataclass(frozen=True, slots=True)
class Uses:
    """Counts of the constructs that a program uses."""

    repeats: int = 0
    """Loops in its text."""
    parts: int = 0
    """Functions of its own that are called."""
    lists: int = 0
    """Lists that are written out."""
    steps: int = 0
    """Strikes, rests, calls of parts, heads of repeats and parts, lists, and the tempo, in its text."""


class ProgramFault(NamedTuple):
    """Why a trace ended before the program's end."""

    line: int
    """From 1."""
    column: int
    """From 1."""
    sentence: str
    """With the line."""
    is_of_program: bool
    """True if it is the program's; else it is beyond what is traced, or asks a question."""
    span: tuple[int, int] = (0, 0)


class TracedStrike(NamedTuple):
    """Where a program strikes a note."""

    line: int
    """From 1."""
    turns: tuple[int, ...]
    """Of the loops about it, from 1, the outermost first."""
    loops: tuple[int, ...]
    """The lines at which those loops begin."""


@dataclass(frozen=True, slots=True)
class TracedProgram:
    """A program, as far as it was traced."""

    language: str
    understood: tuple[str, ...] = ()
    """A sentence for each of its verbs."""
    fault: ProgramFault | None = None
    uses: Uses = field(default_factory=Uses)
    strikes: Mapping[tuple[int, int], TracedStrike] = field(default_factory=dict)
    """The strike of each note, by its tick and the offset of the call."""
    hints: tuple[str, ...] = ()
    """Sentences about what its text shows: lists of different sizes, parts that are never called."""
    sheet: str | None = None
    """The tune in the program's own shape, with its repeats and parts."""
