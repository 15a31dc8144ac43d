"""Exact musical time: whole ticks, fine enough that every usual length is whole."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction
from math import gcd

__all__ = ["TICKS_PER_QUARTER", "division_for", "quarters", "ticks"]

TICKS_PER_QUARTER = 8_064_000
"""Ticks to a quarter note, 2^10·3^2·5^3·7: thirds, fifths, sevenths and thousandths are whole."""


def ticks(length: Fraction, unit: int = TICKS_PER_QUARTER) -> int | None:
    """``length`` units of ``unit`` ticks each as whole ticks, or None where it does not fit."""
    total = length * unit
    return total.numerator if total.denominator == 1 else None


def quarters(tick: int) -> Fraction:
    """A number of ticks as an exact number of quarter notes."""
    return Fraction(tick, TICKS_PER_QUARTER)


def division_for(times: Iterable[int], at_least: int = 480, at_most: int = 32_767) -> int | None:
    """The smallest number of divisions of a quarter note in which every one of ``times`` (ticks) is whole.

    Only divisions of TICKS_PER_QUARTER and their multiples can qualify; None where none up to
    ``at_most`` does.
    """
    needed = TICKS_PER_QUARTER // gcd(TICKS_PER_QUARTER, *times)
    division = -(-at_least // needed) * needed
    return division if division <= at_most else None
