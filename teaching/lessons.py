"""Lessons of the network: moments and semitones of a piece, and how near a note's onset they are."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from chickadee.hearing.features import NOTES, Features
from chickadee.hearing.onsets import DenseLayer, onset_probabilities
from chickadee.hearing.semitones import STEP, joined, semitone_spectra
from chickadee.hearing.track import track_of, usual_power
from melodies import RATE, Piece, Sounding

__all__ = ["Lesson", "lesson", "sight_of"]

_NEAR = 0.016  # seconds: how exactly the network is to say when
_CLOSE = 0.1  # seconds about the beginning of a note that are all shown
_SOON = 4, 14  # frames before and after a beginning, in which more is shown
# how much of that, and of the rest, is shown
_OFTEN = 0.15
_SELDOM = 0.05
_WRONG = 0.1  # by how much an earlier network may be wrong; what it was more wrong about is all shown


class Lesson(NamedTuple):
    """Moments and semitones."""

    seen: NDArray[np.float16]
    """Shape (cells, FEATURE_COUNT)."""
    goal: NDArray[np.float32]
    """From 0 to 1, which is where a note begins; shape (cells,)."""
    weight: NDArray[np.float32]
    """For how many like it each stands; shape (cells,)."""


def lesson(made: Piece, seed: int, network: Sequence[DenseLayer] | None = None) -> Lesson:
    """The lesson of a piece; with a network that has learned before, all that it is wrong about is in it."""
    features = sight_of(made)
    frames, places = features.worth_a_look()
    away = _away(frames, places, made.notes)
    goal = np.exp(-0.5 * np.minimum(away / _NEAR, 9) ** 2).astype(np.float32)
    shown = np.where(away < _CLOSE, 1.0, np.where(_soon(features.frames, made.notes)[frames], _OFTEN, _SELDOM))
    if network is not None:
        wrong = np.abs(onset_probabilities(features, network)[frames, places] - goal) > _WRONG
        shown = np.where(wrong, 1.0, shown)
    taken = np.random.default_rng(seed).random(len(frames)) < shown
    seen = features.of(frames[taken], places[taken]).T.astype(np.float16)
    return Lesson(seen, goal[taken], (1 / shown[taken]).astype(np.float32))


def sight_of(made: Piece) -> Features:
    """The features of a piece."""
    blocks = [made.samples]
    track, _ = track_of(blocks, RATE)
    return Features(joined(list(semitone_spectra(blocks, RATE))), track, usual_power(track))


def _away(frames: NDArray[np.intp], places: NDArray[np.intp], notes: Sequence[Sounding]) -> NDArray[np.float64]:
    """How many seconds each cell is away from the nearest beginning of its note."""
    away = np.full(len(frames), np.inf)
    for start, number in notes:
        own = places == number - NOTES.start
        away[own] = np.minimum(away[own], np.abs(frames[own] * STEP - start))
    return away


def _soon(count: int, notes: Sequence[Sounding]) -> NDArray[np.bool_]:
    """The frames about the beginning of any note."""
    found = np.zeros(count, bool)
    for start, _ in notes:
        frame = round(start / STEP)
        found[max(0, frame - _SOON[0]) : frame + _SOON[1]] = True
    return found
