"""A tune in lines of whole bars, for pages: each moment as a cell with its facts."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import groupby
from operator import attrgetter
from typing import NamedTuple

from ..song import Song
from ..song.beats import beats
from ..song.drums import DRUM_NAMES
from .request import HandoutFault, Request

__all__ = ["BarLine", "BarOfCells", "PageCell", "bars_of", "lines_of_bars", "voice_of"]

_IN_LINE = (8, 6, 4, 3, 2, 1)
# bars in a line
_USUAL = 4
_FEW = 3


@dataclass(frozen=True, slots=True)
class PageCell:
    """Notes struck together, or a rest."""

    index: int
    """Which cell of the tune it is, from 0."""
    start: int
    """Ticks."""
    length: int
    """Ticks; the part inside the bar where it is longer."""
    name: str
    number: str
    beats: str
    word: str = ""
    is_rest: bool = False
    goes_on: bool = False
    """True if it was struck in the bar before."""

    @property
    def end(self) -> int:
        """The tick after its last."""
        return self.start + self.length


@dataclass(frozen=True, slots=True)
class BarOfCells:
    """One bar."""

    number: int
    start: int
    end: int
    cells: tuple[PageCell, ...]


class BarLine(NamedTuple):
    """Bars that stand in one line."""

    bars: tuple[BarOfCells, ...]
    places: int
    """How many there is room for."""


def voice_of(song: Song, request: Request) -> int:
    """The voice that is read. Raises HandoutFault where there are no notes."""
    if request.voice is not None:
        return request.voice
    pitched = [place for place, voice in enumerate(song.voices) if len(song.by_voice[place]) and not voice.is_drums]
    every = [place for place in range(len(song.voices)) if len(song.by_voice[place])]
    if not every:
        raise HandoutFault("There are no notes to put on a page yet.")
    return (pitched or every)[0]


def bars_of(song: Song, voice: int) -> list[BarOfCells]:
    """The bars of a voice, with its notes and the rests between them; a note over a bar line stands in both bars."""
    cells = _cells(song, voice)
    end = max(song.end, cells[-1].end if cells else 0)
    found = []
    for number, start in song.grid.starts(end):
        until = song.grid.end(number)
        # cells do not overlap: those of a bar follow one another
        first = bisect_right(cells, start, key=attrgetter("end"))
        last = bisect_left(cells, until, key=attrgetter("start"))
        inside = tuple(_inside(cell, start, until) for cell in cells[first:last])
        found.append(BarOfCells(number, start, until, inside))
    return found


def _inside(cell: PageCell, start: int, end: int) -> PageCell:
    first = max(cell.start, start)
    last = min(cell.end, end)
    return PageCell(
        cell.index,
        first,
        last - first,
        cell.name,
        cell.number,
        cell.beats,
        cell.word,
        cell.is_rest,
        cell.start < start,
    )


def _cells(song: Song, voice: int) -> list[PageCell]:
    drums = song.voices[voice].is_drums
    notes = [song.notes[place] for place in song.by_voice[voice].tolist()]
    found: list[PageCell] = []
    here = 0
    for start, group in groupby(notes, key=attrgetter("start")):
        mine = sorted(group, key=attrgetter("number"))
        if start > here:
            found.append(_rest(song, len(found), here, start))
        elif found and found[-1].end > start:
            before = found.pop()
            found.append(
                PageCell(
                    before.index,
                    before.start,
                    start - before.start,
                    before.name,
                    before.number,
                    before.beats,
                    before.word,
                    before.is_rest,
                )
            )
        length = max(note.length for note in mine)
        names = [
            DRUM_NAMES.get(note.number, str(note.number)) if drums else song.naming.pitch_pretty(note.pitch)
            for note in mine
        ]
        found.append(
            PageCell(
                len(found),
                start,
                length,
                " ".join(names),
                " ".join(str(note.number) for note in mine),
                beats(song.grid.beats(start, length)),
                mine[0].syllable,
            )
        )
        here = start + length
    return found


def _rest(song: Song, index: int, start: int, end: int) -> PageCell:
    return PageCell(index, start, end - start, "–", "", beats(song.grid.beats(start, end - start)), is_rest=True)


def lines_of_bars(
    bars: Sequence[BarOfCells],
    width: float,
    least: float,
    room_of: Callable[[PageCell], float] = lambda cell: 0.0,
    wished: int | None = None,
) -> list[BarLine]:
    """Bars in lines of so many millimetres: every cell has its ``least`` width and the room for what is in it.

    All lines have as many bars, as ``wished`` or as fit, where that makes three at least; else each has as many as
    those in it need.
    """
    needs = [_need(bar, least, room_of) for bar in bars]
    counts = _counts(wished)
    usual = _bars_that_fit(max(needs, default=width / _USUAL), width, counts)
    found: list[BarLine] = []
    at = 0
    while at < len(bars):
        count = usual
        if usual < _FEW:
            count = next((each for each in counts if width / each >= max(needs[at : at + each])), 1)
        found.append(BarLine(tuple(bars[at : at + count]), count))
        at += count
    return found


def _counts(wished: int | None) -> Sequence[int]:
    """How many bars may stand in a line, the most first."""
    return _IN_LINE if wished is None else range(wished, 0, -1)


def _need(bar: BarOfCells, least: float, room_of: Callable[[PageCell], float]) -> float:
    """The millimetres that a bar needs for its cells, which are as wide as they are long."""
    length = max(1, bar.end - bar.start)
    widths = (max(0.0 if cell.goes_on else least, room_of(cell)) * length / max(1, cell.length) for cell in bar.cells)
    return max(widths, default=0.0)


def _bars_that_fit(need: float, width: float, counts: Sequence[int]) -> int:
    """The first of some counts of bars in a line that leaves each the millimetres it needs; 1 where none does."""
    return next((count for count in counts if width / count >= need), 1)
