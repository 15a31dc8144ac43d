"""The note that is sung now: its number, and by how many cents it is off."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass

import numpy as np

from .pitch import Candidates, PitchFrames, pitch_path
from .sound_file import Signal, Thinning

__all__ = ["Now", "Tuner"]

_RATE = 22_050  # Hz, about, at which it listens
# of 5 ms: that are looked at, and that must agree
_FRAMES = 24
_LAST = 6
_LEAST_SURE = 0.7  # how periodic it is
_QUIET = -60.0  # dB below the loudest there can be


@dataclass(frozen=True, slots=True)
class Now:
    """The pitch that is sung now."""

    hertz: float
    number: int
    """The nearest MIDI number."""
    cents: float
    """By how much it is above that, or below; from -50 to 50."""


class Tuner:
    """Listens to samples of one channel as they come."""

    def __init__(self, rate: int, tuning: float = 440.0) -> None:
        """``tuning`` is the frequency of A4 in Hz."""
        part = max(1, round(rate / _RATE))
        self._thinning = Thinning(part) if part > 1 else None
        self._pitch = PitchFrames(rate / part)
        self._tuning = tuning
        self._known: deque[tuple[np.ndarray, np.ndarray, float]] = deque(maxlen=_FRAMES)
        self.level = _QUIET - 30
        """How loud the last samples were, in dB below the loudest there can be."""

    def of(self, samples: Signal) -> Now | None:
        """The note that is sung at the end of some more samples; None where there is none."""
        if len(samples):
            self.level = float(10 * np.log10(np.mean(samples.astype(np.float64) ** 2) + 1e-9))
        thinned = self._thinning.thinned(samples) if self._thinning is not None else samples
        found = self._pitch.of(thinned)
        self._known.extend(zip(found.hertz, found.strength, found.power.tolist(), strict=True))
        if len(self._known) < _LAST:
            return None
        hertz, strength, power = zip(*self._known, strict=True)
        path, sure = pitch_path(Candidates(np.stack(hertz), np.stack(strength), np.array(power, np.float32)))
        last = path[-_LAST:]
        if self.level < _QUIET or (last <= 0).any() or sure[-_LAST:].mean() < _LEAST_SURE:
            return None
        sung = float(np.median(last))
        exact = 69 + 12 * np.log2(sung / self._tuning)
        number = round(float(exact))
        return Now(sung, number, float(100 * (exact - number))) if 0 <= number <= 127 else None
