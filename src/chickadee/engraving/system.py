"""Systems on paper, drawn: bars of one or more voices in a line, with texts over and under them."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from itertools import pairwise
from typing import NamedTuple

from ..notation import NotatedItem, VoiceNotation
from .distances import STAFF_HEIGHT, THICK_BAR_LINE, THIN_BAR_LINE
from .engraver import BOX_HIGH, BRACE_ROOM, HEAD_RIM, PREFIX_GAP, ColumnKey, Engraver, Part, TextRow
from .line import line_marks
from .marks import Blot, Mark, Rule, Sign, WordPlace, Words, box_of, ellipse, moved
from .outlines import Box, outline
from .prefix import clef_marks, meter_marks, signature_marks, signature_width, staff_lines
from .spacing import TextSpan, positions, stretch_to_fill
from .stems import PlacedItem

__all__ = ["EngravedSystem", "engrave"]

_MIDDLE_LINE = 2
_FULL = 0.62  # of the width, from which the last system is spread over all of it
_STAFF_GAP = 1.6  # staff spaces between what belongs to one staff and to the next
_ROW_GAP = 0.7
_NUMBER_SIZE = 1.5
_TITLE_IN = 0.6  # staff spaces of a voice's name from the line at the left
_TEMPO_GAP = 2.0
_BRACE_GAP = 0.2
_BOX_LINE = 0.16
_TEXT_HEAD_HIGH = 0.62  # staff spaces up and down from the middle of a head that has a text in it


class EngravedSystem(NamedTuple):
    """One system, its upper left corner at 0."""

    marks: tuple[Mark, ...]
    height: float
    bars: range
    """The places of its bars."""
    staff_tops: tuple[float, ...]


def engrave(engraver: Engraver, bars: range, width: float) -> EngravedSystem:
    """One system of some bars, spread over a width."""
    columns = engraver.columns(bars)
    is_last = bars.stop == engraver.bars.stop
    natural = positions(columns)[-1]
    stretch = 1.0 if is_last and natural < width * _FULL else stretch_to_fill(columns, width)
    xs = dict(zip(engraver.keys(bars), positions(columns, stretch), strict=True))
    return _SystemDrawing(engraver, bars, xs, width).drawn()


def _box(left: float, top: float, right: float, bottom: float) -> Iterator[Mark]:
    corners = ((left, top), (right, top), (right, bottom), (left, bottom), (left, top))
    for (x, y), (to_x, to_y) in pairwise(corners):
        yield Rule(x, y, to_x, to_y, _BOX_LINE, "box")


class _SystemDrawing:
    """One system being drawn, staff by staff from the top."""

    def __init__(self, engraver: Engraver, bars: range, xs: dict[ColumnKey, float], width: float) -> None:
        self._engraver = engraver
        self._bars = bars
        self._width = width
        self._xs = xs
        self._right = xs[ColumnKey("line", bars.stop - 1, 0)]
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
        size = self._size(_NUMBER_SIZE)
        tempo = self._engraver.tempo if number == 0 and is_first else ""
        x = 0.0
        if part.title and is_first:
            taken = self._engraver.measure(tempo, size, True) + _TEMPO_GAP if tempo else 0.0
            title = self._cut(part.title, size, self._width - _TITLE_IN - taken)
            yield Words(title, _TITLE_IN, y, size, True, part="title")
            x = self._engraver.measure(title, size, True) + _TEMPO_GAP
        if tempo:
            yield Words(tempo, x, y, size, True, part="tempo")

    def _cut(self, text: str, size: float, room: float) -> str:
        """A bold text as it is, or cut short with an ellipsis where it is wider than its room."""
        measure = self._engraver.measure
        if measure(text, size, True) <= room:
            return text
        while text and measure(f"{text}…", size, True) > room:
            text = text[:-1]
        return f"{text.rstrip()}…" if text else ""

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
                yield from _box(x - span.left, y - BOX_HIGH / 2, x + span.right, y + BOX_HIGH / 2)

    def _texts_of(self, key: ColumnKey) -> tuple[TextSpan, ...]:
        return next(column.texts for other, column in self._engraver.bar_columns[key.bar] if other == key)

    # The staff

    def _prefix(self, notation: VoiceNotation, staff: int) -> Iterator[Mark]:
        clef = notation.clefs[staff]
        yield from clef_marks(clef, PREFIX_GAP, 0)
        x = PREFIX_GAP + self._engraver.clef_width + PREFIX_GAP
        yield from self._change(notation, staff, self._bars.start, x, at_start=True)
        for place in self._bars:
            key = ColumnKey("change", place, 0)
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
            x += width + PREFIX_GAP if width else 0.0
        if self._engraver.shows_meter(place):
            yield from meter_marks(bar.meter, x, 0)

    def _notes(self, part: Part, number: int, staff: int) -> Iterator[Mark]:
        lines: dict[int, list[PlacedItem]] = {}
        for place in self._bars:
            start = part.notation.bars[place].start
            for each in self._engraver.laid_out(number, place):
                if each.staff != staff:
                    continue
                item = self._engraver.replaced.get((each.line, each.item.start), each.item)
                if item is None:
                    continue
                x = self._x(place, each.item) + each.offset
                placed = PlacedItem(item, each.layout, x, 0.0, each.line, start, each.shared)
                lines.setdefault(each.line, []).append(placed)
        named: list[Sign] = []
        for row in lines.values():
            for mark in line_marks(row, part.accents, self._left, self._right - 0.4, self._middles):
                yield mark
                if isinstance(mark, Sign) and mark.note is not None and id(mark.note) in self._engraver.head_texts:
                    named.append(mark)
        taken: list[Box] = []
        for head in named:  # over the ledger lines
            *shapes, words = self._text_in(head)
            box = box_of(words, self._engraver.measure)
            if not any(box.meets(other) for other in taken):  # of heads that touch one has room for its text
                taken.append(box)
                yield from (*shapes, words)

    def _text_in(self, head: Sign) -> Iterator[Mark]:
        """A larger head with its name or number in it: white on black, or black in the ring of a longer note."""
        assert head.note is not None
        text = self._engraver.head_texts[id(head.note)]
        width, size = self._engraver.text_head(head.note)
        is_black = head.name == "head-black"
        wide = width / 2
        middle = head.x + wide  # its left edge stays, where an accidental may stand
        yield ellipse(middle, head.y, wide, _TEXT_HEAD_HIGH)
        if not is_black:
            yield ellipse(middle, head.y, wide - HEAD_RIM, _TEXT_HEAD_HIGH - HEAD_RIM, white=True)
        yield Words(text, middle, head.y, size, True, WordPlace.MIDDLE, "name", is_black)

    def _x(self, place: int, item: NotatedItem) -> float:
        if item.whole_bar:
            return self._middles[item.start]
        return self._xs[ColumnKey("notes", place, item.start)]

    @property
    def _left(self) -> float:
        """Where the first notes may begin."""
        key = ColumnKey("start", self._bars.start, 0)
        return self._xs[key] + PREFIX_GAP + self._engraver.clef_width + self._engraver.change_width(key.bar, True)

    @cached_property
    def _middles(self) -> dict[int, float]:
        """The middle of each bar by its first tick."""
        found = {}
        begin = self._left
        notation = self._engraver.parts[0].notation
        for place in self._bars:
            change = ColumnKey("change", place, 0)
            if change in self._xs:
                begin = self._xs[change] + self._engraver.change_width(place, at_start=False)
            end = self._xs[ColumnKey("line", place, 0)]
            found[notation.bars[place].start] = (begin + end) / 2
            begin = end
        return found

    def _bar_lines(self, top: float, bottom: float) -> None:
        for place in self._bars:
            x = self._xs[ColumnKey("line", place, 0)]
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
        left = -BRACE_ROOM
        wide = (BRACE_ROOM - _BRACE_GAP) / outline("brace").width
        steps = (
            (letter, tuple(middle + n * high if place % 2 else left + n * wide for place, n in enumerate(numbers)))
            for letter, numbers in outline("brace").steps
        )
        self._marks.append(Blot(tuple(steps), "brace"))
