"""Leaps should not be larger than a class can sing or play."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from ..sheet import Finding, Reading, Rule, Severity
from .check import Check
from .profile import Profile
from .sign import pitch_fixes

__all__ = ["Leap"]


class Leap(Check):
    """Reports a note too far from the one before it. Its fix is the nearest octave of the note."""

    rule = Rule("leap", Severity.HINT, "A leap larger than a class is to sing or play.")
    why = "Young voices and beginners’ fingers lose their way over a large leap."
    usual = False
    limits = ("largest-leap",)

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each place in the text."""
        song = reading.song
        most = profile.largest_leap
        for melody in song.melodies():
            for place, (before, here) in enumerate(pairwise(melody)):
                note = song.notes[here]
                leap = song.notes[here].number - song.notes[before].number
                if abs(leap) <= most:
                    continue
                octaves = 12 * round(-leap / 12)
                after = [song.notes[index].number for index in melody[place + 2 : place + 3]]
                fits = abs(leap + octaves) <= most and all(
                    abs(number - note.number - octaves) <= most for number in after
                )
                near = [note.pitch.name.nearest(note.number + octaves)] if fits else []
                bar = song.grid.number_at(note.start)
                message = f"Bar {bar}: {abs(leap)} semitones to {note.pitch.pretty}; at most {most} are wanted."
                yield self.rule.at(*note.spans[0], message, *pitch_fixes(reading, note, near))
