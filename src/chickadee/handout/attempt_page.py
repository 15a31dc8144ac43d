"""A page for each attempt of a class: the tune, what the pupil wrote under it, and the one place to look at."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from operator import attrgetter

from ..song import Song
from .bars import BarOfCells, PageCell, bars_of, lines_of_bars, voice_of
from .canvas import Canvas
from .metrics import wrapped
from .request import Request
from .shapes import Box, Page, Shape
from .systems import TITLES, System, room_of_cell

__all__ = ["AttemptSheet", "TriedMoment", "attempt_pages"]

# millimetres
_LEAST = 9.0
_ROW = 7.5
_LINE = 5.5


@dataclass(frozen=True, slots=True)
class TriedMoment:
    """A moment of an attempt at a place of the tune."""

    start: int
    """The tick in the tune."""
    length: int
    """Ticks."""
    text: str
    """Its pitches."""
    is_right: bool = True


@dataclass(frozen=True, slots=True)
class AttemptSheet:
    """An attempt, to be given back."""

    name: str
    sentence: str
    """The sentence about it, in plain words."""
    moments: tuple[TriedMoment, ...] = ()
    look_at: tuple[int, int] | None = None
    """(start, end) in ticks of the first place that differs."""


def attempt_pages(song: Song, request: Request, attempts: Sequence[AttemptSheet]) -> list[Page]:
    """The pages of all attempts, each begun on a page of its own. Raises HandoutFault."""
    found = []
    for attempt in attempts:
        found += _pages(song, replace(request, title=f"{song.title or 'Tune'}: {attempt.name}"), attempt)
    return found


def _pages(song: Song, request: Request, attempt: AttemptSheet) -> list[Page]:
    bars = bars_of(song, voice_of(song, request))
    canvas = Canvas(request, song.title)
    for line in wrapped(attempt.sentence, canvas.width, 11):
        top = canvas.block(_LINE, gap=0)
        canvas.add([canvas.words(canvas.left, top, canvas.width, _LINE, line, 11)])
    canvas.y += 4
    for bars_here in lines_of_bars(bars, canvas.width - TITLES, _LEAST, room_of_cell):
        system = System(canvas, bars_here)
        canvas.add(_system(system, attempt, canvas.block(4 + 2 * _ROW, gap=6)))
    return canvas.pages()


def _system(system: System, attempt: AttemptSheet, y: float) -> list[Shape]:
    top = y + 4
    tune = [
        (bar, cell, "" if cell.goes_on else cell.name) for bar, each in enumerate(system.bars) for cell in each.cells
    ]
    shapes = system.numbers(y) + system.row(top, _ROW, "The tune", tune)
    tried = [
        (bar, _cell(moment, each), moment.text)
        for bar, each in enumerate(system.bars)
        for moment in _apart(attempt.moments)
        if each.start <= moment.start < each.end
    ]
    shapes += system.row(top + _ROW, _ROW, "Yours", tried, bold=True)
    if attempt.look_at is not None:
        shapes += _mark(system, attempt.look_at, top)
    return [*shapes, *system.bar_lines(top, top + 2 * _ROW)]


def _apart(moments: Sequence[TriedMoment]) -> list[TriedMoment]:
    """Moments in order of time, each cut where the next begins; of those that begin together the first is kept."""
    found: list[TriedMoment] = []
    for moment in sorted(moments, key=attrgetter("start")):
        if found and found[-1].start == moment.start:
            continue
        if found and found[-1].start + found[-1].length > moment.start:
            found[-1] = replace(found[-1], length=moment.start - found[-1].start)
        found.append(moment)
    return found


def _cell(moment: TriedMoment, bar: BarOfCells) -> PageCell:
    length = max(1, min(moment.length, bar.end - moment.start))
    return PageCell(0, moment.start, length, moment.text, "", "")


def _mark(system: System, look_at: tuple[int, int], top: float) -> list[Shape]:
    """A thick frame round the first place that differs, in the bar where it begins."""
    start, end = look_at
    for place, bar in enumerate(system.bars):
        if bar.start <= start < bar.end or (place == len(system.bars) - 1 and start == bar.end):
            left = system.x(place, min(start, bar.end - (bar.end - bar.start) // 8))
            right = max(system.x(place, min(max(end, start), bar.end)), left + 7)
            return [Box(left, top, min(right, system.right) - left, 2 * _ROW, 0.9, filled=False)]
    return []
