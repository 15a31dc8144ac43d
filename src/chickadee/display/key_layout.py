"""The computer's own keys as an instrument that follows the scale.

The home row is steps 1, 2, 3 … of the key; the row above is the same steps raised by a semitone, the row below
lowered; the digits choose the octave. Keys are known by where they are, so it works on any national layout.
"""

from __future__ import annotations

from ..theory import Key

__all__ = ["LETTER_ROWS", "number_at", "octave_at", "place_of"]

# the first scan code of each row on evdev keyboards
_HOME = 38
_ABOVE = 24
_BELOW = 52
_DIGITS = 10
_ROWS = ((_ABOVE, 12, 1), (_HOME, 11, 0), (_BELOW, 10, -1))
LETTER_ROWS = ((1, "QWERTYUIOP"), (0, "ASDFGHJKL"), (-1, "ZXCVBNM"))
"""The letters of each row: 1 above the home row, 0 the home row, -1 below it."""
_BY_LETTER = {letter: (row, column) for row, letters in LETTER_ROWS for column, letter in enumerate(letters)}


def place_of(scan_code: int, letter: str) -> tuple[int, int] | None:
    """(row, column) of a key: row 0 the home row, 1 above it, -1 below; ``letter`` counts where the system tells no
    scan code. None for any other key."""
    for first, count, row in _ROWS:
        if first <= scan_code < first + count:
            return row, scan_code - first
    return _BY_LETTER.get(letter.upper()) if scan_code == 0 else None


def octave_at(scan_code: int, letter: str) -> int | None:
    """The octave that a digit chooses; None for any other key."""
    if _DIGITS <= scan_code < _DIGITS + 9:
        return scan_code - _DIGITS + 1
    return int(letter) if scan_code == 0 and letter and letter in "123456789" else None


def number_at(key: Key, octave: int, place: tuple[int, int]) -> int | None:
    """The MIDI number that a key sounds; None where that is outside MIDI.

    >>> from chickadee.theory import read_key
    >>> [number_at(read_key("D major"), 4, (0, column)) for column in range(8)]
    [62, 64, 66, 67, 69, 71, 73, 74]
    >>> number_at(read_key("D major"), 4, (1, 0))
    63
    """
    row, column = place
    number = key.at_step(column + 1, octave).number + row
    return number if 0 <= number <= 127 else None
