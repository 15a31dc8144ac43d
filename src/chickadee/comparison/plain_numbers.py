"""Beats as a person would say them."""

from __future__ import annotations

from fractions import Fraction

__all__ = ["place_in_words", "plain_number"]

_USUAL_PARTS = (1, 2, 3, 4, 5, 6, 7, 8, 12, 16)  # of a beat, that people say


def plain_number(number: Fraction) -> str:
    """A number of beats as a person would say it: exact where its parts are usual ones, else about.

    >>> plain_number(Fraction(3, 2)), plain_number(Fraction(52, 15))
    ('3/2', 'about 3.5')
    """
    return str(number) if number.denominator in _USUAL_PARTS else f"about {float(number):.1f}".removesuffix(".0")


def place_in_words(bar: int, beat: Fraction) -> str:
    """``bar 3 beat 2``."""
    return f"bar {bar} beat {plain_number(beat)}"
