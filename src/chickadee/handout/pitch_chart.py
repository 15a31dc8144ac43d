"""The pitch chart: each pitch on the staff, by its names, its number, its frequency and its piano key."""

from __future__ import annotations

from ..engraving.snippet import SNIPPET_WIDTH, pitch_marks, pitch_reach
from ..song import Song
from ..theory import PitchName
from .bars import voice_of
from .canvas import Canvas
from .piano_key import piano_key
from .request import Request
from .shapes import Align, Line, Page, Shape
from .staff_shapes import on_page

__all__ = ["chart_pages"]

_WHITE = (0, 2, 4, 5, 7, 9, 11)
_MOST_IN_COLUMN = 18  # pitches that stand in one column; more stand in two
_SPACE = 1.15  # millimetres of a staff space
_LEAST = 9.0  # millimetres of a row
_COLUMNS = (
    (0.0, 0.19, "Staff", Align.LEFT),
    (0.21, 0.28, "Name", Align.LEFT),
    (0.48, 0.13, "Number", Align.RIGHT),
    (0.62, 0.17, "Hz", Align.RIGHT),
    (0.81, 0.13, "Key", Align.LEFT),
)
"""The part of a row's width that is before a column and that it has, its title, and where its words stand."""


def chart_pages(song: Song, request: Request) -> list[Page]:
    """Every key of the range that was asked for, or from the tune's lowest to its highest; those used are bold."""
    if request.reach is None:
        voice_of(song, request)
    canvas = Canvas(request, f"Pitches of {song.title or 'the tune'}" if request.reach is None else "Pitches")
    used = {note.number for note in song.notes if not song.voices[note.voice].is_drums} or {60}
    low, high = request.reach or (min(used), max(used))
    numbers = list(range(low, high + 1))
    columns = 1 + (len(numbers) > _MOST_IN_COLUMN)
    wide = canvas.width / columns
    while numbers:
        canvas.add(_heads(canvas, wide, columns, canvas.block(6, gap=0.5)))
        rows = min(-(-len(numbers) // columns), _rows_that_fit(song, numbers, canvas.room, columns))
        mine = numbers[: rows * columns]
        for row in range(rows):
            here = [(place, mine[place * rows + row]) for place in range(columns) if place * rows + row < len(mine)]
            height = max(_height(song, number) for _, number in here)
            top = canvas.block(height, gap=0)
            for place, number in here:
                canvas.add(_row(canvas, song, canvas.left + place * wide, wide, number, number in used, top, height))
        numbers = numbers[rows * columns :]
        if numbers:
            canvas.begin_page()
    return canvas.pages()


def _rows_that_fit(song: Song, numbers: list[int], room: float, columns: int) -> int:
    """As many rows as a page has room for, whatever stands beside what."""
    heights = sorted((_height(song, number) for number in numbers), reverse=True)
    rows = 0
    while rows * columns < len(numbers) and sum(heights[: (rows + 1) * columns : columns]) <= room:
        rows += 1
    return max(1, rows)


def _height(song: Song, number: int) -> float:
    upper, lower = pitch_reach(song.key.spell(number))
    return max(_LEAST, (lower - upper) * _SPACE + 1)


def _heads(canvas: Canvas, wide: float, columns: int, y: float) -> list[Shape]:
    return [
        canvas.words(canvas.left + (place + before) * wide, y, part * wide, 6, text, 8, grey=0.35, align=align)
        for place in range(columns)
        for before, part, text, align in _COLUMNS
    ]


def _row(
    canvas: Canvas, song: Song, left: float, wide: float, number: int, bold: bool, y: float, height: float
) -> list[Shape]:
    pitch = song.key.spell(number)
    upper, lower = pitch_reach(pitch)
    space = min(_SPACE, _COLUMNS[0][1] * wide / SNIPPET_WIDTH)
    shapes: list[Shape] = list(on_page(pitch_marks(pitch), left, y + height / 2 - (upper + lower) / 2 * space, space))
    texts = (_both_names(song, number), str(number), f"{song.frequency(number):.2f}")
    for (before, part, _, align), text in zip(_COLUMNS[1:4], texts, strict=True):
        shapes.append(canvas.words(left + before * wide, y, part * wide, height, text, 10, bold, align))
    before, part, _, _ = _COLUMNS[4]
    shapes += piano_key(number, left + before * wide, y + height / 2 - 3.2, part * wide, 6.4)
    return [*shapes, Line(left, y + height, left + 0.94 * wide, y + height, 0.15)]


def _both_names(song: Song, number: int) -> str:
    """A pitch under its name in the key, and under the other that a black key has."""
    name = song.key.spell(number).name
    naming = song.naming
    pitch = name.nearest(number)
    if number % 12 in _WHITE or name.accidental not in (1, -1):
        return naming.pitch_pretty(pitch)
    other = PitchName.from_fifths(name.fifths - 12 * name.accidental).nearest(number)
    return f"{naming.pitch_pretty(pitch)} / {naming.pitch_pretty(other)}"
