"""Song charts and number strips: chords over words by bars, and boxes to count along."""

from __future__ import annotations

from itertools import groupby
from operator import attrgetter
from typing import NamedTuple

from ..song import Song
from ..theory.chord import recognized
from .bars import BarOfCells, PageCell, bars_of, voice_of
from .canvas import Canvas
from .metrics import size_that_fits, text_width, wrapped
from .request import Request
from .shapes import Align, Box, Line, Page, Shape

__all__ = ["chord_names", "song_pages", "strip_pages"]

_IN_LINE = 4  # bars
_LOWEST = 20.0  # millimetres of a bar's height
_HIGHEST = 34.0
_WORD_SIZES = (10.0, 9.0, 8.0)  # points
_READABLE = 8.0  # points
_MOST_LINES = 2  # of words in a bar, unless it fills the page's width
_LINE = 4.0  # millimetres from one line of words to the next
_CHORD_SIZES = (22.0, 18.0, 14.0, 11.0)  # points
_MARGIN = 2.0  # millimetres beside the words of a bar
_BOX = 18.0  # millimetres of a strip's box, where what is in it needs no more
_BOX_HIGH = 22.0
_LARGE = (15.0, 12.0, 10.0, 8.0)  # points of what is largest in a box
_SMALL = (9.0, 8.0)
_BESIDE = 1.0  # millimetres beside the words of a box


class _PlacedChord(NamedTuple):
    name: str
    begins: float
    """The part of its bar before it."""
    share: float
    """The part of its bar until the next chord, or the end."""


def song_pages(song: Song, request: Request) -> list[Page]:
    """Four bars a line, or as wished: chords where they begin, and the words that are sung, or the notes' names."""
    voice = voice_of(song, request)
    canvas = Canvas(request, song.title or "Song")
    chords = chord_names(song)
    bars = bars_of(song, voice)
    in_line = request.bars_in_line or _IN_LINE
    while in_line > 1 and not all(_has_room(bar, chords, canvas.width / in_line) for bar in bars):
        in_line -= 1
    lines = [bars[place : place + in_line] for place in range(0, len(bars), in_line)]
    wide = canvas.width / in_line
    more_lines = max((len(_lines_of_words(bar, wide)) - 1 for bar in bars), default=0)
    high = max(_LOWEST, min(_HIGHEST, canvas.room / max(1, len(lines)) - 4)) + _LINE * max(0, more_lines)
    for line in lines:
        top = canvas.block(high)
        for place, bar in enumerate(line):
            canvas.add(_bar(canvas, bar, canvas.left + place * wide, wide, chords, top, high))
    return canvas.pages()


def chord_names(song: Song) -> dict[int, str]:
    """The chord at each tick where three pitches or more are struck that make one."""
    notes = [note for note in song.notes if not song.voices[note.voice].is_drums]
    found: dict[int, str] = {}
    for start, group in groupby(notes, key=attrgetter("start")):
        by_voice = [
            list(mine) for _, mine in groupby(sorted(group, key=attrgetter("voice")), lambda note: note.voice)
        ]
        known = (recognized([note.pitch for note in mine]) for mine in by_voice if len(mine) > 2)
        chord = next((chord for chord in known if chord is not None), None)
        if chord is not None:
            found[start] = chord.pretty.removesuffix(" major")
    return found


def _bar(
    canvas: Canvas, bar: BarOfCells, left: float, wide: float, chords: dict[int, str], y: float, high: float
) -> list[Shape]:
    shapes: list[Shape] = [Box(left, y, wide, high, 0.3)]
    shapes.append(canvas.words(left + 1, y + 0.5, 12, 4, str(bar.number), 8, grey=0.35))
    room = wide - 2 * _MARGIN
    for chord in _chords_in(bar, chords):
        here = room * chord.share
        size = size_that_fits(chord.name, here, _CHORD_SIZES, bold=True)
        x = left + _MARGIN + room * chord.begins
        shapes.append(canvas.words(x, y + 0.22 * high, here, 0.36 * high, chord.name, size, bold=True))
    words = _lines_of_words(bar, wide)
    size = size_that_fits(max(words, key=len, default=""), room, _WORD_SIZES)
    top = y + 0.6 * high
    between = max(0.32 * high / max(1, len(words)), _LINE)
    for place, line in enumerate(words):
        shapes.append(canvas.words(left + _MARGIN, top + place * between, room, between, line, size))
    return shapes


def _has_room(bar: BarOfCells, chords: dict[int, str], wide: float) -> bool:
    """Return whether the words of a bar fit into a few lines of a box so wide, and its chords beside one another."""
    room = wide - 2 * _MARGIN
    lines = _lines_of_words(bar, wide)
    words_fit = len(lines) <= _MOST_LINES and all(text_width(line, _READABLE) <= room for line in lines)
    placed = _chords_in(bar, chords)
    return words_fit and all(text_width(each.name, _CHORD_SIZES[-1], True) <= room * each.share for each in placed)


def _chords_in(bar: BarOfCells, chords: dict[int, str]) -> list[_PlacedChord]:
    ticks = [tick for tick in chords if bar.start <= tick < bar.end]
    length = bar.end - bar.start
    return [
        _PlacedChord(chords[tick], (tick - bar.start) / length, (until - tick) / length)
        for tick, until in zip(ticks, [*ticks[1:], bar.end], strict=False)
    ]


def _lines_of_words(bar: BarOfCells, wide: float) -> list[str]:
    return wrapped(_words(bar), wide - 2 * _MARGIN, _READABLE)


def _words(bar: BarOfCells) -> str:
    """The words that are sung in a bar, or the names of its notes where there are none."""
    struck = [cell for cell in bar.cells if not cell.goes_on]
    sung = "".join(cell.word if cell.word.endswith("-") else f"{cell.word} " for cell in struck if cell.word)
    return sung.strip() or " ".join(cell.name for cell in struck)


def strip_pages(song: Song, request: Request) -> list[Page]:
    """A row of boxes, one for each note: its number large, its name and beats small; to count along or to cut up.

    All boxes are as wide as the widest needs, so that they are the same when they are cut.
    """
    voice = voice_of(song, request)
    canvas = Canvas(request, song.title or "Strip")
    cells = [cell for bar in bars_of(song, voice) for cell in bar.cells if not cell.goes_on]
    need = max((_need(cell) for cell in cells), default=0.0)
    wide = min(canvas.width, max(_BOX, need))
    count = int(canvas.width // wide)
    for first in range(0, len(cells), count):
        top = canvas.block(_BOX_HIGH, gap=5)
        for place, cell in enumerate(cells[first : first + count]):
            canvas.add(_box(canvas, cell, canvas.left + place * wide, wide, top))
    return canvas.pages()


def _need(cell: PageCell) -> float:
    """The millimetres that a box needs for what is in it, at sizes that can be read."""
    large = text_width(cell.number or cell.name, _READABLE, bold=True)
    return max(large, text_width(cell.name, _READABLE), text_width(cell.beats, _READABLE)) + _BESIDE


def _box(canvas: Canvas, cell: PageCell, left: float, wide: float, y: float) -> list[Shape]:
    room = wide - _BESIDE
    shapes: list[Shape] = [Box(left, y, wide, _BOX_HIGH, 0.4), Line(left, y + 6, left + wide, y + 6, 0.15)]
    rows = (
        (1, 5, cell.beats, _SMALL, False),
        (6, 9, cell.number or cell.name, _LARGE, True),
        (15, 5, "" if cell.is_rest else cell.name, _SMALL, False),
    )
    for top, height, text, sizes, bold in rows:
        size = size_that_fits(text, room, sizes, bold)
        shapes.append(canvas.words(left + _BESIDE / 2, y + top, room, height, text, size, bold, Align.MIDDLE))
    return shapes
