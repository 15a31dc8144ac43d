"""A song as lines of one note at a time: the top notes first, rests between them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import groupby
from operator import attrgetter
from typing import NamedTuple

from ..song import Note, Song

__all__ = ["Entry", "Line", "lines_of"]


class Entry(NamedTuple):
    """A note or a rest."""

    start: int
    """Ticks of the song."""
    length: int
    """Ticks of the song."""
    note: Note | None = None
    """None for a rest."""

    @property
    def end(self) -> int:
        """The tick at which it is over."""
        return self.start + self.length


@dataclass(frozen=True, slots=True)
class Line:
    """Notes of one voice that never sound together."""

    voice: int
    notes: tuple[Note, ...]

    @property
    def entries(self) -> list[Entry]:
        """The notes, and the rests before and between them."""
        found = []
        here = 0
        for note in self.notes:
            if note.start > here:
                found.append(Entry(here, note.start - here))
            found.append(Entry(note.start, note.length, note))
            here = note.end
        return found


def lines_of(song: Song, voices: Iterable[int] | None = None) -> list[Line]:
    """The lines of some voices, of all that are no drums where none are named; those of a voice from the top down.

    A note goes to the line that is as far from the top as there are higher notes sounding with it, so that lines do
    not cross; where that line still sounds, to the next that is free.
    """
    wanted = [index for index, voice in enumerate(song.voices) if not voice.is_drums] if voices is None else voices
    return [line for voice in wanted for line in _of_voice(song, voice)]


def _of_voice(song: Song, voice: int) -> list[Line]:
    lines: list[list[Note]] = []
    notes = [song.notes[index] for index in song.by_voice[voice].tolist()]
    for start, group in groupby(notes, key=attrgetter("start")):
        struck = sorted(group, key=lambda note: -note.number)
        held = sorted((line[-1].number for line in lines if line and line[-1].end > start), reverse=True)
        for place, note in enumerate(struck):
            rank = place + sum(number > note.number for number in held)
            free = (at for at in range(rank, len(lines)) if not lines[at] or lines[at][-1].end <= start)
            goal = next(free, None)
            if goal is None:
                lines += [[] for _ in range(max(1, rank + 1 - len(lines)))]
                goal = len(lines) - 1
            lines[goal].append(note)
    return [Line(voice, tuple(line)) for line in lines if line]
