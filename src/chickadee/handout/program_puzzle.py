"""The program as a puzzle: its steps on strips in another order, to be cut out and put right."""

from __future__ import annotations

from collections.abc import Sequence

from ..chance import Chance
from ..song import Song
from .canvas import Canvas
from .metrics import size_that_fits, text_width, wrapped
from .program_lines import sheet_of
from .program_sheet import Order, ProgramSheet
from .request import HandoutFault, Request
from .shapes import Align, Box, Line, Page, Shape

__all__ = ["dealt", "labels", "puzzle_pages"]

_USUAL_SEED = 1
_SIZES = (13.0, 12.0, 11.0, 10.0, 9.0, 8.0)  # points
# millimetres
_STRIP = 10.0
_TEXT_LINE = 5.0
_GAP = 6.0
_LABEL = 9.0
_LINE = 6.0
_INDENT = 6.0
_LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


def puzzle_pages(song: Song, request: Request) -> list[Page]:
    """The strips in their order; with the answers the right orders by the strips' letters. Raises HandoutFault."""
    sheet = sheet_of(request)
    if not sheet.strips:
        raise HandoutFault("A puzzle is made of steps; choose the program line by line, with repeats or with parts.")
    canvas = Canvas(request, song.title or "Tune")
    places = dealt(sheet, request)
    if request.answers:
        _answers(canvas, sheet, places)
    else:
        _strips(canvas, sheet, places, bool(request.false_steps))
    return canvas.pages()


def dealt(sheet: ProgramSheet, request: Request) -> list[int]:
    """Return the strips in the order in which they lie on the sheet: their places; from the last on false ones.

    They never lie in a right order where there is another.
    """
    count = len(sheet.strips)
    false = min(request.false_steps, len(sheet.false_strips))
    seed = request.gaps.seed if request.gaps.seed is not None else _USUAL_SEED
    chance = Chance(seed)
    wrong = list(range(count, count + len(sheet.false_strips)))
    chance.shuffle(wrong)
    places = [*range(count), *wrong[:false]]
    texts = _texts(sheet)
    right = {tuple(texts[place] for place in order.places) for order in sheet.orders}
    for _ in range(8):
        chance.shuffle(places)
        if tuple(texts[place] for place in places) not in right:
            break
    return places


def _texts(sheet: ProgramSheet) -> list[str]:
    """The text of each strip by its place, false ones at the end."""
    return [*sheet.strips, *sheet.false_strips]


def labels(count: int) -> list[str]:
    """Return names for so many strips: A to Z, then AA, AB …"""
    more = [f"{first}{second}" for first in _LETTERS for second in _LETTERS]
    return [*_LETTERS, *more][:count]


def _strips(canvas: Canvas, sheet: ProgramSheet, places: Sequence[int], has_false: bool) -> None:
    said = (
        "Cut the strips out and lay them in an order that sounds the tune. "
        "What is repeated, and what belongs to a part, lies further in."
    )
    if has_false:
        said += " Some strips are left over."
    for line in wrapped(said, canvas.width, 9):
        top = canvas.block(4.5, gap=0)
        canvas.add([canvas.words(canvas.left, top, canvas.width, 4.5, line, 9)])
    canvas.y += 4
    texts = _texts(sheet)
    names = labels(len(places))
    columns = 2 if canvas.width > 2 * (_widest(texts) + _LABEL + _GAP) else 1
    wide = (canvas.width - (columns - 1) * _GAP) / columns
    rows = -(-len(places) // columns)
    most = max(len(_lines(text, wide - _LABEL - 3)) for text in texts)
    height = max(_STRIP, most * _TEXT_LINE + 3)
    for row in range(rows):
        top = canvas.block(height, gap=0)
        for column in range(columns):
            number = row + column * rows
            if number < len(places):
                left = canvas.left + column * (wide + _GAP)
                strip = Box(left, top, wide, height)
                canvas.add(_strip(canvas, strip, names[number], texts[places[number]]))


def _widest(texts: Sequence[str]) -> float:
    return max(text_width(text, _SIZES[0]) for text in texts)


def _lines(text: str, room: float) -> list[str]:
    """The lines of a strip: one, or where even the smallest letters are too wide, several."""
    return [text] if text_width(text, _SIZES[-1]) <= room else wrapped(text, room, _SIZES[-1])


def _strip(canvas: Canvas, strip: Box, name: str, text: str) -> list[Shape]:
    """A strip with a dashed line to cut along all round it."""
    left = strip.left
    top = strip.top
    right = left + strip.width
    bottom = top + strip.height
    across = [(left, top, right, top), (left, bottom, right, bottom)]
    down = [(left, top, left, bottom), (right, top, right, bottom)]
    shapes: list[Shape] = [Line(*edge, 0.2, dashed=True) for edge in (*across, *down)]
    shapes.append(canvas.words(left + 1, top, _LABEL - 2, strip.height, name, 8, align=Align.MIDDLE, grey=0.35))
    room = strip.width - _LABEL - 3
    lines = _lines(text, room)
    first = top + (strip.height - len(lines) * _TEXT_LINE) / 2
    for place, line in enumerate(lines):
        size = size_that_fits(line, room, _SIZES)
        shapes.append(canvas.words(left + _LABEL, first + place * _TEXT_LINE, room, _TEXT_LINE, line, size))
    return shapes


# Answers


def _answers(canvas: Canvas, sheet: ProgramSheet, places: Sequence[int]) -> None:
    texts = _texts(sheet)
    names = labels(len(places))
    by_text: dict[str, list[str]] = {}
    for name, place in zip(names, places, strict=True):
        by_text.setdefault(texts[place], []).append(name)
    count = len(sheet.strips)
    false = [name for name, place in zip(names, places, strict=True) if place >= count]
    own, *others = sheet.orders
    for place, depth in zip(own.places, own.depths, strict=True):
        top = canvas.block(_LINE, gap=0)
        joined = " / ".join(by_text[texts[place]])
        left = canvas.left + 24 + depth * _INDENT
        canvas.add(
            [
                canvas.words(canvas.left, top, 22, _LINE, joined, 10, bold=True),
                canvas.words(left, top, canvas.left + canvas.width - left, _LINE, texts[place], 11),
                *([Box(left - 3, top, 0.9, _LINE, 0, 0.25)] if depth else []),
            ]
        )
    canvas.y += 3
    for sentence in _sentences(sheet, others, false, by_text, texts):
        for line in wrapped(sentence, canvas.width, 10):
            top = canvas.block(5, gap=0)
            canvas.add([canvas.words(canvas.left, top, canvas.width, 5, line, 10)])
        canvas.y += 1


def _sentences(
    sheet: ProgramSheet,
    others: Sequence[Order],
    false: Sequence[str],
    by_text: dict[str, list[str]],
    texts: Sequence[str],
) -> list[str]:
    found = []
    if false:
        found.append(f"Left over: {', '.join(false)}.")
    if any(len(names) > 1 for names in by_text.values()):
        found.append("Strips that read the same can stand for one another.")
    if sheet.has_parts:
        found.append("A part may stand anywhere before it is called.")
    if others:
        found.append(f"Right too, with what lies further in between brackets ({len(others)}):")
        found += [_in_letters(order, by_text, texts) for order in others]
    if not sheet.are_all:
        found.append("There may be more right orders than these; whatever sounds the tune is right.")
    return found


def _in_letters(order: Order, by_text: dict[str, list[str]], texts: Sequence[str]) -> str:
    """An order by the letters of its strips, each strip used once."""
    left = {text: list(names) for text, names in by_text.items()}
    words: list[str] = []
    depth = 0
    for place, own in zip(order.places, order.depths, strict=True):
        if own < depth:
            words[-1] += ")" * (depth - own)
        name = left[texts[place]].pop(0)
        words.append("(" * max(0, own - depth) + name)
        depth = own
    if words:
        words[-1] += ")" * depth
    return " ".join(words)
