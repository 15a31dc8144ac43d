"""Measurements of a recording every 5 ms: its pitch, its spectral flux and its power."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .pitch import HOP, Candidates, PitchFrames, pitch_path
from .sound_file import Signal
from .spectral_flux import FluxFrames, SpectralFlux, flux_of

__all__ = ["Track", "periodicity", "track_of", "usual_power"]

_LOUD = -15.0  # dB below the usual power, down to which a frame is loud
_CLEAREST = 0.9  # of the loud frames, that are less periodic than the clearest ones
_AUDIBLE = -50.0  # dB below the loudest
_USUAL = 0.95  # of the audible frames, that are not louder than usual


class Track(NamedTuple):
    """The measurements. Frame ``n`` has its middle at ``n * HOP`` seconds."""

    hertz: NDArray[np.float32]
    """Candidates for the pitch in Hz, shape (frames, 5); 0 where there is none."""
    strength: NDArray[np.float32]
    """How periodic the sound is at each, to 1."""
    path: NDArray[np.float32]
    """The pitch that was followed, in Hz, shape (frames,); 0 where nothing sounds."""
    clear: NDArray[np.float32]
    """How periodic it is there."""
    flux: NDArray[np.float32]
    """How much of the spectrum is new, shape (frames,)."""
    power: NDArray[np.float32]
    """The mean square of each frame."""

    def part(self, first: int, last: int) -> Track:
        """The frames from one up to another."""
        return Track(*(each[first:last] for each in self))


def track_of(blocks: Iterable[Signal], rate: float) -> tuple[Track, int]:
    """Measure samples of one channel, so many a second, that come in blocks; return also how many there were."""
    pitch = PitchFrames(rate)
    flux = FluxFrames(rate)
    candidates: list[Candidates] = []
    grown: list[SpectralFlux] = []
    samples = 0
    for block in blocks:
        samples += len(block)
        candidates.append(pitch.of(block))
        grown.append(flux.of(block))
    nothing = np.zeros(0, np.float32)
    candidates.append(pitch.of(nothing, last=True))
    grown.append(flux.of(nothing, last=True))
    frames = min(sum(len(each.power) for each in candidates), sum(len(each.grown) for each in grown))
    frames = min(frames, int(samples / rate / HOP) + 1)
    whole = Candidates(
        *(
            np.concatenate([getattr(each, name) for each in candidates])[:frames]
            for name in ("hertz", "strength", "power")
        )
    )
    growing = SpectralFlux(
        *(np.concatenate([getattr(each, name) for each in grown])[:frames] for name in ("grown", "size", "power"))
    )
    path, clear = (each.astype(np.float32) for each in pitch_path(whole))
    part = flux_of(growing).astype(np.float32)
    return Track(whole.hertz, whole.strength, path, clear, part, growing.power), samples


def usual_power(track: Track) -> float:
    """Return the mean square that one audible frame in twenty is above: a bump is louder, but soon over."""
    audible = track.power[track.power > track.power.max(initial=0.0) * 10 ** (_AUDIBLE / 10)]
    return float(np.quantile(audible, _USUAL)) if len(audible) else 0.0


def periodicity(track: Track) -> float:
    """How periodic the clearest tenth of what is loud is, to 1: nearly 0 for noise, also where two notes sound."""
    loud = track.power > usual_power(track) * 10 ** (_LOUD / 10)
    return float(np.quantile(track.strength[loud].max(axis=1), _CLEAREST)) if loud.any() else 0.0
