"""Loudness as it is written: dynamics where it changes for good, accents on single notes."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby
from operator import attrgetter
from typing import NamedTuple

from ..sheet.direction import LOUDNESS
from ..sheet.written import ACCENT
from ..song import Note

__all__ = ["WrittenLoudness", "written_loudness"]

_USUAL = LOUDNESS["mf"]
_NAMES = {velocity: name for name, velocity in LOUDNESS.items()}


class WrittenLoudness(NamedTuple):
    """The loudness of a voice as it is written, by ticks."""

    dynamics: dict[int, str]
    accents: frozenset[int]


def written_loudness(notes: Sequence[Note], level: int) -> WrittenLoudness:
    """The dynamics and accents of a voice's notes, in order, which begins at a MIDI velocity.

    A dynamic stands where the velocity is exactly one of those that have a name, and stays so for the next note;
    swells and patterns of loud and soft beats have none.
    """
    onsets = [
        (start, max(note.loudness for note in struck)) for start, struck in groupby(notes, key=attrgetter("start"))
    ]
    dynamics: dict[int, str] = {}
    accents: set[int] = set()
    current = level
    for place, (start, velocity) in enumerate(onsets):
        if velocity == current:
            continue
        following = onsets[place + 1][1] if place + 1 < len(onsets) else None
        stays = following is None or following in (velocity, min(127, velocity + ACCENT))
        if velocity == min(127, current + ACCENT) and (following == current or not stays or following is None):
            accents.add(start)
        elif velocity in _NAMES and stays:
            dynamics[start] = _NAMES[velocity]
            current = velocity
    if onsets and (dynamics or level != _USUAL) and level in _NAMES:
        dynamics.setdefault(onsets[0][0], _NAMES[level])
    return WrittenLoudness(dynamics, frozenset(accents))
