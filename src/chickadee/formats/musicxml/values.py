"""Lengths as written notes: note types, dots and tuplets."""

from __future__ import annotations

from fractions import Fraction
from typing import NamedTuple

__all__ = ["TYPES", "Value", "values_of"]

TYPES = {
    "maxima": Fraction(32), "long": Fraction(16), "breve": Fraction(8), "whole": Fraction(4), "half": Fraction(2),
    "quarter": Fraction(1), "eighth": Fraction(1, 2), "16th": Fraction(1, 4), "32nd": Fraction(1, 8),
    "64th": Fraction(1, 16), "128th": Fraction(1, 32), "256th": Fraction(1, 64), "512th": Fraction(1, 128),
    "1024th": Fraction(1, 256),
}  # fmt: skip
"""Quarter notes that each type lasts, from the longest."""


class Value(NamedTuple):
    """One written note: ``actual`` of its kind in the time of ``normal``."""

    length: Fraction
    """In quarter notes, as it sounds."""
    type: str
    dots: int
    actual: int = 1
    normal: int = 1


def values_of(length: Fraction) -> list[Value]:
    """The written notes, tied together, that last so many quarter notes, in as few as a musician would use.

    >>> [(value.type, value.dots, value.actual) for value in values_of(Fraction(5, 3))]
    [('quarter', 0, 1), ('quarter', 0, 3)]

    Exact for every length whose parts are halves of those types, in tuplets of any number; what is left beyond
    that has the shortest type.
    """
    found: list[Value] = []
    whole = length.numerator // length.denominator
    odd = length.denominator
    while odd % 2 == 0:
        odd //= 2
    if odd > 1 and whole:
        return [*values_of(Fraction(whole)), *values_of(length - whole)]
    normal = 1 << (odd.bit_length() - 1)
    left = length * odd / normal  # as it would be written, without the tuplet
    while left > 0:
        kind, dots, written = _largest(left)
        found.append(Value(min(left, written) * normal / odd, kind, dots, odd, normal))
        left -= written
    return found


def _largest(length: Fraction) -> tuple[str, int, Fraction]:
    """The longest type, dotted if that fits, that is not longer than a length in quarter notes."""
    for kind, plain in TYPES.items():
        for dots in (2, 1, 0):
            written = plain * (2 - Fraction(1, 1 << dots))
            if written == length or (dots == 0 and written < length):
                return kind, dots, written
    return "1024th", 0, TYPES["1024th"]
