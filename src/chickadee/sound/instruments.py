"""The instruments: each a short recipe on the shared parts."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from .parts import Samples, breath, decaying_partials, harmonics, swell, vibrato

__all__ = ["INSTRUMENTS", "Instrument", "Strike"]


@dataclass(frozen=True, slots=True)
class Strike:
    """What an instrument is told about a note."""

    hertz: float
    strength: float
    """From 0 to 1, the loudness over 127."""
    held: int
    """Samples until it is let go."""


class Instrument(Protocol):
    """A way to make a note sound."""

    def length(self, strike: Strike, rate: int) -> int:
        """Samples from the strike until silence."""

    def samples(self, strike: Strike, first: int, count: int, rate: int) -> Samples:
        """``count`` samples from the one numbered ``first`` on, at most about 0.4 large; shape (count,)."""


@dataclass(frozen=True, slots=True)
class Blown:
    """Sounds that hold as long as they are blown or bowed."""

    amplitudes: tuple[float, ...]
    """Of the harmonics, the fundamental first."""
    attack: float
    """Seconds."""
    release: float
    gain: float
    waver: float = 0.0
    """Cents of vibrato."""
    air: float = 0.0
    """How much breath is heard."""

    def length(self, strike: Strike, rate: int) -> int:
        return strike.held + round(self.release * rate)

    def samples(self, strike: Strike, first: int, count: int, rate: int) -> Samples:
        seconds = (first + np.arange(count)) / rate
        if self.waver:
            seconds += vibrato(first, count, rate, 5.2, self.waver, 0.35)
        strength = strike.strength
        bright = 0.45 + 0.75 * strength
        heard = [
            amplitude * bright**place
            for place, amplitude in enumerate(self.amplitudes)
            if (place + 1) * strike.hertz < 0.45 * rate
        ]
        if not heard:
            return np.zeros(count)
        tone = harmonics(2 * np.pi * strike.hertz * seconds, heard)
        if self.air:
            start = np.exp(-seconds / 0.05)
            tone += self.air * (1 + 5 * start) * breath(first, count)
        attack = round(self.attack * (1.3 - 0.6 * strength) * rate)
        envelope = swell(first, count, max(1, attack), strike.held, round(self.release * rate))
        return np.asarray(self.gain * strength**1.2 * tone * envelope)


@dataclass(frozen=True, slots=True)
class Struck:
    """Sounds that are struck or plucked and fade by themselves."""

    ratios: tuple[float, ...]
    """Partials over the fundamental."""
    amplitudes: tuple[float, ...]
    decays: tuple[float, ...]
    """Seconds to fade by 60 dB, of each partial of middle C."""
    release: float
    """Seconds to fall silent once it is let go."""
    gain: float

    def length(self, strike: Strike, rate: int) -> int:
        longest = max(self.decays) * self._pace(strike) * 1.2
        return min(strike.held, round(longest * rate)) + round(self.release * rate)

    def samples(self, strike: Strike, first: int, count: int, rate: int) -> Samples:
        ratios = np.array(self.ratios)
        bright = 0.55 + 0.55 * strike.strength
        amplitudes = np.array(self.amplitudes) * bright ** np.log2(ratios)
        decays = np.array(self.decays) * self._pace(strike)
        tone = decaying_partials(ratios * strike.hertz, amplitudes, decays, first, count, rate)
        release = round(self.release * rate)
        held = self.length(strike, rate) - release
        envelope = swell(first, count, round(0.002 * rate), held, release)
        return np.asarray(self.gain * strike.strength**1.2 * tone * envelope)

    @staticmethod
    def _pace(strike: Strike) -> float:
        """High notes fade sooner."""
        return float(np.clip((261.63 / strike.hertz) ** 0.5, 0.25, 2.0))


def _string(pluck: float, partials: int) -> Struck:
    """A string plucked at a part of its length; the nearer a partial's node is, the fainter the partial."""
    place = range(1, partials + 1)
    return Struck(
        ratios=tuple(float(k) for k in place),
        amplitudes=tuple(abs(float(np.sin(k * np.pi * pluck))) / k**1.25 for k in place),
        decays=tuple(4.2 / (1 + 0.22 * (k - 1) + 0.012 * k * k) for k in place),
        release=0.12,
        gain=0.62,
    )


INSTRUMENTS: dict[str, Instrument] = {
    "flute": Blown(
        (1.0, 0.42, 0.2, 0.07, 0.045, 0.018, 0.01), attack=0.045, release=0.09, gain=0.33, waver=7, air=0.02
    ),
    "sine": Blown((1.0,), attack=0.012, release=0.04, gain=0.4),
    "glass bell": Struck(
        ratios=(1.0, 2.32, 4.25, 6.63, 9.38),
        amplitudes=(1.0, 0.42, 0.22, 0.1, 0.05),
        decays=(5.5, 3.4, 1.9, 1.0, 0.6),
        release=0.9,
        gain=0.38,
    ),
    "plucked string": _string(0.21, 26),
}
"""Every instrument by the name of its sound."""
