"""Twelve-tone equal temperament: MIDI numbers to frequencies and back."""

from __future__ import annotations

import math
from numbers import Real

__all__ = ["A4_NUMBER", "STANDARD_A4", "cents_between", "frequency", "nearest_number"]

A4_NUMBER = 69
"""The MIDI number of the A above middle C."""
STANDARD_A4 = 440.0
"""The usual frequency of that A, in Hz (ISO 16)."""


def frequency(number: float, a4: float = STANDARD_A4) -> float:
    """The frequency in Hz of a MIDI number: each semitone multiplies by the twelfth root of two.

    >>> round(frequency(60), 4)
    261.6256

    Raises TypeError for anything but numbers.
    """
    if not isinstance(number, Real):
        raise TypeError(f"frequency takes a MIDI number, not {type(number).__name__}")
    return float(a4 * 2.0 ** ((number - A4_NUMBER) / 12))


def nearest_number(hertz: float, a4: float = STANDARD_A4) -> int:
    """The MIDI number nearest to a frequency in Hz (not limited to 0 to 127).

    Raises ValueError when the frequency is not a positive finite number.
    """
    if not (hertz > 0 and math.isfinite(hertz)):
        raise ValueError("a frequency is a number of Hz above zero")
    return round(A4_NUMBER + 12 * math.log2(hertz / a4))


def cents_between(low: float, high: float) -> float:
    """The interval from one frequency to another in cents, hundredths of a semitone."""
    return 1200 * math.log2(high / low)
