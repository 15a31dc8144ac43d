"""Flash cards: a note on a staff in front; its name, number, frequency and piano key on the back."""

from __future__ import annotations

from collections.abc import Sequence

from ..engraving.snippet import SNIPPET_WIDTH, pitch_marks, pitch_reach
from ..song import Song
from ..theory import Pitch
from .bars import voice_of
from .canvas import Canvas
from .piano_key import piano_key
from .request import HandoutFault, Request
from .shapes import Align, Line, Page, Shape
from .staff_shapes import on_page

__all__ = ["flash_card_pages", "pitches_wanted"]

_ACROSS = 3
_HIGH = 58.0  # millimetres
_HEADING = 7.0
_CUT = 0.2
_SMALLEST_PART = 0.66  # of a card's height, that a staff with its note may take


def flash_card_pages(song: Song, request: Request) -> list[Page]:
    """Fronts, and on the next page their backs from right to left: they meet when the paper is turned over its long
    edge. Raises HandoutFault."""
    pitches = pitches_wanted(song, request)
    canvas = Canvas(request, "", with_head=False)
    wide = canvas.width / _ACROSS
    rows = max(1, int((canvas.room - _HEADING) // _HIGH))
    for first in range(0, len(pitches), rows * _ACROSS):
        mine = pitches[first : first + rows * _ACROSS]
        for is_back in (False, True):
            canvas.begin_page()
            title = f"Notes of {song.title or 'the tune'}"
            canvas.heading(f"{title}: the backs, for the other side of the sheet" if is_back else title)
            for place in range(0, len(mine), _ACROSS):
                top = canvas.block(_HIGH, gap=0)
                canvas.add(_row(canvas, song, mine[place : place + _ACROSS], wide, top, is_back))
    return canvas.pages()


def pitches_wanted(song: Song, request: Request) -> list[Pitch]:
    """The pitches of the range that was asked for, or those that the tune has, from the lowest."""
    if request.reach is not None:
        return [song.key.spell(number) for number in range(request.reach[0], request.reach[1] + 1)]
    voice = voice_of(song, request)
    notes = [song.notes[index] for index in song.by_voice[voice].tolist()]
    if song.voices[voice].is_drums:
        raise HandoutFault("Drums have no pitches for cards; please choose another voice.")
    found = {(note.number, note.pitch.letter): note.pitch for note in notes}
    return [found[key] for key in sorted(found)]


def _row(canvas: Canvas, song: Song, pitches: Sequence[Pitch], wide: float, top: float, is_back: bool) -> list[Shape]:
    shapes: list[Shape] = []
    for place, pitch in enumerate(pitches):
        column = _ACROSS - 1 - place if is_back else place
        left = canvas.left + column * wide
        draw = _back if is_back else _front
        shapes += draw(canvas, song, pitch, left, wide, top)
        edges = ((left, top, left + wide, top), (left, top + _HIGH, left + wide, top + _HIGH),
                 (left, top, left, top + _HIGH), (left + wide, top, left + wide, top + _HIGH))  # fmt: skip
        shapes += [Line(*edge, _CUT, dashed=True) for edge in edges]
    return shapes


def _front(canvas: Canvas, song: Song, pitch: Pitch, left: float, wide: float, top: float) -> list[Shape]:
    upper, lower = pitch_reach(pitch)
    space = min((wide - 12) / SNIPPET_WIDTH, _HIGH * _SMALLEST_PART / (lower - upper))
    x = left + (wide - SNIPPET_WIDTH * space) / 2
    y = top + _HIGH / 2 - (upper + lower) / 2 * space
    return list(on_page(pitch_marks(pitch), x, y, space))


def _back(canvas: Canvas, song: Song, pitch: Pitch, left: float, wide: float, top: float) -> list[Shape]:
    name = song.naming.pitch_pretty(pitch)
    hertz = f"{song.frequency(pitch.number):.2f} Hz"
    return [
        canvas.words(left, top + 5, wide, 12, name, 26, True, Align.MIDDLE),
        canvas.words(left, top + 18, wide, 7, str(pitch.number), 15, align=Align.MIDDLE),
        canvas.words(left, top + 25, wide, 6, hertz, 11, align=Align.MIDDLE),
        *piano_key(pitch.number, left + wide * 0.2, top + 34, wide * 0.6, 17),
    ]
