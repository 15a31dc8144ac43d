"""The scene of a reading: arrays ready to be drawn, made once for each reading."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..sheet import Reading, Severity
from ..song import Song
from ..song.drums import DRUM_NAMES
from .cells import Cell, Cells

__all__ = ["Scene"]

_WEIGHT = {Severity.ERROR: 3, Severity.WARNING: 2, Severity.HINT: 1}


@dataclass(frozen=True)
class Scene:
    """A reading as the timeline draws it, with one voice in front."""

    reading: Reading
    front: int = 0
    """The voice that is named in the rows and drawn over the others."""

    @property
    def song(self) -> Song:
        """The song that is shown."""
        return self.reading.song

    @property
    def is_of_drums(self) -> bool:
        """True if the voice in front is a drum kit, whose lanes are percussion keys."""
        return self.front < len(self.song.voices) and self.song.voices[self.front].is_drums

    def lane_name(self, number: int) -> str:
        """Return the name of a MIDI number's lane: its pitch in the key, or its drum where there is one."""
        if self.is_of_drums:
            return DRUM_NAMES.get(number, "")
        return self.song.naming.pitch_pretty(self.song.key.spell(number))

    def lane_is_plain(self, number: int) -> bool:
        """Return whether a lane is one to write in: inside the key, or a drum that has a name."""
        return number in DRUM_NAMES if self.is_of_drums else self.song.key.contains(number)

    @cached_property
    def ends(self) -> NDArray[np.int64]:
        """Where each note ends, in ticks."""
        return self.song.arrays.start + self.song.arrays.length

    @cached_property
    def cells(self) -> Cells:
        """The reading rows' cells."""
        return Cells(self.reading, self.front)

    @cached_property
    def phrase_starts(self) -> list[tuple[int, str]]:
        """(tick, name) of every place where the front voice begins a phrase."""
        if self.front >= len(self.reading.events) or not self.reading.sheet.phrases:
            return []  # a tune that is too large has no events
        names = {(block.body[0].start): name for name, block in self.reading.sheet.phrases.items() if block.body}
        return [(event.tick, names[event.start]) for event in self.reading.events[self.front] if event.start in names]

    @cached_property
    def faults(self) -> dict[int, Severity]:
        """The worst finding on each note that has one, by the note's index."""
        found: dict[int, Severity] = {}
        for finding in self.reading.findings:
            for note in self.reading.notes_at(finding.start, max(finding.end, finding.start + 1)):
                if note not in found or _WEIGHT[finding.severity] > _WEIGHT[found[note]]:
                    found[note] = finding.severity
        return found

    def notes_between(self, first: float, last: float) -> list[int]:
        """Indices of the notes seen between two ticks; those of the front voice come last."""
        seen = np.flatnonzero((self.song.arrays.start < last) & (self.ends > first))
        in_front = self.song.arrays.voice[seen] == self.front
        return list(map(int, np.concatenate([seen[~in_front], seen[in_front]])))

    def cell_at(self, tick: float) -> Cell | None:
        """The cell that lies under a tick."""
        under = [cell for cell in self.cells.between(tick, tick + 1) if cell.tick <= tick]
        return under[-1] if under else None

    def sounding(self, tick: float) -> list[int]:
        """Indices of the front voice's notes that sound at a tick; where it rests, those of the other voices."""
        now = np.flatnonzero((self.song.arrays.start <= tick) & (self.ends > tick))
        in_front = now[self.song.arrays.voice[now] == self.front]
        return list(map(int, in_front if len(in_front) else now))
