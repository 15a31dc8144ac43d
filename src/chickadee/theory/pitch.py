"""Pitches as they are written: a letter, an accidental and an octave."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..caching import remembered

__all__ = ["LETTERS", "Pitch", "PitchName", "read_pitch_name"]

LETTERS = "CDEFGAB"
_SEMITONES = dict(zip(LETTERS, (0, 2, 4, 5, 7, 9, 11), strict=True))
_FIFTHS = dict(zip("FCGDAEB", range(-1, 6), strict=True))
_ACCIDENTALS = {"#": 1, "♯": 1, "b": -1, "♭": -1, "n": 0, "♮": 0}
_NAME = re.compile(r"([A-Ga-g])(##|#|♯♯|♯|bb|BB|Bb|bB|b|B|♭♭|♭|n|N|♮)?(-?[0-9]{1,2})?")


@dataclass(frozen=True, slots=True)
class PitchName:
    """A letter with its accidental, in no particular octave.

    >>> name = PitchName("B", -1)
    >>> name.text, name.pretty, name.pitch_class
    ('Bb', 'B♭', 10)
    """

    letter: str
    """One of C D E F G A B."""
    accidental: int = 0
    """Semitones the letter is raised by: 1 a sharp, -1 a flat."""

    @property
    def text(self) -> str:
        """The name with ``#`` and ``b``, as a sheet and the command line write it."""
        return self.letter + ("#" * self.accidental if self.accidental > 0 else "b" * -self.accidental)

    @property
    def pretty(self) -> str:
        """The name with ♯ and ♭, as the window draws it."""
        return self.letter + ("♯" * self.accidental if self.accidental > 0 else "♭" * -self.accidental)

    @property
    def pitch_class(self) -> int:
        """Semitones above C, 0 to 11."""
        return (_SEMITONES[self.letter] + self.accidental) % 12

    @property
    def fifths(self) -> int:
        """The place on the line of fifths: C is 0, G is 1, F is -1, F# is 6, Bb is -2."""
        return _FIFTHS[self.letter] + 7 * self.accidental

    @classmethod
    def from_fifths(cls, fifths: int) -> PitchName:
        """The name at a place on the line of fifths, the inverse of :attr:`fifths`."""
        accidental, place = divmod(fifths + 1, 7)
        return cls("FCGDAEB"[place], accidental)

    def at(self, octave: int) -> Pitch:
        """This name in an octave of scientific pitch notation."""
        return Pitch(self.letter, self.accidental, octave)

    def nearest(self, number: int) -> Pitch:
        """This name in the octave that brings it nearest to a MIDI number."""
        zero = self.at(0).number
        return self.at(round((number - zero) / 12))


@dataclass(frozen=True, slots=True)
class Pitch:
    """A pitch in scientific pitch notation, where C4 is middle C.

    >>> pitch = Pitch("F", 1, 4)
    >>> pitch.number, pitch.text, pitch.pretty
    (66, 'F#4', 'F♯4')
    """

    letter: str
    """One of C D E F G A B."""
    accidental: int
    """Semitones the letter is raised by: 1 a sharp, -1 a flat."""
    octave: int
    """The octave of the letter, so that B#3 is the same key as C4."""

    def __post_init__(self) -> None:
        if self.letter not in _SEMITONES:
            raise ValueError(f"a pitch has one of the letters {' '.join(LETTERS)}, not {self.letter!r}")

    @property
    def number(self) -> int:
        """The MIDI number: 60 for C4. Outside 0 to 127 no MIDI key exists."""
        return 12 * (self.octave + 1) + _SEMITONES[self.letter] + self.accidental

    @property
    def name(self) -> PitchName:
        """The pitch without its octave."""
        return PitchName(self.letter, self.accidental)

    @property
    def text(self) -> str:
        """The name with ``#`` and ``b`` and its octave: ``Bb3``."""
        return f"{self.name.text}{self.octave}"

    @property
    def pretty(self) -> str:
        """The name with ♯ and ♭ and its octave: ``B♭3``."""
        return f"{self.name.pretty}{self.octave}"


@remembered(6_000, 16)
def read_pitch_name(text: str) -> tuple[PitchName, int | None] | None:
    """A written pitch as its name and octave (``None`` where no octave is written).

    Case does not matter; ``#`` ``♯`` ``b`` ``♭`` may be doubled, ``n`` and ``♮`` are naturals. Text that is
    not a pitch gives ``None``.

    >>> read_pitch_name("bb5")
    (PitchName(letter='B', accidental=-1), 5)
    """
    found = _NAME.fullmatch(text)
    if found is None:
        return None
    letter, signs, octave = found.groups()
    accidental = sum(_ACCIDENTALS[sign.lower()] for sign in signs or "")
    return PitchName(letter.upper(), accidental), None if octave is None else int(octave)
