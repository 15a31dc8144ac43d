"""The instruments: each a short recipe on the shared parts.

The levels are matched by measured loudness (ITU-R BS.1770-4), so that a change of sound is no shock:
``scripts/levels.py`` prints what they should be.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from .instrument import Drum, Held, Instrument, Kit, Plucked, Struck
from .wavetable import Spectrum

__all__ = ["INSTRUMENTS"]

_Frequencies = NDArray[np.float64]


def _falling(power: float, odd: bool = False) -> Spectrum:
    """Harmonics that fall off by a power of their number; perhaps only the odd ones."""

    def spectrum(k: _Frequencies) -> _Frequencies:
        return np.asarray(k**-power * np.where(odd & (k % 2 == 0), 0.0, 1.0))

    return spectrum


def _triangle(k: _Frequencies) -> _Frequencies:
    return np.asarray(np.sin(np.pi * k / 2) / k**2)


def _listed(*amplitudes: float) -> Spectrum:
    """The first harmonics by their amplitudes, and no more."""

    def spectrum(k: _Frequencies) -> _Frequencies:
        found = np.zeros(len(k))
        count = min(len(k), len(amplitudes))
        found[:count] = amplitudes[:count]
        return found

    return spectrum


def _body(*resonances: tuple[float, float, float]) -> Callable[[_Frequencies], _Frequencies]:
    """The gain of a body with (Hz, width in octaves, gain) where it resonates."""

    def gain(hertz: _Frequencies) -> _Frequencies:
        total = np.ones(len(hertz))
        for centre, width, peak in resonances:
            total += peak * np.exp(-((np.log2(hertz / centre) / width) ** 2))
        return total

    return gain


def _string(pluck: float, partials: int, level: float) -> Struck:
    """A string plucked at a part of its length; the nearer a partial's node is, the fainter the partial."""
    place = range(1, partials + 1)
    return Struck(
        ratios=tuple(float(k) for k in place),
        amplitudes=tuple(abs(float(np.sin(k * np.pi * pluck))) / k**1.25 for k in place),
        decays=tuple(4.2 / (1 + 0.22 * (k - 1) + 0.012 * k * k) for k in place),
        release=0.12,
        level=level,
    )


def _hammered(partials: int, level: float) -> Struck:
    """A stiff string under a felt hammer: partials a little sharp of harmonics, which fade fast, then slowly."""
    stiffness = 0.00035
    ratios = [k * ((1 + stiffness * k * k) / (1 + stiffness)) ** 0.5 for k in range(1, partials + 1)]
    loud = [abs(float(np.sin(k * np.pi / 8))) / k**1.1 * 0.93**k for k in range(1, partials + 1)]
    fast = [1.9 / (1 + 0.12 * (k - 1)) for k in range(1, partials + 1)]
    return Struck(
        ratios=(*ratios, *ratios),
        amplitudes=(*(0.72 * each for each in loud), *(0.28 * each for each in loud)),
        decays=(*fast, *(3.4 * each for each in fast)),
        level=level,
        release=0.14,
        knock=0.05,
    )


_KIT = Kit(
    {  # every percussion key of General MIDI
        35: Drum(44, 3.6, 1.0, 0.06, 0.45),
        36: Drum(50, 4.0, 1.0, 0.08, 0.35),
        37: Drum(420, 1.4, 0.5, 0.4, 0.07, 2),
        38: Drum(185, 1.6, 0.55, 0.75, 0.24),
        39: Drum(1000, 1.0, 0.05, 0.9, 0.2),
        40: Drum(200, 1.5, 0.5, 0.85, 0.2),
        41: Drum(70, 1.7, 0.9, 0.08, 0.55),
        42: Drum(6200, 1.0, 0.04, 0.5, 0.07, 5),
        43: Drum(84, 1.7, 0.9, 0.08, 0.5),
        44: Drum(5200, 1.0, 0.04, 0.4, 0.06, 5),
        45: Drum(100, 1.7, 0.9, 0.08, 0.45),
        46: Drum(6000, 1.0, 0.05, 0.5, 0.5, 5),
        47: Drum(140, 1.7, 0.9, 0.08, 0.4),
        48: Drum(165, 1.7, 0.9, 0.08, 0.38),
        49: Drum(4300, 1.0, 0.06, 0.7, 1.6, 5),
        50: Drum(190, 1.7, 0.9, 0.08, 0.35),
        51: Drum(3900, 1.0, 0.12, 0.35, 1.1, 5),
        52: Drum(3600, 1.0, 0.08, 0.75, 1.5, 5),
        53: Drum(2700, 1.0, 0.35, 0.15, 1.2, 5),
        54: Drum(5600, 1.0, 0.1, 0.55, 0.16, 5),
        55: Drum(5200, 1.0, 0.05, 0.7, 0.8, 5),
        56: Drum(640, 1.0, 0.7, 0.03, 0.25),
        57: Drum(3900, 1.0, 0.06, 0.7, 1.7, 5),
        58: Drum(2300, 1.0, 0.2, 0.5, 0.5, 4),
        59: Drum(3500, 1.0, 0.12, 0.35, 1.1, 5),
        60: Drum(330, 1.5, 0.8, 0.08, 0.2),
        61: Drum(230, 1.5, 0.8, 0.08, 0.25),
        62: Drum(360, 1.3, 0.7, 0.15, 0.09),
        63: Drum(260, 1.3, 0.85, 0.1, 0.3),
        64: Drum(200, 1.3, 0.85, 0.1, 0.35),
        65: Drum(300, 1.5, 0.7, 0.25, 0.25),
        66: Drum(220, 1.5, 0.7, 0.25, 0.3),
        67: Drum(880, 1.0, 0.7, 0.02, 0.35),
        68: Drum(660, 1.0, 0.7, 0.02, 0.4),
        69: Drum(6200, 1.0, 0.02, 0.45, 0.08, 5),
        70: Drum(5800, 1.0, 0.02, 0.45, 0.05, 5),
        71: Drum(2300, 1.0, 0.6, 0.05, 0.15),
        72: Drum(2300, 1.0, 0.6, 0.05, 0.6),
        73: Drum(1800, 1.0, 0.1, 0.5, 0.1, 4),
        74: Drum(1800, 1.0, 0.1, 0.5, 0.4, 4),
        75: Drum(2450, 1.0, 0.7, 0.02, 0.09),
        76: Drum(900, 1.1, 0.75, 0.05, 0.12),
        77: Drum(640, 1.1, 0.75, 0.05, 0.14),
        78: Drum(520, 1.2, 0.7, 0.05, 0.12),
        79: Drum(400, 1.3, 0.7, 0.05, 0.3),
        80: Drum(4200, 1.0, 0.35, 0.02, 0.25),
        81: Drum(4200, 1.0, 0.35, 0.02, 1.8),
    },
    level=1.15,
)

INSTRUMENTS: dict[str, Instrument] = {
    "sine": Held(_listed(1.0), level=0.193, attack=0.012, release=0.04, even=True),
    "triangle": Held(_triangle, level=0.191, attack=0.006, release=0.03, even=True),
    "square": Held(_falling(1, odd=True), level=0.163, attack=0.004, release=0.025, even=True),
    "saw": Held(_falling(1), level=0.137, attack=0.004, release=0.025, even=True),
    "flute": Held(
        _listed(1.0, 0.42, 0.2, 0.07, 0.045, 0.018, 0.01),
        level=0.177,
        attack=0.045,
        release=0.09,
        tilt=0.9,
        wavering=(5.2, 7.0, 0.35),
        air=0.02,
    ),
    "reed pipe": Held(
        _falling(0.9, odd=True),
        level=0.0922,
        attack=0.03,
        release=0.06,
        tilt=1.1,
        opening=0.05,
        wavering=(4.8, 5.0, 0.5),
        air=0.006,
        body=_body((450, 0.9, 1.0), (1400, 0.5, 1.6), (3100, 0.5, 0.6)),
    ),
    "brass horn": Held(
        _falling(0.75),
        level=0.0779,
        attack=0.05,
        release=0.08,
        tilt=1.7,
        opening=0.14,
        wavering=(5.0, 6.0, 0.6),
        air=0.004,
        body=_body((500, 0.8, 1.2), (1200, 0.7, 0.8)),
    ),
    "bowed string": Held(
        _falling(1.05),
        level=0.093,
        attack=0.085,
        release=0.12,
        tilt=0.8,
        opening=0.12,
        wavering=(5.6, 13.0, 0.3),
        air=0.012,
        body=_body((290, 0.35, 1.1), (560, 0.4, 0.9), (1100, 0.5, 0.6), (2600, 0.5, 0.9)),
    ),
    "plucked string": _string(0.21, 26, 0.41),
    "nylon string": Plucked(decay=3.2, dullness=0.5, softness=0.55, pluck=0.27, level=0.359),
    "hammered string": _hammered(22, 0.712),
    "glass bell": Struck(
        ratios=(1.0, 2.32, 4.25, 6.63, 9.38),
        amplitudes=(1.0, 0.42, 0.22, 0.1, 0.05),
        decays=(5.5, 3.4, 1.9, 1.0, 0.6),
        release=0.9,
        level=0.244,
    ),
    "wood bars": Struck(
        ratios=(1.0, 4.0, 9.9),
        amplitudes=(1.0, 0.3, 0.1),
        decays=(0.9, 0.28, 0.1),
        release=0.25,
        level=0.556,
        knock=0.12,
    ),
    "organ pipe": Held(
        _listed(1.0, 0.7, 0.28, 0.5, 0.08, 0.12, 0.03, 0.2),
        level=0.13,
        attack=0.02,
        release=0.07,
        air=0.008,
        even=True,
    ),
    "soft pad": Held(
        _falling(1.4),
        level=0.278,
        attack=0.22,
        release=0.45,
        tilt=1.2,
        opening=0.6,
        layers=((0.0, 0.6), (6.0, 0.35), (-6.0, 0.35)),
    ),
    "board beeper": Held(
        _falling(0.8, odd=True), level=0.11, attack=0.0015, release=0.004, body=_body((2600, 0.6, 1.5)), even=True
    ),
    "drum kit": _KIT,
}
"""Every instrument by the name of its sound."""
