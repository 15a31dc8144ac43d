"""What the reading rows say: one cell for each moment of a voice. No Qt."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from itertools import groupby

from ...sheet import Reading
from ...sheet.walk import EventKind
from ...song import Note
from .. import words

__all__ = ["ROWS", "Cell", "Row", "cells_of"]


@dataclass(frozen=True, slots=True)
class Cell:
    """Notes struck together, or a rest."""

    tick: int
    length: int
    """Ticks, holds joined."""
    beats: Fraction
    """The length in beats of the meter in force."""
    notes: tuple[Note, ...]
    """From the highest down; empty for a rest."""


@dataclass(frozen=True, slots=True)
class Row:
    """One of the reading rows."""

    title: str
    text: Callable[[Cell], str]


def cells_of(reading: Reading, voice: int) -> list[Cell]:
    """The cells of one voice, in order of time."""
    grid = reading.song.grid
    mine = [note for note in reading.song.notes if note.voice == voice]
    cells = []
    for tick, together in groupby(mine, key=lambda note: note.start):
        notes = tuple(sorted(together, key=lambda note: -note.number))
        cells.append(Cell(tick, notes[0].length, Fraction(notes[0].length, grid.meter_at(tick).beat_ticks), notes))
    if voice < len(reading.events):
        for event in reading.events[voice]:
            if event.kind is EventKind.REST:
                beats = Fraction(event.length, grid.meter_at(event.tick).beat_ticks)
                cells.append(Cell(event.tick, event.length, beats, ()))
    return sorted(cells, key=lambda cell: cell.tick)


def _names(cell: Cell) -> str:
    return " ".join(note.pitch.pretty for note in reversed(cell.notes)) or "rest"


def _numbers(cell: Cell) -> str:
    return " ".join(str(note.number) for note in reversed(cell.notes))


ROWS = (Row("Name", _names), Row("Number", _numbers), Row("Beats", lambda cell: words.beats(cell.beats)))
"""The reading rows, from the top."""
