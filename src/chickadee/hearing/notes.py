"""Notes of one voice, from its pitch, its onsets and its loudness."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .fresh import Fresh
from .pitch import HOP
from .spans import GAP, LONG, SHORTEST, Span, Track, begins_softly, number_in, numbers_of

__all__ = ["HeardNote", "notes_of", "velocities"]

_DIP = 0.44  # of the power on both sides
_AROUND, _NEXT, _WAY = 8, 2, 0.2  # frames on either side, from: to; semitones between them of what is not steady
_ECHO = 0.01  # of the power before, below which what brings nothing new is an echo
_FADED = -26.0  # dB below the note's loudest, at which it is over
_QUIET = -45.0  # dB below the loudest note, below which nothing is one
_SURE = 0.45
_NOTHING, _SOFT, _LITTLE = 0.06, 0.15, 0.5
"""The part of the sound that is new where no note begins: after an onset; where the pitch is vague; without one."""
_NEW, _CLEAR, _PLAIN = 0.3, 0.72, 0.8
"""The part that is new where another pitch begins; how periodic that is where its pitch is not vague, and plain."""
_STEADY = 0.95  # how periodic what neither beats nor fades is


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


def velocities(levels: Sequence[float]) -> list[int]:
    """Levels in dB as MIDI velocities, 80 being the usual of them."""
    usual = float(np.median(levels)) if len(levels) else 0.0
    return [max(1, min(127, round(80 + 2 * (level - usual)))) for level in levels]


def notes_of(track: Track, spans: Sequence[Span], fresh: Sequence[Fresh], tuning: float = 440.0) -> list[HeardNote]:
    """The notes of a track: its stretches, with what is new where each begins."""
    pitch = numbers_of(track.hertz, tuning)
    kept: list[_Kept] = []
    for span, new in zip(spans, fresh, strict=True):
        begin = span.begin
        while kept and _leads(kept[-1], span, begin):
            begin = kept.pop().begin
        if kept and _rings(kept[-1], span, new, pitch, track, tuning):
            kept[-1].end = span.end  # what rings on has changed its look, and nothing else
            continue
        if kept:
            kept[-1].end = min(kept[-1].end, begin)
        kept.append(_Kept(begin, span.begin, span.end))
    return _heard([_note(each, pitch, track) for each in kept])


@dataclass(slots=True)
class _Kept:
    """A stretch that is a note."""

    begin: int
    seen: int
    """From where on its pitch is heard."""
    end: int


def _rings(
    before: _Kept, span: Span, new: Fresh, pitch: NDArray[np.float64], track: Track, tuning: float
) -> bool:  # fmt: skip
    """Whether a stretch is the one before, ringing on."""
    number, own = _number_of(new.hertz, tuning), number_in(pitch, span.begin, span.end)
    held = number_in(pitch, before.seen, before.end)
    same = own == held
    vague = new.strength < _CLEAR and same
    most = _LITTLE if not span.struck else _SOFT if vague else _NOTHING
    if span.begin - before.end > GAP:
        return False
    if new.course.beats and same:
        return True
    moves = same and begins_softly(span, track) and _moves(span.begin, pitch)
    if not moves and (new.part >= most or (new.course.again and same)):
        return False
    if new.part > _NEW and new.strength > _PLAIN and abs(number - held) > 0.5:
        return False
    if new.part > _SOFT and new.strength > _PLAIN and abs(number - own) < 0.5 and not same:
        return False  # a soft beginning, but of the very pitch that is heard then
    clear = float(np.mean(track.strength[span.begin : span.end])) > _STEADY  # what is struck beats, and dips too
    return _echoes(before, span, track) or not (span.struck and clear and _dips(span.begin, track))


def _leads(before: _Kept, span: Span, begin: int) -> bool:
    """Whether a stretch is only the beginning of the next, which has no pitch yet."""
    if span.end - span.begin < LONG / 2 / HOP:
        return False
    return before.end - before.begin <= SHORTEST / HOP + 1 and begin - before.end <= GAP


def _number_of(hertz: float, tuning: float) -> float:
    """A frequency as a MIDI number with parts; -1 for 0."""
    return float(69 + 12 * np.log2(hertz / tuning)) if hertz > 0 else -1.0


def _note(kept: _Kept, pitch: NDArray[np.float64], track: Track) -> tuple[int, int, float, float, float]:
    """(first frame, frame after the last, pitch, mean square, how sure)."""
    begin, seen, end = kept.begin, kept.seen, kept.end
    power = track.power[begin:end].astype(np.float64)
    loudest = float(power.max())
    faded = np.flatnonzero(power > loudest * 10 ** (_FADED / 10))
    last = begin + int(faded[-1]) + 1 if len(faded) else end
    last = max(last, seen + 1)
    inner = slice(seen + (last - seen) // 4, max(seen + 1, last - (last - seen) // 6))
    known = pitch[inner][~np.isnan(pitch[inner])]
    known = known if len(known) else pitch[seen:end][~np.isnan(pitch[seen:end])]
    middle = float(np.median(known)) if len(known) else -1.0
    steady = float(np.mean(np.abs(known - middle) < 0.5)) if len(known) else 0.0
    sure = float(np.mean(track.strength[seen:last])) * steady
    return begin, last, middle, loudest, sure


def _dips(frame: int, track: Track) -> bool:
    """Whether the sound was softer for a moment just before a frame."""
    low = float(track.power[max(0, frame - 8) : frame + 4].min())
    before, after = track.power[max(0, frame - 24) : frame + 1].max(), track.power[frame : frame + 16].max()
    return low < _DIP * float(min(before, after))


def _moves(frame: int, pitch: NDArray[np.float64]) -> bool:
    """Whether the pitch is on its way from one place to another at a frame."""
    before, after = pitch[max(0, frame - _AROUND) : frame - _NEXT], pitch[frame + _NEXT + 1 : frame + _AROUND + 1]
    if np.isnan(before).all() or np.isnan(after).all():
        return False
    return abs(float(np.nanmedian(after)) - float(np.nanmedian(before))) > _WAY


def _echoes(before: _Kept, span: Span, track: Track) -> bool:
    """Whether a stretch is much softer than the one before: the room, still sounding."""
    loudest = float(track.power[before.begin : before.end].max(initial=0))
    return float(track.power[span.begin : span.end].max(initial=0)) < _ECHO * loudest


def _heard(notes: Sequence[tuple[int, int, float, float, float]]) -> list[HeardNote]:
    """Notes that are loud, long and sure enough."""
    if not notes:
        return []
    levels = [10 * np.log10(max(power, 1e-14)) for *_, power, _ in notes]
    top = max(levels)
    found = []
    for (begin, end, pitch, _, sure), level, loudness in zip(notes, levels, velocities(levels), strict=True):
        number = round(pitch)
        if end - begin < round(SHORTEST / HOP) - 2 or level < top + _QUIET or sure < _SURE or not 0 <= number <= 127:
            continue
        cents = round(100 * (pitch - number), 1)
        found.append(HeardNote(begin * HOP, (end - begin) * HOP, number, cents, loudness, round(min(1.0, sure), 3)))
    return found
