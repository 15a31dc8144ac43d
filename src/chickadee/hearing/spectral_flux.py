"""Spectral flux: how much the spectrum grows from one moment to the next.

It is taken over compressed magnitudes, as in Bello and others, A tutorial on onset detection in music signals
(2005).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .fourier import rfft
from .pitch import Frames, in_parts, quick_size
from .sound_file import Signal

__all__ = ["FluxFrames", "SpectralFlux", "flux_of"]

_WINDOW = 0.023  # seconds
_BACK = 2  # frames that a spectrum is compared over
_LOCAL = 20  # frames on either side that say what is usual


@dataclass(frozen=True, slots=True)
class SpectralFlux:
    """The flux and the size of the spectrum in each frame; shape (frames,)."""

    grown: NDArray[np.float32]
    size: NDArray[np.float32]
    power: NDArray[np.float32]
    """Mean square within 10 ms."""


class FluxFrames:
    """Measures a signal that comes in blocks. Frame ``n`` has its middle at ``n`` times HOP seconds."""

    def __init__(self, rate: float) -> None:
        self._length = round(_WINDOW * rate)
        self._size = quick_size(self._length)
        self._hann = np.hanning(self._length).astype(np.float32)
        self._frames = Frames(rate, self._length, self._length // 2)
        self._ten = max(1, round(0.005 * rate))
        self._before = np.zeros((_BACK, self._size // 2 + 1), np.float32)

    def of(self, block: Signal, last: bool = False) -> SpectralFlux:
        """The frames that are complete with this block; with the last, all."""
        every = self._frames.of(block, last)
        sizes = np.sqrt(np.concatenate([np.abs(rfft(part * self._hann, self._size)) for part in in_parts(every)]))
        older = np.concatenate((self._before, sizes))
        self._before = older[-_BACK:]
        grown = np.maximum(sizes - older[:-_BACK], 0).sum(axis=1)
        middle = every[:, self._length // 2 - self._ten : self._length // 2 + self._ten]
        return SpectralFlux(grown, sizes.sum(axis=1), np.mean(middle**2, axis=1))


def flux_of(flux: SpectralFlux) -> NDArray[np.float64]:
    """How much of the spectrum is new in each frame, as a part of what is usual around it; shape (frames,)."""
    if not len(flux.grown):
        return np.zeros(0)
    size = flux.size.astype(np.float64)
    part: NDArray[np.float64] = flux.grown / (_around(size) + 0.05 * np.quantile(size, 0.95) + 1e-9)
    return part


def _around(values: NDArray[np.float64]) -> NDArray[np.float64]:
    """The mean of what is around each frame."""
    wide = 2 * _LOCAL + 1
    return np.convolve(np.pad(values, _LOCAL, mode="edge"), np.ones(wide) / wide, mode="valid")
