"""Notes of players together, by what grows: a filter stands on each semitone, and a path through them (Viterbi)
follows the one whose tone grows most, or none.

Each partial of players together comes and goes for itself; where a note begins all of them grow out of nothing. So
sizes are taken to a small power, over four partials. Two notes of one pitch are told apart only where the first has
faded.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .notes import HeardNote, velocities
from .sound_file import Signal
from .tones import STEP, filtered

__all__ = ["grown_notes"]

_POWER = 0.2  # that sizes are taken to: the smaller, the more counts what grows out of nothing
_PARTIALS = 1.0, 0.84, 0.76, 0.71  # how much each partial of a note counts
_OVER = 6  # frames on either side over which growth is measured
_EARLY = 0.02  # seconds by which a beginning is found too early
_AGAIN = 0.9  # of the usual growth, that a note must reach that shares its partials with the one before
_TONAL = 0.02  # of all power, that a note must have
_SHORTEST = 0.05  # seconds between two notes
_LOWEST, _HIGHEST, _TOP = 33, 104, 123  # MIDI numbers: of notes, and of their partials
_SECTION, _CONTEXT, _AHEAD = 3000, 20, 100  # frames that are looked at together, and those before and after them
_BLOCK, _USUAL, _WEAKEST = 100, 0.75, 0.1
"""Frames; the quantile of the most growth of each so many that is usual; of the most so far, at least."""
_HOLLOW = 0.1  # of the largest partial, that a note's first must be
_NONE, _TURN = 0.15, 0.75  # of the usual growth: where nothing begins; what it costs to turn to another note
_LEAST = 0.4  # of the usual growth, that a note must reach
_APART, _DIP = 6, 0.6  # frames between two tops of growth, and the part of both between them
_BEFORE, _AFTER = 3, 6  # frames about a stretch of growth in which a note is softest, and loudest
_BEGUN = 0.25  # of how much a note grows, from which on it has begun
_STAYS, _OFF = 0.25, 50.0  # of the loudest, a while after it; cents that a tone is off its semitone at most
_SETTLED = 2, 8, 1  # frames after its loudest at which a tone is clear: from, to, by
_FADED = 0.2  # of the loudest, at which a note is over
_SURE = 0.8  # at most
_SHARED = 0, 12, 19, 24  # semitones above a note at which its own partials are
_RESTS = 0.3  # seconds after which what sounded before is over


class _Section(NamedTuple):
    """Some frames that are looked at together."""

    rate: float
    """Samples a second."""
    tuning: float
    """The frequency of A4 in Hz."""
    first: int
    """The number of the first frame."""
    tones: NDArray[np.complex64]
    """What comes through each filter, shape (frames, semitones)."""
    power: NDArray[np.float64]
    """The mean square of each frame."""
    begin: int
    end: int
    """The frames in which notes are to begin."""


class _Grown(NamedTuple):
    """A note that grew."""

    start: float
    end: float
    """Seconds."""
    number: int
    cents: float
    level: float
    """dB."""
    growth: float
    """Of the usual."""


def grown_notes(blocks: Iterable[Signal], rate: float, tuning: float = 440.0) -> list[HeardNote]:
    """The notes of samples of one channel that come in blocks; ``tuning`` is the frequency of A4 in Hz."""
    found: list[_Grown] = []
    most = 0.0
    for section in _sections(filtered(blocks, rate, _hertz(tuning)), rate, tuning):
        sizes = np.abs(section.tones).astype(np.float64) ** _POWER
        growth = _growth(sizes)
        usual = _usual(growth.max(axis=1))
        most = max(most, usual)
        found += _notes(section, sizes, growth / max(usual, _WEAKEST * most, 1e-9))
    found = _new_ones(_one_by_one(found))
    ends = [min(one.end, other.start) for one, other in pairwise(found)] + [each.end for each in found[-1:]]
    return [
        HeardNote(each.start, end - each.start, each.number, each.cents, velocity,
                  round(_SURE * min(1.0, each.growth), 3))
        for each, end, velocity in zip(found, ends, velocities([each.level for each in found]), strict=True)
    ]  # fmt: skip


def _one_by_one(notes: Iterable[_Grown]) -> list[_Grown]:
    """Notes in order; of two that begin together, the one that grew more."""
    found: list[_Grown] = []
    for note in sorted(notes, key=lambda each: each.start):
        if not found or note.start - found[-1].start >= _SHORTEST:
            found.append(note)
        elif note.growth > found[-1].growth:
            found[-1] = note
    return found


def _new_ones(notes: Iterable[_Grown]) -> list[_Grown]:
    """Notes in order, without those that may be partials of one that still sounds and do not grow enough."""
    found: list[_Grown] = []
    for note in notes:
        sounds = bool(found) and found[-1].end > note.start - _RESTS
        if note.growth >= _AGAIN or not (sounds and note.number - found[-1].number in _SHARED):
            found.append(note)
    return found


# Sections


def _hertz(tuning: float) -> NDArray[np.float64]:
    return np.asarray(tuning * 2 ** ((np.arange(_LOWEST, _TOP) - 69) / 12))


def _sections(
    through: Iterable[tuple[NDArray[np.complex64], NDArray[np.float32]]], rate: float, tuning: float
) -> Iterator[_Section]:
    """Sections that overlap, each with the frames in which its own notes begin. Nothing sounds before the start."""
    first, begin = -2 * _OVER, 0
    tones, power = np.zeros((2 * _OVER, _TOP - _LOWEST), np.complex64), np.zeros(2 * _OVER)
    for more_tones, more_power in through:
        tones, power = np.concatenate((tones, more_tones)), np.concatenate((power, more_power))
        while len(tones) >= begin + _SECTION + _AHEAD:
            end = begin + _SECTION
            yield _Section(rate, tuning, first, tones[: end + _AHEAD], power[: end + _AHEAD], begin, end)
            tones, power, first = tones[end - _CONTEXT :], power[end - _CONTEXT :], first + end - _CONTEXT
            begin = _CONTEXT
    yield _Section(rate, tuning, first, tones, power, begin, len(tones))


# Growth


def _growth(sizes: NDArray[np.float64]) -> NDArray[np.float64]:
    """How much the tones of each note grow about each frame, shape (frames, notes)."""
    over, notes = _OVER, _HIGHEST - _LOWEST
    grows = np.maximum(0.0, sizes[2 * over :] - sizes[: -2 * over])
    found = np.zeros((len(sizes), notes))
    loudest = np.zeros((len(grows), notes))
    for order, weight in enumerate(_PARTIALS, start=1):
        found[over:-over] += weight * _partial(grows, order, notes)
        loudest = np.maximum(loudest, _partial(sizes[2 * over :], order, notes))
    found[over:-over][sizes[2 * over :, :notes] < _HOLLOW**_POWER * loudest] = 0.0  # a lower note's partials
    return found


def _partial(tones: NDArray[np.float64], order: int, notes: int) -> NDArray[np.float64]:
    """The tones that are nearest to a partial of each note; zeros above the highest."""
    above = _above(order)
    return np.pad(tones[:, above : above + notes], ((0, 0), (0, max(0, above + notes - tones.shape[1]))))


def _above(order: int) -> int:
    """By how many semitones, nearly, a partial is above its note."""
    return round(12 * math.log2(order))


def _usual(growth: NDArray[np.float64]) -> float:
    """How much the notes of a section usually grow."""
    whole = max(1, len(growth) // _BLOCK)
    return float(np.quantile([part.max(initial=0.0) for part in np.array_split(growth, whole)], _USUAL))


def _path(growth: NDArray[np.float64]) -> NDArray[np.intp]:
    """The column that grows most at each frame, where turning to another has its cost."""
    frames, columns = growth.shape
    here = np.arange(columns)
    best, came = growth[0].copy(), np.zeros((frames, columns), np.intp)
    for frame in range(1, frames):
        other = int(best.argmax())
        stays = best >= best[other] - _TURN
        came[frame] = np.where(stays, here, other)
        best = np.where(stays, best, best[other] - _TURN) + growth[frame]
    path = np.zeros(frames, np.intp)
    path[-1] = best.argmax()
    for frame in range(frames - 1, 0, -1):
        path[frame - 1] = came[frame, path[frame]]
    return path


# Notes


def _notes(section: _Section, sizes: NDArray[np.float64], growth: NDArray[np.float64]) -> list[_Grown]:
    """The notes that begin in a section, by what grows how much of the usual."""
    found: list[_Grown] = []
    path = _path(np.column_stack((growth, np.full(len(growth), _NONE))))
    edges = [0, *(np.flatnonzero(np.diff(path)) + 1).tolist(), len(path)]
    for begin, end in pairwise(edges):
        place = int(path[begin])
        if place < _HIGHEST - _LOWEST:
            grows = growth[begin:end, place]
            for first, last in _struck(grows):
                note = _note(section, sizes, begin + first, begin + last, place)
                found += [note._replace(growth=float(grows[first:last].max()))] if note is not None else []
    return found


def _struck(growth: NDArray[np.float64]) -> list[tuple[int, int]]:
    """The parts of a stretch of one note, from one frame to another: one for each time that it grows enough."""
    around = np.lib.stride_tricks.sliding_window_view(np.pad(growth, _APART), 2 * _APART + 1).max(axis=1)
    tops = np.flatnonzero((growth >= around) & (growth > _LEAST)).tolist()
    cuts = [0] if tops else []
    for one, other in pairwise(tops):
        low = one + int(growth[one:other].argmin())
        if growth[low] < _DIP * min(growth[one], growth[other]):
            cuts.append(low)
    return list(pairwise([*cuts, len(growth)]))


def _note(
    section: _Section, sizes: NDArray[np.float64], begin: int, end: int, place: int
) -> _Grown | None:  # fmt: skip
    """A note that grows between two frames on one filter; None where it is another section's, or no tone that
    stays."""
    above = [place + _above(order) for order in range(1, len(_PARTIALS) + 1)]
    above = [each for each in above if each < sizes.shape[1]]
    size = sizes[:, above] @ np.array(_PARTIALS[: len(above)])
    top = begin + int(size[begin : end + _AFTER].argmax())
    start = _started(size, begin, top)
    stays = size[min(top + _AFTER, len(size) - 1)] > _STAYS**_POWER * size[top]
    power = float((np.abs(section.tones[top, above]).astype(np.float64) ** 2).sum()) / 2
    if not (section.begin <= int(start) < section.end and stays) or power < _TONAL * section.power[top]:
        return None
    cents = _cents(section, top, place)
    if abs(cents) > _OFF:
        return None
    faded = np.flatnonzero(size[top:] < _FADED**_POWER * size[top])
    over = top + (int(faded[0]) if len(faded) else len(size) - top)
    seconds = max(0.0, (section.first + start) * STEP + _EARLY)
    level = float(10 * np.log10(max(power, 1e-14)))
    return _Grown(seconds, (section.first + over) * STEP, _LOWEST + place, cents, level, 0.0)


def _started(size: NDArray[np.float64], begin: int, top: int) -> float:
    """The frame, with its part, at which a note has begun that grows from one frame on to another."""
    low = float(size[max(0, begin - _BEFORE) : top + 1].min())
    begun = low + _BEGUN * (size[top] - low)
    before = np.flatnonzero(size[: top + 1] <= begun)
    start = int(before[-1]) if len(before) else begin
    if start >= top:
        return float(start)
    return start + float(np.clip((begun - size[start]) / max(size[start + 1] - size[start], 1e-12), 0.0, 1.0))


def _cents(section: _Section, top: int, place: int) -> float:
    """By how much a tone is above its semitone once it has grown, as its phase goes on from frame to frame."""
    hertz = float(_hertz(section.tuning)[place])
    frames = np.unique(np.minimum(top + np.arange(*_SETTLED), len(section.tones) - 2))
    begin, end = (np.round((section.first + each) * STEP * section.rate) for each in (frames, frames + 1))
    seconds = (end - begin) / section.rate  # frames begin with a sample
    turned = np.angle(section.tones[frames + 1, place] * np.conj(section.tones[frames, place]))
    off = (turned / (2 * np.pi) - hertz * seconds + 0.5) % 1 - 0.5
    return round(float(np.median(1200 * np.log2(np.maximum(0.5, 1 + off / seconds / hertz)))), 1)
