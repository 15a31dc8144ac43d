"""Units of the lengths in a list or table: beats, seconds, milliseconds, ticks, parts of a whole note."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from enum import Enum
from fractions import Fraction

from .signs import length_of, note_value, number_of

__all__ = ["LengthColumn", "Unit", "commonest", "is_length", "likely_units"]

_MOST_BEATS = 64  # longer lengths are milliseconds
_QUARTERS_IN_WHOLE = 4
_PARTS_OF_WHOLE = frozenset((1, 2, 4, 8, 16, 32, 64))
_MILLISECONDS = re.compile(r"(?i)(?:^|[^a-z])ms(?:$|[^a-z])|millis|[a-z]_ms$|Ms$")
_SECONDS = re.compile(r"(?i)sec|sek|seg|wait|delay|hertz|\bs\b|\btimes?\b")
_BEATS = re.compile(r"(?i)beat|schl[aä]g|temps|tiempo|pulso|battit|tellen|slag|quarter|count")
_TICKS = re.compile(r"(?i)tick")
_NOTE_VALUES = re.compile(r"(?i)value|wert|valeur|valor|notetype|note_type|divi|waarde")
_LETTERS = {"w": Fraction(4), "h": Fraction(2), "q": Fraction(1), "e": Fraction(1, 2), "s": Fraction(1, 4)}
_SURELY_LETTERS = frozenset("hq")


class Unit(Enum):
    """The units of a plain number."""

    BEATS = "beats"
    SECONDS = "seconds"
    MILLISECONDS = "milliseconds"
    TICKS = "ticks"
    PARTS = "parts of a whole note"
    """4 is a quarter note, 8 an eighth; -4 a dotted quarter."""
    WHOLES = "whole notes"
    """1/4 is a quarter note."""

    @property
    def is_time(self) -> bool:
        """True if it is a time on the clock, and no beat."""
        return self in (Unit.SECONDS, Unit.MILLISECONDS)


class LengthColumn:
    """Reads the lengths of one column.

    >>> LengthColumn(Unit.PARTS).beats_of("8"), LengthColumn(Unit.BEATS).beats_of("half")
    (Fraction(1, 2), Fraction(2, 1))
    """

    def __init__(self, unit: Unit, of_one: Fraction = Fraction(1), letters: bool = False) -> None:
        self.unit = unit
        self._of_one = of_one  # beats that a number of 1 means, for ticks
        self._letters = letters

    def beats_of(self, text: str) -> Fraction | None:
        """The beats of a length, or its seconds where the column counts those; None for what is no length."""
        word = text.strip()
        if self._letters and (found := _letter_value(word)) is not None:
            return found
        if (value := note_value(word)) is not None:
            return value
        number = number_of(re.sub(r"(?i)\s*(?:m?s|beats?|sec(?:onds?)?)$", "", word))
        if number is None or (number < 0 and self.unit is not Unit.PARTS):
            return None
        if self.unit is Unit.PARTS:
            if number == 0:
                return Fraction(0)
            length = Fraction(_QUARTERS_IN_WHOLE) / abs(number)
            return length * Fraction(3, 2) if number < 0 else length
        return number * self._factor

    @property
    def _factor(self) -> Fraction:
        if self.unit is Unit.MILLISECONDS:
            return Fraction(1, 1000)
        if self.unit is Unit.WHOLES:
            return Fraction(_QUARTERS_IN_WHOLE)
        return self._of_one if self.unit is Unit.TICKS else Fraction(1)


def is_length(text: str) -> bool:
    """Return whether a text may be a length: a number that is not negative, or a note value."""
    return length_of(text) is not None or note_value(text) is not None or _letter_value(text) is not None


def likely_units(texts: Sequence[str], name: str = "", hertz: bool = False) -> list[LengthColumn]:
    """The ways in which a column of lengths can be read, the likeliest first; ``name`` is its heading.

    >>> [column.unit.value for column in likely_units(["4", "8", "8", "4", "2"])]
    ['parts of a whole note', 'beats']
    """
    numbers = [number for text in texts if (number := number_of(re.sub(r"\s*[a-zA-Z]+$", "", text))) is not None]
    words = {text.strip().lower().rstrip(".") for text in texts}
    letters = bool(words & _SURELY_LETTERS) and words <= _LETTERS.keys()
    if letters or not numbers:
        return [LengthColumn(Unit.BEATS, letters=letters)]
    if _MILLISECONDS.search(name) or any(re.search(r"(?i)[0-9]\s*ms$", text) for text in texts):
        return [LengthColumn(Unit.MILLISECONDS)]
    if _TICKS.search(name):
        return [
            LengthColumn(Unit.TICKS, 1 / commonest([number for number in numbers if number > 0] or [Fraction(1)]))
        ]
    parts = _may_be_parts(numbers)
    if parts is not None and _NOTE_VALUES.search(name):
        return [LengthColumn(Unit.PARTS), LengthColumn(Unit.BEATS)]
    if max(map(abs, numbers)) > _MOST_BEATS and not _BEATS.search(name):
        return [LengthColumn(Unit.MILLISECONDS)]
    beats = LengthColumn(Unit.BEATS)
    if _SECONDS.search(name) or (hertz and not parts and not _BEATS.search(name)):
        return [LengthColumn(Unit.SECONDS)]
    if parts is not None:
        order = [LengthColumn(Unit.PARTS), beats]
        return order if parts and not _BEATS.search(name) else order[::-1]
    if _may_be_wholes(texts, numbers):
        return [beats, LengthColumn(Unit.WHOLES)]
    return [beats]


def commonest(lengths: Sequence[Fraction]) -> Fraction:
    """The length that comes most often; of those that come as often as one another the longest."""
    counts = Counter(lengths)
    return max(counts, key=lambda length: (counts[length], length))


def _may_be_parts(numbers: Sequence[Fraction]) -> bool | None:
    """Return whether numbers are surely parts of a whole note; None where they cannot be."""
    sizes = [abs(number) for number in numbers if number]
    if not sizes or not all(size in _PARTS_OF_WHOLE for size in sizes):
        return None
    usual = commonest(sizes)
    if usual < _QUARTERS_IN_WHOLE:
        return None
    return max(sizes) > _QUARTERS_IN_WHOLE or min(numbers) < 0


def _may_be_wholes(texts: Sequence[str], numbers: Sequence[Fraction]) -> bool:
    """Return whether fractions may be parts of a whole note, such as 1/4 and 1/8."""
    return max(numbers) <= 1 and any("/" in text for text in texts) and commonest(numbers) <= Fraction(1, 4)


def _letter_value(word: str) -> Fraction | None:
    plain = word.lower().rstrip(".")
    if plain not in _LETTERS or len(word) - len(plain) > 1:
        return None
    value = _LETTERS[plain]
    return value * Fraction(3, 2) if word.endswith(".") else value
