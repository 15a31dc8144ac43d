"""Systems on paper: bars of one or more voices in lines as wide as the page, with texts over and under them."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Mapping, Sequence, Set
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from typing import NamedTuple

from ..notation import BarSpan, NotatedItem, VoiceNotation
from .chord import ItemLayout, flag_width, layout_of, offset_beside
from .distances import STAFF_HEIGHT, THICK_BAR_LINE, THIN_BAR_LINE
from .line import line_marks
from .marks import Blot, Mark, Measure, Rule, Sign, WordPlace, Words, box_of, ellipse, moved
from .outlines import outline
from .prefix import (
    clef_marks,
    clef_width,
    meter_marks,
    meter_width,
    signature_marks,
    signature_width,
    staff_lines,
)
from .spacing import Column, TextSpan, ideal_gap, positions, stretch_to_fill
from .stems import PlacedItem

__all__ = ["EngravedSystem", "Engraver", "Part", "TextRow", "brace_room"]

_PREFIX_GAP = 0.8  # staff spaces between clef, signature and meter
_AFTER_PREFIX = 1.3
_AFTER_BAR_LINE = 1.1
_BAR_LINE_ROOM = 0.3
_EMPTY_BAR = 5.0
_TIGHTEST = 0.8  # of the usual gaps, before a bar goes to the next system
_MIDDLE_LINE = 2
_FULL = 0.62  # of the width, from which the last system is spread over all of it
_STAFF_GAP = 1.6  # staff spaces between what belongs to one staff and to the next
_ROW_GAP = 0.7
_NUMBER_SIZE = 1.5
_TITLE_IN = 0.6  # staff spaces of a voice's name from the line at the left
_BRACE_ROOM = 1.2
_BRACE_GAP = 0.2
# staff spaces of a box to write in
_BOX_WIDE = 3.6
_BOX_HIGH = 3.0
_BOX_EDGE = 0.8
_BOX_LINE = 0.16
_NAMED_HEAD = (0.78, 0.62)  # staff spaces from the middle of a head that has a name in it
_RING = 0.13


@dataclass(frozen=True, slots=True)
class TextRow:
    """Texts that stand in one row, at the ticks of notes."""

    name: str
    texts: Mapping[int, str]
    """By tick."""
    above: bool = False
    size: float = 1.7
    """Staff spaces."""
    bold: bool = False
    centred: bool = True
    boxed: Set[int] = frozenset()
    """The ticks at which there is a box to write in, around the text where there is one."""

    @property
    def height(self) -> float:
        """Staff spaces that it is high."""
        return _BOX_HIGH if self.boxed else self.size


@dataclass(frozen=True)
class Part:
    """A voice and what is written with it."""

    notation: VoiceNotation
    rows: tuple[TextRow, ...] = ()
    title: str = ""
    accents: Set[int] = frozenset()
    """The ticks of accented notes."""


class EngravedSystem(NamedTuple):
    """One system, its upper left corner at 0."""

    marks: tuple[Mark, ...]
    height: float
    bars: range
    """The places of its bars."""
    staff_tops: tuple[float, ...]


class _ColumnKey(NamedTuple):
    """The kind and place of a column: ``notes`` at a tick, the ``change`` before a bar, or the ``line`` after it."""

    kind: str
    bar: int
    tick: int


class _LaidOut(NamedTuple):
    """An item with its layout."""

    part: int
    staff: int
    line: int
    item: NotatedItem
    layout: ItemLayout
    offset: float
    """Staff spaces that it is drawn further right than its column."""
    shared: bool
    """True if another line sounds on its staff in its bar."""


@dataclass(frozen=True)
class Engraver:
    """Lays out bars of some voices, which are of one song."""

    parts: Sequence[Part]
    measure: Measure
    bars: range
    """The places of the bars that are drawn."""
    smallest: float = 0.0
    """Staff spaces of the smallest text that can be read."""
    tempo: str = ""
    head_names: Mapping[int, str] = field(default_factory=dict)
    """Names to be written in heads, by the identity of their note."""
    replaced: Mapping[tuple[int, int], NotatedItem | None] = field(default_factory=dict)
    """Items that are drawn otherwise, or not at all, by their line and tick; their room stays."""
    one_line: bool = False
    """True if the staff has its middle line alone."""
    with_bar_lines: bool = True
    with_meter: bool = True
    _laid_out: dict[int, list[_LaidOut]] = field(default_factory=dict, init=False, repr=False)

    def systems(self, width: float, most: int | None = None) -> list[range] | None:
        """The bars of each system, at most so many; None where one bar alone is wider."""
        found: list[range] = []
        first = self.bars.start
        while first < self.bars.stop:
            last = first + 1
            if positions(self._columns(range(first, last)), 0.0)[-1] > width:
                return None
            while last < self.bars.stop and (most is None or last - first < most):
                columns = self._columns(range(first, last + 1))
                if positions(columns, _TIGHTEST)[-1] > width:
                    break
                last += 1
            found.append(range(first, last))
            first = last
        return found

    def system(self, bars: range, width: float) -> EngravedSystem:
        """One system of some bars, spread over a width."""
        columns = self._columns(bars)
        is_last = bars.stop == self.bars.stop
        natural = positions(columns)[-1]
        stretch = 1.0 if is_last and natural < width * _FULL else stretch_to_fill(columns, width)
        xs = dict(zip(self._keys(bars), positions(columns, stretch), strict=True))
        return _SystemDrawing(self, bars, xs).drawn()

    # Columns

    @cached_property
    def _notations(self) -> list[VoiceNotation]:
        return [part.notation for part in self.parts]

    @cached_property
    def clef_width(self) -> float:
        """The widest clef."""
        return max(clef_width(clef) for notation in self._notations for clef in notation.clefs)

    def change_width(self, place: int, at_start: bool) -> float:
        """Staff spaces of the signature and meter that a bar begins with."""
        bar = self._notations[0].bar(place)
        before = None if at_start else self._notations[0].bar(place - 1)
        width = 0.0
        if before is None or before.key != bar.key:
            signature = max(
                signature_width(bar.key, clef, before.key if before is not None else None)
                for notation in self._notations
                for clef in notation.clefs
            )
            width += signature + _PREFIX_GAP if signature else 0.0
        if self.shows_meter(place):
            width += meter_width(bar.meter) + _PREFIX_GAP
        return width

    def shows_meter(self, place: int) -> bool:
        """Return whether a bar's meter is written: at the beginning, and where it changes."""
        if not self.with_meter:
            return False
        bar = self._notations[0].bar(place)
        return place == self.bars.start or self._notations[0].bar(place - 1).meter != bar.meter

    def _keys(self, bars: range) -> list[_ColumnKey]:
        return [key for key, _ in self._keyed(bars)]

    def _columns(self, bars: range) -> list[Column]:
        return [column for _, column in self._keyed(bars)]

    def _keyed(self, bars: range) -> Iterator[tuple[_ColumnKey, Column]]:
        start = _PREFIX_GAP + self.clef_width + _PREFIX_GAP + self.change_width(bars.start, at_start=True)
        yield _ColumnKey("start", bars.start, 0), Column(0.0, start, start + _AFTER_PREFIX, is_fixed=True)
        for place in bars:
            if place != bars.start and (change := self.change_width(place, at_start=False)):
                yield _ColumnKey("change", place, 0), Column(0.0, change, change + _AFTER_PREFIX, is_fixed=True)
            yield from self._bar_columns[place]
            yield _ColumnKey("line", place, 0), Column(_BAR_LINE_ROOM, _BAR_LINE_ROOM, _AFTER_BAR_LINE, is_fixed=True)

    @cached_property
    def _bar_columns(self) -> dict[int, list[tuple[_ColumnKey, Column]]]:
        return {place: self._columns_of_bar(place) for place in self.bars}

    def _columns_of_bar(self, place: int) -> list[tuple[_ColumnKey, Column]]:
        rooms: dict[int, tuple[float, float, float]] = {}
        end = self._notations[0].bars[place].end
        for each in self.laid_out(place):
            if each.item.whole_bar:
                continue
            layout = each.layout
            left, right, width = rooms.get(each.item.start, (0.0, 0.0, 0.0))
            own = each.offset + max(layout.right, layout.width + flag_width(each.item))
            rooms[each.item.start] = (
                max(left, -layout.left - each.offset),
                max(right, own),
                max(width, layout.width),
            )
        for tick in self._text_ticks(self._notations[0].bars[place]):
            rooms.setdefault(tick, (0.0, 0.0, 0.0))
        ticks = sorted(rooms)
        if not ticks:
            start = self._notations[0].bars[place].start
            return [(_ColumnKey("notes", place, start), Column(0.0, _EMPTY_BAR / 2, _EMPTY_BAR / 2))]
        return [
            (
                _ColumnKey("notes", place, tick),
                Column(
                    rooms[tick][0],
                    rooms[tick][1],
                    ideal_gap(following - tick),
                    tuple(self._texts(tick, rooms[tick][2])),
                ),
            )
            for tick, following in pairwise([*ticks, end])
        ]

    def laid_out(self, place: int) -> list[_LaidOut]:
        """The items of a bar with their layouts, and how far right of their column they are drawn."""
        if place not in self._laid_out:
            self._laid_out[place] = list(self._lay_out(place))
        return self._laid_out[place]

    def _lay_out(self, place: int) -> Iterator[_LaidOut]:
        for number, part in enumerate(self.parts):
            lines = part.notation.bar(place).lines
            for staff in range(len(part.notation.clefs)):
                mine = [line for line in lines if line.staff == staff]
                shared = len(mine) > 1
                beside: dict[int, list[tuple[ItemLayout, float]]] = {}
                for line in mine:
                    stem = next((item.stem for item in line.items if item.stem is not None), None)
                    for item in line.items:
                        layout = layout_of(item, stem, shared)
                        others = beside.setdefault(item.start, [])
                        offset = offset_beside(layout, others)
                        others.append((layout, offset))
                        yield _LaidOut(number, staff, line.number, item, layout, offset, shared)

    def _text_ticks(self, bar: BarSpan) -> Iterator[int]:
        """The ticks of a bar at which texts stand, whether a note begins there or not."""
        for ticks in self._row_ticks:
            yield from ticks[bisect_left(ticks, bar.start) : bisect_left(ticks, bar.end)]

    @cached_property
    def _row_ticks(self) -> list[list[int]]:
        return [sorted({*row.texts, *row.boxed}) for part in self.parts for row in part.rows]

    def _texts(self, tick: int, width: float) -> Iterator[TextSpan]:
        for place, part in enumerate(self.parts):
            for row in part.rows:
                text = row.texts.get(tick, "")
                wide = self.measure(text, row.size, row.bold) if text else 0.0
                if tick in row.boxed:
                    wide = max(_BOX_WIDE, wide + _BOX_EDGE)
                if not wide:
                    continue
                left = (wide - width) / 2 if row.centred else 0.0
                yield TextSpan(f"{place} {row.name}", left, wide - left)


def brace_room(engraver: Engraver) -> float:
    """Staff spaces that braces take left of the staves."""
    return _BRACE_ROOM if any(len(part.notation.clefs) > 1 for part in engraver.parts) else 0.0


def _box(left: float, top: float, right: float, bottom: float) -> Iterator[Mark]:
    corners = ((left, top), (right, top), (right, bottom), (left, bottom), (left, top))
    for (x, y), (to_x, to_y) in pairwise(corners):
        yield Rule(x, y, to_x, to_y, _BOX_LINE, "box")


class _SystemDrawing:
    """One system being drawn, staff by staff from the top."""

    def __init__(self, engraver: Engraver, bars: range, xs: dict[_ColumnKey, float]) -> None:
        self._engraver = engraver
        self._bars = bars
        self._xs = xs
        self._right = xs[_ColumnKey("line", bars.stop - 1, 0)]
        self._marks: list[Mark] = []
        self._tops: list[float] = []
        self._y = 0.0

    def drawn(self) -> EngravedSystem:
        """The system."""
        for number, part in enumerate(self._engraver.parts):
            first = len(self._tops)
            for staff in range(len(part.notation.clefs)):
                self._add_staff(part, number, staff)
            self._bar_lines(self._tops[first], self._tops[-1] + STAFF_HEIGHT)
            if len(part.notation.clefs) > 1:
                self._brace(self._tops[first], self._tops[-1] + STAFF_HEIGHT)
        if len(self._tops) > 1:
            line = Rule(0, self._tops[0], 0, self._tops[-1] + STAFF_HEIGHT, THIN_BAR_LINE, "bar line")
            self._marks.append(line)
        return EngravedSystem(tuple(self._marks), self._y, self._bars, tuple(self._tops))

    def _add_staff(self, part: Part, number: int, staff: int) -> None:
        """Draw a staff with its texts under what is there already."""
        measure = self._engraver.measure
        smallest = self._engraver.smallest
        marks = [*self._prefix(part.notation, staff), *self._notes(part, number, staff)]
        marks = [mark._replace(size=max(mark.size, smallest)) if isinstance(mark, Words) else mark for mark in marks]
        boxes = [box_of(mark, measure) for mark in marks]
        top = min([-0.5, *(box.top for box in boxes)])
        bottom = max([STAFF_HEIGHT + 0.5, *(box.bottom for box in boxes)])
        last_staff = staff == len(part.notation.clefs) - 1
        rows = [row for row in part.rows if row.above == (staff == 0) and (row.above or last_staff)]
        if staff == 0 and last_staff:
            rows = list(part.rows)
        for row in (row for row in rows if row.above):
            texts = list(self._row(row, number, top - _ROW_GAP - self._height(row) / 2))
            if texts:
                marks += texts
                top -= _ROW_GAP + self._height(row)
        if staff == 0:
            heads = list(self._over(part, number, top))
            marks += heads
            top -= 0.9 + self._size(_NUMBER_SIZE) if heads else 0.0
        for row in (row for row in rows if not row.above):
            texts = list(self._row(row, number, bottom + _ROW_GAP + self._height(row) / 2))
            if texts:
                marks += texts
                bottom += _ROW_GAP + self._height(row)
        shift = self._y - top
        lines = list(staff_lines(0, self._right, shift))
        self._marks += [
            *([lines[_MIDDLE_LINE]] if self._engraver.one_line else lines),
            *(moved(mark, 0, shift) for mark in marks),
        ]
        self._tops.append(shift)
        self._y = shift + bottom + _STAFF_GAP

    def _size(self, size: float) -> float:
        """The size of a text, large enough to be read."""
        return max(size, self._engraver.smallest)

    def _height(self, row: TextRow) -> float:
        return max(row.height, self._size(row.size))

    def _over(self, part: Part, number: int, top: float) -> Iterator[Mark]:
        """The words over the first note: the number of the bar, the voice's name, the tempo."""
        bar = part.notation.bars[self._bars.start]
        y = top - 0.4 - self._size(_NUMBER_SIZE) / 2
        is_first = self._bars.start == self._engraver.bars.start
        if number == 0 and not is_first and self._engraver.with_bar_lines:
            yield Words(str(bar.number), 0, y, self._size(_NUMBER_SIZE), part="bar number")
        if part.title and is_first:
            yield Words(part.title, _TITLE_IN, y, self._size(_NUMBER_SIZE), True, part="title")
        if number == 0 and is_first and self._engraver.tempo:
            x = self._engraver.measure(part.title, _NUMBER_SIZE, True) + 2.0 if part.title else 0.0
            yield Words(self._engraver.tempo, x, y, self._size(_NUMBER_SIZE), True, part="tempo")

    def _row(self, row: TextRow, number: int, y: float) -> Iterator[Mark]:
        for key, x in self._xs.items():
            spans = self._texts_of(key) if key.kind == "notes" else ()
            span = next((span for span in spans if span.row == f"{number} {row.name}"), None)
            if span is None:
                continue
            middle = x + (span.right - span.left) / 2
            if text := row.texts.get(key.tick, ""):
                yield Words(text, middle, y, self._size(row.size), row.bold, WordPlace.MIDDLE, row.name)
            if key.tick in row.boxed:
                yield from _box(x - span.left, y - _BOX_HIGH / 2, x + span.right, y + _BOX_HIGH / 2)

    def _texts_of(self, key: _ColumnKey) -> tuple[TextSpan, ...]:
        return next(column.texts for other, column in self._engraver._bar_columns[key.bar] if other == key)

    # The staff

    def _prefix(self, notation: VoiceNotation, staff: int) -> Iterator[Mark]:
        clef = notation.clefs[staff]
        yield from clef_marks(clef, _PREFIX_GAP, 0)
        x = _PREFIX_GAP + self._engraver.clef_width + _PREFIX_GAP
        yield from self._change(notation, staff, self._bars.start, x, at_start=True)
        for place in self._bars:
            key = _ColumnKey("change", place, 0)
            if key in self._xs:
                yield from self._change(notation, staff, place, self._xs[key], at_start=False)

    def _change(self, notation: VoiceNotation, staff: int, place: int, x: float, at_start: bool) -> Iterator[Mark]:
        bar = notation.bar(place)
        before = None if at_start else notation.bar(place - 1)
        if before is None or before.key != bar.key:
            old = before.key if before is not None else None
            clefs = [clef for each in self._engraver.parts for clef in each.notation.clefs]
            yield from signature_marks(bar.key, notation.clefs[staff], x, 0, old)
            width = max(signature_width(bar.key, clef, old) for clef in clefs)
            x += width + _PREFIX_GAP if width else 0.0
        if self._engraver.shows_meter(place):
            yield from meter_marks(bar.meter, x, 0)

    def _notes(self, part: Part, number: int, staff: int) -> Iterator[Mark]:
        lines: dict[int, list[PlacedItem]] = {}
        for place in self._bars:
            start = part.notation.bars[place].start
            for each in self._engraver.laid_out(place):
                if (each.part, each.staff) != (number, staff):
                    continue
                item = self._engraver.replaced.get((each.line, each.item.start), each.item)
                if item is None:
                    continue
                x = self._x(place, each.item) + each.offset
                placed = PlacedItem(item, each.layout, x, 0.0, each.line, start, each.shared)
                lines.setdefault(each.line, []).append(placed)
        for row in lines.values():
            for mark in line_marks(row, part.accents, self._left, self._right - 0.4, self._middles):
                yield mark
                if isinstance(mark, Sign) and mark.note is not None and id(mark.note) in self._engraver.head_names:
                    yield from self._name_in(mark)

    def _name_in(self, head: Sign) -> Iterator[Mark]:
        """A larger head with its name in it: white on black, or black in the ring of a longer note."""
        assert head.note is not None
        middle = head.x + outline(head.name).width / 2
        is_black = head.name == "head-black"
        yield ellipse(middle, head.y, _NAMED_HEAD[0], _NAMED_HEAD[1])
        if not is_black:
            yield ellipse(middle, head.y, _NAMED_HEAD[0] - _RING, _NAMED_HEAD[1] - _RING, white=True)
        text = self._engraver.head_names[id(head.note)]
        size = 1.05 if len(text) == 1 else 0.8
        yield Words(text, middle, head.y, size, True, WordPlace.MIDDLE, "name", is_black)

    def _x(self, place: int, item: NotatedItem) -> float:
        if item.whole_bar:
            return self._middles[item.start]
        return self._xs[_ColumnKey("notes", place, item.start)]

    @property
    def _left(self) -> float:
        """Where the first notes may begin."""
        key = _ColumnKey("start", self._bars.start, 0)
        return self._xs[key] + _PREFIX_GAP + self._engraver.clef_width + self._engraver.change_width(key.bar, True)

    @cached_property
    def _middles(self) -> dict[int, float]:
        """The middle of each bar by its first tick."""
        found = {}
        begin = self._left
        notation = self._engraver.parts[0].notation
        for place in self._bars:
            change = _ColumnKey("change", place, 0)
            if change in self._xs:
                begin = self._xs[change] + self._engraver.change_width(place, at_start=False)
            end = self._xs[_ColumnKey("line", place, 0)]
            found[notation.bars[place].start] = (begin + end) / 2
            begin = end
        return found

    def _bar_lines(self, top: float, bottom: float) -> None:
        for place in self._bars:
            x = self._xs[_ColumnKey("line", place, 0)]
            last = place == len(self._engraver.parts[0].notation.bars) - 1
            if not self._engraver.with_bar_lines and place != self._bars.stop - 1:
                continue
            if last:
                thick = x - THICK_BAR_LINE / 2
                self._marks.append(Rule(thick, top, thick, bottom, THICK_BAR_LINE, "bar line"))
                x -= THICK_BAR_LINE + 0.4
            at = x - THIN_BAR_LINE / 2
            self._marks.append(Rule(at, top, at, bottom, THIN_BAR_LINE, "bar line"))

    def _brace(self, top: float, bottom: float) -> None:
        high = (bottom - top) / STAFF_HEIGHT
        middle = (top + bottom) / 2
        left = -_BRACE_ROOM
        wide = (_BRACE_ROOM - _BRACE_GAP) / outline("brace").width
        steps = (
            (letter, tuple(middle + n * high if place % 2 else left + n * wide for place, n in enumerate(numbers)))
            for letter, numbers in outline("brace").steps
        )
        self._marks.append(Blot(tuple(steps), "brace"))
