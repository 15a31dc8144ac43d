"""Notes: from where they begin to where they are over, with their pitch and how loud they are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .onsets import Onset
from .pitch import HOP, numbers_of
from .track import Track

__all__ = ["HeardNote", "notes_of"]

_FADED = -26.0  # dB below the note's loudest, at which it is over
_QUIET = -45.0  # dB below the loudest note, below which nothing is one
_OFF = 0.5  # semitones, by which a note's pitch may be off; what is heard farther away is another that rings on
_SHORTEST = 3  # frames
_LAST = 12  # frames before a note is over, in which what is let go falls steeply
_STEEP = 7.0  # dB
_STEEPER = 2.5  # times as steep as the whole note


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
    confidence: float
    """From 0 to 1."""
    line: int = 0
    """1 for the lower one of two lines, else 0."""
    fades: bool = False
    """True if it died away by itself, and nobody let it go."""


def notes_of(begun: Sequence[Onset], track: Track, tuning: float = 440.0, line: int = 0) -> list[HeardNote]:
    """The notes of a line, by where they begin; each is over where it has faded, or where the next begins."""
    if not begun:
        return []
    frames = [min(round(each.start / HOP), len(track.power) - 1) for each in begun]
    spans = [
        _faded(first, max(first + _SHORTEST, last), track)
        for first, last in zip(frames, [*frames[1:], len(track.power)], strict=True)
    ]
    levels = [10 * float(np.log10(max(track.power[first:last].max(), 1e-14))) for first, last in spans]
    top = max(levels)
    found = []
    for each, (first, last), level, loudness in zip(begun, spans, levels, _velocities(levels), strict=True):
        if level < top + _QUIET:
            continue
        cents = round(100 * (_pitch(each.number, first, last, track, tuning) - each.number), 1)
        length = max(_SHORTEST * HOP, last * HOP - each.start)
        fades = _fades(first, last, track)
        found.append(HeardNote(each.start, length, each.number, cents, loudness, each.confidence, line, fades))
    return found


def _velocities(levels: Sequence[float]) -> list[int]:
    """Levels in dB as MIDI velocities, 80 being the usual of them."""
    usual = float(np.median(levels))
    return [max(1, min(127, round(80 + 2 * (level - usual)))) for level in levels]


def _faded(first: int, last: int, track: Track) -> tuple[int, int]:
    """The frames of a note that sounds from one frame on, to another at most."""
    power = track.power[first:last]
    sounds = (power > power.max() * 10 ** (_FADED / 10)) & (track.path[first:last] > 0)
    lasting = np.flatnonzero(sounds)
    return first, first + max(_SHORTEST, int(lasting[-1]) + 1 if len(lasting) else 0)


def _fades(first: int, last: int, track: Track) -> bool:
    """Return whether a note that sounds from one frame up to another dies away by itself.

    What is let go falls steeply at its end, and what is cut off by the next note has not fallen at all.
    """
    if last + 1 >= len(track.power):
        return False
    levels = 10 * np.log10(np.maximum(track.power[first : last + 1], 1e-14))
    top = int(levels.argmax())
    fallen = float(levels[top] - levels[-1])
    if len(levels) - top <= _LAST or fallen < -_FADED - 6:
        return False
    usual = fallen / (len(levels) - top) * _LAST
    return float(levels[-1 - _LAST] - levels[-1]) < max(_STEEP, _STEEPER * usual)


def _pitch(number: int, first: int, last: int, track: Track, tuning: float) -> float:
    """The pitch of a note as a MIDI number with parts: what is heard near its number, once it is settled."""
    inner = slice(first + (last - first) // 4, max(first + 1, last - (last - first) // 6))
    for hertz in (track.path[inner, None], track.hertz[inner]):
        pitches = numbers_of(hertz, tuning)
        near = pitches[np.abs(pitches - number) < _OFF]
        if len(near):
            return float(np.median(near))
    return float(number)
