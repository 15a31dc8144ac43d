"""What there is to see about any moment and any semitone, for the network that says where notes begin."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .spans import numbers_of
from .tones import TONES, Tones
from .track import Track

__all__ = ["NOTES", "SIGHTS", "Sight"]

NOTES = range(TONES.start, 108)
"""The MIDI numbers of the notes that may begin."""
_EARLIEST, _LATEST = 64, 36  # frames of 10 ms before and after a moment that are seen
_MOMENTS = -_EARLIEST, -48, -36, -27, -20, -14, -10, -7, -4, -2, 0, 2, 4, 6, 8, 11, 15, 20, 27, _LATEST
_STRIKES = -12, -9, -6, -5, -4, -3, -2, -1, 0, 1, 2, 3, 4, 5, 6, 8, 11
"""Frames from the moment, at which all is seen, and at which it is seen whether something is struck."""
_PARTIALS = 0, 12, 19, 24
_BESIDE = (*_PARTIALS, 28, 31, -12, -19, -24, 1, -1, 2, -2, 7, -7, 5, -5)
"""Semitones from the note: its partials, what it may be a partial of, and its neighbours."""
_BELOW, _ABOVE = 24, 31  # the most of them
_DEEP = 50.0  # dB below the loudest about a frame, down to which levels are seen
_ABOUT, _TEN = 15, 10  # tens of frames on either side that say what is loudest
_FAINT = 0.02  # of the loudest of all, that the loudest about a frame is taken for at least
_HEARD, _SURE, _LOUD = 0.3, 0.3, 0.5  # levels and strengths from which on the habits of the partials are measured
_MOVES = 5  # frames on either side over which they move
_HABITS, _APART = 10, 1.0  # how many there are; how far apart the partials of players together move
_RISING = 0, 4, 8, 12  # frames from the moment, in one of which a note that begins is to be heard
_WORTH_LEVEL, _WORTH_STRENGTH = 0.35, 0.6  # by its level or its period

SIGHTS = len(_MOMENTS) * (len(_BESIDE) + 7) + 3 * len(_STRIKES) + _HABITS
"""How many numbers are seen of each moment and semitone."""


class Sight:
    """What some frames of 10 ms show; all levels are from 0, 50 dB below the loudest about a frame, to 1."""

    def __init__(self, tones: Tones, track: Track, tuning: float = 440.0) -> None:
        """``track`` is of the same time; frame ``n`` has its first 5 ms at ``2 * n``."""
        self.frames = len(tones.power)
        loudest = _loudest(tones.sizes)
        self._tones = _level(tones.sizes, loudest[:, None])
        level = _level(np.sqrt(tones.power), loudest)
        self._periods = _on_notes(self.frames, track.hertz, track.strength, tuning)
        path = _on_notes(self.frames, track.path[:, None], track.clear[:, None], tuning)
        self._habits = _habits(self._tones, path, level)
        about = (_EARLIEST, _LATEST)
        around = (about, (_BELOW, _ABOVE))
        self._shown_tones, self._shown_periods, self._shown_path = (
            np.pad(each, around) for each in (self._tones, self._periods, path)
        )
        strikes = (
            _halves(self.frames, track.growth).max(axis=1),
            _level(np.sqrt(_halves(self.frames, track.power).min(axis=1)), loudest),  # softer for a moment
            _halves(self.frames, track.clear).min(axis=1),
        )
        self._strikes = [np.pad(each, about) for each in strikes]
        self._level, self._top = np.pad(level, about), np.pad(self._tones.max(axis=1, initial=0), about)

    @property
    def together(self) -> bool:
        """Whether players together are heard: their partials come and go each for itself."""
        return bool(self._habits[0] > _APART)

    def worth_a_look(self) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
        """The moments and places in NOTES where a note may begin: those where one is heard soon after."""
        levels, periods = (
            np.maximum.reduce([np.pad(each, ((0, _RISING[-1]), (0, 0)))[by : by + self.frames] for by in _RISING])
            for each in (self._tones[:, : len(NOTES)], self._periods)
        )
        frames, places = np.nonzero((levels > _WORTH_LEVEL) | (periods > _WORTH_STRENGTH))
        return frames, places

    def of(self, frames: NDArray[np.intp], places: NDArray[np.intp]) -> NDArray[np.float32]:
        """What is seen of moments and places in NOTES, as many of one as of the other; shape (cells, SIGHTS)."""
        moments = frames[:, None] + _EARLIEST + np.array(_MOMENTS)
        notes = places[:, None] + _BELOW
        beside = np.maximum(self._shown_path[moments, notes + 1], self._shown_path[moments, notes - 1])
        return np.concatenate(
            [
                *(self._shown_tones[moments, notes + by] for by in _BESIDE),
                *(self._shown_periods[moments, notes + by] for by in (0, 12, -12)),
                self._shown_path[moments, notes],
                beside,
                *(each[frames[:, None] + _EARLIEST + np.array(_STRIKES)] for each in self._strikes),
                self._level[moments],
                self._top[moments],
                np.broadcast_to(self._habits, (len(frames), _HABITS)),
            ],
            axis=1,
        )


def _loudest(sizes: NDArray[np.float32]) -> NDArray[np.float32]:
    """The loudest tone within some 1.5 seconds of each frame."""
    tops = sizes.max(axis=1, initial=0)
    tens = np.pad(tops, (_TEN * _ABOUT, _TEN * _ABOUT - len(tops) % -_TEN)).reshape(-1, _TEN).max(axis=1)
    around = np.lib.stride_tricks.sliding_window_view(tens, 2 * _ABOUT + 1).max(axis=1)
    found: NDArray[np.float32] = np.repeat(around, _TEN)[: len(tops)]
    return np.maximum(found, np.float32(_FAINT * tops.max(initial=0) + 1e-9))


def _level(sizes: NDArray[np.float32], loudest: NDArray[np.float32]) -> NDArray[np.float32]:
    decibels = 20 * np.log10(np.maximum(sizes / loudest, 1e-9))
    return np.asarray(np.maximum(0, 1 + decibels / _DEEP), np.float32)


def _halves(frames: int, values: NDArray[np.float32]) -> NDArray[np.float32]:
    """What was measured every 5 ms, as so many frames of two; shape (frames, 2)."""
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


def _habits(tones: NDArray[np.float32], path: NDArray[np.float32], level: NDArray[np.float32]) -> NDArray[np.float32]:
    """What the partials of the pitch do on the whole."""
    places, clear = path.argmax(axis=1), path.max(axis=1, initial=0)
    sounds = (clear > _SURE) & (level > _LOUD)
    if sounds.sum() <= _MOVES:
        return np.zeros(_HABITS, np.float32)
    above = np.pad(tones, ((_MOVES, _MOVES), (0, _ABOVE)))
    rows, partials = np.arange(len(tones))[:, None], places[:, None] + np.array(_PARTIALS)
    before, now, after = (above[rows + by, partials] for by in (0, _MOVES, 2 * _MOVES))
    heard = np.maximum(before, after) > _HEARD
    moves = np.where(heard, after - before, 0)
    count = np.maximum(1, heard.sum(axis=1))
    mean = moves.sum(axis=1) / count
    apart = np.sqrt((np.where(heard, moves - mean[:, None], 0) ** 2).sum(axis=1) / count)
    stays = np.pad(places, _MOVES, mode="edge")
    stays = sounds & (stays[2 * _MOVES :] == places) & (stays[: -2 * _MOVES] == places)
    moving = [
        float(each[stays].mean()) if stays.any() else 0.0 for each in (apart, np.abs(mean), np.abs(moves[:, 0]))
    ]
    return np.array(
        [*(8 * each for each in moving), clear[sounds].mean(), sounds.mean(), *now[sounds].mean(axis=0),
         10 * np.abs(np.diff(level)).mean()],
        np.float32,
    )  # fmt: skip
