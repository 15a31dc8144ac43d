"""Notes that look like slips of the pen."""

from __future__ import annotations

from collections.abc import Iterator

from ..sheet import Finding, Reading, Rule, Severity
from ..song import Note
from ..theory import Key
from .check import Check
from .melody import melodies
from .profile import Profile
from .sign import pitch_fixes

__all__ = ["LikelySlip"]

_FAR, _NEAR = 9, 5  # semitones


class LikelySlip(Check):
    """Reports a number one semitone beside the key that is named, and a note an octave away from its neighbours."""

    rule = Rule("likely-slip", Severity.HINT, "A note that looks like a slip: a semitone or an octave off.")
    why = "A number looked up one line off, or an octave mixed up, is heard by everyone and seen by no one."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each place in the text."""
        if any(each.name == "key" for each in reading.sheet.properties):
            yield from self._beside_key(reading)
        yield from self._octave_off(reading)

    def _beside_key(self, reading: Reading) -> Iterator[Finding]:
        song = reading.song
        for note in song.notes:
            key = song.key_at(note.start)
            if key.contains(note.number) or song.voices[note.voice].is_drums or _is_usual(key, note.number):
                continue
            near = [key.spell(number) for number in (note.number - 1, note.number + 1)
                    if 0 <= number <= 127 and key.contains(number)]  # fmt: skip
            fixes = pitch_fixes(reading, note, near)
            if fixes and reading.text[note.ink[0][0] : note.ink[0][1]].lstrip(">'")[:1].isdigit():
                offered = " and ".join(f"{pitch.pretty} is {pitch.number}" for pitch in near)
                message = f"{note.number} is {note.pitch.pretty}, which is not in {key.pretty}; {offered}."
                yield self.rule.at(*note.ink[0], message, *fixes)

    def _octave_off(self, reading: Reading) -> Iterator[Finding]:
        song = reading.song
        for melody in melodies(song):
            for before, here, after in zip(melody, melody[1:], melody[2:], strict=False):
                note = song.notes[here]
                octave = _octave(song.notes[before], note, song.notes[after])
                fixes = pitch_fixes(reading, note, [note.pitch.name.nearest(note.number + octave)] if octave else [])
                if fixes:
                    bar = song.grid.number_at(note.start)
                    way = "above" if octave < 0 else "below"
                    message = f"Bar {bar}: {note.pitch.pretty} stands an octave {way} the notes on both its sides."
                    yield self.rule.at(*note.ink[0], message, *fixes)


def _is_usual(key: Key, number: int) -> bool:
    """Whether a note outside the scale is usual all the same: the raised sixth and seventh of minor keys."""
    return key.scale.minor and (number - key.tonic.pitch_class) % 12 in (9, 11)


def _octave(before: Note, note: Note, after: Note) -> int:
    """12 or -12 where that brings a note from far away from both neighbours to near them, else 0."""
    away = note.number - before.number, note.number - after.number
    if abs(before.number - after.number) > _NEAR or min(map(abs, away)) < _FAR or away[0] * away[1] < 0:
        return 0
    octave = -12 if away[0] > 0 else 12
    near = all(abs(each + octave) <= _NEAR for each in away)
    return octave if near and 0 <= note.number + octave <= 127 else 0
