"""The lines of a voice: notes and chords that follow one another, and the bars in which they sound."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Sequence
from itertools import groupby
from operator import attrgetter
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..song import Note, Song
from ..song.lines import Strike

__all__ = ["BarSpan", "Melody", "SongBars", "VoiceLine", "strikes_of", "with_rests"]


class BarSpan(NamedTuple):
    """A bar's number, and its first tick and the next one's."""

    number: int
    start: int
    end: int


class SongBars(Sequence[BarSpan]):
    """The bars of a song, each worked out as it is asked for."""

    def __init__(self, song: Song) -> None:
        self._grid = song.grid
        self._first = song.first_bar
        self._count = song.grid.number_at(max(0, song.end - 1)) - self._first + 1

    def __len__(self) -> int:
        return self._count

    def __getitem__(self, place: int) -> BarSpan:  # type: ignore[override]
        if not -self._count <= place < self._count:
            raise IndexError(place)
        number = self._first + place % self._count
        return BarSpan(number, self._grid.start(number), self._grid.end(number))


class Melody(Sequence[Strike]):
    """Notes that follow one another, as strikes of one note."""

    def __init__(self, song: Song, indices: NDArray[np.int64]) -> None:
        self._song = song
        self._indices = indices

    def __len__(self) -> int:
        return len(self._indices)

    def __getitem__(self, place: int) -> Strike:  # type: ignore[override]
        note = self._song.notes[int(self._indices[place])]
        return Strike(note.start, note.length, (note,))


class VoiceLine:
    """Strikes of one staff that do not overlap, in order."""

    def __init__(self, staff: int, strikes: Sequence[Strike], starts: list[int]) -> None:
        self.staff = staff
        self._strikes = strikes
        self._starts = starts

    def sounding(self, span: BarSpan) -> Sequence[Strike]:
        """Those that sound in a bar."""
        first = max(0, bisect_right(self._starts, span.start) - 1)
        if first < len(self._strikes) and self._strikes[first].start + self._strikes[first].length <= span.start:
            first += 1
        return [self._strikes[place] for place in range(first, bisect_left(self._starts, span.end))]


def strikes_of(notes: Sequence[Note]) -> list[Strike]:
    """Notes in order as strikes: those that begin and end together."""
    return [
        Strike(start, length, tuple(together))
        for start, struck in groupby(notes, key=attrgetter("start"))
        for length, together in groupby(sorted(struck, key=attrgetter("length", "number")), attrgetter("length"))
    ]


def with_rests(strikes: Sequence[Strike], span: BarSpan) -> Iterator[tuple[int, int, Strike | None]]:
    """(start, end, strike) of all that fills a bar; the strike is None for silence."""
    here = span.start
    for strike in strikes:
        start = max(strike.start, span.start)
        end = min(strike.start + strike.length, span.end)
        if start > here:
            yield here, start, None
        yield start, end, strike
        here = end
    if here < span.end:
        yield here, span.end, None
