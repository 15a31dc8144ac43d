"""Lengths after ``=``: beats, note values and bars."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import Enum
from fractions import Fraction

from ..caching import remembered
from ..song.meter import Meter
from ..song.ticks import TICKS_PER_QUARTER

__all__ = ["NOTE_VALUES", "ONE_BEAT", "Length", "Lengths", "Unit", "read_length"]

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
    """The units of a length."""

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


@dataclass(frozen=True, slots=True)
class Lengths:
    """How a sheet counts lengths: in beats, or where it has ``ticks:`` in parts of the opening meter's beat.

    >>> Lengths(Meter(4, 4)).text(12_096_000, Meter(4, 4)), Lengths(Meter(4, 4), 4).text(12_096_000, Meter(6, 8))
    ('=3/2', '=6')
    """

    opening: Meter
    parts: int | None = None
    """Parts of the opening beat that plain numbers count; None where they count beats."""

    def count(self, ticks: Fraction | int, meter: Meter) -> Fraction:
        """The number that stands for so many ticks in a meter."""
        return Fraction(ticks) * (self.parts or 1) / (self.opening if self.parts else meter).beat_ticks

    def text(self, ticks: Fraction | int, meter: Meter) -> str:
        """Return the text after a sign that lasts so many ticks in a meter: nothing for one beat that is counted
        in beats."""
        return "" if ticks == meter.beat_ticks and not self.parts else f"={self.count(ticks, meter)}"

    def ticks(self, length: Length | None, meter: Meter) -> Fraction:
        """The ticks of a written length in a meter, or of one beat where none is written."""
        if length is not None and length.unit is Unit.BEAT and self.parts:
            return length.count * self.opening.beat_ticks / self.parts
        return (length or ONE_BEAT).ticks(meter)


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
