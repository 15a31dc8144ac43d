"""What the partials of a pitch do about a moment: whether they are struck again, and whether they beat."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .pitch import HOP
from .sound_file import Signal

__all__ = ["AFTER", "BEFORE", "UNKNOWN", "Course", "Moment", "course_at"]

_BACK, _ON, _STEP = 0.5, 0.3, 0.01  # seconds before and after a moment in which partials are followed, and between
_WINDOW = 0.046  # seconds
BEFORE, AFTER = _BACK + _WINDOW, _ON + _WINDOW
"""Seconds of samples that are needed before and after a moment."""
_PARTIALS = 4
_GROWN = 0.1  # seconds after a moment by which a note has grown
_DIP_SECONDS, _AROUND = 0.05, 0.16  # in which a partial is softer, and with what that is compared
_SOFTER, _ALIKE, _HEARD = 0.85, 0.12, 0.06  # of what is before and after; of one another; of the loudest partial
_MOVING = 4  # steps over which a partial's movement is measured
_BESIDE = 0.06  # seconds on either side of a moment that are left out of it
_TOGETHER, _MOVES = 0.55, 2.0  # the part of the movement that all partials share, at most, of what beats; dB at least


class Moment(NamedTuple):
    """A moment at which a note may begin."""

    frame: int
    hertz: float
    """What is heard after it; 0 where that is not to be followed."""
    first: int
    last: int
    """The frames between which that pitch is heard."""


class Course(NamedTuple):
    """What the partials of a pitch do about a moment."""

    again: bool = False
    """Whether they are struck again just then: all are softer for a moment."""
    beats: bool = False
    """Whether they come and go, each for itself, as those of players together do."""


UNKNOWN = Course()
"""Of partials that were not followed."""


def course_at(samples: Signal, place: int, moment: Moment, rate: float) -> Course:
    """What the partials of a moment's pitch do; the moment is at a place of the samples."""
    seconds, sizes = _partials(samples, place, moment.hertz, rate)
    own = (seconds >= (moment.first - moment.frame) * HOP) & (seconds < (moment.last - moment.frame) * HOP)
    return Course(_again(seconds, sizes), _beats(seconds[own], sizes[own]))


def _partials(
    samples: Signal, place: int, hertz: float, rate: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """How large the partials of a frequency are about a moment: seconds from it, shape (steps,); sizes, shape (steps,
    partials)."""
    size, step = round(_WINDOW * rate), round(_STEP * rate)
    middles = np.arange(max(size // 2, place - round(_BACK * rate)), place + round(_ON * rate), step)
    frames = np.stack([samples[middle - size // 2 : middle - size // 2 + size] for middle in middles])
    partials = hertz * np.arange(1, _PARTIALS + 1)
    waves = np.exp(-2j * np.pi * np.outer(np.arange(size), partials[partials < rate / 2]) / rate)
    waves = (np.hanning(size)[:, None] * waves).astype(np.complex64)
    return (middles - place) / rate, np.abs(frames @ waves).astype(np.float64)


def _again(seconds: NDArray[np.float64], sizes: NDArray[np.float64]) -> bool:
    """Whether all partials that are heard are as much softer at second 0 than before and after."""
    lows = sizes[np.abs(seconds) <= _DIP_SECONDS].min(axis=0)
    before, after = (seconds < 0) & (seconds > -_AROUND), (seconds >= 0) & (seconds < _GROWN)
    highs = np.minimum(sizes[before].max(axis=0), sizes[after].max(axis=0))
    depths = (lows / np.maximum(highs, 1e-12))[highs > _HEARD * highs.max()]
    return bool(len(depths) > 1 and depths.max() < _SOFTER and np.ptp(depths) < _ALIKE)


def _beats(seconds: NDArray[np.float64], sizes: NDArray[np.float64]) -> bool:
    """Whether the partials come and go each for itself. What is struck again moves all of them together."""
    if len(sizes) <= _MOVING:
        return False
    highs = sizes.max(axis=0)
    heard = sizes[:, highs > _HEARD * highs.max()]
    levels = 20 * np.log10(np.maximum(heard, 1e-12 + _HEARD / 2 * heard.max(axis=0)))
    moves = levels[_MOVING:] - levels[:-_MOVING]
    moves = moves[np.abs(seconds[_MOVING:] + seconds[:-_MOVING]) / 2 > _BESIDE]
    if moves.shape[1] < 2 or not len(moves):
        return False
    every = float(np.abs(moves).mean())
    return every > _MOVES and float(np.abs(moves.mean(axis=1)).mean()) < _TOGETHER * every
