"""The features of any moment and any semitone, for the network that finds onsets."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import maximum_filter1d

from .pitch import numbers_of
from .semitones import SEMITONES, SemitoneSpectrum
from .track import Track

__all__ = ["FEATURE_COUNT", "NOTES", "Features"]

NOTES = range(SEMITONES.start, 108)
"""The MIDI numbers of the notes that may begin."""
# frames of 10 ms before and after a moment that are seen
_EARLIEST = 64
_LATEST = 36
_MOMENTS: tuple[int, ...]
_MOMENTS = -_EARLIEST, -48, -36, -27, -20, -14, -10, -7, -4, -2, 0, 2, 4, 6, 8, 11, 15, 20, 27, _LATEST
_ONSET_MOMENTS: tuple[int, ...] = -12, -9, -6, -5, -4, -3, -2, -1, 0, 1, 2, 3, 4, 5, 6, 8, 11
"""Frames from the moment: those of all features, and those of the features of an onset."""
_PARTIALS = 0, 12, 19, 24
_BESIDE = (*_PARTIALS, 28, 31, -12, -19, -24, 1, -1, 2, -2, 7, -7, 5, -5)
"""Semitones from the note: its partials, what it may be a partial of, and its neighbours."""
_TOGETHER = range(1, 5), range(5, 9), range(9, 17)
"""The orders of partials that are seen together, since each alone may beat."""
# the most semitones beside a note that have features
_BELOW = 24
_ABOVE = 31
_WIDTH = _BELOW + len(SEMITONES) + _ABOVE
_DEEP = 50.0  # dB below the loudest about a frame, down to which levels are seen
_ABOUT = 150  # frames on either side that say what is loudest
_FAINT = 0.02  # of the usual loudness, that the loudest about a frame is taken for at least
_RISING = 0, 4, 8, 12  # frames from the moment, in one of which a note that begins is to be heard
# by its level or its period
_WORTH_LEVEL = 0.35
_WORTH_STRENGTH = 0.6
_BENDS_OVER = 2  # frames over which it is seen whether a phase goes on as before

FEATURE_COUNT = len(_MOMENTS) * (len(_BESIDE) + len(_TOGETHER) + 8) + (3 + len(_PARTIALS) + 2) * len(_ONSET_MOMENTS)
"""How many features each moment and semitone has."""


class _View(NamedTuple):
    """The features at some moments about the one in question."""

    values: NDArray[np.float32]
    """Of the earliest moment's frame on, in one row: a value of each frame, or one of each of its semitones."""
    moments: tuple[int, ...]
    of_semitones: bool


class Features:
    """The features of some frames of 10 ms; levels are from 0, 50 dB below the loudest about a frame, to 1."""

    def __init__(self, spectrum: SemitoneSpectrum, track: Track, usual: float, tuning: float = 440.0) -> None:
        """``track`` is of the same time; frame ``n`` has its first 5 ms at ``2 * n``.

        ``usual`` is the usual power of the whole recording, so that what is seen of a moment does not hang on where
        this part of it begins.
        """
        self.frames = len(spectrum.power)
        sizes = np.abs(spectrum.waves)
        loudest = _loudest(sizes, _FAINT * np.sqrt(2 * usual))
        self._tones = _level(sizes, loudest[:, None])
        self._periods = _on_notes(self.frames, track.hertz, track.strength, tuning)
        path = _on_notes(self.frames, track.path[:, None], track.clear[:, None], tuning)
        beside = np.pad(path, ((0, 0), (1, 1)))
        level = _level(np.sqrt(spectrum.power), loudest)
        partials = [_level(_sum(sizes, orders), loudest[:, None]) for orders in _TOGETHER]
        bends, *steps = _bends(spectrum.waves, self._tones)
        self._views = [
            *_views(self._tones, _MOMENTS, _BESIDE),
            *(view for each in partials for view in _views(each, _MOMENTS)),
            *_views(self._periods, _MOMENTS, (0, 12, -12)),
            *_views(path, _MOMENTS),
            *_views(np.maximum(beside[:, 2:], beside[:, :-2]), _MOMENTS),
            _view(_halves(self.frames, track.flux).max(axis=1), _ONSET_MOMENTS),
            _view(
                _level(np.sqrt(_halves(self.frames, track.power).min(axis=1)), loudest), _ONSET_MOMENTS
            ),  # a short dip
            _view(_halves(self.frames, track.clear).min(axis=1), _ONSET_MOMENTS),
            *_views(bends, _ONSET_MOMENTS, _PARTIALS),
            *(view for each in steps for view in _views(each, _ONSET_MOMENTS)),
            *_views(_off(self.frames, track.path, tuning), _MOMENTS),
            _view(level, _MOMENTS),
            _view(self._tones.max(axis=1, initial=0), _MOMENTS),
        ]

    def worth_a_look(self) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
        """The moments and places in NOTES where a note may begin: those where one is heard soon after."""
        levels, periods = (
            np.maximum.reduce([np.pad(each, ((0, _RISING[-1]), (0, 0)))[by : by + self.frames] for by in _RISING])
            for each in (self._tones[:, : len(NOTES)], self._periods)
        )
        frames, places = np.nonzero((levels > _WORTH_LEVEL) | (periods > _WORTH_STRENGTH))
        return frames, places

    def of(self, frames: NDArray[np.intp], places: NDArray[np.intp]) -> NDArray[np.float32]:
        """Return the features of moments and places in NOTES, as many of each; shape (FEATURE_COUNT, cells)."""
        found = np.empty((FEATURE_COUNT, len(frames)), np.float32)
        of_frames = {each: frames + np.array(each)[:, None] + _EARLIEST for each in (_MOMENTS, _ONSET_MOMENTS)}
        of_semitones = {each: rows * _WIDTH + places for each, rows in of_frames.items()}
        first = 0
        for view in self._views:
            at = (of_semitones if view.of_semitones else of_frames)[view.moments]
            np.take(view.values, at, out=found[first : first + len(at)], mode="clip")
            first += len(at)
        return found


def _views(values: NDArray[np.float32], moments: tuple[int, ...], beside: Sequence[int] = (0,)) -> Iterator[_View]:
    """Views of some semitones beside the one in question; the values are of each frame and semitone."""
    right = _WIDTH - _BELOW - values.shape[1]
    row = np.pad(values, ((_EARLIEST, _LATEST), (_BELOW, right))).ravel()
    for by in beside:
        yield _View(row[_BELOW + by :], moments, True)


def _view(values: NDArray[np.float32], moments: tuple[int, ...]) -> _View:
    """A view of what is the same for all semitones; the values are of each frame."""
    return _View(np.pad(values, (_EARLIEST, _LATEST)), moments, False)


def _loudest(sizes: NDArray[np.float32], least: float) -> NDArray[np.float32]:
    """The loudest tone within some 1.5 seconds of each frame, or ``least`` where that is more."""
    around = maximum_filter1d(sizes.max(axis=1, initial=0), 2 * _ABOUT + 1, mode="nearest")
    return np.asarray(np.maximum(around, least + 1e-9), np.float32)


def _sum(sizes: NDArray[np.float32], orders: range) -> NDArray[np.float32]:
    """The amplitude of some partials of each of NOTES together."""
    above = [round(12 * np.log2(order)) for order in orders]
    power = np.pad(sizes**2, ((0, 0), (0, above[-1])))
    found: NDArray[np.float32] = np.sqrt(sum(power[:, by : by + len(NOTES)] for by in above))
    return found


def _level(sizes: NDArray[np.float32], loudest: NDArray[np.float32]) -> NDArray[np.float32]:
    decibels = 20 * np.log10(np.maximum(sizes / loudest, 1e-9))
    return np.asarray(np.maximum(0, 1 + decibels / _DEEP), np.float32)


def _bends(waves: NDArray[np.complex64], levels: NDArray[np.float32]) -> list[NDArray[np.float32]]:
    """How far the phase of each tone is from where it would have gone, from 0 to 1 and as much as it is heard; how
    far the second partial is out of step with the first; and the third with both.

    Where a held pitch wavers a little, they keep step. After Bello and others, On the use of phase and energy for
    musical onset detection in the complex domain (2004).
    """
    over = _BENDS_OVER
    turns = np.pad(waves / np.maximum(np.abs(waves), 1e-12), ((over, over), (0, _PARTIALS[2])), mode="edge")
    turns = turns[2 * over :] * np.conj(turns[over:-over]) ** 2 * turns[: -2 * over]
    heard = np.pad(levels, ((over, over), (0, _PARTIALS[2])))
    heard = np.minimum.reduce([heard[2 * over :], heard[over:-over], heard[: -2 * over]])
    first, second, third = (slice(by, by + levels.shape[1]) for by in _PARTIALS[:3])
    two = np.minimum(heard[:, first], heard[:, second])
    steps = (
        (turns[:, first], heard[:, first]),
        (turns[:, second] * np.conj(turns[:, first]) ** 2, two),
        (turns[:, third] * np.conj(turns[:, second] * turns[:, first]), np.minimum(two, heard[:, third])),
    )
    return [np.asarray(np.abs(np.angle(turn)) / np.pi * loud, np.float32) for turn, loud in steps]


def _halves(frames: int, values: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return measurements of every 5 ms as so many frames of two; shape (frames, 2)."""
    return np.pad(values, (0, max(0, 2 * frames - len(values))))[: 2 * frames].reshape(-1, 2)


def _on_notes(
    frames: int, hertz: NDArray[np.float32], strength: NDArray[np.float32], tuning: float
) -> NDArray[np.float32]:
    """Strengths of every 5 ms on the nearest notes, the larger of two; shape (frames, notes)."""
    found = np.zeros((frames, len(NOTES)), np.float32)
    rows = np.broadcast_to((np.arange(len(hertz)) // 2)[:, None], hertz.shape)
    places = np.rint(np.nan_to_num(numbers_of(hertz, tuning), nan=-1.0)).astype(np.intp) - NOTES.start
    inside = (places >= 0) & (places < len(NOTES)) & (rows < frames)
    np.maximum.at(found, (rows[inside], places[inside]), strength[inside])
    return found


def _off(frames: int, path: NDArray[np.float32], tuning: float) -> NDArray[np.float32]:
    """By how many semitones the pitch that was followed is above each note, where it is next to it; shape (frames,
    notes)."""
    pitch = np.nan_to_num(numbers_of(_halves(frames, path)[:, :1], tuning), nan=-1.0)
    off = pitch - np.array(NOTES)
    return np.where(np.abs(off) < 1, off, 0).astype(np.float32)
