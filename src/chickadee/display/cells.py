"""Cells of the reading rows: one for each moment of a voice."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass
from fractions import Fraction
from itertools import groupby
from operator import attrgetter

import numpy as np

from ..sheet import Reading
from ..sheet.walk import EventKind
from ..song import Note

__all__ = ["Cell", "Cells"]


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
    name: str
    """Their names together."""
    before: int | None = None
    """The MIDI number of the highest note struck before."""


class Cells:
    """The cells of one voice, made as they are asked for.

    >>> from chickadee import read
    >>> [(cell.name, str(cell.beats)) for cell in Cells(read("C4&E4=2 rest"), 0).between(0, 10**9)]
    [('C4 E4', '2'), ('rest', '1')]
    """

    def __init__(self, reading: Reading, voice: int) -> None:
        self._song = reading.song
        arrays = reading.song.arrays
        self._mine = np.flatnonzero(arrays.voice == voice)
        self._starts = arrays.start[self._mine]
        self._ends = self._starts + arrays.length[self._mine]
        events = reading.events[voice] if voice < len(reading.events) else ()
        self._rests = [event for event in events if event.kind is EventKind.REST]
        self._rest_ticks = [event.tick for event in self._rests]

    def between(self, first: float, last: float) -> list[Cell]:
        """The cells seen between two ticks, in order of time."""
        seen = self._mine[(self._starts < last) & (self._ends > first)]
        cells = []
        before = self._before(first)
        notes = [self._song.notes[index] for index in seen]
        for tick, together in groupby(notes, key=attrgetter("start")):
            cells.append(self._cell(tick, tuple(sorted(together, key=lambda note: -note.number)), before))
            before = cells[-1].notes[0].number
        at = max(0, bisect_right(self._rest_ticks, first) - 1)
        for rest in self._rests[at : bisect_right(self._rest_ticks, last)]:
            if rest.tick + rest.length > first:
                cells.append(Cell(rest.tick, rest.length, self._beats(rest.tick, rest.length), (), "rest"))
        return sorted(cells, key=attrgetter("tick"))

    def _before(self, first: float) -> int | None:
        """The highest number of what the voice strikes last before the first cell that is seen at a tick."""
        seen = int(np.argmax(self._ends > first)) if np.any(self._ends > first) else len(self._starts)
        if not seen:
            return None
        last = self._mine[:seen][self._starts[:seen] == self._starts[seen - 1]]
        return int(self._song.arrays.number[last].max())

    def _cell(self, tick: int, notes: tuple[Note, ...], before: int | None) -> Cell:
        voice = self._song.voices[notes[0].voice]
        name = " ".join(voice.name_of(note, self._song.naming) for note in reversed(notes))
        return Cell(tick, notes[0].length, self._beats(tick, notes[0].length), notes, name, before)

    def _beats(self, tick: int, length: int) -> Fraction:
        return self._song.grid.beats(tick, length)
