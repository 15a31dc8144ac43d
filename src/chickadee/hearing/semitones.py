"""The semitone spectrum: the level on every semitone, every 10 ms, by a filter on each."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from itertools import chain, repeat
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .pitch import Frames
from .sound_file import Signal

__all__ = ["SEMITONES", "STEP", "SemitoneSpectrum", "joined", "semitone_spectra"]

STEP = 0.01
"""Seconds from one frame to the next."""
SEMITONES = range(28, 123)
"""The MIDI numbers that filters stand on: notes, and partials of theirs."""
_WINDOW = 0.12  # seconds
_PART_OF_RATE = 0.45  # the highest frequency that a filter may have


class SemitoneSpectrum(NamedTuple):
    """The semitone spectrum of some frames. Frame ``n`` has its middle at ``n * STEP`` seconds."""

    waves: NDArray[np.complex64]
    """The amplitude and phase on every semitone, shape (frames, semitones). The phase is beside a wave of just that
    semitone, so it stands still where a tone is in tune, and turns evenly where it is not."""
    power: NDArray[np.float32]
    """The mean square of each frame."""

    def part(self, first: int, last: int | None = None) -> SemitoneSpectrum:
        """The frames from one up to another."""
        return SemitoneSpectrum(self.waves[first:last], self.power[first:last])


def joined(parts: Sequence[SemitoneSpectrum]) -> SemitoneSpectrum:
    """Join spectra one after another."""
    waves = np.concatenate([each.waves for each in parts])
    return SemitoneSpectrum(waves, np.concatenate([each.power for each in parts]))


def semitone_spectra(blocks: Iterable[Signal], rate: float, tuning: float = 440.0) -> Iterator[SemitoneSpectrum]:
    """Yield the semitone spectra of samples of one channel, so many a second, that come in blocks.

    ``tuning`` is the frequency of A4 in Hz.
    """
    hertz = tuning * 2 ** ((np.array(SEMITONES) - 69) / 12)
    length = round(_WINDOW * rate)
    hann = np.hanning(length)
    waves = hann[:, None] * np.exp(-2j * np.pi * np.outer(np.arange(length), hertz) / rate)
    waves *= 2 / hann.sum() * (hertz < _PART_OF_RATE * rate)
    both = np.concatenate((waves.real, waves.imag), axis=1).astype(np.float32)
    weights = (hann**2 / (hann**2).sum()).astype(np.float32)
    frames = Frames(rate, length, length // 2, STEP)
    first = 0
    for block, last in chain(zip(blocks, repeat(False)), [(np.zeros(0, np.float32), True)]):
        every = frames.of(block, last)
        seconds = np.round(np.arange(first, first + len(every)) * STEP * rate) / rate  # frames begin with a sample
        real, imaginary = np.split(every @ both, 2, axis=1)
        turned = (real + 1j * imaginary) * np.exp(-2j * np.pi * np.outer(seconds, hertz))
        yield SemitoneSpectrum(turned.astype(np.complex64), every**2 @ weights)
        first += len(every)
