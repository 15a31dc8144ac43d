"""The parts that instruments are made of. Each gives any stretch of samples of an endless sound by itself.

Every part is a function of the sample's number since the note was struck, so that a note sounds the same to
the last bit however it is cut into blocks, and can be entered anywhere.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

__all__ = ["Samples", "breath", "decaying_partials", "harmonics", "swell", "vibrato"]

Samples = NDArray[np.float64]

_STRIDE = 128
_BREATH = 1 << 16


def decaying_partials(
    frequencies: Samples, amplitudes: Samples, decays: Samples, first: int, count: int, rate: int
) -> Samples:
    """The sum of sines that each fade at their own pace, shape (count,).

    ``frequencies`` in Hz, ``amplitudes`` at the strike, ``decays`` the seconds in which each fades by 60 dB; all of
    shape (partials,). Partials near half the sample rate are left out. A decaying sine is the imaginary part of a
    power of one complex number, z^n; written as z^(128·i)·z^j the whole sum is one matrix product.
    """
    audible = frequencies < 0.45 * rate
    frequencies, amplitudes, decays = frequencies[audible], amplitudes[audible], decays[audible]
    log_z = -np.log(1000.0) / (decays * rate) + 2j * np.pi * frequencies / rate
    rows = -(-count // _STRIDE)
    coarse = amplitudes * np.exp(log_z * (first + _STRIDE * np.arange(rows))[:, None])
    fine = np.exp(log_z[:, None] * np.arange(_STRIDE))
    product = coarse.real @ fine.imag + coarse.imag @ fine.real
    return np.asarray(product.reshape(-1)[:count])


def harmonics(phase: Samples, amplitudes: list[float]) -> Samples:
    """Harmonics of a phase in radians, which may waver; shape as ``phase``.

    sin((k+1)x) = 2·cos(x)·sin(kx) - sin((k-1)x), so only one sine and one cosine are computed.
    """
    before, sine = np.zeros_like(phase), np.sin(phase)
    double = 2 * np.cos(phase)
    total = amplitudes[0] * sine
    for amplitude in amplitudes[1:]:
        before, sine = sine, double * sine - before
        total += amplitude * sine
    return total


def vibrato(first: int, count: int, rate: int, hertz: float, cents: float, delay: float) -> Samples:
    """The wavering of a phase as a factor of the frequency in Hz: seconds by which it runs ahead.

    ``hertz`` is how fast it wavers and ``cents`` how far, reached one ``delay`` (seconds) after that delay.
    """
    seconds = (first + np.arange(count)) / rate
    depth = np.clip(seconds / delay - 1, 0, 1) * (2 ** (cents / 1200) - 1) / (2 * np.pi * hertz)
    return np.asarray(depth * np.sin(2 * np.pi * hertz * seconds))


def swell(first: int, count: int, attack: int, held: int, release: int) -> Samples:
    """An envelope from silence to 1 over ``attack`` samples and, from ``held`` on, to silence over ``release``.

    Both are halves of a cosine, so neither the sound nor its slope ever jumps.
    """
    envelope = np.ones(count)
    rising = min(count, max(0, attack - first))
    if rising:
        envelope[:rising] *= 0.5 - 0.5 * np.cos(np.pi * (first + np.arange(rising)) / attack)
    falling = max(0, held - first)
    if falling < count:
        into = np.minimum(first + np.arange(falling, count) - held, release)
        envelope[falling:] *= 0.5 + 0.5 * np.cos(np.pi * into / release)
    return envelope


def breath(first: int, count: int) -> Samples:
    """Soft noise between -1 and 1, always the same and without a seam."""
    return _breath_table().take(np.arange(first, first + count), mode="wrap")


@lru_cache(maxsize=1)
def _breath_table() -> Samples:
    spectrum = np.fft.rfft(np.random.default_rng(7).standard_normal(_BREATH))
    place = np.linspace(0, 1, len(spectrum))
    noise = np.fft.irfft(spectrum * place * np.exp(-((place / 0.16) ** 2)))
    return np.asarray(noise / np.abs(noise).max())
