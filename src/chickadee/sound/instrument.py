"""Instruments, and the four kinds there are."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from ..caching import cached
from .delay_line import SHORTEST, DelayLine
from .envelopes import fall, fallen, rise, vibrato
from .noise import breath
from .partials import decaying_partials
from .samples import HIGHEST, Samples
from .score import Strike
from .wavetable import Spectrum, WaveTable, audible_harmonics

__all__ = ["Drum", "Held", "Instrument", "Kit", "Plucked", "Struck"]

_LOUDNESS_POWER = 1.2  # amplitude over strength
_STRINGS_KEPT = 64


class Instrument(Protocol):
    """A way to make a note sound."""

    @property
    def release(self) -> float:
        """Seconds to silence once a note is let go."""

    @property
    def damped(self) -> bool:
        """True if letting go ends a note; a drum rings on."""

    def ring(self, strike: Strike) -> float:
        """Seconds until a note that is never let go has faded; infinite where it holds."""

    def samples(self, strike: Strike, first: int, count: int, rate: int) -> Samples:
        """``count`` samples of a note never let go, from the one numbered ``first`` on; shape (count,)."""


@dataclass(frozen=True, slots=True)
class Held:
    """Sounds that hold as long as they are blown, bowed or switched on.

    Harmonic k has the amplitude that ``spectrum`` gives it, times k to the power of minus ``tilt`` where the note is
    at its dullest; louder notes are brighter, and a note opens from dull to bright as it begins.
    """

    spectrum: Spectrum
    level: float
    attack: float = 0.01
    """Seconds."""
    release: float = 0.05
    tilt: float = 0.0
    opening: float = 0.0
    """Seconds in which a note reaches its brightness."""
    wavering: tuple[float, float, float] = (5.0, 0.0, 0.4)
    """Vibrato: Hz, cents, and seconds until it sets in."""
    air: float = 0.0
    """How much breath is heard, six times as much at the start."""
    body: Callable[[NDArray[np.float64]], NDArray[np.float64]] | None = None
    """The gain of the body, or the tube, at frequencies in Hz."""
    layers: tuple[tuple[float, float], ...] = ((0.0, 1.0),)
    """(cents, amplitude) of players together, evenly about the pitch."""
    even: bool = False
    """True if loudness leaves everything but the level as it is."""
    damped: bool = True

    def ring(self, strike: Strike) -> float:
        return float("inf")

    def samples(self, strike: Strike, first: int, count: int, rate: int) -> Samples:
        tables = _tables(self, strike.hertz, rate)
        if tables is None:
            return np.zeros(count, np.float32)
        seconds = np.arange(first, first + count) / rate
        speed, cents, delay = self.wavering
        ahead = vibrato(first, count, rate, speed, cents, delay) if cents else 0.0
        tone: Samples = np.zeros(count, np.float32)
        brightness = self._brightness(strike, first, count, rate)
        for detune, amplitude in self.layers:
            phase = strike.hertz * 2 ** (detune / 1200) * (seconds + ahead)
            dull, bright = tables
            wave = (
                bright.read(phase) if dull is bright else _between(dull.read(phase), bright.read(phase), brightness)
            )
            tone += np.float32(amplitude) * wave
        if self.air:
            tone += np.float32(self.air) * (1 + 5 * fallen(first, count, 0.25, rate)) * breath(first, count)
        attack = self.attack if self.even else self.attack * (1.3 - 0.6 * strike.strength)
        envelope = rise(first, count, max(1, round(attack * rate)))
        return np.asarray(tone * envelope * np.float32(self.level * strike.strength**_LOUDNESS_POWER))

    def _brightness(self, strike: Strike, first: int, count: int, rate: int) -> Samples | np.float32:
        reached = np.float32(0.25 + 0.75 * strike.strength)
        if not self.opening or first > self.opening * rate:
            return reached
        return reached * (np.float32(0.3) + np.float32(0.7) * rise(first, count, round(self.opening * rate)))


def _between(dull: Samples, bright: Samples, part: Samples | np.float32) -> Samples:
    bright -= dull
    bright *= part
    bright += dull
    return bright


@cached(96)
def _tables(instrument: Held, hertz: float, rate: int) -> tuple[WaveTable, WaveTable] | None:
    """An instrument's dullest and brightest wave at a pitch; None above what the rate can hold."""
    harmonics = audible_harmonics(hertz * 1.01, rate)  # room for the vibrato
    if not len(harmonics):
        return None
    amplitudes = instrument.spectrum(harmonics)
    if instrument.body is not None:
        amplitudes = amplitudes * instrument.body(harmonics * hertz)
    bright = WaveTable(amplitudes)
    dull = bright if instrument.tilt == 0 else WaveTable(amplitudes * harmonics**-instrument.tilt)
    return dull, bright


@dataclass(frozen=True, slots=True)
class Struck:
    """Sounds that are struck and fade by themselves, each partial at its own pace."""

    ratios: tuple[float, ...]
    """Partials over the fundamental."""
    amplitudes: tuple[float, ...]
    decays: tuple[float, ...]
    """Seconds to fade by 60 dB, of each partial of middle C; higher notes fade sooner."""
    level: float
    release: float = 0.1
    knock: float = 0.0
    """How loud the hammer or mallet itself is."""
    damped: bool = True

    def ring(self, strike: Strike) -> float:
        return max(self.decays) * _pace(strike) * 1.2

    def samples(self, strike: Strike, first: int, count: int, rate: int) -> Samples:
        ratios = np.array(self.ratios)
        bright = 0.5 + 0.55 * strike.strength
        amplitudes = np.array(self.amplitudes) * bright ** np.log2(np.maximum(ratios, 1.0))
        decays = np.array(self.decays) * _pace(strike)
        tone = decaying_partials(ratios * strike.hertz, amplitudes, decays, first, count, rate)
        if self.knock:
            tone += np.float32(self.knock * bright) * fallen(first, count, 0.06, rate) * breath(first, count)
        envelope = rise(first, count, round(0.002 * rate)) * _last(self, strike, first, count, rate)
        return np.asarray(tone * envelope * np.float32(self.level * strike.strength**_LOUDNESS_POWER))


@dataclass(frozen=True, slots=True)
class Plucked:
    """A plucked string, as a delay line."""

    decay: float
    """Seconds in which middle C fades by 60 dB."""
    dullness: float
    softness: float
    """From 0 to 1, how much of the pluck's edge the finger takes away."""
    pluck: float
    """Where it is plucked, as a part of its length."""
    level: float
    release: float = 0.1
    damped: bool = True

    def ring(self, strike: Strike) -> float:
        return self.decay * _pace(strike) * 1.2

    def samples(self, strike: Strike, first: int, count: int, rate: int) -> Samples:
        if rate / strike.hertz < SHORTEST:  # no string is so short: its fundamental alone
            one = np.ones(1)
            decay = np.array([self.decay * _pace(strike)])
            tone = decaying_partials(one * strike.hertz, 0.4 * one, decay, first, count, rate)
        else:
            tone = _string(self, strike, rate).read(first + count)[first:]
        envelope = rise(first, count, round(0.0015 * rate)) * _last(self, strike, first, count, rate)
        return np.asarray(tone * envelope * np.float32(self.level * strike.strength**_LOUDNESS_POWER))


@cached(_STRINGS_KEPT)
def _string(instrument: Plucked, strike: Strike, rate: int) -> DelayLine:
    """A string that was plucked, in motion; its shape at first by its harmonics, the softer the duller."""
    period = rate / strike.hertz
    harmonics = audible_harmonics(strike.hertz, rate)
    edge = instrument.softness * (1.25 - strike.strength)
    amplitudes = np.sin(np.pi * harmonics * instrument.pluck) / harmonics * np.exp(-edge * (harmonics - 1) / 4)
    shape = np.asarray(WaveTable(amplitudes).read(np.arange(round(period)) / period), dtype=np.float64)
    return DelayLine(period, shape, instrument.decay * _pace(strike) * rate, instrument.dullness)


@dataclass(frozen=True, slots=True)
class Drum:
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
    """How bright the noise is."""


class Kit:
    """A drum for each percussion key, by General MIDI; keys beyond those take the nearest below."""

    release = 0.01
    damped = False

    def __init__(self, drums: dict[int, Drum], level: float) -> None:
        self._drums = drums
        self._level = level

    def ring(self, strike: Strike) -> float:
        return self._drum(strike).decay * 1.2

    def samples(self, strike: Strike, first: int, count: int, rate: int) -> Samples:
        drum = self._drum(strike)
        seconds = np.arange(first, first + count) / rate
        drop = 0.03  # seconds in which the pitch has fallen most of its way
        turns = drum.hertz * (seconds + (drum.drop - 1) * drop * (1 - np.exp(-seconds / drop)))
        tone = drum.tone if drum.hertz * drum.drop < HIGHEST * rate else 0.0
        sound = tone * np.sin(2 * np.pi * turns).astype(np.float32)
        sound += drum.noise * breath(first, count, drum.step) * np.exp(-seconds * 3 / drum.decay)
        envelope = fallen(first, count, drum.decay, rate) * rise(first, count, max(1, round(0.0005 * rate)))
        envelope *= _last(self, strike, first, count, rate)
        level = np.float32(self._level * strike.strength**_LOUDNESS_POWER)
        return np.asarray(sound * envelope * level, dtype=np.float32)

    def _drum(self, strike: Strike) -> Drum:
        below = [number for number in self._drums if number <= strike.number]
        return self._drums[max(below) if below else min(self._drums)]


def _pace(strike: Strike) -> float:
    """How long a note rings, middle C being 1: high notes fade sooner."""
    return float(min(2.0, max(0.25, (261.63 / strike.hertz) ** 0.5)))


def _last(instrument: Instrument, strike: Strike, first: int, count: int, rate: int) -> Samples:
    """Takes the last hundredth of a second of a note's ring to silence."""
    length = round(0.01 * rate)
    return fall(first, count, round(instrument.ring(strike) * rate) - length, length)
