"""Stretches of a track that may be notes: cut where the pitch changes, and where something is struck."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .partials import Moment
from .pitch import HOP

__all__ = [
    "GAP",
    "LONG",
    "SHORTEST",
    "Span",
    "Track",
    "begins_softly",
    "clearness",
    "moments_of",
    "number_in",
    "numbers_of",
    "spans_in",
]

GAP = 3
"""Frames without pitch that are bridged."""
SHORTEST, LONG = 0.05, 0.25
"""Seconds: of a note, and of one that is surely no passing sound."""
_LOUD = -15.0  # dB below the loudest
_SMOOTH = 3  # frames on either side of a median
_AWAY, _LASTING = 0.65, 5  # semitones, and frames, from which on it is another pitch
_STEADY = 0.3  # semitones within which a pitch stays
_MEMORY = 40  # frames that say where a pitch has its middle
_NOW_AND_THEN = 6  # frames from one look at where a pitch has its middle to the next
_FOLLOWED = 0.15  # seconds of one stretch, from which on its partials are followed
_NEAR = 9  # frames within which an onset is where a note begins
_RISES = 1.12  # times the power before it, that is needed for an onset to part two notes of one pitch
_SOFTLY = 0.25  # the growth up to which nothing was struck
_GROWING, _GROWS, _STANDS_OUT, _BEFORE = 18, 0.3, 1.6, 3
"""Frames before a change of pitch in which it began; the part of the fastest growth; times the usual growth; frames
by which a pitch is told too late."""


@dataclass(frozen=True, slots=True)
class Track:
    """What was measured, frame by frame; all of shape (frames,)."""

    hertz: NDArray[np.float64]
    """0 where nothing sounds."""
    strength: NDArray[np.float64]
    power: NDArray[np.float32]
    growth: NDArray[np.float64]
    """How much of the spectrum is new."""
    onsets: NDArray[np.intp]
    """The frames at which something begins."""


class Span(NamedTuple):
    """A stretch of frames that may be a note."""

    begin: int
    end: int
    struck: bool
    """Whether it begins after silence or with an onset, and not with a change of pitch alone."""


def numbers_of(hertz: NDArray[np.float64], tuning: float) -> NDArray[np.float64]:
    """Frequencies in Hz as MIDI numbers with parts; not a number for 0."""
    return np.where(hertz > 0, 69 + 12 * np.log2(np.maximum(hertz, 1e-3) / tuning), np.nan)


def spans_in(track: Track, tuning: float = 440.0) -> list[Span]:
    """The stretches of a track that may be notes, in order; ``tuning`` is the frequency of A4 in Hz."""
    pitch = numbers_of(track.hertz, tuning)
    found: list[Span] = []
    for first, last in _sounding(track.hertz > 0):
        for begin, end in _by_pitch(_smooth(pitch[first:last]), first):
            found += [
                Span(*span, struck=span[0] == first or span[0] != begin) for span in _by_onset(begin, end, track)
            ]
    return _joined([_from_onset(span, track) for span in found], pitch)


def clearness(track: Track) -> float:
    """How periodic what is loud is, to 1."""
    loud = track.power > track.power.max(initial=0.0) * 10 ** (_LOUD / 10)
    return float(track.strength[loud].mean()) if loud.any() else 0.0


def moments_of(spans: Sequence[Span], track: Track, tuning: float = 440.0) -> list[Moment]:
    """The moment at which each stretch begins, with the pitch of a long one, which may begin softly. What follows at
    the same pitch counts with it."""
    found: list[Moment] = []
    for run in _runs(spans, numbers_of(track.hertz, tuning)):
        long = run[-1].end - run[0].begin >= (_FOLLOWED if len(run) == 1 else LONG) / HOP
        for span in run:
            middle = _median(track.hertz[span.begin : span.end]) if long and begins_softly(span, track) else 0.0
            found.append(Moment(span.begin, middle, run[0].begin, run[-1].end))
    return found


def begins_softly(span: Span, track: Track) -> bool:
    """Whether nothing was struck where a stretch begins."""
    near = track.growth[max(0, span.begin - _NEAR) : span.begin + _NEAR]
    return float(near.max(initial=0.0)) < _SOFTLY


def number_in(pitch: NDArray[np.float64], begin: int, end: int) -> int:
    """The MIDI number in the middle of those from one frame to another; -1 where none is known."""
    known = pitch[begin:end]
    known = known[~np.isnan(known)]
    return round(float(np.median(known))) if len(known) else -1


def _median(hertz: NDArray[np.float64]) -> float:
    """The frequency in the middle of some, in Hz; 0 where none is known."""
    return float(np.median(hertz[hertz > 0])) if (hertz > 0).any() else 0.0


def _runs(spans: Sequence[Span], pitch: NDArray[np.float64]) -> list[list[Span]]:
    """Stretches of one pitch that follow one another at once."""
    found: list[list[Span]] = []
    number = -1
    for span in spans:
        own = number_in(pitch, span.begin, span.end)
        if found and own == number and span.begin - found[-1][-1].end <= GAP:
            found[-1].append(span)
        else:
            found.append([span])
        number = own
    return found


def _sounding(voiced: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """The stretches that have a pitch, small gaps bridged."""
    edges = np.flatnonzero(np.diff(np.pad(voiced.astype(np.int8), 1)))
    spans = list(zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True))
    found: list[tuple[int, int]] = []
    for begin, end in spans:
        if found and begin - found[-1][1] <= GAP:
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
    least = round(SHORTEST / HOP)
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
    least = round(SHORTEST / HOP)
    found: list[Span] = []
    for span in spans:
        if found and span.begin < found[-1].end:
            found[-1] = found[-1]._replace(end=span.begin)
        same = (
            found
            and found[-1].end >= span.begin - GAP
            and number_in(pitch, found[-1].begin, found[-1].end) == number_in(pitch, span.begin, span.end)
        )
        if same and not span.struck:
            found[-1] = found[-1]._replace(end=span.end)
        elif span.end - span.begin >= least:
            found.append(span)
    return [span for span in found if span.end - span.begin >= least // 2]
