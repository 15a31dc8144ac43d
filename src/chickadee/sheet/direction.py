"""Directions in square brackets."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

__all__ = ["LOUDNESS", "Loudness", "read_direction", "read_loudness"]

LOUDNESS = {"pp": 33, "p": 49, "mp": 64, "mf": 80, "f": 96, "ff": 112}
"""Loudness marks as MIDI velocities."""


@dataclass(frozen=True, slots=True)
class Loudness:
    """The loudness from here on, a MIDI velocity from 1 to 127."""

    level: int


def read_loudness(text: str) -> int | None:
    """``mf`` or ``90`` as a MIDI velocity from 1 to 127, or None."""
    if text.lower() in LOUDNESS:
        return LOUDNESS[text.lower()]
    return int(text) if text.isascii() and text.isdigit() and len(text) < 9 and 1 <= int(text) <= 127 else None


@lru_cache(maxsize=1024)
def read_direction(text: str) -> Loudness | None:
    """The direction that the text inside the brackets names, or None."""
    level = read_loudness(" ".join(text.split()))
    return None if level is None else Loudness(level)
