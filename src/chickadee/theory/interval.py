"""Intervals by name: how many letters and how many semitones apart two pitches are."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..faults import InputFault
from .pitch import LETTERS, Pitch, PitchName

__all__ = ["INTERVALS", "Interval", "IntervalNameError", "read_interval"]

_SIZES = ("unison", "second", "third", "fourth", "fifth", "sixth", "seventh", "octave",
          "ninth", "tenth", "eleventh", "twelfth", "thirteenth", "fourteenth", "fifteenth")  # fmt: skip
_PLAIN = (0, 2, 4, 5, 7, 9, 11)  # semitones of the major and perfect intervals, by letters
_PERFECT = (0, 3, 4)  # letters of those that are perfect
_FROM_PLAIN = {
    True: {-1: "diminished", 0: "perfect", 1: "augmented"},
    False: {-2: "diminished", -1: "minor", 0: "major", 1: "augmented"},
}


_LONGEST = 40  # characters of what cannot be read that a sentence names


class IntervalNameError(InputFault):
    """An interval that cannot be read; its text says why in one sentence."""


@dataclass(frozen=True, slots=True)
class Interval:
    """How far one pitch is from another; both counts are below zero for an interval down.

    >>> third = read_interval("minor third")
    >>> third.letters, third.semitones, third.above(Pitch("C", 1, 4)).text
    (2, 3, 'E4')
    """

    letters: int
    semitones: int

    @property
    def name(self) -> str:
        """The name, whichever way it goes: ``minor third``; semitones where no name fits."""
        letters, semitones = (-self.letters, -self.semitones) if self.letters < 0 else (self.letters, self.semitones)
        octaves, step = divmod(letters, 7)
        quality = _FROM_PLAIN[step in _PERFECT].get(semitones - 12 * octaves - _PLAIN[step])
        if quality is None or letters >= len(_SIZES):
            return f"{abs(self.semitones)} semitones"
        name = f"{quality} {_SIZES[letters]}"
        return {"perfect octave": "octave", "perfect fifteenth": "two octaves"}.get(name, name)

    @property
    def down(self) -> Interval:
        """The same interval the other way."""
        return Interval(-self.letters, -self.semitones)

    @classmethod
    def between(cls, first: Pitch, second: Pitch) -> Interval:
        """The interval from one pitch to another."""
        letters = 7 * (second.octave - first.octave) + LETTERS.index(second.letter) - LETTERS.index(first.letter)
        return cls(letters, second.number - first.number)

    def above(self, pitch: Pitch) -> Pitch:
        """The pitch that is so far from another, with as many accidentals as that takes."""
        octave, place = divmod(7 * pitch.octave + LETTERS.index(pitch.letter) + self.letters, 7)
        plain = Pitch(LETTERS[place], 0, octave)
        return Pitch(plain.letter, pitch.number + self.semitones - plain.number, octave)

    def above_name(self, name: PitchName) -> PitchName:
        """The same for a name in no octave."""
        return self.above(name.at(4)).name


def read_interval(text: str) -> Interval:
    """The interval that words name: ``minor third``, ``up a perfect fifth``, ``down an octave``.

    Raises IntervalNameError with a sentence.
    """
    words = [word for word in text.lower().replace("-", " ").split() if word not in ("a", "an")]
    down = words[:1] == ["down"]
    if words[:1] in (["up"], ["down"]):
        words = words[1:]
    name = " ".join(words)
    if found := re.fullmatch(r"(?:perfect )?(unison|fourth|fifth|octave|eleventh|twelfth|fifteenth)", name):
        name = f"perfect {found[1]}"
    name = {"tritone": "augmented fourth", "two octaves": "perfect fifteenth"}.get(name, name)
    interval = _BY_NAME.get(name)
    if interval is None:
        raise IntervalNameError(
            f"“{text[:_LONGEST]}” is not an interval; minor third and perfect fifth are two of them."
        )
    return interval.down if down else interval


def _named() -> dict[str, Interval]:
    found = {}
    for letters, size in enumerate(_SIZES):
        octaves, step = divmod(letters, 7)
        for away, quality in _FROM_PLAIN[step in _PERFECT].items():
            found[f"{quality} {size}"] = Interval(letters, 12 * octaves + _PLAIN[step] + away)
    return found


_BY_NAME = _named()

INTERVALS: tuple[Interval, ...] = tuple(
    _BY_NAME[name]
    for name in (
        "minor second",
        "major second",
        "minor third",
        "major third",
        "perfect fourth",
        "augmented fourth",
        "diminished fifth",
        "perfect fifth",
        "minor sixth",
        "major sixth",
        "minor seventh",
        "major seventh",
        "perfect octave",
    )
)
"""The intervals that tunes are usually moved by, from the smallest."""
