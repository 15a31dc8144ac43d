"""Notes must be among those their voice allows."""

from __future__ import annotations

from collections.abc import Iterator

from ..sheet import Finding, Reading, Rule, Severity
from ..song import Note
from .check import Check
from .profile import Profile
from .sign import pitch_fixes

__all__ = ["Allowed"]


class Allowed(Check):
    """Reports a note that its voice does not allow. Its fixes are the nearest that are allowed."""

    rule = Rule("allowed", Severity.WARNING, "A note that its voice does not allow.")
    why = "Pupils who know a few pitches, or bars laid out for a few, cannot play another."
    limits = ("allow",)

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each place in the text."""
        voices = reading.song.voices
        allowed = [voice.allow or (None if voice.is_drums else profile.allow) for voice in voices]
        if not any(allowed):
            return
        for note in reading.song.notes:
            allow = allowed[note.voice]
            if allow is not None and not _allows(allow, note.number):
                yield _finding(reading, note, allow)


def _allows(allow: frozenset[int], number: int) -> bool:
    return number in allow or number % 12 - 12 in allow


def _finding(reading: Reading, note: Note, allow: frozenset[int]) -> Finding:
    place = reading.song.grid.place(note.start)
    near = next(
        (
            number
            for away in range(1, 128)
            for number in (note.number - away, note.number + away)
            if 0 <= number <= 127 and _allows(allow, number)
        ),
        None,
    )
    nearest = [] if near is None else [reading.song.key_at(note.start).spell(near)]
    fixes = pitch_fixes(reading, note, nearest)
    message = f"Bar {place.bar}: {note.pitch.pretty} is not among the pitches this voice allows."
    return Allowed.rule.at(*note.spans[0], message, *fixes)
