"""Sums of sines that each fade at their own pace."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..caching import cached
from .samples import HIGHEST, Samples

__all__ = ["decaying_partials"]

_STRIDE = 128


def decaying_partials(
    frequencies: NDArray[np.float64],
    amplitudes: NDArray[np.float64],
    decays: NDArray[np.float64],
    first: int,
    count: int,
    rate: int,
) -> Samples:
    """The sum of sines that each fade at their own pace, shape (count,).

    ``frequencies`` in Hz, ``amplitudes`` at the strike, ``decays`` the seconds in which each fades by 60 dB; all of
    shape (partials,). Partials near half the sample rate are left out. A decaying sine is the imaginary part of a
    power of one complex number, z^n; written as z^(128·i)·z^j the whole sum is one matrix product.
    """
    audible = frequencies < HIGHEST * rate
    frequencies = frequencies[audible]
    amplitudes = amplitudes[audible]
    decays = decays[audible]
    log_z = -np.log(1000.0) / (decays * rate) + 2j * np.pi * frequencies / rate
    coarse, turns = _powers(log_z.tobytes(), -(-count // _STRIDE))
    coarse = coarse * (amplitudes * np.exp(log_z * first))
    parts = np.concatenate([coarse.real, coarse.imag], axis=1).astype(np.float32)
    return np.asarray((parts @ turns).reshape(-1)[:count])


@cached(64)
def _powers(log_z: bytes, rows: int) -> tuple[NDArray[np.complex128], Samples]:
    """z^(128·i), shape (rows, partials), and the imaginary and real parts of z^j, shape (2·partials, 128)."""
    exponents = np.frombuffer(log_z, np.complex128)
    fine = np.exp(exponents[:, None] * np.arange(_STRIDE))
    turns = np.concatenate([fine.imag, fine.real]).astype(np.float32)
    return np.exp(exponents * (_STRIDE * np.arange(rows))[:, None]), turns
