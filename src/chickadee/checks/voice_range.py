"""Notes must lie inside their voice's range."""

from __future__ import annotations

from collections.abc import Iterator

from ..sheet import Finding, Reading, Rule, Severity
from ..song import Note
from .check import Check
from .profile import Profile
from .sign import pitch_fixes

__all__ = ["VoiceRange"]


class VoiceRange(Check):
    """Reports a note too high or too low for its voice. Its fixes are other octaves of the note."""

    rule = Rule("voice-range", Severity.WARNING, "A note outside its voice’s range.")
    why = "An instrument without the note stays silent there, or plays another."
    limits = ("range",)

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each place in the text."""
        ranges = [voice.range or (None if voice.is_drums else profile.range) for voice in reading.song.voices]
        if not any(ranges):
            return
        for note in reading.song.notes:
            span = ranges[note.voice]
            if span is not None and not span[0] <= note.number <= span[1]:
                yield _finding(reading, note, span)


def _finding(reading: Reading, note: Note, span: tuple[int, int]) -> Finding:
    low, high = span
    key = reading.song.key_at(note.start)
    bar = reading.song.grid.number_at(note.start)
    side = "higher" if note.number > high else "lower"
    octaves = -(-(note.number - high) // 12) if note.number > high else -(-(low - note.number) // 12)
    other = note.number + 12 * (-octaves if note.number > high else octaves)
    nearest = high if note.number > high else low
    fitting = [
        note.pitch.name.nearest(number) if number == other else key.spell(number)
        for number in dict.fromkeys((other, nearest))
        if low <= number <= high
    ]
    fixes = pitch_fixes(reading, note, fitting)
    message = (
        f"Bar {bar}: {note.pitch.pretty} is {side} than this voice’s range, "
        f"{key.spell(low).pretty} to {key.spell(high).pretty}."
    )
    return VoiceRange.rule.at(*note.spans[0], message, *fixes)
