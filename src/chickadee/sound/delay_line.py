"""A plucked string as a delay line: what runs along it comes back a period later, a little softer and duller.

After K. Karplus and A. Strong (1983), tuned between samples by a cubic Lagrange interpolator as in T. Laakso and
others, "Splitting the unit delay" (1996).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .samples import Samples

__all__ = ["SHORTEST", "DelayLine"]

SHORTEST = 12
"""Samples of the shortest period a line can keep in tune."""


class DelayLine:
    """One string that rings by itself; it is asked for its samples from the first on.

    ``period`` in samples, at least SHORTEST; ``shape`` is its first period; ``decay`` the samples in which it fades
    by 60 dB; ``dullness`` from 0 to 1, how much faster its high partials fade.
    """

    def __init__(self, period: float, shape: NDArray[np.float64], decay: float, dullness: float) -> None:
        whole = int(period) - 1
        damping = np.array([dullness / 4, 1 - dullness / 2, dullness / 4])
        loop = np.convolve(_lagrange(period - whole), damping)
        self._taps = 10 ** (-3 * period / decay) * loop
        self._lag = whole - 1  # the damping is centred on its middle tap
        self._rung = np.asarray(shape, dtype=np.float64)

    def read(self, count: int) -> Samples:
        """The first ``count`` samples; asking again for more goes on where the string has got to."""
        have = len(self._rung)
        taps = len(self._taps)
        lag = self._lag
        if have < count:
            room = np.concatenate([self._rung, np.zeros(count - have)])
            while have < count:
                new = min(lag, count - have)
                start = have - lag - taps + 1
                before = room[max(0, start) : have - lag + new]
                before = np.concatenate([np.zeros(max(0, -start)), before])
                room[have : have + new] = np.convolve(before, self._taps, "valid")[:new]
                have += new
            self._rung = room
        return self._rung[:count].astype(np.float32)


def _lagrange(delay: float) -> NDArray[np.float64]:
    """Four weights that delay by so many samples, from 1 to 2, between them."""
    points = np.arange(4)
    return np.array([np.prod([(delay - m) / (n - m) for m in points if m != n]) for n in points])
