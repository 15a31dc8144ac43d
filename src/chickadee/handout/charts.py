"""Song charts and number strips: chords over words by bars, and boxes to count along."""

from __future__ import annotations

from itertools import groupby

from ..song import Song
from ..theory.chord import recognized
from .bars import BarOfCells, PageCell, bars_of, voice_of
from .canvas import Canvas
from .request import Request
from .shapes import Align, Box, Line, Page, Shape

__all__ = ["song_pages", "strip_pages"]

_IN_LINE, _LOWEST, _HIGHEST = 4, 20.0, 34.0  # bars; millimetres of a bar's height
_BOX, _BOX_HIGH = 18.0, 22.0  # millimetres


def song_pages(song: Song, request: Request) -> list[Page]:
    """Four bars a line: the chords where they begin, and the words that are sung, or the names of the notes."""
    voice = voice_of(song, request)
    canvas = Canvas(request, song.title or "Song")
    chords = _chords(song)
    bars = bars_of(song, voice)
    lines = [bars[place : place + _IN_LINE] for place in range(0, len(bars), _IN_LINE)]
    high = max(_LOWEST, min(_HIGHEST, canvas.room / max(1, len(lines)) - 4))
    for line in lines:
        canvas.put(high, lambda y, line=line: [  # type: ignore[misc]
            shape for place, bar in enumerate(line) for shape in _bar(canvas, bar, place, chords, y, high)
        ])  # fmt: skip
    return canvas.pages()


def _chords(song: Song) -> dict[int, str]:
    """The chord at each tick where three pitches or more are struck that make one."""
    notes = [note for note in song.notes if not song.voices[note.voice].is_drums]
    found: dict[int, str] = {}
    for start, group in groupby(notes, key=lambda note: note.start):
        by_voice = [
            list(mine) for _, mine in groupby(sorted(group, key=lambda note: note.voice), lambda note: note.voice)
        ]
        known = (recognized([note.pitch for note in mine]) for mine in by_voice if len(mine) > 2)
        chord = next((chord for chord in known if chord is not None), None)
        if chord is not None:
            found[start] = chord.pretty.removesuffix(" major")
    return found


def _bar(canvas: Canvas, bar: BarOfCells, place: int, chords: dict[int, str], y: float, high: float) -> list[Shape]:
    wide = canvas.width / _IN_LINE
    left = canvas.left + place * wide
    shapes: list[Shape] = [Box(left, y, wide, high, 0.3)]
    shapes.append(canvas.words(left + 1, y + 0.5, 12, 4, str(bar.number), 8, grey=0.35))
    mine = [(tick, name) for tick, name in chords.items() if bar.start <= tick < bar.end]
    for at, (tick, name) in enumerate(mine):
        until = mine[at + 1][0] if at + 1 < len(mine) else bar.end
        x = left + 2 + (wide - 4) * (tick - bar.start) / (bar.end - bar.start)
        room = (wide - 4) * (until - tick) / (bar.end - bar.start)
        shapes.append(canvas.words(x, y + 0.22 * high, room, 0.36 * high, name, 0.64 * high, bold=True))
    words = "".join(cell.word if cell.word.endswith("-") else f"{cell.word} " for cell in bar.cells
                    if cell.word and not cell.goes_on)  # fmt: skip
    names = " ".join(cell.name for cell in bar.cells if not cell.goes_on)
    shapes.append(canvas.words(left + 2, y + 0.6 * high, wide - 4, 0.32 * high, words.strip() or names, 10))
    return shapes


def strip_pages(song: Song, request: Request) -> list[Page]:
    """A row of boxes, one for each note: its number large, its name and beats small; to count along or to cut up."""
    voice = voice_of(song, request)
    canvas = Canvas(request, song.title or "Strip")
    cells = [cell for bar in bars_of(song, voice) for cell in bar.cells if not cell.goes_on]
    count = int(canvas.width // _BOX)
    for first in range(0, len(cells), count):
        canvas.put(_BOX_HIGH, lambda y, mine=cells[first : first + count]: [  # type: ignore[misc]
            shape for place, cell in enumerate(mine) for shape in _box(canvas, cell, place, y)], gap=5)  # fmt: skip
    return canvas.pages()


def _box(canvas: Canvas, cell: PageCell, place: int, y: float) -> list[Shape]:
    left = canvas.left + place * _BOX
    return [
        Box(left, y, _BOX, _BOX_HIGH, 0.4),
        canvas.words(left + 0.5, y + 1, _BOX - 1, 5, cell.beats, 9, align=Align.MIDDLE),
        canvas.words(left + 0.5, y + 6, _BOX - 1, 9, cell.number or cell.name, 15, True, Align.MIDDLE),
        canvas.words(left + 0.5, y + 15, _BOX - 1, 5, "" if cell.is_rest else cell.name, 9, align=Align.MIDDLE),
        Line(left, y + 6, left + _BOX, y + 6, 0.15),
    ]
