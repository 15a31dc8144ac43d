"""Traditions of naming pitches: letters, letters with H, and syllables with a fixed or a moving do."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import ClassVar

from ..caching import remembered
from .key import Key
from .pitch import LETTERS, Pitch, PitchName, read_pitch_name

__all__ = ["NAMINGS", "Naming"]

_SYLLABLES = {"C": "do", "D": "re", "E": "mi", "F": "fa", "G": "sol", "A": "la", "B": "si"}
_SUNG = {syllable: letter for letter, syllable in _SYLLABLES.items()} | {"so": "G", "ti": "B", "ré": "D"}
_SIGNS = {"#": 1, "♯": 1, "b": -1, "♭": -1, "n": 0, "♮": 0, "": 0}
_BY_SYLLABLE = re.compile(
    r"(?ia)(do|re|[rR][éÉ]|mi|fa|sol|so|la|si|ti)"
    r"(#{1,5}|♯{1,5}|b{1,5}|♭{1,5}|n|♮)?(-?[0-9]{1,2})?"
)
_BY_H = re.compile(r"(?ia)([a-h])(isis|is|eses|es|##|#|♯♯|♯|s(?=-?[0-9]|$)|ses(?=-?[0-9]|$))?(-?[0-9]{1,2})?")
_RAISED = {"is": 1, "isis": 2, "es": -1, "eses": -2, "s": -1, "ses": -2}


_C = PitchName("C")
_MOST_RAISED = 2  # semitones by which a letter is raised or lowered


@dataclass(frozen=True, slots=True)
class Naming:
    """How a sheet names pitches, by the value of its property ``names``.

    >>> Naming.H.text(PitchName("B", -1)), Naming.H.text(PitchName("E", -1)), Naming.SYLLABLES.text(PitchName("F", 1))
    ('B', 'Es', 'fa#')
    """

    value: str
    do: PitchName = _C
    """The pitch name of do, where it moves."""

    LETTERS: ClassVar[Naming]
    """C D E F G A B, with # and b."""
    H: ClassVar[Naming]
    """H is B, B is B flat; Cis, Es, As."""
    SYLLABLES: ClassVar[Naming]
    """do is C, whatever the key."""
    MOVING: ClassVar[Naming]
    """do moves with the key, and la is the tonic of a minor one; octaves are counted from C all the same."""

    def in_key(self, key: Key) -> Naming:
        """The same where do is what it is in a key.

        >>> from . import read_key
        >>> Naming.MOVING.in_key(read_key("E minor")).text(PitchName("D", 1))
        'sol#'
        """
        return Naming(self.value, key.do) if self.moves else self

    @property
    def moves(self) -> bool:
        """True if do moves with the key."""
        return self.value == "moving do"

    def read(self, text: str) -> tuple[PitchName, int | None] | None:
        """A written pitch as its name and octave, None where no octave is written; None for what is no pitch."""
        found = _READERS[self.value](text)
        if found is None:
            return None
        name = _shifted(found[0], self.do, 1) if self.moves else found[0]
        return (name, found[1]) if abs(name.accidental) <= _MOST_RAISED else None

    def text(self, name: PitchName) -> str:
        """A name as it is written."""
        if self.value == "h":
            return _with_h(name)
        base, name = self._base(name)
        return base + name.text[1:]

    def pretty(self, name: PitchName) -> str:
        """A name as it is drawn, with ♯ and ♭."""
        if self.value == "h":
            return _with_h(name)
        base, name = self._base(name)
        return base + name.pretty[1:]

    def _base(self, name: PitchName) -> tuple[str, PitchName]:
        """Return a name without its accidental, and the name that this goes by."""
        if self.value == "letters":
            return name.letter, name
        if not self.moves:
            return _SYLLABLES[name.letter], name
        name = _shifted(name, self.do, -1)
        return "ti" if name.letter == "B" else _SYLLABLES[name.letter], name

    def pitch_pretty(self, pitch: Pitch) -> str:
        """A pitch as it is drawn, with its octave."""
        return f"{self.pretty(pitch.name)}{pitch.octave}"

    def pitch_text(self, pitch: Pitch) -> str:
        """A pitch as it is written, with its octave."""
        return f"{self.text(pitch.name)}{pitch.octave}"


def _shifted(name: PitchName, do: PitchName, way: int) -> PitchName:
    """A name as far above a do as it is above C, or for way -1 the other way round."""
    letter = LETTERS[(LETTERS.index(name.letter) + way * LETTERS.index(do.letter)) % 7]
    plain = PitchName(letter)
    return PitchName(letter, (name.pitch_class + way * do.pitch_class - plain.pitch_class + 6) % 12 - 6)


def _with_h(name: PitchName) -> str:
    letter = name.letter
    by = name.accidental
    if letter == "B":
        return {-1: "B", -2: "Heses"}.get(by, "H" + "is" * max(0, by))
    if by < 0 and letter in "EA":
        return letter + "s" + "es" * (-by - 1)
    return letter + ("is" * by if by > 0 else "es" * -by)


@remembered(6_000, 16)
def _read_h(text: str) -> tuple[PitchName, int | None] | None:
    found = _BY_H.fullmatch(text)
    if found is None:
        return None
    letter = found[1].upper()
    sign = (found[2] or "").lower()
    if sign in ("s", "ses") and letter not in "EA":
        return None
    by = _RAISED.get(sign, sum(_SIGNS.get(each, 0) for each in sign))
    if letter == "B":
        if sign:
            return None  # B is B flat already; B natural raised is His
        by = -1
    name = PitchName("B" if letter == "H" else letter, by)
    return name, None if found[3] is None else int(found[3])


@remembered(6_000, 16)
def _read_syllable(text: str) -> tuple[PitchName, int | None] | None:
    found = _BY_SYLLABLE.fullmatch(text)
    if found is None:
        return None
    by = sum(_SIGNS[each.lower()] for each in found[2] or "")
    return PitchName(_SUNG[found[1].lower()], by), None if found[3] is None else int(found[3])


_READERS = {"letters": read_pitch_name, "h": _read_h, "do re mi": _read_syllable, "moving do": _read_syllable}
Naming.LETTERS, Naming.H, Naming.SYLLABLES, Naming.MOVING = NAMINGS = tuple(map(Naming, _READERS))
"""Every tradition; the last in C."""
