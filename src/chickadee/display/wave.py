"""The picture of a note: its wave, its spectrum, its frequency worked out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..sound.instruments import INSTRUMENTS
from ..sound.score import Strike
from ..theory.frequency import frequency

__all__ = ["AUDIBLE", "NoteWave", "formula", "octaves"]

AUDIBLE = (20.0, 20_000.0)
"""The frequencies that young ears hear, in Hz."""

_RATE = 48_000
_SPECTRUM = 1 << 14  # samples
_SETTLED = 0.3  # seconds after the strike at which a note is looked at


@dataclass(frozen=True)
class NoteWave:
    """One note of a sound, looked at once it has settled.

    >>> wave = NoteWave("sine", 69)
    >>> frequencies, levels = wave.spectrum()
    >>> abs(float(frequencies[levels.argmax()]) - wave.hertz) < 2
    True
    """

    sound: str
    number: int
    """The MIDI number."""
    tuning: float = 440.0
    """The frequency of A4, in Hz."""

    @property
    def hertz(self) -> float:
        """The frequency in Hz."""
        return frequency(self.number, self.tuning)

    def wave(self, seconds: float, points: int = 600) -> NDArray[np.float64]:
        """The wave over some seconds from a rising crossing of zero on, its largest swing 1; shape (points,)."""
        samples = self._samples((_SETTLED + seconds + 2 / self.hertz) * _RATE)
        begins = round(_SETTLED * _RATE)
        rising = np.flatnonzero((samples[begins:-1] <= 0) & (samples[begins + 1 :] > 0))
        first = begins + (int(rising[0]) if len(rising) else 0)
        places = first + np.linspace(0, seconds * _RATE, points)
        found = np.interp(places, np.arange(len(samples)), samples)
        return np.asarray(found / max(1e-9, np.abs(found).max()))

    def spectrum(self) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Frequencies in Hz and levels in dB below the strongest, down to -80."""
        samples = self._samples(_SETTLED * _RATE + _SPECTRUM)[-_SPECTRUM:]
        power = np.abs(np.fft.rfft(samples * np.blackman(len(samples))))
        levels = 20 * np.log10(np.maximum(power / max(1e-12, power.max()), 1e-4))
        return np.asarray(np.fft.rfftfreq(len(samples), 1 / _RATE), dtype=np.float64), np.asarray(levels)

    def _samples(self, least: float) -> NDArray[np.float64]:
        count = -(-int(least) // _SPECTRUM) * _SPECTRUM  # the same for most notes, so that vibrato is made once
        strike = Strike(self.number, self.hertz, 0.63)
        return INSTRUMENTS[self.sound].samples(strike, 0, count, _RATE).astype(np.float64)


def formula(number: int, tuning: float = 440.0) -> str:
    """From number to frequency, worked through.

    >>> formula(60)
    '440 Hz × 2^((60 − 69) / 12) = 440 Hz × 0.59460 = 261.63 Hz'
    """
    factor = 2 ** ((number - 69) / 12)
    return f"{tuning:g} Hz × 2^(({number} − 69) / 12) = {tuning:g} Hz × {factor:.5f} = {tuning * factor:.2f} Hz"


def octaves(number: int, tuning: float = 440.0) -> list[tuple[int, float]]:
    """(MIDI number, Hz) of the same note in every octave: each frequency is double the one before."""
    return [(each, frequency(each, tuning)) for each in range(number % 12, 128, 12)]
