"""Worksheets: the tune's rows with cells left empty, and the same with the answers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..chance import Chance
from ..song import Song
from .bars import BarOfCells, PageCell, bars_of, lines_of_bars, voice_of
from .canvas import Canvas
from .request import Gaps, Request
from .shapes import Page, Shape
from .systems import TITLES, System, room_of_cell

__all__ = ["difficulty", "gaps_in", "worksheet_pages"]

# millimetres: of a box that can be written in
_LEAST = 11.0
_ROW = 9.0
_ROWS = ("Name", "Number", "Beats")
_VALUES = {"Name": "name", "Number": "number", "Beats": "beats"}

Cells = frozenset[tuple[str, int]]
"""Cells by the title of their row and their index in the tune."""


def worksheet_pages(song: Song, request: Request) -> list[Page]:
    """The sheet with its gaps; with the answers where the request wants them. Raises HandoutFault."""
    voice = voice_of(song, request)
    bars = bars_of(song, voice)
    canvas = Canvas(request, song.title or "Tune")
    empty = gaps_in(bars, request.gaps)
    rows = [row for row in _ROWS if not (row == "Number" and song.voices[voice].is_drums)]
    top = canvas.block(5, gap=3)
    canvas.add([canvas.words(canvas.left, top, canvas.width, 5, difficulty(empty, request.gaps), 9)])
    bars = [_shown(bar, request.gaps, empty) for bar in bars]
    boxed, filled = (frozenset(), empty) if request.answers else (empty, frozenset())
    for line in lines_of_bars(bars, canvas.width - TITLES, _LEAST, room_of_cell, request.bars_in_line):
        system = System(canvas, line)
        canvas.add(_system(system, canvas.block(4 + _ROW * len(rows), gap=6), rows, boxed, filled))
    return canvas.pages()


def _system(system: System, y: float, rows: Sequence[str], boxed: Cells, filled: Cells) -> list[Shape]:
    shapes = system.numbers(y)
    for place, title in enumerate(rows):
        cells = [
            (bar, cell, "" if cell.goes_on else getattr(cell, _VALUES[title]))
            for bar, each in enumerate(system.bars)
            for cell in each.cells
        ]
        shapes += system.row(y + 4 + place * _ROW, _ROW, title, cells, boxed, filled, bold=title == "Name")
    return [*shapes, *system.bar_lines(y + 4, y + 4 + len(rows) * _ROW)]


def _shown(bar: BarOfCells, gaps: Gaps, empty: Cells) -> BarOfCells:
    """A bar whose boxes do not give away by their widths what is left empty: lengths, or how many notes there are."""
    hidden = gaps.kind == "bars" and any((row, cell.index) in empty for cell in bar.cells for row in _ROWS)
    if hidden:
        return replace(bar, cells=(_whole(bar),))
    if gaps.kind != "beats" or not bar.cells:
        return bar
    wide = (bar.end - bar.start) // len(bar.cells)
    cells = (replace(cell, start=bar.start + wide * place, length=wide) for place, cell in enumerate(bar.cells))
    return replace(bar, cells=tuple(cells))


def _whole(bar: BarOfCells) -> PageCell:
    """All of a bar as one cell."""
    mine = [cell for cell in bar.cells if not cell.goes_on] or list(bar.cells)
    name, number, beats = (" ".join(getattr(cell, value) for cell in mine) for value in _VALUES.values())
    index = next(cell.index for cell in bar.cells if not cell.is_rest)
    return PageCell(index, bar.start, bar.end - bar.start, name, number, beats)


def gaps_in(bars: Sequence[BarOfCells], gaps: Gaps) -> Cells:
    """The cells that are left empty. Where a note is left out, both its name and its number are: one gives the other.

    A seed shifts which notes or bars are chosen, each in its own way.
    """
    if gaps.kind == "chosen":
        return gaps.cells
    struck = [cell for bar in bars for cell in bar.cells if not cell.goes_on and not cell.is_rest]
    if gaps.kind in ("numbers", "names", "beats"):
        row = {"numbers": "Number", "names": "Name", "beats": "Beats"}[gaps.kind]
        return frozenset((row, cell.index) for cell in struck)
    chance = Chance(gaps.seed) if gaps.seed is not None else None
    if gaps.kind == "bars":
        chosen = [bar for place, bar in enumerate(bars) if (chance.below(2) if chance else place % 2)]
        inside = {cell.index for bar in chosen for cell in bar.cells if not cell.is_rest}
        return frozenset((row, index) for index in inside for row in _ROWS)
    found = []
    for first in range(0, len(struck), gaps.every):
        group = struck[first : first + gaps.every]
        place = chance.below(gaps.every) if chance else gaps.every - 1
        if place < len(group):
            found.append(group[place].index)
    return frozenset((row, index) for index in found for row in ("Name", "Number"))


def difficulty(empty: Cells, gaps: Gaps) -> str:
    """How many boxes there are, and of what kind."""
    notes = len({index for _, index in empty})
    count = f"{notes} note{'s' if notes != 1 else ''}"
    what = {
        "numbers": f"Write the MIDI number of each note: {count}.",
        "names": f"Write the name of each note: {count}.",
        "beats": f"Write how many beats each note lasts: {count}.",
        "bars": f"Write the bars that are missing: {count}.",
    }
    return what.get(gaps.kind, f"Write the names and numbers that are missing: {count}.")
