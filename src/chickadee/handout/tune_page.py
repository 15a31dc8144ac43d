"""The tune as a page: its notes by pitch and time, with rows of names, numbers and beats under them."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Mapping, Sequence

from ..song import Note, Song
from .bars import BarOfCells, bars_of, lines_of_bars, voice_of
from .canvas import Canvas
from .request import Request
from .shapes import Box, Line, Page, Shape
from .systems import TITLES, System, room_of_cell

__all__ = ["tune_pages"]

_LEAST = 6.5  # millimetres of the narrowest cells
# millimetres
_LANE = 2.4
_MOST_HIGH = 48.0
_ROW = 5.4
_NARROWEST = 0.6  # millimetres of a note
_ONSET = 0.8  # millimetres of the dark edge at which it begins
_BLACK = {1, 3, 6, 8, 10}


def tune_pages(song: Song, request: Request) -> list[Page]:
    """As many lines as the tune needs. Raises HandoutFault."""
    voice = voice_of(song, request)
    canvas = Canvas(request, song.title or "Tune")
    bars = bars_of(song, voice)
    numbers = [note.number for note in song.notes if not song.voices[note.voice].is_drums or note.voice == voice]
    low = min(numbers) - 1
    high = max(numbers) + 1
    lane = min(_LANE, _MOST_HIGH / (high - low + 1))
    roll = lane * (high - low + 1)
    has_words = any(note.syllable for note in song.notes if note.voice == voice)
    rows = ("Name", "Number", "Beats")
    notes = _notes_of_bars(song, bars)
    for line in lines_of_bars(bars, canvas.width - TITLES, _LEAST, room_of_cell, request.bars_in_line):
        system = System(canvas, line)
        word_lines = system.word_lines() if has_words else 0
        height = 4 + roll + _ROW * (len(rows) + word_lines)
        top = canvas.block(height)
        canvas.add(_system(canvas, system, song, voice, notes, top, (low, high, lane), rows, word_lines))
    return canvas.pages()


def _notes_of_bars(song: Song, bars: Sequence[BarOfCells]) -> dict[int, list[Note]]:
    """The notes that sound in each bar, by the tick at which it begins."""
    starts = [bar.start for bar in bars]
    found: dict[int, list[Note]] = {start: [] for start in starts}
    for note in song.notes:
        first = max(0, bisect_right(starts, note.start) - 1)
        last = bisect_left(starts, note.end)
        for start in starts[first:last]:
            found[start].append(note)
    return found


def _system(
    canvas: Canvas,
    system: System,
    song: Song,
    voice: int,
    notes: Mapping[int, Sequence[Note]],
    y: float,
    lanes: tuple[int, int, float],
    rows: tuple[str, ...],
    word_lines: int,
) -> list[Shape]:
    low, high, lane = lanes
    top = y + 4
    bottom = top + lane * (high - low + 1)
    shapes: list[Shape] = system.numbers(y)
    left = canvas.left + TITLES
    for number in range(low, high + 1):
        at = top + (high - number) * lane
        if not song.key.contains(number):
            shapes.append(Box(left, at, system.right - left, lane, 0, 0.93, hatched=True))
        if number % 12 == song.key.tonic.pitch_class:
            shapes.append(Line(left, at + lane, system.right, at + lane, 0.15))
    shapes += _keys(canvas, low, high, lane, top)
    for place, bar in enumerate(system.bars):
        for note in notes[bar.start]:
            if not low <= note.number <= high:
                continue
            if song.voices[note.voice].is_drums and note.voice != voice:
                continue
            first = system.x(place, max(note.start, bar.start))
            last = system.x(place, min(note.end, bar.end))
            at = top + (high - note.number) * lane + 0.2
            wide = max(_NARROWEST, last - first - 0.3)
            first = min(first, system.right - wide)  # of a bar of a few ticks at the end of a line
            mine = note.voice == voice
            shapes.append(Box(first, at, wide, lane - 0.4, 0.15 if mine else 0.2, 0.45 if mine else 0.88))
            if note.start >= bar.start:
                shapes.append(Box(first, at, min(_ONSET, wide), lane - 0.4, 0, 0.0))
    shapes += system.bar_lines(top, bottom + _ROW * (len(rows) + word_lines))
    shapes.append(Line(left, bottom, system.right, bottom, 0.4))
    values = {"Name": "name", "Number": "number", "Beats": "beats"}
    for place, title in enumerate(rows):
        cells = [
            (bar, cell, "" if cell.goes_on else getattr(cell, values[title]))
            for bar, each in enumerate(system.bars)
            for cell in each.cells
        ]
        shapes += system.row(bottom + place * _ROW, _ROW, title, cells, bold=title == "Name")
    return [*shapes, *(system.words(bottom + len(rows) * _ROW, _ROW) if word_lines else ())]


def _keys(canvas: Canvas, low: int, high: int, lane: float, top: float) -> list[Shape]:
    """A strip of keys at the left; each C is named where there is room."""
    shapes: list[Shape] = []
    for number in range(low, high + 1):
        at = top + (high - number) * lane
        black = number % 12 in _BLACK
        shapes.append(Box(canvas.left + TITLES - 6, at, 3.6 if black else 5.6, lane, 0.15, 0.2 if black else 1.0))
    return shapes
