"""Scales as patterns above any tonic."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["SCALES", "Scale"]


@dataclass(frozen=True, slots=True)
class Scale:
    """A scale's pattern: for each step, how many letters and how many semitones above the tonic.

    >>> SCALES["minor pentatonic"].semitones
    (0, 3, 5, 7, 10)
    """

    name: str
    """The name a key is written with, in lower case."""
    letters: tuple[int, ...]
    """Letters above the tonic's letter, one for each step."""
    semitones: tuple[int, ...]
    """Semitones above the tonic, one for each step."""
    signature: int
    """Fifths to add to the tonic's place for the key signature: 0 for major, -3 for minor."""
    minor: bool
    """True if a MIDI key signature calls it minor."""


def _seven(name: str, semitones: tuple[int, ...], signature: int, minor: bool) -> Scale:
    return Scale(name, tuple(range(7)), semitones, signature, minor)


_ALL = (
    _seven("major", (0, 2, 4, 5, 7, 9, 11), 0, False),
    _seven("minor", (0, 2, 3, 5, 7, 8, 10), -3, True),
    _seven("harmonic minor", (0, 2, 3, 5, 7, 8, 11), -3, True),
    _seven("melodic minor", (0, 2, 3, 5, 7, 9, 11), -3, True),
    _seven("dorian", (0, 2, 3, 5, 7, 9, 10), -2, True),
    _seven("phrygian", (0, 1, 3, 5, 7, 8, 10), -4, True),
    _seven("lydian", (0, 2, 4, 6, 7, 9, 11), 1, False),
    _seven("mixolydian", (0, 2, 4, 5, 7, 9, 10), -1, False),
    _seven("locrian", (0, 1, 3, 5, 6, 8, 10), -5, True),
    Scale("major pentatonic", (0, 1, 2, 4, 5), (0, 2, 4, 7, 9), 0, False),
    Scale("minor pentatonic", (0, 2, 3, 4, 6), (0, 3, 5, 7, 10), -3, True),
    Scale("blues", (0, 2, 3, 4, 4, 6), (0, 3, 5, 6, 7, 10), -3, True),
    Scale("whole tone", (0, 1, 2, 3, 4, 6), (0, 2, 4, 6, 8, 10), 0, False),
    Scale("chromatic", (0, 0, 1, 2, 2, 3, 3, 4, 4, 5, 6, 6), tuple(range(12)), 0, False),
)

SCALES: dict[str, Scale] = {scale.name: scale for scale in _ALL}
"""Every scale a key can name, by its name."""
