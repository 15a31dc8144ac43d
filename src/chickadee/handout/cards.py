"""Key cards: which key is which pitch, on the computer and on the piano."""

from __future__ import annotations

from collections.abc import Sequence

from ..song import Song
from .bars import voice_of
from .canvas import Canvas
from .request import Request
from .shapes import Align, Box, Line, Page, Shape

__all__ = ["OCTAVE_MILLIMETRES", "keys_pages"]

OCTAVE_MILLIMETRES = 164.5
"""The width of an octave on a real keyboard: seven white keys of 23.5 mm."""
_LETTERS = ((1, "QWERTYUIOP"), (0, "ASDFGHJKL"), (-1, "ZXCVBNM"))
_WHITE = (0, 2, 4, 5, 7, 9, 11)
_BLACK_AT = {1: 1, 3: 2, 6: 4, 8: 5, 10: 6}  # black keys by the white edge they lie on
_OCTAVE = 4  # that the computer's home row begins in
_IN_ROW = 6  # own keys
_STRIP = 26.0  # millimetres that a strip is high


def keys_pages(song: Song, request: Request) -> list[Page]:
    """The computer's keys in the tune's key, the piano keys it needs, and strips to lay on a keyboard."""
    voice_of(song, request)
    canvas = Canvas(request, f"Keys for {song.title or 'the tune'}")
    canvas.heading(f"The computer’s keys in {song.key.pretty}, octave {_OCTAVE}")
    canvas.add(_computer(canvas, song, canvas.block(3 * 16.0, gap=6)))
    for name, keys in request.key_sets:
        canvas.heading(f"The set of keys {name}" if name else "Keys of the tune’s own")
        for row in (keys[place : place + _IN_ROW] for place in range(0, len(keys), _IN_ROW)):
            canvas.add(_own(canvas, row, canvas.block(15, gap=3)))
    used = {note.number for note in song.notes if not song.voices[note.voice].is_drums}
    if not used:
        return canvas.pages()
    first = min(used) // 12
    last = max(used) // 12
    canvas.heading("The piano keys that the tune needs")
    for octaves in (range(start, min(last, start + 1) + 1) for start in range(first, last + 1, 2)):
        canvas.add(_piano(canvas, song, octaves, used, canvas.block(38)))
    canvas.heading("To cut out and lay on a keyboard")
    for octave in range(first, last + 1):
        canvas.add(_strip(canvas, song, octave, used, canvas.block(_STRIP, gap=3)))
    return canvas.pages()


def _computer(canvas: Canvas, song: Song, top: float) -> list[Shape]:
    shapes: list[Shape] = []
    size = min(18.0, canvas.width / 11)
    for row, (raised, letters) in enumerate(_LETTERS):
        for column, letter in enumerate(letters):
            left = canvas.left + size * (column + 0.4 * row)
            y = top + row * 16
            pitch = song.key.at_step(column + 1, _OCTAVE, raised)
            shapes.append(Box(left, y, size - 1, 15, 0.3))
            shapes.append(canvas.words(left + 1, y + 0.5, size - 3, 5, letter, 8, grey=0.35))
            shapes.append(
                canvas.words(
                    left + 0.5, y + 4.5, size - 2, 5.5, song.naming.pitch_pretty(pitch), 10, True, Align.MIDDLE
                )
            )
            shapes.append(canvas.words(left + 0.5, y + 9.5, size - 2, 5, str(pitch.number), 8, align=Align.MIDDLE))
    return shapes


def _own(canvas: Canvas, keys: Sequence[tuple[str, str]], top: float) -> list[Shape]:
    """Keys with what they play."""
    wide = canvas.width / _IN_ROW
    shapes: list[Shape] = []
    for place, (key, written) in enumerate(keys):
        left = canvas.left + place * wide
        shapes.append(Box(left, top, wide - 2, 15, 0.3))
        shapes.append(canvas.words(left + 1.5, top + 0.5, wide - 5, 5, key, 8, grey=0.35))
        shapes.append(canvas.words(left + 1, top + 6, wide - 4, 7, written.strip("{}"), 12, True, Align.MIDDLE))
    return shapes


def _piano(canvas: Canvas, song: Song, octaves: range, used: set[int], top: float) -> list[Shape]:
    """White and black keys of some octaves; those that are not needed are hatched."""
    wide = min(canvas.width / (7 * len(octaves)), 14.0)
    shapes: list[Shape] = []
    for place, octave in enumerate(octaves):
        left = canvas.left + place * 7 * wide
        for white, step in enumerate(_WHITE):
            number = octave * 12 + step
            x = left + white * wide
            shapes.append(Box(x, top, wide, 36, 0.3, 1.0, hatched=number not in used))
            if number in used:
                shapes.append(canvas.words(x, top + 24, wide, 5, _name(song, number), 9, True, Align.MIDDLE))
                shapes.append(canvas.words(x, top + 29, wide, 5, str(number), 8, align=Align.MIDDLE))
        for step, edge in _BLACK_AT.items():
            number = octave * 12 + step
            x = left + edge * wide - 0.32 * wide
            shapes.append(Box(x, top, 0.64 * wide, 22, 0.3, 1.0 if number in used else 0.25))
            if number in used:
                shapes.append(canvas.words(x, top + 9, 0.64 * wide, 5, _short(song, number), 8, True, Align.MIDDLE))
                shapes.append(canvas.words(x, top + 14, 0.64 * wide, 5, str(number), 8, align=Align.MIDDLE))
    return shapes


def _strip(canvas: Canvas, song: Song, octave: int, used: set[int], top: float) -> list[Shape]:
    """An octave in the size of a real keyboard, to lie behind its keys."""
    wide = OCTAVE_MILLIMETRES / 7
    shapes: list[Shape] = [
        Line(canvas.left, at, canvas.left + OCTAVE_MILLIMETRES, at, 0.2, True) for at in (top, top + _STRIP)
    ]
    for white, step in enumerate(_WHITE):
        number = octave * 12 + step
        x = canvas.left + white * wide
        shapes.append(Line(x, top, x, top + _STRIP, 0.2))
        bold = number in used
        shapes.append(
            canvas.words(
                x,
                top + 14,
                wide,
                6,
                song.naming.pitch_pretty(song.key.spell(number)),
                12 if bold else 9,
                bold,
                Align.MIDDLE,
            )
        )
        shapes.append(canvas.words(x, top + 20, wide, 5, str(number), 9, align=Align.MIDDLE))
    for step, edge in _BLACK_AT.items():
        number = octave * 12 + step
        x = canvas.left + edge * wide - 5
        shapes.append(Box(x, top, 10, 13, 0.3, 1.0))
        shapes.append(canvas.words(x, top + 1.5, 10, 5, _short(song, number), 9, number in used, Align.MIDDLE))
        shapes.append(canvas.words(x, top + 7, 10, 5, str(number), 8, align=Align.MIDDLE))
    shapes.append(Line(canvas.left + OCTAVE_MILLIMETRES, top, canvas.left + OCTAVE_MILLIMETRES, top + _STRIP, 0.2))
    return shapes


def _name(song: Song, number: int) -> str:
    return song.naming.pitch_pretty(song.key.spell(number))


def _short(song: Song, number: int) -> str:
    """A name without its octave."""
    return song.naming.pretty(song.key.spell(number).name)
