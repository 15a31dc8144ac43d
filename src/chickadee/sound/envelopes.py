"""How sounds begin, end and waver. Each part is a function of the sample's number since the note was struck, so a
note can be made in any pieces and entered anywhere."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..caching import cached
from .samples import Samples

__all__ = ["fall", "fallen", "rise", "vibrato"]


def rise(first: int, count: int, length: int) -> Samples:
    """From silence to 1 over ``length`` samples: half a cosine, so that neither the sound nor its slope jumps."""
    envelope = np.ones(count, np.float32)
    rising = min(count, max(0, length - first))
    if rising:
        envelope[:rising] = _half_cosine(length)[first : first + rising]
    return envelope


def fall(first: int, count: int, held: int, length: int) -> Samples:
    """1 up to sample ``held``, then to silence over ``length`` samples: half a cosine."""
    envelope = np.ones(count, np.float32)
    begins, ends = (min(count, max(0, place - first)) for place in (held, held + length))
    if ends > begins:
        into = first + begins - held
        envelope[begins:ends] = 1 - _half_cosine(length)[into : into + ends - begins]
    envelope[ends:] = 0
    return envelope


@cached(64)
def _half_cosine(length: int) -> Samples:
    return np.asarray(0.5 - 0.5 * np.cos(np.pi * np.arange(length) / length), dtype=np.float32)


def fallen(first: int, count: int, seconds: float, rate: int) -> Samples:
    """From 1 at the strike, 60 dB fainter after ``seconds``, and so on for ever."""
    exponents = np.arange(first, first + count) * (-np.log(1000.0) / (seconds * rate))
    return np.asarray(np.exp(exponents), dtype=np.float32)


@cached(32)
def vibrato(first: int, count: int, rate: int, hertz: float, cents: float, delay: float) -> NDArray[np.float64]:
    """The wavering of a phase: seconds by which it runs ahead at each moment.

    ``hertz`` is how fast it wavers and ``cents`` how far, reached one ``delay`` (seconds) after that delay.
    """
    seconds = np.arange(first, first + count) / rate
    depth = np.clip(seconds / delay - 1, 0, 1) * (2 ** (cents / 1200) - 1) / (2 * np.pi * hertz)
    return np.asarray(depth * np.sin(2 * np.pi * hertz * seconds))
