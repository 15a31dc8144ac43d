"""One note, chord or rest by itself: heads, accidentals, dots and ledger lines, and the room it needs."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from ..notation import DrumHead, NotatedItem, NoteHead, Stem
from .distances import ACCIDENTAL_GAP, DOT_GAP, LEDGER, LEDGER_OUT, STAFF_HEIGHT, y_of
from .marks import Mark, Rule, Sign, polygon
from .outlines import Box, outline

__all__ = [
    "ACCIDENTAL_SIGNS",
    "FLAGGED",
    "ItemLayout",
    "PlacedHead",
    "flag_width",
    "layout_of",
    "offset_beside",
    "rest_marks",
]

ACCIDENTAL_SIGNS = {-2: "double-flat", -1: "flat", 0: "natural", 1: "sharp", 2: "double-sharp"}
FLAGGED = ("eighth", "16th", "32nd", "64th")
"""The types that have flags, where no beam joins them."""
_HEADS = {"whole": "head-whole", "half": "head-half"}
_DRUM_HEADS = {DrumHead.CROSS: "head-cross", DrumHead.OPEN: "head-open", DrumHead.TRIANGLE: "head-triangle"}
_TOP_LINE = 8
_BAR_REST = 1.3  # staff spaces that a whole or half rest is wide
_BESIDE_PAREN = 0.08
_BESIDE_HEAD = 0.12
_REST_REACH = 1.5  # staff spaces up and down from the middle of a rest
_REST_DOT = 1.5  # staff spaces below the top line


class PlacedHead(NamedTuple):
    """A head and where it is drawn."""

    head: NoteHead
    sign: str
    x: float
    """Its left edge, from that of the item."""
    y: float

    @property
    def box(self) -> Box:
        """Where it is drawn."""
        return outline(self.sign).box.moved(self.x, self.y)


class ItemLayout(NamedTuple):
    """The parts of an item but its stem; x from the left edge of its heads, y from the staff's top line."""

    heads: tuple[PlacedHead, ...]
    marks: tuple[Mark, ...]
    """Accidentals, dots and ledger lines."""
    left: float
    """The room that it takes left of its heads; 0 or less."""
    right: float
    """The right edge of all."""
    width: float
    """The width of its heads, or of a rest."""
    rest_shift: float = 0.0
    """Staff spaces that a rest stands lower than usual."""

    @property
    def boxes(self) -> list[Box]:
        """Boxes over which nothing else may be drawn."""
        return [*(head.box for head in self.heads), *(mark.box for mark in self.marks if isinstance(mark, Sign))]


def layout_of(item: NotatedItem, stem: Stem | None = None, shared: bool = False) -> ItemLayout:
    """The layout of an item. ``stem`` is where its line's stems go, where it shares its staff with another."""
    if item.is_rest:
        shift = 0.0
        if shared and stem is not None:
            shift = -2.0 if stem is Stem.UP else 2.0
        if item.whole_bar:  # drawn as a whole rest, however long the bar is
            return ItemLayout((), (), 0.0, _BAR_REST, _BAR_REST, shift)
        width = _BAR_REST if item.length.type in _HEADS else outline(f"rest-{item.length.type}").width
        rest_dots = tuple(_dots(item, [_REST_DOT + shift], width))
        return ItemLayout((), rest_dots, 0.0, _right_of(rest_dots, width), width, shift)
    heads = _heads(item)
    sign = heads[0].sign
    width = outline(sign).width
    left = min(head.x for head in heads)
    right = max(head.box.right for head in heads)
    accidentals = list(_accidentals(heads, left))
    lines = list(_ledger_lines(heads))
    dots = list(_dots(item, _dot_places(heads), max(right, width + flag_width(item))))
    edge = min([left, *(mark.box.left for mark in accidentals), *(rule.left for rule in lines)])
    marks: tuple[Mark, ...] = (*lines, *accidentals, *dots)
    return ItemLayout(heads, marks, edge, max([_right_of(dots, right), *(rule.right for rule in lines)]), width)


def offset_beside(layout: ItemLayout, others: Sequence[tuple[ItemLayout, float]]) -> float:
    """How much further right an item is drawn than others, with their offsets, that sound with it on its staff.

    As little as keeps it off them: not at all, by a head, or all the way.
    """
    taken = [box.moved(offset, 0) for other, offset in others for box in _solid(other)]
    if not taken:
        return 0.0
    edge = max(box.right for box in taken)
    heads = max((offset + other.width for other, offset in others), default=0.0)
    for offset in (0.0, heads + _BESIDE_HEAD):
        if not any(box.moved(offset, 0).meets(other) for box in _solid(layout) for other in taken):
            return offset
    return edge + _BESIDE_HEAD - layout.left


def _solid(layout: ItemLayout) -> list[Box]:
    """The boxes of an item; a rest is as high as the highest of them."""
    if layout.heads:
        return layout.boxes
    middle = STAFF_HEIGHT / 2 + layout.rest_shift
    return [Box(0.0, middle - _REST_REACH, layout.width, middle + _REST_REACH)]


def rest_marks(item: NotatedItem, x: float, top: float, shift: float) -> Iterator[Mark]:
    """A rest whose left edge, or middle for a whole bar's, is at ``x``."""
    middle = top + 2 + shift
    if item.length.type not in _HEADS and not item.whole_bar:
        yield Sign(f"rest-{item.length.type}", x, middle, part="rest")
        return
    left = x - _BAR_REST / 2 if item.whole_bar else x
    hangs = item.whole_bar or item.length.type == "whole"
    y = middle - 1 if hangs else middle - 0.5
    edges = (left, y), (left + _BAR_REST, y), (left + _BAR_REST, y + 0.5), (left, y + 0.5)
    yield polygon(*edges, part="rest")
    if abs(shift) > 2 or (shift and not hangs):
        line = middle - 1 if hangs else middle
        yield Rule(left - LEDGER_OUT, line, left + _BAR_REST + LEDGER_OUT, line, LEDGER)


def _right_of(dots: Sequence[Sign], edge: float) -> float:
    return max((dot.box.right for dot in dots), default=edge)


def _heads(item: NotatedItem) -> tuple[PlacedHead, ...]:
    """Heads from the lowest; of those a step apart, or at one place, one stands on the other side of the stem."""
    usual = _HEADS.get(item.length.type, "head-black")
    down = item.stem is Stem.DOWN
    width = outline(usual).width - LEDGER
    found: list[PlacedHead] = []
    last_places: list[int] = []  # of each column of heads, from the one at the stem's usual side
    for head in sorted(item.heads, key=lambda head: head.place, reverse=down):
        free = (column for column, place in enumerate(last_places) if abs(head.place - place) > 1)
        column = next(free, len(last_places))
        last_places[column : column + 1] = [head.place]
        sign = usual if head.shape is DrumHead.PLAIN else _DRUM_HEADS[head.shape]
        found.append(PlacedHead(head, sign, -width * column if down else width * column, y_of(head.place)))
    return tuple(reversed(found)) if down else tuple(found)


def _accidentals(heads: Sequence[PlacedHead], left: float) -> Iterator[Sign]:
    """Accidentals in columns, the outer ones first, as near to the heads as there is room."""
    altered = [head for head in heads if head.head.accidental is not None]
    order = []
    while altered:
        order.append(altered.pop())
        if altered:
            order.append(altered.pop(0))
    taken: list[Box] = [head.box for head in heads]
    for head in order:
        drawn = head.head.accidental
        assert drawn is not None
        name = ACCIDENTAL_SIGNS[drawn.semitones]
        parens = outline("paren-left").width + _BESIDE_PAREN if drawn.courtesy else 0.0
        width = outline(name).width + 2 * parens
        x = left - ACCIDENTAL_GAP - width
        box = outline(name).box
        while True:
            mine = Box(x, head.y + box.top, x + width, head.y + box.bottom)
            hit = [other for other in taken if mine.meets(other)]
            if not hit:
                break
            x = min(other.left for other in hit) - ACCIDENTAL_GAP / 2 - width
        taken.append(mine)
        yield Sign(name, x + parens, head.y, part="accidental")
        if drawn.courtesy:
            yield Sign("paren-left", x, head.y, part="accidental")
            yield Sign("paren-right", x + width - parens + _BESIDE_PAREN, head.y, part="accidental")


def _ledger_lines(heads: Sequence[PlacedHead]) -> Iterator[Rule]:
    for place in sorted({line for head in heads for line in _lines_to(head.head.place)}):
        over = [head for head in heads if (head.head.place <= place if place < 0 else head.head.place >= place)]
        left = min(head.x for head in over) - LEDGER_OUT
        right = max(head.box.right for head in over) + LEDGER_OUT
        yield Rule(left, y_of(place), right, y_of(place), LEDGER)


def _lines_to(place: int) -> range:
    """The places of the ledger lines up or down to a place."""
    return range(-2, place - 1, -2) if place < 0 else range(_TOP_LINE + 2, place + 1, 2)


def _dots(item: NotatedItem, ys: Sequence[float], right: float) -> Iterator[Sign]:
    width = outline("dot").width
    for number in range(item.length.dots):
        for y in ys:
            yield Sign("dot", right + DOT_GAP + number * (width + DOT_GAP / 2), y, part="dot")


def _dot_places(heads: Sequence[PlacedHead]) -> list[float]:
    """A dot for each head, in a space: over a line for a head on it, under it where that space is taken."""
    taken: list[int] = []
    for place in sorted((head.head.place for head in heads), reverse=True):
        space = place + (place % 2 == 0)
        if space in taken:
            space -= 2
        if space not in taken:
            taken.append(space)
    return [y_of(space) for space in taken]


def flag_width(item: NotatedItem) -> float:
    """Staff spaces that a flag reaches to the right of a stem; none where there is a beam."""
    if item.stem is not Stem.UP or item.beams or item.length.type not in FLAGGED:
        return 0.0
    return outline(f"flag-up-{item.length.type}").width
