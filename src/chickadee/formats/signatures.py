"""Keys by their signatures, as MIDI files and scores give them."""

from __future__ import annotations

from ..theory import Key, read_key

__all__ = ["key_of"]

_MAJORS = ("Cb", "Gb", "Db", "Ab", "Eb", "Bb", "F", "C", "G", "D", "A", "E", "B", "F#", "C#")
_MINORS = ("Ab", "Eb", "Bb", "F", "C", "G", "D", "A", "E", "B", "F#", "C#", "G#", "D#", "A#")
_MODES = {"dorian": 1, "phrygian": 2, "lydian": 3, "mixolydian": 4, "locrian": 6}
"""On which step of the major key with the same signature each mode begins, from 0."""


def key_of(sharps: int, mode: str = "major") -> Key:
    """The key with so many sharps, or flats below zero, from -7 to 7; a mode that is not known is major.

    >>> key_of(-3).text, key_of(1, "minor").text, key_of(0, "dorian").text
    ('Eb major', 'E minor', 'D dorian')
    """
    if mode in ("minor", "aeolian"):
        return read_key(f"{_MINORS[sharps + 7]} minor")
    major = read_key(f"{_MAJORS[sharps + 7]} major")
    return read_key(f"{major.names[_MODES[mode]].text} {mode}") if mode in _MODES else major
