"""Words of a sheet: notes struck, rests and holds, each with its length."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import Enum
from fractions import Fraction
from functools import lru_cache

from ..theory import PitchName, read_pitch_name
from . import rules
from .finding import Finding, Fix, TextEdit
from .length import NOTE_VALUES, Length, read_length

__all__ = ["Kind", "Sign", "Word", "octave_fixes", "read_word", "shown", "third_of"]


class Kind(Enum):
    """What a word does."""

    STRIKE = "strike"
    REST = "rest"
    HOLD = "hold"
    SILENT = "silent"  # could not be read: silent for the length it asks


@dataclass(frozen=True, slots=True)
class Sign:
    """One pitch inside a word, with its own marks."""

    start: int
    """Offsets inside the word."""
    end: int
    name: PitchName | None
    """The letter and accidental, or None where a number is written."""
    octave: int | None
    number: int | None
    accent: bool = False
    short: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Word:
    """A word as it reads wherever it stands.

    >>> word = read_word(">C4&E=1/2")
    >>> word.kind, [sign.octave for sign in word.signs], word.length.count
    (<Kind.STRIKE: 'strike'>, [4, None], Fraction(1, 2))
    """

    text: str
    kind: Kind
    signs: tuple[Sign, ...] = ()
    length: Length | None = None
    """None where none is written: one beat."""
    length_start: int = 0
    """The offset of the ``=``, or of the word's end where none is written."""
    findings: tuple[Finding, ...] = ()
    """What is wrong with the word by itself; offsets count inside the word."""


_NUMBER = re.compile(r"[0-9]{1,9}")
_MARKS = re.compile(r"[>']*")


@lru_cache(maxsize=65536)
def read_word(text: str) -> Word:
    """The word that ``text`` spells, never failing: a word that cannot be read is silent and has a finding."""
    return _WordReader(text).read()


def third_of(text: str) -> str | None:
    """The thirds of a beat that a decimal such as ``0.33`` or ``1.667`` seems to mean, or None."""
    found = re.fullmatch(r"([0-9]*)\.(3{2,}|6{2,}|6+7)", text)
    if found is None:
        return None
    return str(int(found[1] or 0) + Fraction(1 if found[2][0] == "3" else 2, 3))


def octave_fixes(name: PitchName, octave: int, start: int, end: int) -> tuple[Fix, ...]:
    """The fix that moves a pitch to the nearest octave where MIDI has a key for it."""
    step = -1 if name.at(octave).number > 127 else 1
    while not 0 <= name.at(octave).number <= 127:
        octave += step
    return (Fix(f"Use {name.at(octave).pretty}", (TextEdit(start, end, name.at(octave).text),)),)


class _WordReader:
    """Reads one word; gathers its findings on the way."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.findings: list[Finding] = []

    def read(self) -> Word:
        at = self.text.find("=", self.text.rfind("&") + 1)
        length_start = len(self.text) if at < 0 else at
        length = self._length(length_start + 1, len(self.text)) if at >= 0 else None
        kind, signs = self._body(length_start)
        return Word(self.text, kind, signs, length, length_start, tuple(self.findings))

    def _body(self, end: int) -> tuple[Kind, tuple[Sign, ...]]:
        plain = self.text[:end].lower().lstrip(">'")
        if plain in ("rest", ".", "-"):
            if marks := end - len(plain):
                what = "A hold" if plain == "-" else "A rest"
                self._not_understood(0, marks, f"{what} cannot be accented or short.", _cut(0, marks))
            return (Kind.HOLD if plain == "-" else Kind.REST), ()
        signs: list[Sign] = []
        start, accent, short = 0, False, False
        for part in self.text[:end].split("&"):
            sign = self._sign(start, start + len(part), accent, short)
            if start == 0 and sign is not None:
                accent, short = sign.accent, sign.short
            if sign is not None:
                signs.append(sign)
            start += len(part) + 1
        return (Kind.STRIKE if signs else Kind.SILENT), tuple(signs)

    def _sign(self, start: int, end: int, accent: bool, short: bool) -> Sign | None:
        """The pitch written between two offsets; the first one's marks are everyone's."""
        inner_length = self.text.find("=", start, end)
        if inner_length >= 0:
            self.findings.append(
                rules.LENGTH.at(
                    inner_length,
                    end,
                    f"In “{self.text}” the length belongs at the end, after the last note.",
                    *self._length_moved(inner_length, end),
                )
            )
            end = inner_length
        marks = _MARKS.match(self.text, start, end)
        at = marks.end() if marks else start
        accent |= ">" in self.text[start:at]
        short |= "'" in self.text[start:at]
        sign = self.text[at:end]
        if _NUMBER.fullmatch(sign):
            number = int(sign)
            if number <= 127:
                return Sign(at, end, None, None, number, accent, short)
            self.findings.append(
                rules.PITCH_RANGE.at(
                    at,
                    end,
                    f"“{sign}” is not a MIDI number; they go from 0 to 127.",
                    Fix("Use 127", (TextEdit(at, end, "127"),)),
                )
            )
            return None
        named = read_pitch_name(sign)
        if named is None:
            self._unknown(start, at, end)
            return None
        name, octave = named
        if octave is not None and not 0 <= name.at(octave).number <= 127:
            self.findings.append(
                rules.PITCH_RANGE.at(
                    at,
                    end,
                    f"{name.at(octave).pretty} is outside the pitches MIDI has, C-1 to G9.",
                    *octave_fixes(name, octave, at, end),
                )
            )
            return None
        return Sign(at, end, name, octave, None, accent, short)

    def _length(self, start: int, end: int) -> Length | None:
        written = self.text[start:end]
        length = read_length(written)
        if length is None:
            self.findings.append(
                rules.LENGTH.at(
                    start - 1,
                    end,
                    f"“={written}” is not a length; write beats such as =2 or =1/2, a note value such as "
                    f"={next(iter(NOTE_VALUES))}, or =bar.",
                    _cut(start - 1, end, "Make it one beat"),
                )
            )
        elif length.count == 0:
            self.findings.append(
                rules.LENGTH.at(
                    start - 1,
                    end,
                    "A length of no beats cannot sound; it must be above zero.",
                    _cut(start - 1, end, "Make it one beat"),
                )
            )
            return None
        elif (third := third_of(written)) and "." in written:
            self.findings.append(
                rules.THIRD.at(
                    start,
                    end,
                    f"{written} is not quite a third part; {third} is exact.",
                    Fix(f"Use {third}", (TextEdit(start, end, third),)),
                )
            )
        return length

    def _length_moved(self, start: int, end: int) -> tuple[Fix, ...]:
        if "=" in self.text[end:]:
            return (_cut(start, end, "Take this length out"),)
        moved = (TextEdit(start, end, ""), TextEdit(len(self.text), len(self.text), self.text[start:end]))
        return (Fix("Move the length to the end", moved),)

    def _unknown(self, start: int, at: int, end: int) -> None:
        sign = self.text[at:end]
        if not sign:
            if "&" in self.text:
                place = start - 1 if start else end
                self._not_understood(
                    place,
                    place + 1,
                    "“&” joins notes and needs one on each side.",
                    _cut(place, place + 1, "Take the & out"),
                )
            else:
                what = self.text[start:end] or self.text
                self._not_understood(
                    0,
                    len(self.text),
                    f"“{what}” has no note before it; write it right after one.",
                    _cut(0, len(self.text), "Take it out"),
                )
            return
        fixes = [Fix("Make it a rest", (TextEdit(start, end, "rest"),))] if "&" not in self.text else []
        if sign[0] in "hH" and read_pitch_name(b := "B" + sign[1:]):
            fixes.insert(0, Fix(f"Use {b}", (TextEdit(at, end, b),)))
        self._not_understood(at, end, f"“{shown(sign)}” is not a note or sign that Chickadee knows.", *fixes)

    def _not_understood(self, start: int, end: int, message: str, *fixes: Fix) -> None:
        self.findings.append(rules.NOT_UNDERSTOOD.at(start, end, message, *fixes))


def _cut(start: int, end: int, title: str = "Take it out") -> Fix:
    return Fix(title, (TextEdit(start, end, ""),))


def shown(text: str, most: int = 24) -> str:
    """Text as a message quotes it: printable, and not too long."""
    text = "".join(c if c.isprintable() else "�" for c in text)
    return text if len(text) <= most else text[: most - 1] + "…"
