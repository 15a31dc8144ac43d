"""A rest after every note comes of a program that waits where it need not."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..sheet import Finding, Reading, Rule, Severity
from .check import Check
from .profile import Profile

__all__ = ["Waits"]

_FEWEST = 8  # strikes of a voice


class Waits(Check):
    """Reports a voice that rests after every note, each time as long as the note or always equally long."""

    rule = Rule("waits", Severity.HINT, "A voice that rests after every note.")
    why = "A program that plays a note and then waits for its length, though playing waits already, sounds like this."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each such voice, at its first note."""
        song = reading.song
        columns = song.arrays
        for index, voice in enumerate(song.voices):
            mine = song.by_voice[index]
            starts, first = np.unique(columns.start[mine], return_index=True)
            if voice.is_drums or len(starts) < _FEWEST:
                continue
            lengths = np.maximum.reduceat(columns.length[mine], first)[:-1]
            rests = np.diff(starts) - lengths
            if rests.min() <= 0 or not (np.array_equal(rests, lengths) or rests.min() == rests.max()):
                continue
            message = f"{voice.name} rests after every note, as where a program plays a note and then waits for it."
            yield self.rule.at(*song.notes[int(mine[0])].spans[0], message)
