"""Traditions of naming pitches: letters, letters with H, and fixed syllables."""

from __future__ import annotations

import re
from enum import Enum

from ..caching import remembered
from .pitch import Pitch, PitchName, read_pitch_name

__all__ = ["Naming"]

_SYLLABLES = {"C": "do", "D": "re", "E": "mi", "F": "fa", "G": "sol", "A": "la", "B": "si"}
_SUNG = {syllable: letter for letter, syllable in _SYLLABLES.items()} | {"so": "G", "ti": "B", "ré": "D"}
_SIGNS = {"#": 1, "♯": 1, "b": -1, "♭": -1, "n": 0, "♮": 0, "": 0}
_BY_SYLLABLE = re.compile(r"(?i)(do|re|ré|mi|fa|sol|so|la|si|ti)(##|#|♯♯|♯|bb|b|♭♭|♭|n|♮)?(-?[0-9]{1,2})?")
_BY_H = re.compile(r"(?i)([a-h])(isis|is|eses|es|##|#|♯♯|♯|s(?=-?[0-9]|$)|ses(?=-?[0-9]|$))?(-?[0-9]{1,2})?")
_RAISED = {"is": 1, "isis": 2, "es": -1, "eses": -2, "s": -1, "ses": -2}


class Naming(Enum):
    """How a sheet names pitches, by the value of its property ``names``.

    >>> Naming.H.text(PitchName("B", -1)), Naming.H.text(PitchName("E", -1)), Naming.SYLLABLES.text(PitchName("F", 1))
    ('B', 'Es', 'fa#')
    """

    LETTERS = "letters"
    """C D E F G A B, with # and b."""
    H = "h"
    """H is B, B is B flat; Cis, Es, As."""
    SYLLABLES = "do re mi"
    """do is C, whatever the key."""

    def read(self, text: str) -> tuple[PitchName, int | None] | None:
        """A written pitch as its name and octave, None where no octave is written; None for what is no pitch."""
        return _READERS[self](text)

    def text(self, name: PitchName) -> str:
        """A name as it is written."""
        if self is Naming.SYLLABLES:
            return _SYLLABLES[name.letter] + name.text[1:]
        return _with_h(name) if self is Naming.H else name.text

    def pretty(self, name: PitchName) -> str:
        """A name as it is drawn, with ♯ and ♭."""
        return (
            self.text(name) if self is Naming.H else self.text(name)[: -len(name.text[1:]) or None] + name.pretty[1:]
        )

    def pitch_pretty(self, pitch: Pitch) -> str:
        """A pitch as it is drawn, with its octave."""
        return f"{self.pretty(pitch.name)}{pitch.octave}"

    def pitch_text(self, pitch: Pitch) -> str:
        """A pitch as it is written, with its octave."""
        return f"{self.text(pitch.name)}{pitch.octave}"


def _with_h(name: PitchName) -> str:
    letter, by = name.letter, name.accidental
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
    letter, sign = found[1].upper(), (found[2] or "").lower()
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


_READERS = {Naming.LETTERS: read_pitch_name, Naming.H: _read_h, Naming.SYLLABLES: _read_syllable}
