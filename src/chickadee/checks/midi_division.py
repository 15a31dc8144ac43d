"""A MIDI file must be able to hold every length exactly."""

from __future__ import annotations

from collections.abc import Iterator

from ..sheet import Finding, Reading
from ..sheet.rules import DIVISION
from ..song import division_for

__all__ = ["MidiDivision"]


class MidiDivision:
    """Reports a tune whose lengths need more divisions of a quarter note than a MIDI file can have."""

    def findings(self, reading: Reading) -> Iterator[Finding]:
        """One finding at the first note that makes the division too fine."""
        song = reading.song
        if division_for(song.times) is not None:
            return
        culprit = next(count for count in range(1, len(song.times) + 1) if division_for(song.times[:count]) is None)
        tick = song.times[culprit - 1]
        note = next((note for note in song.notes if tick in (note.start, note.start + note.sounding)), None)
        start, end = note.ink[0] if note else (0, 0)
        yield DIVISION.at(
            start,
            end,
            "From here on the lengths differ too finely for a MIDI file, "
            "whose quarter note has at most 32767 parts; simpler fractions would fit.",
        )
