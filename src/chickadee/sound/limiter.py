"""A limiter that looks ahead, so that nothing it lets through is ever larger than its ceiling."""

from __future__ import annotations

import numpy as np

from .parts import Samples

__all__ = ["CEILING", "Limiter", "trailing_minimum"]

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
        least = trailing_minimum(needed, self._span)[1:]
        sums = np.concatenate([[0.0], np.cumsum(least)])
        gain = (sums[self.delay :] - sums[: -self.delay])[-len(block) :] / self.delay
        return np.asarray(sound[: len(block)] * np.minimum(gain, 1.0)[:, None])


def trailing_minimum(values: Samples, span: int) -> Samples:
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
