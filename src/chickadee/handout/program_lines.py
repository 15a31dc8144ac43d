"""Lines of a program on a page: numbers, indents, and a bar beside what is repeated."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from .canvas import Canvas
from .metrics import text_width
from .program_sheet import ProgramSheet, SheetLine
from .request import HandoutFault, Request
from .shapes import Align, Box, Shape

__all__ = ["LINE", "Writing", "sheet_of"]

# millimetres
LINE = 6.4
_INDENT = 6.0
_NUMBER = 9.0
_COUNT = 9.0
_BAR = 0.9
_BESIDE = 1.0  # right of a value that is to be written
_BOX = 12.0  # of a value that is to be written
_SIZE = 11.0  # points


def sheet_of(request: Request) -> ProgramSheet:
    """Return the program that is asked for. Raises HandoutFault where the tune has none."""
    if request.program is None or not request.program.trace:
        raise HandoutFault("The tune has no notes yet; a page of its program needs some.")
    return request.program


class _Chunk(NamedTuple):
    """Text in a row."""

    text: str
    width: float
    """Millimetres."""
    is_blank: bool
    """True if it is a value that is to be written."""


@dataclass
class Writing:
    """Writes lines on a canvas, a block each."""

    canvas: Canvas
    sheet: ProgramSheet

    def lines(self, blanks: frozenset[tuple[int, int]] = frozenset(), are_answers: bool = False) -> None:
        """Write all lines; ``blanks`` are pieces, by line and place, that are left out or boxed as answers."""
        canvas = self.canvas
        hidden = {place for place, _ in blanks} if not are_answers else set()
        counts = {each.first: each for each in self.sheet.repeats if each.turns and each.first - 1 not in hidden}
        blank_width = self._blank_width(blanks) if blanks else _BOX
        for place, line in enumerate(self.sheet.lines):
            rows = self._rows(line, place, blanks, blank_width)
            top = canvas.block(LINE * len(rows), gap=0)
            shapes = self._bars(place, top, LINE * len(rows))
            if place in counts:
                count = f"{counts[place].turns} ×"
                left = self._left(line) - _INDENT - _COUNT
                shapes.append(
                    canvas.words(left, top, _COUNT, LINE, count, 9, bold=True, align=Align.RIGHT, grey=0.35)
                )
            number = str(place + 1)
            shapes.append(canvas.words(canvas.left, top, _NUMBER - 3, LINE, number, 8, align=Align.RIGHT, grey=0.35))
            for row, chunks in enumerate(rows):
                shapes += self._row(
                    chunks, self._left(line) + bool(row) * _INDENT, top + row * LINE, line, are_answers
                )
            canvas.add(shapes)

    def _row(
        self, chunks: Sequence[_Chunk], left: float, top: float, line: SheetLine, are_answers: bool
    ) -> list[Shape]:
        """The pieces of a row, one after the other."""
        shapes: list[Shape] = []
        for chunk in chunks:
            if chunk.is_blank:
                shapes.append(Box(left, top + 0.5, chunk.width - _BESIDE, LINE - 1, 0.5))
            if are_answers or not chunk.is_blank:
                bold = line.is_head or chunk.is_blank
                align = Align.MIDDLE if chunk.is_blank else Align.LEFT
                shapes.append(
                    self.canvas.words(left, top, chunk.width, LINE, chunk.text, _SIZE, bold=bold, align=align)
                )
            left += chunk.width
        return shapes

    def _rows(
        self, line: SheetLine, place: int, blanks: frozenset[tuple[int, int]], blank_width: float
    ) -> list[list[_Chunk]]:
        """The pieces of a line in as many rows as they need; a row is broken before a word."""
        room = self.canvas.left + self.canvas.width - self._left(line) - _INDENT
        rows: list[list[_Chunk]] = [[]]
        used = 0.0
        for number, piece in enumerate(line.pieces):
            is_blank = (place, number) in blanks
            for text in [piece.text] if is_blank else _words(piece.text, room, line.is_head):
                width = blank_width if is_blank else text_width(text, _SIZE, line.is_head)
                if rows[-1] and used + width > room:
                    rows.append([])
                    used = 0.0
                used += width
                last = rows[-1][-1] if rows[-1] else None
                if last is not None and not is_blank and not last.is_blank:
                    rows[-1][-1] = _Chunk(last.text + text, last.width + width, False)
                else:
                    rows[-1].append(_Chunk(text, width, is_blank))
        return rows

    def _blank_width(self, blanks: frozenset[tuple[int, int]]) -> float:
        """Millimetres of every gap: as much as the longest value needs, so that none tells what belongs in it."""
        texts = (self.sheet.lines[place].pieces[number].text for place, number in blanks)
        return max(_BOX, 4 + max(text_width(text, _SIZE, bold=True) for text in texts))

    def _left(self, line: SheetLine) -> float:
        room = _COUNT if any(each.turns for each in self.sheet.repeats) else 0.0
        return self.canvas.left + _NUMBER + room + line.indent * _INDENT

    def _bars(self, place: int, top: float, height: float) -> list[Shape]:
        """The bars beside a line, one for each repeat that it stands in."""
        found: list[Shape] = []
        for each in self.sheet.repeats:
            if each.first <= place <= each.last:
                left = self._left(self.sheet.lines[each.first]) - _INDENT + 1.5
                found.append(Box(left, top, _BAR, height, 0, 0.25))
        return found


def _words(text: str, room: float, bold: bool) -> list[str]:
    """The words of a text with the blanks behind them; one that is wider than the room is parted."""
    found: list[str] = []
    for word in re.findall(r"\S+\s*|\s+", text):
        while text_width(word, _SIZE, bold) > room and len(word) > 1:
            sizes = range(len(word) - 1, 0, -1)
            size = next((each for each in sizes if text_width(word[:each], _SIZE, bold) <= room), 1)
            found.append(word[:size])
            word = word[size:]
        found.append(word)
    return found
