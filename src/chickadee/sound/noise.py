"""Noise: breath, the scratch of a bow, the rattle of a snare."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from .samples import Samples

__all__ = ["breath"]

_SIZE = 1 << 16


def breath(first: int, count: int, step: int = 1) -> Samples:
    """Soft noise between -1 and 1, always the same and without a seam; every ``step``-th sample of it is brighter."""
    return _table().take(np.arange(first * step, (first + count) * step, step), mode="wrap")


@lru_cache(maxsize=1)
def _table() -> Samples:
    """White noise through a filter that lets the middle through, worked out on its spectrum."""
    spectrum = np.fft.rfft(np.random.default_rng(7).standard_normal(_SIZE))
    place = np.linspace(0, 1, len(spectrum))
    noise = np.fft.irfft(spectrum * place * np.exp(-((place / 0.16) ** 2)))
    return np.asarray(noise / np.abs(noise).max(), dtype=np.float32)
