"""Notes made once and kept: equal notes of a tune are the same samples."""

from __future__ import annotations

from collections import OrderedDict

import numpy as np

from .instruments import INSTRUMENTS
from .samples import Samples
from .score import Strike

__all__ = ["Stock"]

_SEGMENT = 1 << 13
_MOST_SAMPLES = 12 << 20  # 48 MB


class Stock:
    """Samples of notes never let go, made in segments as they are asked for, and kept within bounds.

    A note's segments depend on nothing but its sound, strike and place, so whatever is thrown away can be made again.
    """

    def __init__(self, rate: int) -> None:
        self.rate = rate
        self._segments: OrderedDict[tuple[str, Strike, int], Samples] = OrderedDict()

    def take(self, sound: str, strike: Strike, first: int, count: int) -> Samples:
        """Samples ``first`` to ``first + count`` of a note, shape (count,); not to be written into."""
        parts = []
        for place in range(first // _SEGMENT, (first + count - 1) // _SEGMENT + 1):
            segment = self._segment(sound, strike, place)
            start = place * _SEGMENT
            parts.append(segment[max(0, first - start) : first + count - start])
        return parts[0] if len(parts) == 1 else np.concatenate(parts)

    def prepare(self, sound: str, strike: Strike) -> bool:
        """Make a note's beginning ready; whether there was anything to do."""
        known = (sound, strike, 0) in self._segments
        if not known:
            self._segment(sound, strike, 0)
        return not known

    def _segment(self, sound: str, strike: Strike, place: int) -> Samples:
        name = sound, strike, place
        found = self._segments.get(name)
        if found is None:
            found = INSTRUMENTS[sound].samples(strike, place * _SEGMENT, _SEGMENT, self.rate)
            found.setflags(write=False)
            self._segments[name] = found
            if len(self._segments) * _SEGMENT > _MOST_SAMPLES:
                self._segments.popitem(last=False)
        else:
            self._segments.move_to_end(name)
        return found
