"""Staff and roll: bars in notation and the same bars as blocks, in another order, to be joined."""

from __future__ import annotations

from collections.abc import Sequence

from ..chance import Chance
from ..engraving import Engraver, Part, engrave
from ..notation import VoiceNotation
from ..song import Song
from .canvas import Canvas
from .request import HandoutFault, Request
from .shapes import Align, Box, Line, Page, Shape
from .staff_shapes import at_scale, measure_at, on_page

__all__ = ["match_pages"]

_MOST = 6  # bars on a sheet
_LETTERS = "ABCDEF"
_HIGH = 34.0  # millimetres of a row
_SPACE = 2.5
_SHRINK = 0.9
_LANE = 2.2
_HALF = 0.44  # of the width, that one side has
_LETTER = 8.0  # millimetres


def match_pages(song: Song, voice: int, request: Request) -> list[Page]:
    """Up to six bars that differ, on the staff and as blocks in another order. Raises HandoutFault."""
    notation = VoiceNotation(song, voice, request.clef)
    chance = Chance(request.gaps.seed or 0)
    places = _different(song, notation)
    if len(places) < 2:
        raise HandoutFault("Staff and roll can be matched in a tune of two bars or more that differ.")
    chance.shuffle(places)
    places = sorted(places[:_MOST])
    order = list(range(len(places)))
    while order == sorted(order):
        chance.shuffle(order)
    canvas = Canvas(request, song.title or "Tune")
    top = canvas.block(6, gap=3)
    asked = "Which blocks are which bar? Write the letter into the box."
    canvas.add([canvas.words(canvas.left, top, canvas.width, 6, asked, 11)])
    reach = _reach(song, notation, places)
    for row, place in enumerate(places):
        top = canvas.block(_HIGH, gap=3)
        canvas.add(_staff_side(canvas, notation, place, _LETTERS[row], top))
        answer = _LETTERS[order[row]] if request.answers else ""
        canvas.add(_roll_side(canvas, song, notation, places[order[row]], reach, answer, top))
    return canvas.pages()


def _different(song: Song, notation: VoiceNotation) -> list[int]:
    """The places of bars of which no two have the same notes, and that have some."""
    seen: dict[tuple[tuple[int, int, int], ...], int] = {}
    for place in range(len(notation.bars)):
        if key := tuple(_blocks(song, notation, place)):
            seen.setdefault(key, place)
    return list(seen.values())


def _blocks(song: Song, notation: VoiceNotation, place: int) -> list[tuple[int, int, int]]:
    """(start, end, MIDI number) of what sounds in a bar, in ticks from its beginning."""
    bar = notation.bars[place]
    notes = (song.notes[index] for index in notation.indices.tolist())
    return [
        (max(note.start, bar.start) - bar.start, min(note.end, bar.end) - bar.start, note.number)
        for note in notes
        if note.start < bar.end and note.end > bar.start
    ]


def _reach(song: Song, notation: VoiceNotation, places: Sequence[int]) -> tuple[int, int]:
    numbers = [number for place in places for _, _, number in _blocks(song, notation, place)]
    return min(numbers), max(numbers)


def _staff_side(canvas: Canvas, notation: VoiceNotation, place: int, letter: str, top: float) -> list[Shape]:
    width = canvas.width * _HALF - _LETTER
    bars = range(place, place + 1)
    space = _SPACE
    engraver = Engraver([Part(notation)], measure_at(space), bars, with_meter=False)
    while engraver.systems(width / space) is None or engrave(engraver, bars, width / space).height * space > _HIGH:
        space *= _SHRINK
        engraver = at_scale(engraver, space)
    system = engrave(engraver, bars, width / space)
    shapes: list[Shape] = [canvas.words(canvas.left, top + _HIGH / 2 - 4, _LETTER, 8, letter, 14, bold=True)]
    y = top + (_HIGH - system.height * space) / 2
    return [*shapes, *on_page(system.marks, canvas.left + _LETTER, y, space)]


def _roll_side(
    canvas: Canvas, song: Song, notation: VoiceNotation, place: int, reach: tuple[int, int], answer: str, top: float
) -> list[Shape]:
    bar = notation.bars[place]
    width = canvas.width * _HALF
    left = canvas.left + canvas.width - width
    low, high = reach
    lane = min(_LANE, (_HIGH - 4) / (high - low + 1))
    roll = top + (_HIGH - lane * (high - low + 1)) / 2
    box = left - 16.0
    shapes: list[Shape] = [Box(box, top + _HIGH / 2 - 5, 10, 10, 0.4)]
    if answer:
        shapes.append(canvas.words(box, top + _HIGH / 2 - 5, 10, 10, answer, 14, True, Align.MIDDLE))
    bottom = roll + lane * (high - low + 1)
    shapes.append(Box(left, roll, width, bottom - roll, 0.3, filled=False))
    beat = song.grid.meter_at(bar.start).beat_ticks
    for tick in range(beat, bar.end - bar.start, beat):
        x = left + width * tick / (bar.end - bar.start)
        shapes.append(Line(x, roll, x, bottom, 0.1, dashed=True))
    for start, end, number in _blocks(song, notation, place):
        x = left + width * start / (bar.end - bar.start)
        wide = max(0.8, width * (end - start) / (bar.end - bar.start) - 0.4)
        y = roll + (high - number) * lane
        shapes.append(Box(x, y, wide, lane, 0.15, 0.45))
        shapes.append(Box(x, y, min(0.8, wide), lane, 0, 0.0))
    return shapes
