"""A trace table: step by step the line, the turn, the item, the pitch and the start; cells are left empty."""

from __future__ import annotations

from collections.abc import Sequence

from ..chance import Chance
from ..song import Song
from .canvas import Canvas
from .metrics import size_that_fits, text_width, wrapped
from .program_lines import Writing, sheet_of
from .program_sheet import ProgramSheet, TraceRow
from .request import Gaps, Request
from .shapes import Align, Box, Page, Shape

__all__ = ["given_cells", "trace_pages"]

_COLUMNS = {"Line": "line", "Turn": "turn", "Counter": "turn", "Item": "item", "Pitch": "pitch", "Start": "start"}
_GIVEN = 4  # one of so many cells is given, where a seed chooses
_SIZES = (10.0, 9.0, 8.0)  # points
# millimetres
_ROW = 7.0
_TEXT_LINE = 4.0
_STEP = 12.0
_WIDEST = 34.0


def trace_pages(song: Song, request: Request) -> list[Page]:
    """The program, and under it a row for each of its steps. Raises HandoutFault."""
    sheet = sheet_of(request)
    canvas = Canvas(request, song.title or "Tune")
    Writing(canvas, sheet).lines()
    canvas.y += 4
    top = canvas.block(5, gap=2)
    said = "Go through the program step by step, and write what happens. Starts are in beats."
    canvas.add([canvas.words(canvas.left, top, canvas.width, 5, said, 9)])
    titles = _titles(sheet.trace)
    given = given_cells(sheet, request.gaps)
    wide = min(_WIDEST, (canvas.width - _STEP) / len(titles))
    _heading(canvas, titles, wide)
    for number, row in enumerate(sheet.trace):
        lines = max(len(wrapped(str(getattr(row, _COLUMNS[title])), wide - 2, _SIZES[-1])) for title in titles)
        height = max(_ROW, lines * _TEXT_LINE + 2)
        room = Box(canvas.left, canvas.block(height, gap=0), wide, height)
        canvas.add(_row(canvas, room, number, row, titles, given, request.answers))
    return canvas.pages()


def _titles(rows: Sequence[TraceRow]) -> list[str]:
    """The columns that have anything in them; turns are those of a counter where the language has one."""
    other = "Turn" if any("=" in row.turn for row in rows) else "Counter"
    return [title for title, name in _COLUMNS.items() if title != other and any(getattr(row, name) for row in rows)]


def given_cells(sheet: ProgramSheet, gaps: Gaps) -> frozenset[tuple[int, str]]:
    """Return the cells that are given, by row and column: the first row, and where there is a seed some others."""
    titles = _titles(sheet.trace)
    found = {(0, title) for title in titles}
    if gaps.seed is not None:
        chance = Chance(gaps.seed)
        cells = [(number, title) for number in range(1, len(sheet.trace)) for title in titles]
        found |= {cell for cell in cells if not chance.below(_GIVEN)}
    return frozenset(found)


def _heading(canvas: Canvas, titles: Sequence[str], wide: float) -> None:
    top = canvas.block(_ROW, gap=0)
    shapes: list[Shape] = [canvas.words(canvas.left, top, _STEP, _ROW, "Step", 9, bold=True)]
    for place, title in enumerate(titles):
        left = canvas.left + _STEP + place * wide
        shapes.append(canvas.words(left, top, wide, _ROW, title, 9, bold=True, align=Align.MIDDLE))
    canvas.add(shapes)


def _row(
    canvas: Canvas,
    room: Box,
    number: int,
    row: TraceRow,
    titles: Sequence[str],
    given: frozenset[tuple[int, str]],
    answers: bool,
) -> list[Shape]:
    """A row of cells, each as wide as the ``room``."""
    top = room.top
    wide = room.width
    shapes: list[Shape] = [canvas.words(canvas.left, top, _STEP - 2, room.height, str(number + 1), 9, grey=0.35)]
    for place, title in enumerate(titles):
        left = canvas.left + _STEP + place * wide
        is_given = (number, title) in given
        shapes.append(Box(left, top, wide, room.height, 0.25, 0.94 if is_given else 1.0))
        if is_given or answers:
            text = str(getattr(row, _COLUMNS[title]))
            shapes += _cell(canvas, Box(left + 1, top, wide - 2, room.height), text, not is_given)
    return shapes


def _cell(canvas: Canvas, room: Box, text: str, bold: bool) -> list[Shape]:
    """The words of a cell, in several lines where one has no room for them."""
    size = size_that_fits(text, room.width, _SIZES, bold)
    lines = [text] if text_width(text, size, bold) <= room.width else wrapped(text, room.width, size)
    first = room.top + (room.height - len(lines) * _TEXT_LINE) / 2
    return [
        canvas.words(room.left, first + place * _TEXT_LINE, room.width, _TEXT_LINE, line, size, bold, Align.MIDDLE)
        for place, line in enumerate(lines)
    ]
