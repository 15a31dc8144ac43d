"""Beats as people write them."""

from __future__ import annotations

from fractions import Fraction

__all__ = ["beats", "read_beats"]

_LONGEST_NUMBER = 12  # characters
_PARTS = {
    Fraction(1, 2): "½",
    Fraction(1, 3): "⅓",
    Fraction(2, 3): "⅔",
    Fraction(1, 4): "¼",
    Fraction(3, 4): "¾",
    Fraction(1, 6): "⅙",
    Fraction(5, 6): "⅚",
    Fraction(1, 8): "⅛",
    Fraction(3, 8): "⅜",
    Fraction(5, 8): "⅝",
    Fraction(7, 8): "⅞",
    Fraction(1, 5): "⅕",
}


def beats(length: Fraction) -> str:
    """Beats as people write them: ``2``, ``½``, ``1½``, ``7/12``."""
    whole, part = divmod(length, 1)
    if not part:
        return str(whole)
    if part in _PARTS:
        return f"{whole or ''}{_PARTS[part]}"
    return str(length)


def read_beats(text: str) -> Fraction:
    """The inverse of :func:`beats`, which reads decimals too. Raises ValueError."""
    text = text.strip()
    if len(text) > _LONGEST_NUMBER or "e" in text.lower():  # 1e9999999 would be worked out
        raise ValueError(text)
    for part, sign in _PARTS.items():
        if text.endswith(sign):
            return Fraction(text[:-1] or 0) + part
    try:
        return Fraction(text)
    except ZeroDivisionError:
        raise ValueError(text) from None
