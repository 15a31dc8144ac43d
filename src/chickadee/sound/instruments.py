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

    number: int
    """The MIDI number: which drum of a kit."""
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


@dataclass(frozen=True, slots=True)
class Skin:
    """One drum: a tone that falls in pitch, and noise."""

    hertz: float
    drop: float
    """How many times higher the tone begins."""
    tone: float
    """How loud the tone and the noise are."""
    noise: float
    decay: float
    """Seconds to fade by 60 dB."""
    step: int = 1
    """Every how many samples of the noise are taken: more is brighter."""


class Kit:
    """A drum for each percussion key, by General MIDI; keys without one of their own take the nearest below."""

    def __init__(self, skins: dict[int, Skin], gain: float) -> None:
        self._skins, self._gain = skins, gain

    def length(self, strike: Strike, rate: int) -> int:
        return round(self._skin(strike).decay * 1.2 * rate)

    def samples(self, strike: Strike, first: int, count: int, rate: int) -> Samples:
        skin = self._skin(strike)
        seconds = (first + np.arange(count)) / rate
        fall = 0.03  # seconds in which the pitch has fallen most of its way
        phase = 2 * np.pi * skin.hertz * (seconds + (skin.drop - 1) * fall * (1 - np.exp(-seconds / fall)))
        stretch = breath(first * skin.step, count * skin.step)[:: skin.step]
        tone = skin.tone if skin.hertz * skin.drop < 0.45 * rate else 0.0
        sound = tone * np.sin(phase) + skin.noise * stretch * np.exp(-seconds * 3 / skin.decay)
        fade = 10 ** (-3 * seconds / skin.decay)
        length = self.length(strike, rate)
        envelope = swell(first, count, max(1, round(0.0005 * rate)), length - round(0.01 * rate), round(0.01 * rate))
        return np.asarray(self._gain * strike.strength**1.2 * sound * fade * envelope)

    def _skin(self, strike: Strike) -> Skin:
        below = [number for number in self._skins if number <= strike.number]
        return self._skins[max(below) if below else min(self._skins)]


_KIT = Kit(
    {
        36: Skin(50, 4.0, 1.0, 0.08, 0.35),
        37: Skin(420, 1.4, 0.5, 0.4, 0.07, 2),
        38: Skin(185, 1.6, 0.55, 0.75, 0.24),
        39: Skin(1000, 1.0, 0.05, 0.9, 0.2),
        42: Skin(6200, 1.0, 0.04, 0.5, 0.07, 5),
        44: Skin(5200, 1.0, 0.04, 0.4, 0.06, 5),
        45: Skin(100, 1.7, 0.9, 0.08, 0.45),
        46: Skin(6000, 1.0, 0.05, 0.5, 0.5, 5),
        47: Skin(140, 1.7, 0.9, 0.08, 0.4),
        49: Skin(4300, 1.0, 0.06, 0.7, 1.6, 5),
        50: Skin(190, 1.7, 0.9, 0.08, 0.35),
        51: Skin(3900, 1.0, 0.12, 0.35, 1.1, 5),
        53: Skin(2700, 1.0, 0.35, 0.15, 1.2, 5),
        54: Skin(5600, 1.0, 0.1, 0.55, 0.16, 5),
        56: Skin(640, 1.0, 0.7, 0.03, 0.25),
        60: Skin(330, 1.5, 0.8, 0.08, 0.2),
        61: Skin(230, 1.5, 0.8, 0.08, 0.25),
        63: Skin(260, 1.3, 0.85, 0.1, 0.3),
        70: Skin(5800, 1.0, 0.02, 0.45, 0.05, 5),
        75: Skin(2450, 1.0, 0.7, 0.02, 0.09),
        76: Skin(900, 1.1, 0.75, 0.05, 0.12),
        81: Skin(4200, 1.0, 0.35, 0.02, 1.8),
    },
    gain=0.42,
)  # fmt: skip

INSTRUMENTS: dict[str, Instrument] = {
    "flute": Blown(
        (1.0, 0.42, 0.2, 0.07, 0.045, 0.018, 0.01), attack=0.045, release=0.09, gain=0.33, waver=7, air=0.02
    ),
    "drum kit": _KIT,
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
