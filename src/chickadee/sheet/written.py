"""The ways a pitch can be written: as a name, a number, a step, a frequency, a drum's name or a chord symbol."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import Enum
from fractions import Fraction

from ..song.drums import DRUMS
from ..theory import Chord, Naming, PitchName, read_chord

__all__ = [
    "ACCENT",
    "DEFAULT_OCTAVE",
    "ChordSign",
    "Drum",
    "Hertz",
    "Manner",
    "Named",
    "Number",
    "Step",
    "Written",
    "read_written",
]


ACCENT = 16
"""How much louder an accented note is, as a MIDI velocity."""
DEFAULT_OCTAVE = 4
"""The octave of a letter where neither the sheet nor the block sets one."""


@dataclass(frozen=True, slots=True)
class Named:
    """``F#4``; without an octave it takes the one in force."""

    name: PitchName
    octave: int | None
    naming: Naming = Naming.LETTERS
    """In which tradition it is written."""


@dataclass(frozen=True, slots=True)
class Number:
    """``66``, a MIDI number, perhaps beyond 127."""

    number: int


@dataclass(frozen=True, slots=True)
class Step:
    """``^4#``: a step of the key in force, raised by so many semitones."""

    step: int
    raised: int


@dataclass(frozen=True, slots=True)
class Hertz:
    """``440Hz``."""

    hertz: float


@dataclass(frozen=True, slots=True)
class Drum:
    """``snare``: a percussion key."""

    number: int


class Manner(Enum):
    """How a chord symbol is played, by the words that say so."""

    TOGETHER = ""
    RISING = "rising"
    FALLING = "falling"
    THERE_AND_BACK = "there and back"
    STRUM = "strum"


@dataclass(frozen=True, slots=True)
class ChordSign:
    """``{Am 3 rising by 1/3}``."""

    chord: Chord
    octave: int | None
    """Of the root; None for the one in force."""
    manner: Manner
    part: Fraction | None
    """Beats of each note of a broken chord, going round; None breaks it evenly over its length."""


Written = Named | Number | Step | Hertz | Drum | ChordSign

_STEP = re.compile(r"\^([0-9]{1,2})([#♯b♭]{0,2})")
_HERTZ = re.compile(r"(?i)([0-9]{1,6}(?:\.[0-9]{1,6})?)hz")
_CHORD = re.compile(
    r"\{\s*(\S+?)(?:\s+(-?[0-9]))?(?:\s+(rising|falling|there\s+and\s+back|strum))?(?:\s+by\s+([0-9]+(?:/[0-9]+)?|[0-9]*\.[0-9]+))?\s*\}"
)


def read_written(text: str, naming: Naming = Naming.LETTERS) -> Written | None:
    """The pitch, or pitches, that a sign names; None where it names none."""
    if text.isascii() and text.isdigit():
        return Number(int(text[:9]))
    if (named := naming.read(text)) is not None:
        return Named(*named, naming)
    if (drum := DRUMS.get(text.lower())) is not None:
        return Drum(drum)
    if (found := _STEP.fullmatch(text)) and int(found[1]):
        return Step(int(found[1]), sum(1 if sign in "#♯" else -1 for sign in found[2]))
    if (found := _HERTZ.fullmatch(text)) and float(found[1]) > 0:
        return Hertz(float(found[1]))
    return _read_chord(text) if text[:1] == "{" else None


def _read_chord(text: str) -> ChordSign | None:
    found = _CHORD.fullmatch(text)
    chord = read_chord(found[1]) if found else None
    if found is None or chord is None:
        return None
    manner = Manner(" ".join((found[3] or "").split()))
    broken = manner in (Manner.RISING, Manner.FALLING, Manner.THERE_AND_BACK)
    if found[4] and (not broken or not re.search("[1-9]", found[4].partition("/")[0]) or found[4].endswith("/0")):
        return None
    part = Fraction(found[4]) if found[4] else None
    return ChordSign(chord, int(found[2]) if found[2] else None, manner, part)
