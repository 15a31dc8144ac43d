"""Notes of one voice, from its pitch, its onsets and its loudness."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .fresh import Fresh
from .pitch import HOP

__all__ = ["HeardNote", "Span", "Track", "moments_of", "notes_of", "numbers_of", "spans_in"]

_GAP = 3  # frames without pitch that are bridged
_SMOOTH = 3  # frames on either side of a median
_AWAY, _LASTING = 0.65, 5  # semitones, and frames, from which on it is another pitch
_NOW_AND_THEN = 6  # frames from one look at where a pitch has its middle to the next
_SHORTEST, _LONG, _LONG_RUN = 0.05, 0.25, 0.55  # seconds: of a note, and of one that may begin softly
_NEAR = 9  # frames within which an onset is where a note begins
_RISES = 1.12  # times the power before it, that is needed for an onset to part two notes of one pitch
_DIP = 0.44  # of the power on both sides
_ECHO = 0.01  # of the power before, below which what brings nothing new is an echo
_FADED = -26.0  # dB below the note's loudest, at which it is over
_QUIET = -45.0  # dB below the loudest note, below which nothing is one
_SURE = 0.45
_NOTHING, _SOME = 0.06, 0.2
_LITTLE, _ALONE, _CLEAR, _CLEAREST = 0.5, 0.9, 0.72, 0.88
"""The part of the sound that is new where no note begins; from which on nothing rang before; how periodic it is to
be, and how periodic where it is an octave below."""
_SOFTLY = 0.25  # the growth up to which nothing was struck
_COVERING, _VOICED = 20, 0.3  # frames after an onset, and the part of them that has a pitch at most
_NEW, _COVERED, _SOFT, _PLAIN = 0.3, 0.6, 0.15, 0.8
"""The part that is new of a beginning that is covered by what rings, and how periodic; of one that is soft."""
_BESIDE, _FOLLOWED = 1.3, 0.95  # semitones, and how sure a pitch is, that is not taken for what rang before
_GROWING, _GROWS, _STANDS_OUT, _BEFORE = 18, 0.3, 1.6, 3
"""Frames before a change of pitch in which it began; the part of the fastest growth; times the usual growth; frames
by which a pitch is told too late."""


@dataclass(frozen=True, slots=True)
class HeardNote:
    """A note as it was heard."""

    start: float
    """Seconds."""
    length: float
    """Seconds."""
    number: int
    """MIDI number."""
    cents: float
    """By how much it was above (or below) that number."""
    loudness: int
    """As a MIDI velocity, 80 being the usual of the recording."""
    sure: float
    """From 0 to 1."""


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
    alone: bool = False
    """Whether an onset is all that is known of it."""


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
    spans = _joined([_from_onset(span, track) for span in found], pitch)
    return sorted([*spans, *_alone(spans, track)])


def moments_of(spans: Sequence[Span], track: Track, tuning: float = 440.0) -> list[tuple[int, float]]:
    """The frame at which each stretch begins, and the frequency in Hz of a long one, which may begin softly; 0 of
    another. What follows at the same pitch counts with it."""
    pitch = numbers_of(track.hertz, tuning)
    found: list[tuple[int, float]] = []
    end, number = 0, -1  # of the pitch that goes on after a stretch
    for span in reversed(spans):
        own = _number(pitch, span)
        end = end if own == number and found and found[-1][0] - span.end <= _GAP else span.end
        number = own
        long = not span.alone and (span.end - span.begin >= _LONG / HOP or end - span.begin >= _LONG_RUN / HOP)
        soft = track.growth[max(0, span.begin - _NEAR) : span.begin + _NEAR].max(initial=0.0) < _SOFTLY
        hertz = track.hertz[span.begin : span.end]
        known = long and soft and bool((hertz > 0).any())
        found.append((span.begin, float(np.median(hertz[hertz > 0])) if known else 0.0))
    return found[::-1]


def notes_of(track: Track, spans: Sequence[Span], fresh: Sequence[Fresh], tuning: float = 440.0) -> list[HeardNote]:
    """The notes of a track: its stretches, with what is new where each begins."""
    pitch = numbers_of(track.hertz, tuning)
    kept: list[_Kept] = []
    for span, new in zip(spans, fresh, strict=True):
        if span.alone:
            if new.part < _NEW or new.strength < _COVERED or not new.hertz:
                continue
        elif kept and _rings(kept[-1], span, new, pitch, track, tuning):
            kept[-1].end = span.end  # what rings on has changed its look, and nothing else
            continue
        again = bool(kept) and _number(pitch, kept[-1]) == _number(pitch, span)
        begin = span.begin - (0 if again else round(new.late / HOP))
        while kept and _leads(kept[-1], span, begin):
            begin = min(begin, kept.pop().begin)
        if kept:
            begin = max(begin, min(span.begin, kept[-1].begin + round(_SHORTEST / HOP)))
            kept[-1].end = min(kept[-1].end, begin)
        kept.append(_Kept(begin, span.end, new, span.alone))
    return _heard([_settled(each, pitch, track, tuning) for each in kept])


@dataclass(slots=True)
class _Kept:
    """A stretch that is a note."""

    begin: int
    end: int
    new: Fresh
    alone: bool


def _rings(
    before: _Kept, span: Span, new: Fresh, pitch: NDArray[np.float64], track: Track, tuning: float
) -> bool:  # fmt: skip
    """Whether a stretch is the one before, ringing on."""
    number, own = _number_of(new.hertz, tuning), _number(pitch, span)
    same = own == _number(pitch, before)
    vague = new.strength < _CLEAR and same
    most = _LITTLE if not span.struck else _SOFT if vague else _NOTHING
    if span.begin - before.end > _GAP or new.part >= most or (new.again and same):
        return False
    if new.part > _SOFT and new.strength > _PLAIN and abs(number - own) < 0.5 and not same:
        return False  # a soft beginning, but of the very pitch that is heard then
    clear = float(np.mean(track.strength[span.begin : span.end])) > _FOLLOWED  # what is struck beats, and dips too
    return _echoes(before, span, track) or not (span.struck and clear and _dips(span.begin, track))


def _leads(before: _Kept, span: Span, begin: int) -> bool:
    """Whether a stretch is only the beginning of the next, which has no pitch yet or begins softly before it."""
    length = before.end - before.begin
    if span.begin - before.end > _GAP or span.end - span.begin < _LONG / 2 / HOP:
        return False
    return length <= _SHORTEST / HOP + 1 or (before.begin >= begin and length < _LONG / 2 / HOP)


def _settled(
    kept: _Kept, pitch: NDArray[np.float64], track: Track, tuning: float
) -> tuple[int, int, float, float, float]:
    """A note as :func:`_note` measures it, at the pitch of what is new where that is another."""
    begin, end, own, loudest, sure = _note(kept.begin, kept.end, pitch, track)
    new, number = kept.new, _number_of(kept.new.hertz, tuning)
    if kept.alone:
        return begin, end, number, loudest, new.strength
    if new.hertz and (own < 0 or _SOME < new.part < _ALONE) and new.strength > _CLEAR and abs(number - own) > 0.5:
        octaves = abs(number - own) % 12
        octave = min(octaves, 12 - octaves) <= 0.5
        needed = _CLEAREST if octave and own >= 0 and number < own else _CLEAR
        followed = (abs(number - own) < _BESIDE and sure > _FOLLOWED) or (octave and new.late > 0)
        if new.strength > needed and not followed:  # what rang is louder than it
            return begin, end, number, loudest, min(sure, new.strength)
    return begin, end, own, loudest, sure


def _number_of(hertz: float, tuning: float) -> float:
    """A frequency as a MIDI number with parts; -1 for 0."""
    return float(69 + 12 * np.log2(hertz / tuning)) if hertz > 0 else -1.0


def _alone(spans: Sequence[Span], track: Track) -> list[Span]:
    """Onsets without a pitch after them: what is struck there may be covered by what rings."""
    begins = np.array([-_COVERING - _NEAR, *sorted(span.begin for span in spans), len(track.hertz) + _NEAR + 1])
    place = np.searchsorted(begins, track.onsets)
    away = np.minimum(track.onsets - begins[place - 1], begins[place] - track.onsets)
    found = [onset for onset in track.onsets[away > _NEAR].tolist()
             if np.mean(track.hertz[onset : onset + _COVERING] > 0) < _VOICED]  # fmt: skip
    edges = np.unique([*begins[1:-1].tolist(), *found, len(track.hertz)])
    ends = edges[np.searchsorted(edges, found, "right")].tolist() if found else []
    return [Span(onset, end, True, alone=True) for onset, end in zip(found, ends, strict=True)]


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
    begin, centre = 0, float(np.median(pitch[: 2 * _LASTING]))
    place = 0
    while place < len(pitch):
        if abs(pitch[place] - centre) > _AWAY:
            later = pitch[place : place + _LASTING]
            if len(later) == _LASTING and np.all(np.abs(later - centre) > _AWAY):
                found.append((first + begin, first + place))
                begin, centre = place, float(np.median(pitch[place + 1 : place + 1 + 2 * _LASTING]))
        elif place - begin >= _LASTING and not place % _NOW_AND_THEN:
            centre = float(np.median(pitch[max(begin, place - 40) : place + 1]))
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
        same = found and found[-1].end >= span.begin - _GAP and _number(pitch, found[-1]) == _number(pitch, span)
        if same and not span.struck:
            found[-1] = found[-1]._replace(end=span.end)
        elif span.end - span.begin >= least:
            found.append(span)
    return [span for span in found if span.end - span.begin >= least // 2]


def _number(pitch: NDArray[np.float64], span: Span | _Kept) -> int:
    begin, end = span.begin, span.end
    known = pitch[begin:end][~np.isnan(pitch[begin:end])]
    return round(float(np.median(known))) if len(known) else -1


def _note(begin: int, end: int, pitch: NDArray[np.float64], track: Track) -> tuple[int, int, float, float, float]:
    """(first frame, frame after the last, pitch, mean square, how sure)."""
    power = track.power[begin:end].astype(np.float64)
    loudest = float(power.max())
    faded = np.flatnonzero(power > loudest * 10 ** (_FADED / 10))
    last = begin + int(faded[-1]) + 1 if len(faded) else end
    inner = slice(begin + (last - begin) // 4, max(begin + 1, last - (last - begin) // 6))
    known = pitch[inner][~np.isnan(pitch[inner])]
    known = known if len(known) else pitch[begin:end][~np.isnan(pitch[begin:end])]
    middle = float(np.median(known)) if len(known) else -1.0
    steady = float(np.mean(np.abs(known - middle) < 0.5)) if len(known) else 0.0
    sure = float(np.mean(track.strength[begin:last])) * steady
    return begin, last, middle, loudest, sure


def _dips(frame: int, track: Track) -> bool:
    """Whether the sound was softer for a moment just before a frame."""
    low = float(track.power[max(0, frame - 8) : frame + 4].min())
    before, after = track.power[max(0, frame - 24) : frame + 1].max(), track.power[frame : frame + 16].max()
    return low < _DIP * float(min(before, after))


def _echoes(before: _Kept, span: Span, track: Track) -> bool:
    """Whether a stretch is much softer than the one before: the room, still sounding."""
    loudest = float(track.power[before.begin : before.end].max(initial=0))
    return float(track.power[span.begin : span.end].max(initial=0)) < _ECHO * loudest


def _heard(notes: Sequence[tuple[int, int, float, float, float]]) -> list[HeardNote]:
    """Notes that are loud, long and sure enough."""
    if not notes:
        return []
    levels = [10 * np.log10(max(power, 1e-14)) for *_, power, _ in notes]
    usual, top = float(np.median(levels)), max(levels)
    found = []
    for (begin, end, pitch, _, sure), level in zip(notes, levels, strict=True):
        number = round(pitch)
        if end - begin < round(_SHORTEST / HOP) - 2 or level < top + _QUIET or sure < _SURE or not 0 <= number <= 127:
            continue
        loudness = max(1, min(127, round(80 + 2 * (level - usual))))
        cents = round(100 * (pitch - number), 1)
        found.append(HeardNote(begin * HOP, (end - begin) * HOP, number, cents, loudness, round(min(1.0, sure), 3)))
    return found
