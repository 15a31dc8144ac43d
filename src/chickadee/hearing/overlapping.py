"""Notes that ring over one another: one voice whose sounds last longer than its notes, heard by what grows.

No single pitch is heard there, but a note that begins grows on its own semitone while those before it fade. A filter
stands on each semitone; a path through them (Viterbi) follows the one that grows most, or none.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .notes import HeardNote, velocities
from .pitch import HOP, Frames
from .sound_file import Signal
from .spans import SHORTEST, Span, Track, held_in

__all__ = ["overlapping_notes", "rings_over"]

_LOUD = -15.0  # dB below the loudest
_NOISE, _VAGUE, _CLEAR, _HELD = 0.15, 0.75, 0.83, 0.6
"""How periodic what is loud is: noise or chords up to the first; one note at a time from the second on, or from the
third where less of it than the last part belongs to notes that are held."""
_NUMBERS = np.arange(33, 104)  # MIDI numbers
_WINDOW = 0.12  # seconds
_OVER = 8  # frames on either side over which growth is measured
_SECTION, _CONTEXT, _AHEAD = 6000, 40, 200  # frames that are looked at together, and those before and after them
_USUAL, _WEAKEST = 0.9, 0.1  # the quantile of growth that is a note's; of the most so far, at least
_NONE, _TURN = 0.2, 2.0  # of the usual growth: where nothing begins; what it costs to turn to another note
_LEAST = 0.4  # of the usual growth, that a note must reach
_APART, _DIP = 12, 0.6  # frames between two tops of growth, and the part of both between them
_BEFORE, _AFTER = 10, 12  # frames about a stretch of growth in which a note is softest, and loudest
_BEGUN, _LATE = 0.25, 0.015  # of how much a note grows, from which on it has begun; seconds by which that is late
_STAYS, _OFF = 0.25, 50.0  # of the loudest, a while after it; cents that a tone is off its semitone at most
_SETTLED = 4, 16, 2  # frames after its loudest at which a tone is clear: from, to, by
_FADED = 0.2  # of the loudest, at which a note is over
_TONAL = 0.12  # of all power, that a note must have
_SURE = 0.8  # at most


class _Section(NamedTuple):
    """Some frames that are looked at together."""

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


def rings_over(track: Track, spans: Sequence[Span], tuning: float = 440.0) -> bool:
    """Whether notes ring over one another: no single pitch is heard for long where the recording is loud."""
    loud = track.power > track.power.max(initial=0.0) * 10 ** (_LOUD / 10)
    if not loud.any():
        return False
    clear, held = float(track.strength[loud].mean()), held_in(track, spans, tuning)
    return clear > _NOISE and (clear < _VAGUE or (clear < _CLEAR and float(held[loud].mean()) < _HELD))


def overlapping_notes(blocks: Iterable[Signal], rate: float, tuning: float = 440.0) -> list[HeardNote]:
    """The notes of samples of one channel that come in blocks; ``tuning`` is the frequency of A4 in Hz."""
    found: list[_Grown] = []
    most = 0.0
    for section in _sections(_filtered(blocks, rate, tuning)):
        growth = _growth(section)
        most = max(most, usual := float(np.quantile(growth.max(axis=1), _USUAL)))
        usual = max(usual, _WEAKEST * most, 1e-9)
        found += _notes(section, growth / usual, rate, tuning)
    found = _one_by_one(found)
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
        if not found or note.start - found[-1].start >= SHORTEST:
            found.append(note)
        elif note.growth > found[-1].growth:
            found[-1] = note
    return found


# Filters


def _hertz(tuning: float) -> NDArray[np.float64]:
    return np.asarray(tuning * 2 ** ((_NUMBERS - 69) / 12))


def _filtered(
    blocks: Iterable[Signal], rate: float, tuning: float
) -> Iterator[tuple[NDArray[np.complex64], NDArray[np.float64]]]:
    """What comes through each filter, and the mean square, of every frame."""
    length = round(_WINDOW * rate)
    hann = np.hanning(length)
    waves = hann[:, None] * np.exp(-2j * np.pi * np.outer(np.arange(length), _hertz(tuning)) / rate)
    waves = (waves * 2 / hann.sum()).astype(np.complex64)
    weights = (hann**2 / (hann**2).sum()).astype(np.float32)
    frames = Frames(rate, length, length // 2)
    yield np.zeros((2 * _OVER, len(_NUMBERS)), np.complex64), np.zeros(2 * _OVER)  # nothing sounds before the start
    for block in blocks:
        every = frames.of(block)
        yield every @ waves, np.asarray(every**2 @ weights, np.float64)
    every = frames.of(np.zeros(0, np.float32), last=True)
    yield every @ waves, np.asarray(every**2 @ weights, np.float64)


def _sections(filtered: Iterable[tuple[NDArray[np.complex64], NDArray[np.float64]]]) -> Iterator[_Section]:
    """Sections that overlap, each with the frames in which its own notes begin."""
    tones, power = np.zeros((0, len(_NUMBERS)), np.complex64), np.zeros(0)
    first, begin = -2 * _OVER, 0
    for more_tones, more_power in filtered:
        tones, power = np.concatenate((tones, more_tones)), np.concatenate((power, more_power))
        while len(tones) >= begin + _SECTION + _AHEAD:
            end = begin + _SECTION
            yield _Section(first, tones[: end + _AHEAD], power[: end + _AHEAD], begin, end)
            tones, power, first = tones[end - _CONTEXT :], power[end - _CONTEXT :], first + end - _CONTEXT
            begin = _CONTEXT
    yield _Section(first, tones, power, begin, len(tones))


# Notes


def _growth(section: _Section) -> NDArray[np.float64]:
    """How much each tone grows about each frame, shape (frames, semitones)."""
    sizes = np.abs(section.tones).astype(np.float64)
    growth = np.zeros_like(sizes)
    growth[_OVER:-_OVER] = sizes[2 * _OVER :] - sizes[: -2 * _OVER]
    return growth


def _notes(section: _Section, growth: NDArray[np.float64], rate: float, tuning: float) -> list[_Grown]:
    """The notes that begin in a section, by what grows how much of the usual."""
    found: list[_Grown] = []
    hertz = _hertz(tuning)
    path = _path(np.column_stack((growth, np.full(len(growth), _NONE))))
    edges = [0, *(np.flatnonzero(np.diff(path)) + 1).tolist(), len(path)]
    for begin, end in pairwise(edges):
        place = int(path[begin])
        if place < len(_NUMBERS):
            grows = growth[begin:end, place]
            for first, last in _struck(grows):
                note = _note(section, begin + first, begin + last, place, float(hertz[place]), rate)
                found += [note._replace(growth=float(grows[first:last].max()))] if note is not None else []
    return found


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


def _note(section: _Section, begin: int, end: int, place: int, hertz: float, rate: float) -> _Grown | None:
    """A note that grows between two frames on one filter, of a frequency in Hz; None where it is another section's,
    or no tone that stays."""
    sizes = np.abs(section.tones[:, place]).astype(np.float64)
    top = begin + int(sizes[begin : end + _AFTER].argmax())
    low = float(sizes[max(0, begin - _BEFORE) : top + 1].min())
    before = np.flatnonzero(sizes[: top + 1] <= low + _BEGUN * (sizes[top] - low))
    start = int(before[-1]) if len(before) else begin
    stays = sizes[min(top + _AFTER, len(sizes) - 1)] > _STAYS * sizes[top]
    cents = _cents(section, top, place, hertz, rate)
    if not (section.begin <= start < section.end and stays and abs(cents) <= _OFF):
        return None
    if sizes[top] ** 2 / 2 < _TONAL * section.power[top]:
        return None
    faded = np.flatnonzero(sizes[top:] < _FADED * sizes[top])
    over = top + (int(faded[0]) if len(faded) else len(sizes) - top)
    seconds = max(0.0, (section.first + start) * HOP - _LATE)
    level = float(20 * np.log10(max(sizes[top], 1e-7)))
    return _Grown(seconds, (section.first + over) * HOP, int(_NUMBERS[place]), cents, level, 0.0)


def _cents(section: _Section, top: int, place: int, hertz: float, rate: float) -> float:
    """By how much a tone is above a frequency once it has grown, as its phase goes on from frame to frame."""
    last = len(section.tones) - 2
    frames = np.unique(np.minimum(top + np.arange(*_SETTLED), last))
    begin = np.round((section.first + np.arange(last + 2)) * HOP * rate)  # frames begin with a sample
    seconds = (begin[frames + 1] - begin[frames]) / rate
    tones = section.tones[:, place]
    turned = np.angle(tones[frames + 1] * np.conj(tones[frames]))
    off = (turned / (2 * np.pi) - hertz * seconds + 0.5) % 1 - 0.5
    return round(float(np.median(1200 * np.log2(np.maximum(0.5, 1 + off / seconds / hertz)))), 1)
