"""Notes that look like slips of the pen."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from ..sheet import Finding, Reading, Rule, Severity
from ..song import Song
from ..theory import Key
from .check import Check
from .profile import Profile
from .sign import beside_in_key, pitch_fixes

__all__ = ["LikelySlip"]

# semitones
_FAR = 9
_NEAR = 5
_USUAL_EVERY = 20  # a slip is rarer than one note in so many


class LikelySlip(Check):
    """Reports a number one semitone away from a note of the key, and a note an octave away from its neighbours."""

    rule = Rule("likely-slip", Severity.HINT, "A note that looks like a slip: a semitone or an octave off.")
    why = "A number that is one too high, or an octave mixed up, is easy to hear but hard to see."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each place in the text."""
        if any(each.name == "key" for each in reading.sheet.properties):
            yield from self._beside_key(reading)
        yield from self._octave_off(reading)

    def _beside_key(self, reading: Reading) -> Iterator[Finding]:
        song = reading.song
        passing: set[int] | None = None
        for index, note in enumerate(song.notes):
            key = song.key_at(note.start)
            if key.contains(note.number) or song.voices[note.voice].is_drums or _is_usual(key, note.number):
                continue
            passing = _passing(song) if passing is None else passing
            if index in passing:
                continue
            if not reading.text_of(note).lstrip(">'")[:1].isdigit():
                continue
            near = beside_in_key(key, note.number)
            fixes = pitch_fixes(reading, note, near)
            if fixes:
                offered = " and ".join(f"{pitch.pretty} is {pitch.number}" for pitch in near)
                message = f"{note.number} is {note.pitch.pretty}, which is not in {key.pretty}; {offered}."
                yield self.rule.at(*note.spans[0], message, *fixes)

    def _octave_off(self, reading: Reading) -> Iterator[Finding]:
        song = reading.song
        for melody in song.melodies():
            numbers = song.arrays.number[melody].astype(int)
            found = _octaves_off(numbers)
            if len(found) > max(1, len(melody) // _USUAL_EVERY):
                continue  # leaps are usual in this melody
            for place, octave in found:
                note = song.notes[melody[place]]
                fixes = pitch_fixes(reading, note, [note.pitch.name.nearest(note.number + octave)])
                if fixes:
                    bar = song.grid.number_at(note.start)
                    way = "above" if octave < 0 else "below"
                    message = f"Bar {bar}: {note.pitch.pretty} is an octave {way} the notes before and after it."
                    yield self.rule.at(*note.spans[0], message, *fixes)


def _passing(song: Song) -> set[int]:
    """The notes of melodies a semitone from both neighbours, which are in the key: chromatic passing notes."""
    found = set()
    for melody in song.melodies():
        numbers = song.arrays.number[melody].astype(int)
        beside = np.abs(np.diff(numbers)) == 1
        for place in np.flatnonzero(beside[:-1] & beside[1:]).tolist():
            before, here, after = (song.notes[melody[place + each]] for each in range(3))
            key = song.key_at(here.start)
            if key.contains(before.number) and key.contains(after.number):
                found.add(melody[place + 1])
    return found


def _is_usual(key: Key, number: int) -> bool:
    """Return whether a note outside the scale is usual all the same: the raised sixth and seventh of minor keys."""
    return key.scale.minor and (number - key.tonic.pitch_class) % 12 in (9, 11)


def _octaves_off(numbers: NDArray[np.int_]) -> list[tuple[int, int]]:
    """(place, 12 or -12) of each note far from both neighbours that an octave brings near them."""
    before = numbers[:-2]
    here = numbers[1:-1]
    after = numbers[2:]
    octave = np.where(here > before, -12, 12)
    far = np.minimum(abs(here - before), abs(here - after)) >= _FAR
    near = np.maximum(abs(here + octave - before), abs(here + octave - after)) <= _NEAR
    one_side = ((here > before) == (here > after)) & (abs(before - after) <= _NEAR)
    inside = (here + octave >= 0) & (here + octave <= 127)
    places = np.flatnonzero(far & near & one_side & inside)
    return [(int(place) + 1, int(octave[place])) for place in places]
