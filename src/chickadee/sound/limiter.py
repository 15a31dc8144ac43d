"""A limiter that looks ahead, so that nothing it lets through is ever larger than its ceiling."""

from __future__ import annotations

import numpy as np
from scipy.ndimage import minimum_filter1d

from .parts import Samples

__all__ = ["CEILING", "Limiter"]

CEILING = 0.89
"""The largest sample that leaves the mix, about -1 dBFS."""


class Limiter:
    """Turns the gain down before a peak arrives and holds it a while after.

    Output lags input by ``delay`` samples. The gain is the least that any sample of the last ``delay + hold`` asks
    for, averaged over ``delay`` samples: an average of values none of which is above what the delayed sample
    needs, and without a corner.
    """

    def __init__(self, rate: int) -> None:
        self.delay = max(1, round(0.005 * rate))
        """Samples by which what comes out is late."""
        self._span = self.delay + round(0.12 * rate)
        self._waiting = np.zeros((self.delay, 2))
        self._needed = np.ones(self._span + self.delay)
        self.reduced = False
        """Whether the last block had to be turned down."""

    def process(self, block: Samples) -> Samples:
        """A block of shape (frames, 2), as limited samples of the same shape."""
        peaks = np.abs(block).max(axis=1, initial=0.0)
        needed = np.concatenate([self._needed, CEILING / np.maximum(peaks, CEILING)])
        self._needed = needed[len(block) :]
        sound = np.concatenate([self._waiting, block])
        self._waiting = sound[len(block) :]
        self.reduced = bool(needed.min() < 1.0)
        if not self.reduced:
            return sound[: len(block)]
        least = minimum_filter1d(needed, self._span, origin=(self._span - 1) // 2, mode="nearest")[self._span :]
        sums = np.concatenate([[0.0], np.cumsum(least)])
        gain = (sums[self.delay :] - sums[: -self.delay])[-len(block) :] / self.delay
        return np.asarray(sound[: len(block)] * np.minimum(gain, 1.0)[:, None])
