"""Where a tune could be moved so that it suits an instrument: its range, and what it is written in."""

from __future__ import annotations

from dataclasses import dataclass

from ..sheet import Reading
from ..theory import Interval, Key, read_interval
from .part import SONG, Part, notes_of
from .shift import Chromatic, WithKey

__all__ = ["WRITTEN_FOR", "Fit", "fits"]

_WAYS = range(-24, 25)


@dataclass(frozen=True, slots=True)
class Fit:
    """One way of moving a tune towards a range."""

    semitones: int
    key: Key
    """The opening key then."""
    inside: int
    """How many of the notes lie in the range."""
    notes: int
    accidentals: int
    """How many of the notes are written with a sharp or a flat."""

    @property
    def fits(self) -> bool:
        """True if every note lies in the range."""
        return self.inside == self.notes


def fits(reading: Reading, low: int, high: int, part: Part = SONG) -> list[Fit]:
    """Every way of moving a part of a tune by up to two octaves, the best first.

    Best is what has most notes from ``low`` to ``high`` (MIDI numbers), then fewest accidentals, then the
    shortest way.
    """
    song = reading.song
    notes = [song.notes[index] for index in notes_of(reading, part)]
    found = []
    for semitones in _WAYS:
        shift = WithKey.by_semitones(song.key, semitones) if part.is_song else Chromatic(semitones)
        moved = [shift.moved(note.pitch, song.key_at(note.start)) for note in notes]
        inside = sum(low <= pitch.number <= high for pitch in moved)
        accidentals = sum(pitch.accidental != 0 for pitch in moved)
        found.append(Fit(semitones, shift.moved_key(song.key), inside, len(notes), accidentals))
    return sorted(found, key=lambda fit: (-fit.inside, fit.accidentals, abs(fit.semitones), -fit.semitones))


_ALL = (
    ("in B♭: clarinet, trumpet", "major second"),
    ("in B♭, an octave lower: tenor saxophone", "major ninth"),
    ("in E♭: alto saxophone", "major sixth"),
    ("in E♭, sounding higher: small clarinet", "down a minor third"),
    ("in F: horn", "perfect fifth"),
    ("in A: clarinet in A", "minor third"),
    ("an octave higher than written: small recorder, whistle", "down an octave"),
    ("an octave lower than written: guitar, double bass", "octave"),
)

WRITTEN_FOR: dict[str, Interval] = {sounding: read_interval(interval) for sounding, interval in _ALL}
"""By how an instrument sounds, the interval by which a tune is moved to become its part."""
