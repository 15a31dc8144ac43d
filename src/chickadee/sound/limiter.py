"""A limiter that looks ahead, so that nothing it lets through is ever larger than its ceiling."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .samples import Samples

__all__ = ["CEILING", "Limiter", "trailing_minimum"]

CEILING = 0.89
"""The largest sample that leaves the mix, about -1 dBFS."""


class Limiter:
    """Turns the gain down before a peak arrives and holds it a while after.

    Output lags input by ``delay`` samples. The gain is the least that any sample of the last ``delay + hold`` asks
    for, averaged over ``delay`` samples: an average of values none of which is above what the delayed sample
    needs, and without a corner.
    """

    def __init__(self, rate: int, ceiling: float = CEILING) -> None:
        self.ceiling = ceiling
        self.delay = max(1, round(0.005 * rate))
        """Samples by which what comes out is late."""
        self._span = self.delay + round(0.12 * rate)
        self.memory = self._span + self.delay
        """Samples back from which what comes out is as it is because of what came before."""
        self._waiting = np.zeros((2, self.delay), np.float32)
        self._needed = np.ones(self.memory, np.float32)
        self.reduced = False
        """True if the last block had to be turned down."""

    def process(self, block: Samples) -> Samples:
        """A block of shape (2, frames), as limited samples of the same shape."""
        count = block.shape[1]
        peaks = np.maximum(np.abs(block[0]), np.abs(block[1]))
        sound = np.concatenate([self._waiting, block], axis=1)
        self._waiting = sound[:, count:]
        needed = np.concatenate([self._needed, self.ceiling / np.maximum(peaks, np.float32(self.ceiling))])
        self._needed = needed[count:]
        self.reduced = bool(needed.min() < 1.0)
        if not self.reduced:
            return sound[:, :count]
        least = trailing_minimum(needed.astype(np.float64), self._span)[1:]
        sums = np.concatenate([[0.0], np.cumsum(least)])
        gain = (sums[self.delay :] - sums[: -self.delay])[-count:] / self.delay
        return np.asarray(sound[:, :count] * np.minimum(gain, 1.0).astype(np.float32))


def trailing_minimum(values: NDArray[np.float64], span: int) -> NDArray[np.float64]:
    """The least of each ``span`` values in a row, shape (len(values) - span + 1,).

    Each such stretch is the end of one block of ``span`` values and the beginning of the next (van Herk, 1992), so
    two running minima along the blocks, one from either side, hold the answer.
    """
    blocks = np.full(-(-len(values) // span) * span, np.inf)
    blocks[: len(values)] = values
    rows = blocks.reshape(-1, span)
    from_left = np.minimum.accumulate(rows, axis=1).reshape(-1)
    from_right = np.minimum.accumulate(rows[:, ::-1], axis=1)[:, ::-1].reshape(-1)
    count = len(values) - span + 1
    return np.asarray(np.minimum(from_right[:count], from_left[span - 1 : span - 1 + count]))
