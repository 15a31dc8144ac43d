"""A MIDI file must be able to hold every length exactly."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..sheet import Finding, Reading, Rule, Severity
from ..song import division_for
from .check import Check
from .profile import Profile

__all__ = ["MidiDivision"]


class MidiDivision(Check):
    """Reports a tune whose lengths need more divisions of a quarter note than a MIDI file can have."""

    rule = Rule("midi-division", Severity.ERROR, "Lengths so varied that no MIDI file can hold them exactly.")
    why = "A MIDI file counts time in equal parts of a quarter note, of which it can have 32767."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding at the first note that makes the division too fine."""
        song = reading.song
        if song.division is not None:
            return
        common = np.gcd.accumulate(song.times).tolist()
        tick = next(
            tick for tick, so_far in zip(song.times.tolist(), common, strict=True) if not division_for([so_far])
        )
        note = next((note for note in song.notes if tick in (note.start, note.start + note.sounding)), None)
        start, end = note.spans[0] if note else (0, 0)
        yield self.rule.at(
            start,
            end,
            "From here on the lengths differ too finely for a MIDI file, "
            "whose quarter note has at most 32767 parts; simpler fractions would fit.",
        )
