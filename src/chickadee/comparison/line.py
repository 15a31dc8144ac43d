"""A voice as what is struck at each time: what two tunes are compared by."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from functools import cached_property
from itertools import groupby, pairwise
from operator import attrgetter
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..formats.imported import Unread
from ..song import Note, Song

__all__ = ["Line", "Moment", "line_of"]


class Moment(NamedTuple):
    """The pitches struck together at one time."""

    start: int
    """Ticks."""
    length: int
    """Ticks of the longest of them, as written."""
    numbers: tuple[int, ...]
    """MIDI numbers in rising order; none for a sign that cannot be read."""
    names: tuple[str, ...]
    """Their names, or the sign that cannot be read."""
    span: tuple[int, int] | None = None
    """Offsets of the text that wrote the first of them."""
    is_number: bool = False
    """True if that text is a number."""

    @property
    def end(self) -> int:
        """The tick at which the longest is over."""
        return self.start + self.length


@dataclass(frozen=True)
class Line:
    """Moments in order of time.

    >>> from chickadee.sheet import read
    >>> line = line_of(read("C4 E4&G4=2 rest D4").song)
    >>> [moment.numbers for moment in line.moments], bool(line.rests[1] == line.lengths[0])
    ([(60,), (64, 67), (62,)], True)
    """

    name: str
    moments: tuple[Moment, ...]
    is_drums: bool = False
    scale: Fraction = field(default=Fraction(1))
    """By how much the ticks of its song were multiplied."""

    def __len__(self) -> int:
        return len(self.moments)

    @cached_property
    def lengths(self) -> NDArray[np.int64]:
        """The ticks of each moment, shape (moments,)."""
        return np.array([moment.length for moment in self.moments], dtype=np.int64)

    @cached_property
    def rests(self) -> NDArray[np.int64]:
        """The ticks of silence after each moment but the last, shape (moments,)."""
        silent = [max(0, after.start - before.end) for before, after in pairwise(self.moments)]
        return np.array([*silent, 0][: len(self)], dtype=np.int64)

    @cached_property
    def tops(self) -> NDArray[np.int64]:
        """The highest MIDI number of each moment, -1 where none can be read; shape (moments,)."""
        return np.array([moment.numbers[-1] if moment.numbers else -1 for moment in self.moments], dtype=np.int64)


def line_of(
    song: Song,
    voices: Iterable[int] | None = None,
    unread: Sequence[Unread] = (),
    source: str | None = None,
    scale: Fraction = Fraction(1),
) -> Line:
    """Some voices of a song, all of them where none are named, as one line; its ticks times ``scale``.

    ``unread`` are signs that name no pitch, whose text is in ``source``.
    """
    chosen = set(range(len(song.voices)) if voices is None else voices)
    notes = [note for note in song.notes if note.voice in chosen]
    text = source or ""
    moments = [_moment(song, list(group), scale, text) for _, group in groupby(notes, key=attrgetter("start"))]
    moments += [
        Moment(_scaled(each.start, scale), _scaled(each.length, scale), (), (text[slice(*each.span)],), each.span)
        for each in unread
        if each.voice in chosen
    ]
    moments.sort(key=attrgetter("start"))
    names = [song.voices[index].name for index in sorted(chosen)]
    drums = bool(chosen) and all(song.voices[index].is_drums for index in chosen)
    return Line(" and ".join(names), tuple(moments), drums, scale)


def _moment(song: Song, notes: list[Note], scale: Fraction, text: str) -> Moment:
    first = notes[0]
    span = first.spans[0] if first.spans else None
    is_number = span is not None and text[span[0] : span[0] + 1].isdigit()
    start = _scaled(first.start, scale)
    if len(notes) == 1:
        return Moment(start, _scaled(first.length, scale), (first.number,), (_name(song, first),), span, is_number)
    by_number = {note.number: note for note in reversed(notes)}  # of two the same the first counts
    found = [by_number[number] for number in sorted(by_number)]
    length = max(note.length for note in found)
    names = tuple(_name(song, note) for note in found)
    return Moment(start, _scaled(length, scale), tuple(note.number for note in found), names, span, is_number)


def _name(song: Song, note: Note) -> str:
    voice = song.voices[note.voice]
    return voice.name_of(note) if voice.is_drums else note.pitch.text


def _scaled(ticks: int, scale: Fraction) -> int:
    return ticks if scale == 1 else round(ticks * scale)
