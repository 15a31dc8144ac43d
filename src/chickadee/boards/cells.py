"""The entries of a list, or the cells of a board's memory."""

from __future__ import annotations

from enum import Enum
from typing import NamedTuple

from ..song import Note
from ..theory import Pitch

__all__ = ["Cell", "CellKind"]


class CellKind(Enum):
    """The kinds of cells."""

    NOTE = "note"
    REST = "rest"
    HELD = "held"
    """The note before it goes on."""
    JUMP = "jump"
    """Back to another cell, once."""
    SOUND = "sound"
    """Another sound from here on."""


class Cell(NamedTuple):
    """An entry of a list."""

    kind: CellKind
    start: int
    """Ticks of the song; where cells are jumped back to, of the first time."""
    length: int
    """Ticks of the song."""
    number: int = 0
    """The MIDI number of a note, the code of a sound, or the cell that a jump goes back to."""
    pitch: Pitch | None = None
    """The pitch that sounds; None where none does."""
    note: Note | None = None
    """The note of the song that it is, or holds on."""
