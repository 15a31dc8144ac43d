"""What the partials of a pitch do about a moment: since when they grow, and whether they are struck again or beat."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .pitch import HOP
from .sound_file import Signal

__all__ = ["AFTER", "BEFORE", "UNKNOWN", "Course", "Moment", "course_at"]

_BACK, _ON, _STEP = 0.5, 0.3, 0.01  # seconds before and after a moment in which partials are followed, and between
_SHARP, _FINE, _FINEST = 0.046, 0.07, 0.14  # seconds: windows that are sharp in time, and fine in frequency
BEFORE, AFTER = _BACK + _FINEST, _ON + _FINEST
"""Seconds of samples that are needed before and after a moment."""
_PARTIALS = 4
_GROWN = 0.1  # seconds after a moment by which a note has grown
_BEGUN = 0.08  # of how much a note grows, from which on it has begun
_CALM, _STILL = 12, 0.25  # steps before that, in which no more than this part of it was there
_JUST = 1  # steps before the window of a moment, in which a note that was struck had not begun
_OTHERS = 0.4  # of how large a partial is then, from which on it was there before
_TOLD_APART, _ROUGHLY = 2.0, 0.2  # periods of a window by which partials are to differ
_SAME = 5.0  # Hz within which a partial is one of the note before
_LATE = 0.03  # seconds by which the moment must be late for that to count
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
    before: float
    """The frequency in Hz that was heard before it; 0 for none."""


class Course(NamedTuple):
    """What the partials of a pitch do about a moment."""

    late: float = 0.0
    """Seconds before the moment at which they had begun to grow."""
    again: bool = False
    """Whether they are struck again just then: all are softer for a moment."""
    beats: bool = False
    """Whether they come and go, each for itself, as those of players together do."""


UNKNOWN = Course()
"""Of partials that were not followed."""


def course_at(samples: Signal, place: int, moment: Moment, rate: float) -> Course:
    """What the partials of a moment's pitch do; the moment is at a place of the samples."""
    apart = _apart(moment)
    window = float(np.clip(_TOLD_APART / max(apart[0], 1e-9), _FINE, _FINEST)) if apart[0] > _SAME else _FINE
    seconds, fine = _partials(samples, place, moment.hertz, rate, window)
    shared = (apart * window < _TOLD_APART - _ROUGHLY)[: fine.shape[1]]
    late = _late(seconds, fine, shared, _JUST + round(window / 2 / _STEP))
    seconds, sharp = _partials(samples, place, moment.hertz, rate, _SHARP)
    own = (seconds >= (moment.first - moment.frame) * HOP) & (seconds < (moment.last - moment.frame) * HOP)
    return Course(late if late > _LATE else 0.0, _again(seconds, sharp), _beats(seconds[own], sharp[own]))


def _partials(
    samples: Signal, place: int, hertz: float, rate: float, window: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """How large the partials of a frequency are about a moment: seconds from it, shape (steps,); sizes, shape (steps,
    partials). The ``window`` is so many seconds long."""
    size, step = round(window * rate), round(_STEP * rate)
    middles = np.arange(max(size // 2, place - round(_BACK * rate)), place + round(_ON * rate), step)
    frames = np.stack([samples[middle - size // 2 : middle - size // 2 + size] for middle in middles])
    partials = hertz * np.arange(1, _PARTIALS + 1)
    waves = np.exp(-2j * np.pi * np.outer(np.arange(size), partials[partials < rate / 2]) / rate)
    waves = (np.hanning(size)[:, None] * waves).astype(np.complex64)
    return (middles - place) / rate, np.abs(frames @ waves).astype(np.float64)


def _late(seconds: NDArray[np.float64], sizes: NDArray[np.float64], shared: NDArray[np.bool_], just: int) -> float:
    """By how many seconds a note had begun to grow before second 0, as the partials tell that no other note had.

    ``shared`` are those that the note before may have had; a note that is struck is not there ``just`` before.
    """
    before, soon = seconds < 0, (seconds >= 0) & (seconds < _GROWN)
    grows_to = sizes[soon].max(axis=0)
    there = np.median(sizes[seconds < -_AROUND], axis=0)
    own = (there < _OTHERS * grows_to) & (grows_to > _HEARD * grows_to.max())
    own = own & ~shared if (own & ~shared).any() else own
    if not own.any():
        return 0.0
    total = sizes[:, own].sum(axis=1)
    grown = total[before] - total[before].min()
    most = float(total[soon].max() - total[before].min())
    lately = np.lib.stride_tricks.sliding_window_view(np.pad(grown, (_CALM, 0), mode="edge"), _CALM + 1).max(axis=1)
    small = grown < _BEGUN * most
    early = np.flatnonzero(small & (lately < _STILL * most))  # and no gap between two beats of what has begun
    early = early if len(early) and not small[-just:].any() else np.flatnonzero(small)
    return -float(seconds[before][early[-1]]) if len(early) else 0.0


def _apart(moment: Moment) -> NDArray[np.float64]:
    """How many Hz each partial is away from the nearest of the note before; shape (partials,)."""
    own = moment.hertz * np.arange(1, _PARTIALS + 1)
    before = moment.before * np.maximum(1, np.round(own / moment.before)) if moment.before else 0.0
    found: NDArray[np.float64] = np.abs(own - before)
    return found


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
