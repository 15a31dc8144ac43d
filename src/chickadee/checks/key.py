"""Notes should belong to the key."""

from __future__ import annotations

from collections.abc import Iterator

from ..sheet import Finding, Reading, Rule, Severity
from .check import Check
from .profile import Profile
from .sign import beside_in_key, pitch_fixes

__all__ = ["OutOfKey"]


class OutOfKey(Check):
    """Reports a note that is not in the key in force. Its fixes are the nearest notes of the key."""

    rule = Rule("out-of-key", Severity.HINT, "A note outside the key in force.")
    why = "A class that is learning one scale should meet only its notes, or know where the tune leaves it."
    usual = False

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each place in the text."""
        song = reading.song
        for note in song.notes:
            key = song.key_at(note.start)
            if key.contains(note.number) or song.voices[note.voice].is_drums:
                continue
            near = beside_in_key(key, note.number)
            bar = song.grid.number_at(note.start)
            message = f"Bar {bar}: {note.pitch.pretty} is not in {key.pretty}."
            yield self.rule.at(*note.spans[0], message, *pitch_fixes(reading, note, near))
