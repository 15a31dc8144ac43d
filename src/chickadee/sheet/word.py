"""Words of a sheet: notes struck, rests and holds, each with its length."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import Enum
from fractions import Fraction
from functools import lru_cache

from ..caching import remembered
from ..theory import Naming, PitchName, read_pitch_name
from . import rules
from .finding import Finding, Fix, TextEdit, shown
from .length import NOTE_VALUES, Length, read_length
from .near import near_miss
from .written import Named, Number, Written, read_written

__all__ = ["Kind", "Sign", "Word", "octave_fixes", "read_word", "third_of", "word_reader"]


class Kind(Enum):
    """The kinds of words."""

    STRIKE = "strike"
    REST = "rest"
    HOLD = "hold"
    SILENT = "silent"  # could not be read: silent for the length it asks


@dataclass(frozen=True, slots=True)
class Sign:
    """One pitch, or chord symbol, inside a word, with its own marks."""

    start: int
    """Offsets inside the word."""
    end: int
    what: Written
    accent: bool = False
    short: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class Word:
    """A word as it reads wherever it stands.

    >>> word = read_word(">C4&E=1/2")
    >>> word.kind, [sign.what.octave for sign in word.signs], word.length.count
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
    """The findings of the word by itself; offsets count inside the word."""


_MARKS = re.compile(r"[>']*")
_MOST_DIGITS = 4
"""Of a number that may be a MIDI number with a digit too many."""
_HEARD = 16  # the lowest number that is heard
_BEYOND = 140  # a number that is clearly beyond MIDI
_MOST_FIXES = 3  # numbers that are offered in the place of one beyond


def _with_one_less(digits: str) -> dict[str, None]:
    """The numbers that are left where one of a few digits goes, from the last one on."""
    if not 1 < len(digits) <= _MOST_DIGITS:
        return {}
    return dict.fromkeys(digits[:place] + digits[place + 1 :] for place in range(len(digits) - 1, -1, -1))


@remembered(24_000, 48)
def read_word(text: str) -> Word:
    """The word that ``text`` spells, never failing: a word that cannot be read is silent and has a finding.

    Pitches have the names of letters; :func:`word_reader` reads those of other traditions.
    """
    word = _WordReader(text).read()
    if word.findings and (near := near_miss(text)) is not None:
        meant = _WordReader(near.meant).read()
        if all(finding.code == rules.THIRD.code for finding in meant.findings):
            fix = Fix(f"Write {shown(near.meant)}", (TextEdit(0, len(text), near.meant),))
            hint = rules.NEAR_MISS.at(0, len(text), near.message, fix)
            return replace(
                meant,
                text=text,
                length_start=max(0, len(text) - len(near.meant) + meant.length_start),
                findings=(hint,),
            )
    return word


@lru_cache
def word_reader(naming: Naming) -> Callable[[str], Word]:
    """Return the reader of words whose pitches are named so."""
    if naming == Naming.LETTERS:
        return read_word

    @remembered(24_000, 48)
    def read_named(text: str) -> Word:
        """The same, without near misses of letters."""
        return _WordReader(text, naming).read()

    return read_named


def third_of(text: str) -> str | None:
    """The thirds of a beat that a decimal such as ``0.33`` or ``1.667`` seems to mean, or None."""
    found = re.fullmatch(r"([0-9]*)\.(3{2,}|34|6{2,}|6+7)", text)
    if found is None:
        return None
    return str(int(found[1] or 0) + Fraction(1 if found[2][0] == "3" else 2, 3))


def octave_fixes(
    name: PitchName, octave: int, start: int, end: int, naming: Naming = Naming.LETTERS
) -> tuple[Fix, ...]:
    """The fix that moves a pitch to the nearest octave where MIDI has a key for it."""
    step = -1 if name.at(octave).number > 127 else 1
    while not 0 <= name.at(octave).number <= 127:
        octave += step
    return (Fix(f"Use {name.at(octave).pretty}", (TextEdit(start, end, naming.pitch_text(name.at(octave))),)),)


class _WordReader:
    """Reads one word; gathers its findings on the way."""

    def __init__(self, text: str, naming: Naming = Naming.LETTERS) -> None:
        self.text = text
        self.naming = naming
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
        start = 0
        accent = False
        short = False
        for part in self.text[:end].split("&"):
            sign = self._sign(start, start + len(part), accent, short)
            if start == 0 and sign is not None:
                accent = sign.accent
                short = sign.short
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
                    f"In “{shown(self.text)}” the length belongs at the end, after the last note.",
                    *self._length_moved(inner_length, end),
                )
            )
            end = inner_length
        marks = _MARKS.match(self.text, start, end)
        at = marks.end() if marks else start
        accent |= ">" in self.text[start:at]
        short |= "'" in self.text[start:at]
        what = read_written(self.text[at:end], self.naming)
        if what is None:
            self._unknown(start, at, end)
        elif not self._outside(what, at, end):
            return Sign(at, end, what, accent, short)
        return None

    def _outside(self, what: Written, at: int, end: int) -> bool:
        """Return whether a pitch is beyond what MIDI has, which is then said."""
        if isinstance(what, Number) and what.number > 127:
            message = f"“{shown(self.text[at:end])}” is not a MIDI number; they go from 0 to 127."
            digits = self.text[at:end]
            meant = [each for each in _with_one_less(digits) if _HEARD <= int(each) <= 127][:_MOST_FIXES]
            if not meant or what.number < _BEYOND:
                meant.insert(0, "127")
            fixes: tuple[Fix, ...] = tuple(Fix(f"Use {each}", (TextEdit(at, end, each),)) for each in meant)
        elif isinstance(what, Named) and what.octave is not None and not 0 <= what.name.at(what.octave).number <= 127:
            message = f"{what.name.at(what.octave).pretty} is outside the range of MIDI, C-1 to G9."
            first = what.octave // 10 if what.octave > 10 else None  # of two digits one is a slip
            fixes = octave_fixes(what.name, what.octave if first is None else first, at, end, self.naming)
        else:
            return False
        self.findings.append(rules.PITCH_RANGE.at(at, end, message, *fixes))
        return True

    def _length(self, start: int, end: int) -> Length | None:
        written = self.text[start:end]
        length = read_length(written)
        one_beat = _cut(start - 1, end, "Make it one beat")
        if length is None:
            message = (
                f"“={shown(written)}” is not a length; write beats such as =2 or =1/2, a note value such as "
                f"={next(iter(NOTE_VALUES))}, or =bar."
            )
            self.findings.append(rules.LENGTH.at(start - 1, end, message, one_beat))
        elif length.count == 0:
            message = "A length must be above zero."
            self.findings.append(rules.LENGTH.at(start - 1, end, message, one_beat))
            return None
        elif third := third_of(written):
            message = f"{written} is not quite a third; {third} is exact."
            fix = Fix(f"Use {third}", (TextEdit(start, end, third),))
            self.findings.append(rules.THIRD.at(start, end, message, fix))
        return length

    def _length_moved(self, start: int, end: int) -> tuple[Fix, ...]:
        if self.text.find("=", end) >= 0:
            return (_cut(start, end, "Delete this length"),)
        moved = (TextEdit(start, end, ""), TextEdit(len(self.text), len(self.text), self.text[start:end]))
        return (Fix("Move the length to the end", moved),)

    def _unknown(self, start: int, at: int, end: int) -> None:
        sign = self.text[at:end]
        if not sign:
            self._nothing(start, end)
            return
        if sign[0] == "{":
            self._not_understood(
                at,
                end,
                f"“{shown(sign)}” is not a chord; Am, G7, F#dim and C/E in braces are some.",
                *([] if sign.endswith("}") else _closed(sign, at)),
            )
            return
        fixes = [Fix("Make it a rest", (TextEdit(start, end, "rest"),))] if "&" not in self.text else []
        if read_written(chord := f"{{{sign}}}"):
            fixes.insert(0, Fix(f"Use {chord}", (TextEdit(at, end, chord),)))
        if self.naming == Naming.LETTERS and sign[0] in "hH" and read_pitch_name(b := "B" + sign[1:]):
            fixes.insert(0, Fix(f"Use {b}", (TextEdit(at, end, b),)))
        self._not_understood(at, end, f"“{shown(sign)}” is not a note or sign that Chickadee knows.", *fixes)

    def _nothing(self, start: int, end: int) -> None:
        if "&" in self.text:
            place = start - 1 if start else end
            message = "“&” joins notes and needs one on each side."
            cut = _cut(place, place + 1, "Delete the &")
            self._not_understood(place, place + 1, message, cut)
        else:
            what = shown(self.text[start:end] or self.text)
            message = f"“{what}” has no note before it; write it right after one."
            self._not_understood(0, len(self.text), message, _cut(0, len(self.text)))

    def _not_understood(self, start: int, end: int, message: str, *fixes: Fix) -> None:
        self.findings.append(rules.NOT_UNDERSTOOD.at(start, end, message, *fixes))


def _closed(sign: str, at: int) -> list[Fix]:
    """The fix that closes a chord symbol after its first word, where that makes one."""
    symbol = sign.split()[0]
    return (
        [Fix("Close it", (TextEdit(at + len(symbol), at + len(symbol), "}"),))] if read_written(symbol + "}") else []
    )


def _cut(start: int, end: int, title: str = "Delete it") -> Fix:
    return Fix(title, (TextEdit(start, end, ""),))
