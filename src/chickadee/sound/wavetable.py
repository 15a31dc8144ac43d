"""One period of a wave, without any partial too high for the sample rate, read at any pitch."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from .samples import HIGHEST, Samples

__all__ = ["MOST_HARMONICS", "WaveTable", "audible_harmonics"]

MOST_HARMONICS = 600
_SIZE = 1 << 14  # reading between two of so many points errs by (2·pi·k/size)²/8 of harmonic k: below -95 dB


def audible_harmonics(hertz: float, rate: int) -> NDArray[np.float64]:
    """1, 2, 3 … up to the highest harmonic that the sample rate can hold; empty where not even the first fits."""
    return np.arange(1.0, 1 + min(MOST_HARMONICS, int(HIGHEST * rate / hertz)))


class WaveTable:
    """A wave by the amplitudes of its harmonics.

    >>> table = WaveTable(np.array([1.0, 0.0, 0.5]))
    >>> table.read(np.array([0.0, 0.25, 1.25])).round(3).tolist()
    [0.0, 0.5, 0.5]
    """

    def __init__(self, amplitudes: NDArray[np.float64]) -> None:
        spectrum = np.zeros(_SIZE // 2 + 1, np.complex128)
        spectrum[1 : 1 + len(amplitudes)] = -0.5j * _SIZE * amplitudes
        wave = np.fft.irfft(spectrum)
        self._wave = wave.astype(np.float32)
        self._step = (np.roll(wave, -1) - wave).astype(np.float32)

    def read(self, phase: NDArray[np.float64]) -> Samples:
        """The wave at phases counted in periods, shape as ``phase``."""
        place = phase * _SIZE
        whole = place.astype(np.int64)
        part = (place - whole).astype(np.float32)
        whole &= _SIZE - 1
        part *= self._step[whole]
        part += self._wave[whole]
        return part


Spectrum = Callable[[NDArray[np.float64]], NDArray[np.float64]]
"""Amplitudes of the harmonics numbered 1, 2, 3 …; both of shape (harmonics,)."""
