"""Seeds of pupils' sheets, and the small codes on them that give the seeds back."""

from __future__ import annotations

from ..chance import Chance

__all__ = ["code_of", "pupil_seed", "seed_of"]

_ALPHABET = "23456789ABCDEFGHJKLMNPQRSTUVWXYZ"  # without what is taken for something else


def code_of(seed: int, pupil: int) -> str:
    """Return the small code on a pupil's sheet: from it comes the seed of the sheet.

    >>> code_of(7, 1), seed_of(code_of(7, 1)) == pupil_seed(7, 1)
    ('DY2NTSH', True)
    """
    value = pupil_seed(seed, pupil)
    text = ""
    for _ in range(7):
        value, digit = divmod(value, len(_ALPHABET))
        text += _ALPHABET[digit]
    return text


def seed_of(code: str) -> int:
    """The seed that a code stands for."""
    value = 0
    for digit in reversed(code.upper()):
        value = value * len(_ALPHABET) + _ALPHABET.index(digit)
    return value


def pupil_seed(seed: int, pupil: int) -> int:
    """The seed of one pupil's sheet, below 2 to the power of 35."""
    chance = Chance(seed * 1_000_003 + pupil)
    return chance.next() >> 29
