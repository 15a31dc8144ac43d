"""Which beginnings are notes: those the network is sure of, and those that pitch and loudness agree with."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from operator import attrgetter

import numpy as np

from .beginnings import SURE, Beginning
from .pitch import HOP
from .spans import number_in, numbers_of, spans_in
from .track import Track

__all__ = ["agreed"]

_LIKELY, _FAINT = 0.25, 0.05
"""How sure a beginning is at least that needs a pitch that begins with it; where the sound dips too."""
_SAME, _NEAR = 0.12, 0.06  # seconds within which a pitch begins with a note of that pitch, and with any
_BEFORE, _RIGHT_BEFORE, _RIGHT_AFTER, _AFTER = 24, 8, 4, 16  # frames about a moment in which the sound dips
_DIP = 0.6  # of the power on both sides
_START = attrgetter("start")
_STEADY, _HELD = 0.95, 20  # how periodic what neither beats nor fades is, in so many frames


def agreed(begun: Sequence[Beginning], track: Track, tuning: float = 440.0) -> list[Beginning]:
    """The notes of all that may be a beginning, in order; ``tuning`` is the frequency of A4 in Hz."""
    found = [each for each in begun if each.sure >= SURE]
    doubtful = [each for each in begun if each.sure < SURE]
    pitch = numbers_of(track.path, tuning)
    further: list[Beginning] = []
    for span in spans_in(track, tuning):
        start, number = span.begin * HOP, number_in(pitch, span.begin, span.end)
        around = _around(found, start, _SAME)
        if any(each.number == number or abs(each.start - start) < _NEAR for each in around):
            continue
        least = _FAINT if _is_struck_again(span.begin, track) else _LIKELY
        near = [each for each in _around(doubtful, start, _NEAR) if each.number == number and each.sure >= least]
        if near:
            further.append(max(near, key=lambda each: each.sure)._replace(start=start))
    return sorted(found + further)


def _around(begun: Sequence[Beginning], start: float, within: float) -> Sequence[Beginning]:
    """Those, of some in order, that begin within so many seconds of a moment."""
    first = bisect_left(begun, start - within, key=_START)
    return begun[first : bisect_right(begun, start + within, key=_START)]


def _is_struck_again(frame: int, track: Track) -> bool:
    """Whether a steady sound is softer for a moment just before a frame."""
    power = track.power
    low = power[max(0, frame - _RIGHT_BEFORE) : frame + _RIGHT_AFTER].min()
    before, after = power[max(0, frame - _BEFORE) : frame + 1].max(), power[frame : frame + _AFTER].max()
    return bool(low < _DIP * min(before, after) and np.mean(track.clear[frame : frame + _HELD]) > _STEADY)
