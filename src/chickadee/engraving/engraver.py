"""The layout of voices on paper: columns of what sounds together, and how many bars a system takes."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Mapping, Sequence, Set
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise
from typing import NamedTuple

from ..notation import BarSpan, NotatedItem, VoiceNotation
from ..song import Note
from .bar_layout import LaidOut, lay_out_bar
from .chord import flag_width
from .marks import Measure
from .prefix import clef_width, meter_width, signature_width
from .spacing import Column, TextSpan, ideal_gap, positions

__all__ = [
    "BOX_HIGH",
    "BRACE_ROOM",
    "HEAD_RIM",
    "PREFIX_GAP",
    "ColumnKey",
    "Engraver",
    "Part",
    "TextRow",
    "brace_room",
]

PREFIX_GAP = 0.8
"""Staff spaces between clef, signature and meter."""
BRACE_ROOM = 1.2
"""Staff spaces that a brace takes left of its staves."""
BOX_HIGH = 3.0
"""Staff spaces that a box to write in is high."""
HEAD_RIM = 0.13
"""Staff spaces of the ring of a head that has a text in it."""
# staff spaces of a text in a head, of one sign and of several, and of such a head
_HEAD_TEXT = 1.05
_HEAD_TEXTS = 0.8
_LEAST_HEAD = 1.56
_BOX_WIDE = 3.6
_BOX_EDGE = 0.8
_AFTER_PREFIX = 1.3
_AFTER_BAR_LINE = 1.1
_BAR_LINE_ROOM = 0.3
_EMPTY_BAR = 5.0
_TIGHTEST = 0.8  # of the usual gaps, before a bar goes to the next system


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
        return BOX_HIGH if self.boxed else self.size


@dataclass(frozen=True)
class Part:
    """A voice and what is written with it."""

    notation: VoiceNotation
    rows: tuple[TextRow, ...] = ()
    title: str = ""
    accents: Set[int] = frozenset()
    """The ticks of accented notes."""


class ColumnKey(NamedTuple):
    """The kind and place of a column: ``notes`` at a tick, the ``change`` before a bar, or the ``line`` after it."""

    kind: str
    bar: int
    tick: int


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
    head_texts: Mapping[int, str] = field(default_factory=dict)
    """Names or numbers to be written in heads, by the identity of their note."""
    replaced: Mapping[tuple[int, int], NotatedItem | None] = field(default_factory=dict)
    """Items that are drawn otherwise, or not at all, by their line and tick; their room stays."""
    one_line: bool = False
    """True if the staff has its middle line alone."""
    with_bar_lines: bool = True
    with_meter: bool = True
    _laid_out: dict[tuple[int, int], list[LaidOut]] = field(default_factory=dict, init=False, repr=False)

    def systems(self, width: float, most: int | None = None) -> list[range] | None:
        """The bars of each system, at most so many; None where one bar alone is wider."""
        found: list[range] = []
        first = self.bars.start
        while first < self.bars.stop:
            last = first + 1
            if positions(self.columns(range(first, last)), 0.0)[-1] > width:
                return None
            while last < self.bars.stop and (most is None or last - first < most):
                columns = self.columns(range(first, last + 1))
                if positions(columns, _TIGHTEST)[-1] > width:
                    break
                last += 1
            found.append(range(first, last))
            first = last
        return found

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
            width += signature + PREFIX_GAP if signature else 0.0
        if self.shows_meter(place):
            width += meter_width(bar.meter) + PREFIX_GAP
        return width

    def shows_meter(self, place: int) -> bool:
        """Return whether a bar's meter is written: at the beginning, and where it changes."""
        if not self.with_meter:
            return False
        bar = self._notations[0].bar(place)
        return place == self.bars.start or self._notations[0].bar(place - 1).meter != bar.meter

    def keys(self, bars: range) -> list[ColumnKey]:
        return [key for key, _ in self._keyed(bars)]

    def columns(self, bars: range) -> list[Column]:
        return [column for _, column in self._keyed(bars)]

    def _keyed(self, bars: range) -> Iterator[tuple[ColumnKey, Column]]:
        start = PREFIX_GAP + self.clef_width + PREFIX_GAP + self.change_width(bars.start, at_start=True)
        yield ColumnKey("start", bars.start, 0), Column(0.0, start, start + _AFTER_PREFIX, is_fixed=True)
        for place in bars:
            if place != bars.start and (change := self.change_width(place, at_start=False)):
                yield ColumnKey("change", place, 0), Column(0.0, change, change + _AFTER_PREFIX, is_fixed=True)
            yield from self.bar_columns[place]
            yield ColumnKey("line", place, 0), Column(_BAR_LINE_ROOM, _BAR_LINE_ROOM, _AFTER_BAR_LINE, is_fixed=True)

    @cached_property
    def bar_columns(self) -> dict[int, list[tuple[ColumnKey, Column]]]:
        return {place: self._columns_of_bar(place) for place in self.bars}

    def _columns_of_bar(self, place: int) -> list[tuple[ColumnKey, Column]]:
        rooms: dict[int, tuple[float, float, float]] = {}
        end = self._notations[0].bars[place].end
        for each in (each for number in range(len(self.parts)) for each in self.laid_out(number, place)):
            if each.item.whole_bar:
                continue
            layout = each.layout
            left, right, width = rooms.get(each.item.start, (0.0, 0.0, 0.0))
            named = max((head.x + self.text_head(head.head.note)[0] for head in layout.heads), default=0.0)
            own = each.offset + max(layout.right, layout.width + flag_width(each.item), named)
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
            return [(ColumnKey("notes", place, start), Column(0.0, _EMPTY_BAR / 2, _EMPTY_BAR / 2))]
        return [
            (
                ColumnKey("notes", place, tick),
                Column(
                    rooms[tick][0],
                    rooms[tick][1],
                    ideal_gap(following - tick),
                    tuple(self._texts(tick, rooms[tick][2])),
                ),
            )
            for tick, following in pairwise([*ticks, end])
        ]

    def text_head(self, note: Note) -> tuple[float, float]:
        """How wide a head with a text in it is, and the size of its text; 0 for a note that has none."""
        text = self.head_texts.get(id(note))
        if text is None:
            return 0.0, 0.0
        size = max(_HEAD_TEXT if len(text) == 1 else _HEAD_TEXTS, self.smallest)
        return max(_LEAST_HEAD, self.measure(text, size, True) + 2 * HEAD_RIM), size

    def laid_out(self, number: int, place: int) -> list[LaidOut]:
        """The items of a bar of one of the voices with their layouts."""
        key = number, place
        if key not in self._laid_out:
            self._laid_out[key] = list(lay_out_bar(self.parts[number].notation.bar(place)))
        return self._laid_out[key]

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
    return BRACE_ROOM if any(len(part.notation.clefs) > 1 for part in engraver.parts) else 0.0
