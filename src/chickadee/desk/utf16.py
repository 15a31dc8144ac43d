"""Offsets as Qt counts them: in UTF-16 units."""

from __future__ import annotations

__all__ = ["to_qt"]


def to_qt(offset: int, text: str) -> int:
    """Return an offset in characters of a text as Qt counts it: signs beyond the basic plane count twice.

    >>> to_qt(2, "\\U0001d11e 4")
    3
    """
    return offset if text.isascii() else offset + sum(sign > "\uffff" for sign in text[:offset])
