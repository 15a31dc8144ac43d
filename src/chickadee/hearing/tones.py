"""How loud every semitone is, every 10 ms: a filter stands on each."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .pitch import Frames
from .sound_file import Signal

__all__ = ["STEP", "TONES", "Tones", "filtered", "tones_in"]

STEP = 0.01
"""Seconds from one frame to the next."""
TONES = range(28, 123)
"""The MIDI numbers that filters stand on: notes, and partials of theirs."""
_WINDOW = 0.12  # seconds
_PART_OF_RATE = 0.45  # the highest frequency that a filter may have


class Tones(NamedTuple):
    """What some frames have. Frame ``n`` has its middle at ``n * STEP`` seconds."""

    sizes: NDArray[np.float32]
    """The amplitude on every semitone, shape (frames, semitones)."""
    power: NDArray[np.float32]
    """The mean square of each frame."""


def tones_in(blocks: Iterable[Signal], rate: float, tuning: float = 440.0) -> Iterator[Tones]:
    """The tones of samples of one channel, so many a second, that come in blocks; ``tuning`` is the frequency of A4
    in Hz."""
    for through, power in filtered(blocks, rate, tuning * 2 ** ((np.array(TONES) - 69) / 12)):
        yield Tones(np.abs(through), power)


def filtered(
    blocks: Iterable[Signal], rate: float, hertz: NDArray[np.float64]
) -> Iterator[tuple[NDArray[np.complex64], NDArray[np.float32]]]:
    """What comes through filters at some frequencies, shape (frames, filters), and the mean square of each frame."""
    length = round(_WINDOW * rate)
    hann = np.hanning(length)
    waves = hann[:, None] * np.exp(-2j * np.pi * np.outer(np.arange(length), hertz) / rate)
    waves *= 2 / hann.sum() * (hertz < _PART_OF_RATE * rate)
    both = np.concatenate((waves.real, waves.imag), axis=1).astype(np.float32)
    weights = (hann**2 / (hann**2).sum()).astype(np.float32)
    frames = Frames(rate, length, length // 2, STEP)

    def through(every: NDArray[np.float32]) -> tuple[NDArray[np.complex64], NDArray[np.float32]]:
        real, imaginary = np.split(every @ both, 2, axis=1)
        return real + 1j * imaginary, every**2 @ weights

    for block in blocks:
        yield through(frames.of(block))
    yield through(frames.of(np.zeros(0, np.float32), last=True))
