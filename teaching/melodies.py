"""Random melodies to teach and to examine the hearing with: single, two notes at once, and chords below."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

__all__ = ["RATE", "Piece", "Played", "Sounding", "between", "chords", "melody", "phrase", "with_seconds"]

RATE = 22_050
"""Samples a second."""
_APART = 3, 4, 7, 12, 5, 8, 9, 2, 10, 16, 19, 24
"""Semitones between two notes at once: thirds, fifths and octaves, and others."""


class Sounding(NamedTuple):
    """A note of a piece."""

    start: float
    """Seconds."""
    number: int
    """MIDI number."""


class Played(NamedTuple):
    """A note as it is played."""

    start: float
    """Seconds."""
    number: int
    """MIDI number."""
    lasts: float
    """Seconds."""
    loud: float
    """Amplitude beside the usual."""

    @property
    def sounding(self) -> Sounding:
        """What is to be heard of it."""
        return Sounding(self.start, self.number)


class Piece(NamedTuple):
    """A melody and how it sounds."""

    samples: NDArray[np.float32]
    """One channel, RATE samples a second."""
    notes: list[Sounding]


def between(draw: Generator, low: float, high: float) -> float:
    """A number between two, the small ones as often as the large ones."""
    return float(np.exp(draw.uniform(np.log(low), np.log(high))))


def phrase(draw: Generator, seconds: float, middle: int, beat: float) -> list[Played]:
    """A melody of so many seconds about a MIDI number, ``beat`` seconds a note or of several lengths."""
    found = []
    steady = draw.random() < 0.5
    now = draw.uniform(0.05, 0.5)
    for number in melody(draw, 400, middle, float(draw.choice([0, 0.1, 0.2, 0.4]))):
        lasts = max(0.1, beat * (1.0 if steady else float(draw.choice([1, 1, 1, 2, 0.5, 1.5]))))
        if now + lasts > seconds:
            break
        found.append(Played(now, number, lasts, 1.0))
        now += lasts
        if draw.random() < 0.06:
            now += float(draw.choice([0.5, 1])) * beat
    return found


def melody(draw: Generator, count: int, middle: int, repeats: float) -> list[int]:
    """MIDI numbers within two octaves and a bit: steps, leaps, pitches repeated and returned to."""
    steps = draw.random()
    found = [middle]
    while len(found) < count:
        if draw.random() < repeats:
            found.append(found[-1])
            continue
        if len(found) > 1 and draw.random() < 0.12:
            number = found[-2]
        elif draw.random() < steps:
            number = found[-1] + int(draw.choice([-3, -2, -1, 1, 2, 3]))
        else:
            number = found[-1] + int(draw.choice([-19, -12, -12, -9, -7, -5, -4, 4, 5, 7, 9, 12, 12, 19]))
        if abs(number - middle) <= 14 and number != found[-1]:
            found.append(number)
    return found


def with_seconds(draw: Generator, played: Sequence[Played], apart: Sequence[int] = _APART) -> list[Played]:
    """Notes with another at once to most of them, below or above, so many semitones apart."""
    found = []
    for each in played:
        found.append(each)
        if draw.random() < 0.9:
            by = int(draw.choice(apart)) * int(draw.choice([-1, 1]))
            if 33 <= each.number + by <= 96:
                found.append(each._replace(number=each.number + by))
    return sorted(found)


def chords(draw: Generator, played: Sequence[Played]) -> list[Played]:
    """Chords of three or four notes below a melody, each as long as some of its notes, at once or broken."""
    found: list[Played] = []
    step = int(draw.choice([1, 2, 3, 4]))
    broken = draw.random() < 0.25
    root = min(each.number for each in played) - int(draw.integers(3, 13))
    for first in range(0, len(played), step):
        group = played[first : first + step]
        lasts = group[-1].start + group[-1].lasts - group[0].start
        at = max(36, root + int(draw.choice([0, -3, 2, 5, -5])))
        shape = [0, int(draw.choice([3, 4])), 7, *([12] if draw.random() < 0.3 else [])]
        for place, by in enumerate(shape):
            late = place * lasts / len(shape) if broken else 0.0
            found.append(Played(group[0].start + late, at + by, max(0.08, lasts - late), 1.0))
    return sorted(found)
