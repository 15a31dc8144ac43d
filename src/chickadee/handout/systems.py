"""Lines of bars with their rows of cells: what tune pages and worksheets share."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

from .bars import BarLine, PageCell
from .canvas import Canvas
from .metrics import size_that_fits, text_width
from .shapes import Align, Box, Line, Shape

__all__ = ["TITLES", "System", "room_of_cell"]

TITLES = 17.0
"""Millimetres that the titles of rows take at the left."""
_WORD_SIZE = 9.0  # points of words that stand on several lines
_BESIDE = 1.6  # millimetres beside a cell's words
_SIZES = (11.0, 10.0, 9.0, 8.0)  # points that a cell's words are tried at


def room_of_cell(cell: PageCell) -> float:
    """Millimetres that a cell needs for what is written in it, at the smallest size; none where it only goes on."""
    if cell.goes_on:
        return 0.0
    words = ((cell.name, True), (cell.number, False), (cell.beats, False), (cell.word, False))
    return max(text_width(text, _SIZES[-1], bold) + _BESIDE if text else 0.0 for text, bold in words)


class _PlacedWord(NamedTuple):
    """A word at its place: its line, from 0, its left edge and width in millimetres, its size in points."""

    line: int
    left: float
    width: float
    size: float
    text: str


class System:
    """One line of bars on a page: where ticks are, and how cells are drawn."""

    def __init__(self, canvas: Canvas, line: BarLine) -> None:
        self._canvas = canvas
        self.bars = line.bars
        self._count = line.places

    def x(self, bar: int, tick: int) -> float:
        """The millimetre of a tick in one of the bars, by its place in the line; all bars are as wide."""
        wide = self.bar_width
        each = self.bars[bar]
        return self._canvas.left + TITLES + wide * (bar + (tick - each.start) / max(1, each.end - each.start))

    @property
    def bar_width(self) -> float:
        """Millimetres of a bar."""
        return (self._canvas.width - TITLES) / self._count

    @property
    def right(self) -> float:
        """Where the last bar ends."""
        return self.x(len(self.bars) - 1, self.bars[-1].end)

    def numbers(self, top: float) -> list[Shape]:
        """The numbers of the bars, over their beginnings."""
        return [
            self._canvas.words(
                self.x(place, bar.start) + 1, top, self.bar_width - 2, 4, str(bar.number), 8, bold=True
            )
            for place, bar in enumerate(self.bars)
        ]

    def bar_lines(self, top: float, bottom: float) -> list[Shape]:
        """A line at each bar's beginning, and at the end."""
        at = [self.x(place, bar.start) for place, bar in enumerate(self.bars)] + [self.right]
        return [Line(x, top, x, bottom, 0.4) for x in at]

    def word_lines(self) -> int:
        """How many lines the words of the bars need, so that none is cut: several only where they stand close."""
        return 1 + max((word.line for word in self._placed_words()), default=0)

    def words(self, top: float, height: float) -> list[Shape]:
        """The words under their notes, on as many lines as they need."""
        canvas = self._canvas
        shapes: list[Shape] = [canvas.words(canvas.left, top, TITLES - 2, height, "Words", 8, grey=0.35)]
        for word in self._placed_words():
            shapes.append(canvas.words(word.left, top + word.line * height, word.width, height, word.text, word.size))
        bottom = top + self.word_lines() * height
        return [*shapes, Line(canvas.left + TITLES, bottom, self.right, bottom, 0.2)]

    def _placed_words(self) -> list[_PlacedWord]:
        """Words at the largest size at which one line is enough, or else at a middling one on several."""
        for size in _SIZES:
            found = self._words_at(size)
            if all(not word.line for word in found):
                return found
        return self._words_at(_WORD_SIZE)

    def _words_at(self, size: float) -> list[_PlacedWord]:
        ends: list[float] = []  # of the last word of each line
        found = []
        limit = self._canvas.left + self._canvas.width
        sung = ((bar, cell) for bar, each in enumerate(self.bars) for cell in each.cells if not cell.goes_on)
        for bar, cell in sung:
            if not cell.word:
                continue
            width = text_width(cell.word, size)
            left = max(self._canvas.left, min(self.x(bar, cell.start) + _BESIDE / 2, limit - width))
            line = next((line for line, end in enumerate(ends) if end <= left), len(ends))
            ends[line:] = [left + width + _BESIDE, *ends[line + 1 :]]
            found.append(_PlacedWord(line, left, width, size, cell.word))
        return found

    def row(
        self,
        top: float,
        height: float,
        title: str,
        texts: Sequence[tuple[int, PageCell, str]],
        boxed: frozenset[tuple[str, int]] = frozenset(),
        filled: frozenset[tuple[str, int]] = frozenset(),
        bold: bool = False,
    ) -> list[Shape]:
        """A row of cells: (place of the bar, cell, what it says).

        Cells in ``boxed``, by row and index, are left empty in a thick box; those in ``filled`` are answers in one.
        """
        canvas = self._canvas
        shapes: list[Shape] = [canvas.words(canvas.left, top, TITLES - 2, height, title, 8, grey=0.35)]
        for bar, cell, text in texts:
            left = self.x(bar, cell.start)
            wide = self.x(bar, cell.start + cell.length) - left
            key = (title, cell.index)
            if key in boxed and not cell.goes_on:
                shapes.append(Box(left + 0.5, top + 0.5, wide - 1, height - 1, 0.6, cell=key))
            elif text:
                is_answer = key in filled
                if is_answer:
                    shapes.append(Box(left + 0.5, top + 0.5, wide - 1, height - 1, 0.6))
                heavy = bold or is_answer
                room = wide - _BESIDE
                size = size_that_fits(text, room, _SIZES, heavy)
                align = Align.MIDDLE if boxed or filled else Align.LEFT
                words = canvas.words(left + 0.8, top, max(0.5, room), height, text, size, heavy, align)
                if words.text:  # a bar of a few ticks has no room for any
                    shapes.append(replace(words, cell=key))  # narrowed where even the smallest is too wide
        shapes.append(Line(canvas.left + TITLES, top + height, self.right, top + height, 0.2))
        return shapes
