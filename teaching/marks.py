"""How well notes are found, and noise to find them in."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from chickadee.hearing.notes import HeardNote
from chickadee.song import Song
from melodies import Sounding

__all__ = ["f1", "found_again", "sounding", "with_noise"]


def sounding(song: Song) -> list[Sounding]:
    """The notes of a song, in seconds, but for drums, which have no pitch."""
    return [
        Sounding(float(song.tempo.seconds(note.start)), note.number)
        for note in song.notes
        if not song.voices[note.voice].is_drums
    ]


def f1(notes: Sequence[Sounding], heard: Sequence[HeardNote], within: float = 0.05) -> float:
    """How many notes are found with their number, within so many seconds, and how many of those told are right: both
    together, from 0 to 1."""
    left = list(heard)
    right = 0
    for start, number in notes:
        near = [each for each in left if each.number == number and abs(each.start - start) <= within]
        if near:
            left.remove(min(near, key=lambda each: abs(each.start - start)))
            right += 1
    return 2 * right / max(1, len(heard) + len(notes))


def found_again(notes: Sequence[Sounding], heard: Sequence[HeardNote], within: float = 0.05) -> float:
    """The part of the notes repeating the one before them that is found, from 0 to 1; -1 where there are none."""
    again = [other for one, other in pairwise(notes) if one.number == other.number]
    right = [
        any(each.number == number and abs(each.start - start) <= within for each in heard) for start, number in again
    ]
    return sum(right) / len(right) if right else -1.0


def with_noise(samples: NDArray[np.float32], decibels: float = 20, seed: int = 5) -> NDArray[np.float32]:
    """The samples with white noise so many decibels below them."""
    loud = np.sqrt(np.mean(samples[np.abs(samples) > 1e-4] ** 2))
    noise = np.random.default_rng(seed).normal(0, loud * 10 ** (-decibels / 20), len(samples))
    return (samples + noise).astype(np.float32)
