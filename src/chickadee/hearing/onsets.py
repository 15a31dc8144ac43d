"""Onsets: for every moment and semitone a small network estimates the probability that a note begins.

Its inputs are the features of that moment (`features`): the semitones about the one in question and their phases, how
periodic the sound is there, the pitch that was followed, and the spectral flux, for a second in all. It was trained
with melodies of made-up instruments and of our own sounds by `teaching/teach.py`, which wrote `onsets.npz`.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cache
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .features import NOTES, Features
from .pitch import HOP, numbers_of
from .semitones import STEP, SemitoneSpectrum, joined
from .track import Track, usual_power

__all__ = ["DenseLayer", "Onset", "onset_probabilities", "onsets", "probabilities"]

_LEAST_CONFIDENCE = 0.4
_CHUNK_FRAMES = 3000
_CONTEXT_FRAMES = 200  # on either side of a chunk
_BATCH = 4096  # moments and semitones that go through the network at once
_TOGETHER_FRAMES = 5  # about an onset, in which what begins begins with it
_AGAIN_FRAMES = 9  # about an onset, in which the same pitch does not begin again
_LATER_FRAMES = 3  # after an onset, from which on another one is later
_EARLIER = 0.7  # of the highest confidence of a rise, from which on an earlier moment of it is the onset
_PARTIALS = 12, 19, 24, 28, 31
_CLEAR = 0.9  # of the confidence of a note whose partial another may be, that it needs to be one
_MOST_TOGETHER = 3
# an onset may be told an octave too low: its confidence then, the frames of the track that tell, and how many agree
_DOUBTED = 0.8
_SETTLED = slice(4, 30)
_AGREEING = 0.7
_IN_TUNE = 0.6  # semitones
_NEAR_FRAMES = 3  # on either side of an onset, which say when exactly it is


class Onset(NamedTuple):
    """The beginning of a note."""

    start: float
    """Seconds."""
    number: int
    """The nearest MIDI number."""
    confidence: float
    """From 0 to 1."""


class DenseLayer(NamedTuple):
    """A dense layer: ``outputs = inputs @ weights + bias``."""

    weights: NDArray[np.float32]
    """Shape (inputs, outputs)."""
    bias: NDArray[np.float32]
    """Shape (outputs,)."""


def onsets(spectra: Iterable[SemitoneSpectrum], track: Track, tuning: float = 440.0) -> list[Onset]:
    """Find the onsets of a recording, in order.

    They are looked for in its semitone spectrum, block by block, and in the measurements of the same time; ``tuning``
    is the frequency of A4 in Hz.
    """
    found: list[_Candidate] = []
    usual = usual_power(track)
    for first, begin, end, chunk in _chunks(spectra):
        features = Features(chunk, track.part(2 * first, 2 * (first + len(chunk.power))), usual, tuning)
        found += _candidates(features, first, begin, end)
    numbers = numbers_of(track.path, tuning)
    return sorted(_in_octave(onset, numbers) for onset in _most_confident(found))


def onset_probabilities(
    features: Features, network: Sequence[DenseLayer] | None = None, first: int = 0, stop: int | None = None
) -> NDArray[np.float32]:
    """Return the probability of an onset, shape (frames, notes).

    It is estimated from frame ``first`` up to ``stop``, and is 0 elsewhere.
    """
    found = np.zeros((features.frames, len(NOTES)), np.float32)
    frames, places = features.worth_a_look()
    inside = slice(*np.searchsorted(frames, (first, features.frames if stop is None else stop)))
    frames = frames[inside]
    places = places[inside]
    for start in range(0, len(frames), _BATCH):
        batch = frames[start : start + _BATCH], places[start : start + _BATCH]
        found[batch] = probabilities(features.of(*batch), network or _trained())
    return found


def probabilities(inputs: NDArray[np.float32], network: Sequence[DenseLayer]) -> NDArray[np.float32]:
    """Run a network on features, shape (FEATURE_COUNT, cells).

    It has layers with a rectifier between them, and a sigmoid at the end.
    """
    for layer in network[:-1]:
        inputs = np.maximum(layer.weights.T @ inputs + layer.bias[:, None], 0)
    logits = (network[-1].weights.T @ inputs + network[-1].bias[:, None])[0]
    found: NDArray[np.float32] = 1 / (1 + np.exp(-np.clip(logits, -30, 30)))
    return found


@cache
def _trained() -> tuple[DenseLayer, ...]:
    """The network as it was trained."""
    with np.load(Path(__file__).with_name("onsets.npz"), allow_pickle=False) as file:
        arrays = [file[name].astype(np.float32) for name in file.files if name.startswith("arr_")]
    return tuple(DenseLayer(*pair) for pair in zip(arrays[::2], arrays[1::2], strict=True))


def _chunks(spectra: Iterable[SemitoneSpectrum]) -> Iterator[tuple[int, int, int, SemitoneSpectrum]]:
    """Yield overlapping chunks: (number of the first frame, frames in which onsets are looked for, spectrum)."""
    first = begin = 0
    known: SemitoneSpectrum | None = None
    for block in spectra:
        known = block if known is None else joined((known, block))
        while len(known.power) >= (end := begin + _CHUNK_FRAMES) + _CONTEXT_FRAMES:
            yield first, begin, end, known.part(0, end + _CONTEXT_FRAMES)
            known = known.part(end - _CONTEXT_FRAMES)
            first += end - _CONTEXT_FRAMES
            begin = _CONTEXT_FRAMES
    if known is not None and len(known.power) > begin:
        yield first, begin, len(known.power), known


class _Candidate(NamedTuple):
    """A frame in which a note may begin, counted from the recording's first."""

    confidence: float
    frame: int
    exact: float
    """The frame to a part of one."""
    place: int
    """In NOTES."""


def _candidates(features: Features, first: int, begin: int, end: int) -> list[_Candidate]:
    """All frames in which a note may begin."""
    near = _NEAR_FRAMES
    padded = np.pad(onset_probabilities(features, None, begin - near, end + near), ((near, near), (0, 0)))
    middle = padded[near:-near]
    confidence = middle / 2 + (padded[near - 1 : -near - 1] + padded[near + 1 : len(padded) - near + 1]) / 4
    found = []
    for frame, place in zip(*np.nonzero(confidence[begin:end] >= _LEAST_CONFIDENCE), strict=True):
        around = padded[begin + frame : begin + frame + 2 * near + 1, place]
        off = float(around @ np.arange(-near, near + 1) / around.sum())
        here = first + begin + int(frame)
        found.append(_Candidate(float(confidence[begin + frame, place]), here, here + off, int(place)))
    return found


def _most_confident(candidates: Sequence[_Candidate]) -> list[Onset]:
    """Of those that are so near to one another that they are the same, the one with the highest confidence."""
    taken: dict[int, list[_Candidate]] = {}
    found = []
    for each in sorted(_tops(candidates), reverse=True):
        near = [
            other
            for frame in range(each.frame - _AGAIN_FRAMES, each.frame + _AGAIN_FRAMES + 1)
            for other in taken.get(frame, ())
        ]
        together = [other for other in near if abs(other.frame - each.frame) <= _TOGETHER_FRAMES]
        if len(together) < _MOST_TOGETHER and not any(_is_partial(each, other) for other in near):
            taken.setdefault(each.frame, []).append(each)
            start = round(max(0.0, each.exact * STEP), 4)
            found.append(Onset(start, NOTES[each.place], round(each.confidence, 3)))
    return sorted(found)


def _tops(candidates: Sequence[_Candidate]) -> Iterator[_Candidate]:
    """Of each rise of a pitch's confidence one candidate, with the highest: an early one that is nearly as confident.

    What is struck twice within a tenth of a second, as a music box's tooth is, begins with the first strike.
    """
    by_place: dict[int, list[_Candidate]] = {}
    for each in candidates:
        by_place.setdefault(each.place, []).append(each)
    for left in by_place.values():
        while left:
            best = max(left)
            early = [
                each
                for each in left
                if _LATER_FRAMES < best.frame - each.frame <= _AGAIN_FRAMES
                and each.confidence >= _EARLIER * best.confidence
            ]
            first = min((each.frame for each in early), default=best.frame)
            top = max((each for each in early if each.frame <= first + _LATER_FRAMES), default=best)
            yield top._replace(confidence=best.confidence)
            ends = best.frame, top.frame
            left = [each for each in left if min(abs(each.frame - end) for end in ends) > _AGAIN_FRAMES]


def _is_partial(each: _Candidate, other: _Candidate) -> bool:
    """Return whether a candidate is a partial of a more confident one: one that is later, or not as clear."""
    return each.place - other.place in _PARTIALS and (
        each.confidence < _CLEAR * other.confidence or each.frame > other.frame + _LATER_FRAMES
    )


def _in_octave(onset: Onset, numbers: NDArray[np.float64]) -> Onset:
    """An onset in the octave of the pitch that was followed after it, where it is doubtful and an octave too low.

    ``numbers`` are the MIDI numbers of the track's path, with parts.
    """
    first = round(onset.start / HOP)
    after = numbers[first + _SETTLED.start : first + _SETTLED.stop]
    near = abs(after - onset.number - 12) < _IN_TUNE
    if onset.confidence < _DOUBTED and len(after) and near.sum() > _AGREEING * np.isfinite(after).sum() > 0:
        return onset._replace(number=onset.number + 12)
    return onset
