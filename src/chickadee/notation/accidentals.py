"""Accidentals: those that the key signature and the bar do not say already, and courtesy ones after a bar line."""

from __future__ import annotations

from typing import NamedTuple

from ..theory import Key, Pitch

__all__ = ["BarAccidentals", "DrawnAccidental", "signature_letters"]

_SHARPS = "FCGDAEB"

StaffPitch = tuple[str, int]
"""A letter and an octave."""


class DrawnAccidental(NamedTuple):
    """An accidental before a head."""

    semitones: int
    """From -2, a double flat, to 2, a double sharp."""
    courtesy: bool
    """True if it only reminds of what holds anyway."""


def signature_letters(signature: int) -> dict[str, int]:
    """The letters that a key signature alters, in the order in which they are written, and by how much.

    >>> signature_letters(-2)
    {'B': -1, 'E': -1}
    """
    letters = _SHARPS[:signature] if signature > 0 else _SHARPS[::-1][:-signature]
    sign = 1 if signature > 0 else -1
    return dict.fromkeys(letters, sign) if signature else {}


class BarAccidentals:
    """The accidentals in force in one bar of a staff, as its notes are read from left to right."""

    def __init__(self, key: Key, before: BarAccidentals | None = None) -> None:
        """``before`` is the bar before, whose accidentals a courtesy one takes back."""
        self._signature = signature_letters(key.signature)
        self._altered: dict[StaffPitch, int] = {}
        self._reminders = {} if before is None else dict(before._altered)

    def read(self, pitch: Pitch) -> DrawnAccidental | None:
        """Return the accidental before a note that begins here; None where nothing need be drawn."""
        place = pitch.letter, pitch.octave
        usual = self._signature.get(pitch.letter, 0)
        holds = self._altered.get(place, usual)
        reminds = self._reminders.pop(place, pitch.accidental) != pitch.accidental
        if holds == pitch.accidental:
            return DrawnAccidental(pitch.accidental, courtesy=True) if reminds else None
        self._altered[place] = pitch.accidental
        return DrawnAccidental(pitch.accidental, courtesy=False)
