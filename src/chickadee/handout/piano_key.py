"""One octave of a piano with one key marked."""

from __future__ import annotations

from .shapes import Box, Shape

__all__ = ["piano_key"]

_WHITE = (0, 2, 4, 5, 7, 9, 11)
_BLACK_AT = {1: 1, 3: 2, 6: 4, 8: 5, 10: 6}  # black keys by the white edge they lie on
_BLACK_WIDE = 0.62  # of a white key
_BLACK_HIGH = 0.6
_MARK = 0.5  # of a key's width


def piano_key(number: int, left: float, top: float, width: float, height: float) -> list[Shape]:
    """The octave from the C at or below a MIDI number, a box on the key that is meant."""
    wide = width / len(_WHITE)
    step = number % 12
    shapes: list[Shape] = [Box(left + place * wide, top, wide, height, 0.25) for place in range(len(_WHITE))]
    for black, edge in _BLACK_AT.items():
        x = left + edge * wide - _BLACK_WIDE * wide / 2
        shapes.append(Box(x, top, _BLACK_WIDE * wide, _BLACK_HIGH * height, 0.25, 1.0 if black == step else 0.15))
    if step in _WHITE:
        middle = left + (_WHITE.index(step) + 0.5) * wide
        y = top + height * 0.78
    else:
        middle = left + _BLACK_AT[step] * wide
        y = top + height * 0.42
    size = min(_MARK * wide, height * 0.3)
    shapes.append(Box(middle - size / 2, y - size / 2, size, size, 0, 0.0))
    return shapes
