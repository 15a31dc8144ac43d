"""Stretches of a track that may be notes: cut where the pitch changes, and where something is struck."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .pitch import HOP
from .track import Track

__all__ = ["Span", "number_in", "numbers_of", "spans_in"]

_GAP = 3  # frames without pitch that are bridged
_SHORTEST = 0.05  # seconds of a note
_SMOOTH = 3  # frames on either side of a median
_AWAY, _LASTING = 0.65, 5  # semitones, and frames, from which on it is another pitch
_STEADY = 0.3  # semitones within which a pitch stays
_MEMORY = 40  # frames that say where a pitch has its middle
_NOW_AND_THEN = 6  # frames from one look at where a pitch has its middle to the next
_NEAR = 9  # frames within which an onset is where a note begins
_RISES = 1.12  # times the power before it, that is needed for an onset to part two notes of one pitch
_GROWING, _GROWS, _STANDS_OUT, _BEFORE = 18, 0.3, 1.6, 3
"""Frames before a change of pitch in which it began; the part of the fastest growth; times the usual growth; frames
by which a pitch is told too late."""


class Span(NamedTuple):
    """A stretch of frames that may be a note."""

    begin: int
    end: int
    struck: bool
    """Whether it begins after silence or with an onset, and not with a change of pitch alone."""


def numbers_of(hertz: NDArray[np.floating], tuning: float) -> NDArray[np.float64]:
    """Frequencies in Hz as MIDI numbers with parts; not a number for 0."""
    return np.where(hertz > 0, 69 + 12 * np.log2(np.maximum(hertz.astype(np.float64), 1e-3) / tuning), np.nan)


def spans_in(track: Track, tuning: float = 440.0) -> list[Span]:
    """The stretches of a track that may be notes, in order; ``tuning`` is the frequency of A4 in Hz."""
    pitch = numbers_of(track.path, tuning)
    found: list[Span] = []
    for first, last in _sounding(track.path > 0):
        for begin, end in _by_pitch(_smooth(pitch[first:last]), first):
            found += [
                Span(*span, struck=span[0] == first or span[0] != begin) for span in _by_onset(begin, end, track)
            ]
    return _joined([_from_onset(span, track) for span in found], pitch)


def number_in(pitch: NDArray[np.float64], begin: int, end: int) -> int:
    """The MIDI number in the middle of those from one frame to another; -1 where none is known."""
    known = pitch[begin:end]
    known = known[~np.isnan(known)]
    return round(float(np.median(known))) if len(known) else -1


def _sounding(voiced: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """The stretches that have a pitch, small gaps bridged."""
    edges = np.flatnonzero(np.diff(np.pad(voiced.astype(np.int8), 1)))
    spans = list(zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True))
    found: list[tuple[int, int]] = []
    for begin, end in spans:
        if found and begin - found[-1][1] <= _GAP:
            found[-1] = found[-1][0], end
        else:
            found.append((begin, end))
    return found


def _smooth(pitch: NDArray[np.float64]) -> NDArray[np.float64]:
    """A running median; what is missing is as before."""
    known = np.flatnonzero(~np.isnan(pitch))
    filled = pitch[known[np.searchsorted(known, np.arange(len(pitch)), side="right").clip(1) - 1]]
    padded = np.pad(filled, _SMOOTH, mode="edge")
    medians: NDArray[np.float64] = np.median(
        np.lib.stride_tricks.sliding_window_view(padded, 2 * _SMOOTH + 1), axis=1
    )
    return medians


def _by_pitch(pitch: NDArray[np.float64], first: int) -> list[tuple[int, int]]:
    """A stretch, cut where it goes to another pitch and stays there."""
    found: list[tuple[int, int]] = []
    begin, centre, settled = 0, float(np.median(pitch[: 2 * _LASTING])), math.nan
    place = 0
    while place < len(pitch):
        if abs(pitch[place] - centre) > _AWAY:
            later = pitch[place : place + _LASTING]
            if len(later) == _LASTING and np.all(np.abs(later - centre) > _AWAY):
                found.append((first + begin, first + place))
                begin, centre, settled = (
                    place,
                    float(np.median(pitch[place + 1 : place + 1 + 2 * _LASTING])),
                    math.nan,
                )
        elif place - begin >= _LASTING and not place % _NOW_AND_THEN:
            late = pitch[max(begin, place - _MEMORY) : place + 1]
            centre = float(np.sort(late)[len(late) // 2])  # its median, several times as quick
            if math.isnan(settled) and len(late) > _MEMORY and np.ptp(late) < _STEADY:
                settled = centre
            elif abs(centre - settled) > _AWAY:  # it has gone there slowly
                crossed = begin + int(np.flatnonzero(np.abs(pitch[begin:place] - settled) < _AWAY / 2)[-1]) + 1
                found.append((first + begin, first + crossed))
                begin, settled = crossed, math.nan
        place += 1
    found.append((first + begin, first + len(pitch)))
    return found


def _by_onset(begin: int, end: int, track: Track) -> list[tuple[int, int]]:
    """A stretch of one pitch, cut where it is struck again."""
    least = round(_SHORTEST / HOP)
    cuts = [begin]
    for onset in track.onsets[(track.onsets > begin + least) & (track.onsets < end - least)].tolist():
        before = float(track.power[max(begin, onset - 10) : max(begin, onset - 10) + 8].min())
        after = float(track.power[onset : onset + 10].max())
        if after > _RISES * before and onset - cuts[-1] >= least:
            cuts.append(onset)
    return list(zip(cuts, [*cuts[1:], end], strict=True))


def _from_onset(span: Span, track: Track) -> Span:
    """A stretch that begins where the nearest onset's sound, or its own, began to grow."""
    begin = span.begin
    near = track.onsets[np.abs(track.onsets - begin) <= _NEAR]
    if len(near):
        best = int(near[np.abs(near - begin).argmin()])
        return Span(_grown_from(best, track), span.end, True) if best < span.end - 2 else span
    return span if span.struck else Span(_grown_from(begin, track), span.end, False)


def _grown_from(frame: int, track: Track) -> int:
    """Where the growth began that is fastest just before a frame; a little before it where none stands out."""
    first = max(0, frame - _GROWING)
    growth = track.growth[first : frame + 3]
    top, usual = int(growth.argmax()), float(np.median(track.growth[max(0, frame - 60) : frame + 60]))
    if growth[top] < _STANDS_OUT * usual:
        return max(0, frame - _BEFORE)
    least = usual + _GROWS * (growth[top] - usual)
    while top > 0 and growth[top - 1] > least:
        top -= 1
    return min(frame, first + top)


def _joined(spans: Sequence[Span], pitch: NDArray[np.float64]) -> list[Span]:
    """What is too short for a note goes to the note of the same pitch beside it, or away."""
    least = round(_SHORTEST / HOP)
    found: list[Span] = []
    for span in spans:
        if found and span.begin < found[-1].end:
            found[-1] = found[-1]._replace(end=span.begin)
        same = (
            found
            and found[-1].end >= span.begin - _GAP
            and number_in(pitch, found[-1].begin, found[-1].end) == number_in(pitch, span.begin, span.end)
        )
        if same and not span.struck:
            found[-1] = found[-1]._replace(end=span.end)
        elif span.end - span.begin >= least:
            found.append(span)
    return [span for span in found if span.end - span.begin >= least // 2]
