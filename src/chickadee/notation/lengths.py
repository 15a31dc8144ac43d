"""Lengths as written notes: note types, dots and tuplets, in ticks."""

from __future__ import annotations

from fractions import Fraction
from typing import NamedTuple

from ..song import TICKS_PER_QUARTER

__all__ = ["FINEST", "FINEST_TYPE", "NOTE_TYPES", "WrittenLength", "nearest_length", "plain_length", "type_ticks"]

NOTE_TYPES = {
    "maxima": Fraction(32), "long": Fraction(16), "breve": Fraction(8), "whole": Fraction(4), "half": Fraction(2),
    "quarter": Fraction(1), "eighth": Fraction(1, 2), "16th": Fraction(1, 4), "32nd": Fraction(1, 8),
    "64th": Fraction(1, 16), "128th": Fraction(1, 32), "256th": Fraction(1, 64), "512th": Fraction(1, 128),
    "1024th": Fraction(1, 256),
}  # fmt: skip
"""Quarter notes that each note type of MusicXML 4.0 lasts, from the longest."""
FINEST_TYPE = "64th"
"""The shortest type that is written."""
FINEST = TICKS_PER_QUARTER // 16
"""Its ticks."""
_LONGEST = "whole"
_MOST_DOTS = 2


def type_ticks(name: str) -> int:
    """Ticks of a note type without dots."""
    return int(NOTE_TYPES[name] * TICKS_PER_QUARTER)


class WrittenLength(NamedTuple):
    """The look of one written note: its type and dots, ``actual`` of its kind in the time of ``normal``."""

    type: str
    dots: int = 0
    actual: int = 1
    normal: int = 1

    @property
    def ticks(self) -> int:
        """Ticks that it lasts as it is written."""
        plain = type_ticks(self.type)
        dotted = 2 * plain - (plain >> self.dots)
        return dotted * self.normal // self.actual


def _lengths() -> dict[int, WrittenLength]:
    names = list(NOTE_TYPES)
    used = names[names.index(_LONGEST) : names.index(FINEST_TYPE) + 1]
    every = (WrittenLength(name, dots) for name in used for dots in range(_MOST_DOTS + 1))
    return {each.ticks: each for each in every if each.ticks % FINEST == 0}


_LENGTHS = _lengths()


def plain_length(ticks: int) -> WrittenLength | None:
    """The one note, dotted or not and in no tuplet, that lasts so many ticks; None where there is none.

    >>> plain_length(12_096_000), plain_length(20_160_000)
    (WrittenLength(type='quarter', dots=1, actual=1, normal=1), None)
    """
    return _LENGTHS.get(ticks)


def nearest_length(ticks: int) -> WrittenLength:
    """The note without dots whose length is nearest to so many ticks, as a ratio."""
    undotted = (length for length in _LENGTHS.values() if not length.dots)
    return min(undotted, key=lambda length: max(length.ticks, ticks) / max(1, min(length.ticks, ticks)))
