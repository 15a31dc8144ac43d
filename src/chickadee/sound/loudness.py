"""How loud sound is to the ear: integrated loudness by ITU-R BS.1770-4."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

__all__ = ["loudness"]

_RATE = 48_000
_SHELF = (1.53512485958697, -2.69169618940638, 1.19839281085285), (1.0, -1.69065929318241, 0.73248077421585)
_HIGH_PASS = (1.0, -2.0, 1.0), (1.0, -1.99004745483398, 0.99007225036621)
_ABSOLUTE_GATE = -70.0
_RELATIVE_GATE = -10.0


def loudness(sound: NDArray[np.floating]) -> float:
    """Loudness in LUFS of samples of shape (frames, 2) at 48,000 frames a second; minus infinity for silence.

    The weighting's two filters (the recommendation's tables 1 and 2) are applied on the spectrum; blocks of 400 ms
    that overlap by three quarters are gated at -70 LUFS and then 10 LU below their mean.
    """
    size = len(sound) + _RATE  # the filters' tails fade into the second of silence
    turns = np.exp(-2j * np.pi * np.arange(size // 2 + 1) / size)
    response = np.ones(len(turns), np.complex128)
    for above, below in (_SHELF, _HIGH_PASS):
        response *= np.polyval(above[::-1], turns) / np.polyval(below[::-1], turns)
    weighted = np.fft.irfft(np.fft.rfft(sound, size, axis=0) * response[:, None], size, axis=0)[: len(sound)]
    energy = np.concatenate([[0.0], np.cumsum((weighted**2).sum(axis=1))])
    block = min(len(sound), round(0.4 * _RATE))
    starts = np.arange(0, max(1, len(sound) - block + 1), max(1, block // 4))
    powers = (energy[starts + block] - energy[starts]) / max(1, block)
    gated = powers[_lufs(powers) > _ABSOLUTE_GATE]
    if not len(gated):
        return -np.inf
    gated = gated[_lufs(gated) > _lufs(gated.mean()) + _RELATIVE_GATE]
    return float(_lufs(gated.mean()))


def _lufs(power: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.asarray(-0.691 + 10 * np.log10(np.maximum(power, 1e-20)))
