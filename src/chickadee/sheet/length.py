"""Lengths after ``=``: beats, note values and bars."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import Enum
from fractions import Fraction

from ..caching import remembered
from ..song.meter import Meter
from ..song.ticks import TICKS_PER_QUARTER

__all__ = ["NOTE_VALUES", "ONE_BEAT", "Length", "Unit", "read_length"]

NOTE_VALUES = {
    "whole": Fraction(4),
    "half": Fraction(2),
    "quarter": Fraction(1),
    "eighth": Fraction(1, 2),
    "16th": Fraction(1, 4),
    "32nd": Fraction(1, 8),
    "64th": Fraction(1, 16),
}
"""Note values by name, in quarter notes."""

_NUMBER = re.compile(r"([0-9]{1,9})(?:/([0-9]{1,9}))?|([0-9]{0,9}\.[0-9]{1,9})")
_VALUE = re.compile(rf"({'|'.join(NOTE_VALUES)})(\.{{0,3}})")
_BARS = re.compile(r"([0-9]{1,6})?bars?")


class Unit(Enum):
    """What a length counts."""

    BEAT = "beat"
    QUARTER = "quarter"
    BAR = "bar"


@dataclass(frozen=True, slots=True)
class Length:
    """A written length.

    >>> read_length("eighth.")
    Length(count=Fraction(3, 4), unit=<Unit.QUARTER: 'quarter'>)
    """

    count: Fraction
    unit: Unit = Unit.BEAT

    def ticks(self, meter: Meter) -> Fraction:
        """Ticks in a meter, exactly; a whole number where the length fits."""
        if self.unit is Unit.BEAT:
            return self.count * meter.beat_ticks
        return self.count * (TICKS_PER_QUARTER if self.unit is Unit.QUARTER else meter.bar_ticks)


ONE_BEAT = Length(Fraction(1))


@remembered(16_000, 32)
def read_length(text: str) -> Length | None:
    """The length that ``text``, without its ``=``, names; None where it names none."""
    if found := _NUMBER.fullmatch(text):
        whole, lower, decimal = found.groups()
        if lower is not None and int(lower) == 0:
            return None
        return Length(Fraction(decimal) if decimal else Fraction(int(whole), int(lower or 1)))
    text = text.lower()
    if found := _VALUE.fullmatch(text):
        dots = len(found[2])
        return Length(NOTE_VALUES[found[1]] * (2 - Fraction(1, 2**dots)), Unit.QUARTER)
    if found := _BARS.fullmatch(text):
        return Length(Fraction(int(found[1] or 1)), Unit.BAR)
    return None
