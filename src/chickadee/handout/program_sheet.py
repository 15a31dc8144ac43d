"""A program as pages show it: its lines in pieces, what is repeated, its strips and its steps."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

__all__ = ["Order", "Piece", "ProgramSheet", "RepeatedLines", "SheetLine", "TraceRow"]


class Piece(NamedTuple):
    """A piece of a line."""

    text: str
    kind: str = ""
    """``pitch``, ``length`` or ``count`` of what is a value; empty for any other text."""


class SheetLine(NamedTuple):
    """A line of a program."""

    pieces: tuple[Piece, ...]
    indent: int
    """How far it is indented, in indents."""
    is_head: bool = False

    @property
    def text(self) -> str:
        """The line without its indentation."""
        return "".join(piece.text for piece in self.pieces)


class RepeatedLines(NamedTuple):
    """The lines that a repeat repeats."""

    first: int
    """Lines, from 0."""
    last: int
    turns: int
    """0 where that is as many as a list has items."""


class Order(NamedTuple):
    """An order of the strips that sounds the tune."""

    places: tuple[int, ...]
    """Which strips, by their places in the program's own order."""
    depths: tuple[int, ...]
    """How far each is indented, in indents."""


class TraceRow(NamedTuple):
    """A step, done."""

    line: int
    """From 1."""
    turn: str
    """The turns of the repeats that it stands in, or counters such as ``i = 0``; empty where there are none."""
    item: str
    """The item of a list; empty where there is no list."""
    pitch: str
    """Empty for a silence."""
    start: str
    """Beats from the start."""


@dataclass(frozen=True)
class ProgramSheet:
    """A program as pages show it."""

    title: str
    """The name of its language."""
    lines: tuple[SheetLine, ...]
    repeats: tuple[RepeatedLines, ...] = ()
    trace: tuple[TraceRow, ...] = ()
    strips: tuple[str, ...] = ()
    """The strips of a puzzle, in the program's own order; none where it has no steps."""
    has_parts: bool = False
    """True if any of them is the head of a part."""
    orders: tuple[Order, ...] = ()
    """The orders of the strips that sound the tune, the program's own first."""
    are_all: bool = True
    """False if there may be more right orders than those."""
    false_strips: tuple[str, ...] = ()
    """Steps that are none of the program's, and might be."""
