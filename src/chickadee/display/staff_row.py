"""The reading row Staff: the front voice on five lines, each head under its note on the time axis."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property
from itertools import groupby
from operator import attrgetter
from typing import NamedTuple

from ..engraving import (
    LaidOut,
    Mark,
    PlacedItem,
    Rule,
    Sign,
    clef_marks,
    clef_width,
    lay_out_bar,
    line_marks,
    signature_marks,
    staff_lines,
)
from ..engraving.distances import STAFF_HEIGHT, y_of
from ..notation import NotatedBar, NotatedItem, VoiceNotation, written_loudness
from ..notation.clefs import drum_place
from ..song import TICKS_PER_QUARTER, Note, Song
from .scene import Scene

__all__ = ["StaffBar", "StaffRow", "voice_beside"]

_ABOVE = 2.2  # staff spaces kept free over the top line, and under the lowest
_BELOW = 2.2
_LEDGER_SPACES = 7.0  # of ledger lines at most; heads beyond them stand at the edge
_BETWEEN = 5.5  # from one staff's lowest line to the next one's top line
_HEAD_IN = 0.35  # staff spaces from a note's onset to its head
_FULL = 1.75  # staff spaces between onsets from which everything is drawn
_HEADS = 1.0
_DASH = 0.45
_LEAST_DASH = 0.3


class StaffBar(NamedTuple):
    """A bar's marks; x counts staff spaces from its first tick."""

    marks: tuple[Mark, ...]
    heads: tuple[Sign, ...]
    """Those of the marks that are heads."""


@dataclass(frozen=True)
class StaffRow:
    """The staff of a scene's front voice, and of another beside it where there is one."""

    scene: Scene
    beside: int | None = None
    """Another voice on the same staff."""
    _bars: dict[tuple[int, float], StaffBar] = field(default_factory=dict, init=False, repr=False, compare=False)

    @cached_property
    def notation(self) -> VoiceNotation:
        """The notation of the voices."""
        return VoiceNotation(self.scene.song, self.scene.front, beside=self.beside)

    @cached_property
    def height(self) -> float:
        """Staff spaces that the row needs."""
        above, below = self._reach
        return above + STAFF_HEIGHT * self._staves + _BETWEEN * (self._staves - 1) + below

    @property
    def _staves(self) -> int:
        return len(self.notation.clefs)

    @cached_property
    def _reach(self) -> tuple[float, float]:
        """Staff spaces that are wanted over the top line and under the lowest."""
        numbers = self.scene.song.arrays.number[self.notation.indices]
        if not len(numbers):
            return _ABOVE, _BELOW
        ends = [int(numbers.min()), int(numbers.max())]
        places = [self._place_of_number(number) for number in ends]
        low = min(place for place, staff in places if staff == self._staves - 1) if self._staves > 1 else places[0][0]
        high = places[1][0]
        above = min(_LEDGER_SPACES, max(0.0, -y_of(high))) + _ABOVE
        below = min(_LEDGER_SPACES, max(0.0, y_of(low) - STAFF_HEIGHT)) + _BELOW
        return above, below

    def _place_of_number(self, number: int) -> tuple[int, int]:
        """The place and the staff of a MIDI number."""
        staff = self.notation.staff_of(number)
        if self.notation.is_drums:
            return drum_place(number)[0], staff
        return self.notation.clefs[staff].place(self.scene.song.key.spell(number)), staff

    def top(self, staff: int) -> float:
        """Staff spaces from the row's top to a staff's top line."""
        return self._reach[0] + staff * (STAFF_HEIGHT + _BETWEEN)

    def y_of_note(self, note: Note) -> float:
        """Staff spaces from the row's top to the middle of a note's head."""
        staff = self.notation.staff_of(note.number)
        place = drum_place(note.number)[0] if self.notation.is_drums else self.notation.clefs[staff].place(note.pitch)
        return self.top(staff) + y_of(place)

    # What is drawn

    def ground(self, width: float) -> Iterator[Mark]:
        """The lines of the staves, so many staff spaces long."""
        for staff in range(self._staves):
            yield from staff_lines(0, width, self.top(staff))

    def prefix(self, tick: float) -> Iterator[Mark]:
        """Clefs, and the key signature in force at a tick."""
        key = self.scene.song.key_at(int(max(0.0, tick)))
        widest = max(clef_width(clef) for clef in self.notation.clefs)
        for staff, clef in enumerate(self.notation.clefs):
            yield from clef_marks(clef, 0, self.top(staff))
            yield from signature_marks(key, clef, widest + 0.5, self.top(staff))

    def bars_between(self, first: float, last: float) -> range:
        """The places of the bars that are seen between two ticks."""
        return range(self.notation.bar_at(int(max(0.0, first))), self.notation.bar_at(int(max(0.0, last))) + 1)

    def bar(self, place: int, quarter: float) -> StaffBar:
        """A bar's marks, where a quarter note is so many staff spaces wide; y counts from the row's top."""
        key = place, quarter
        if key not in self._bars:
            self._bars[key] = self._drawn(self.notation.bar(place), quarter)
        return self._bars[key]

    def _drawn(self, bar: NotatedBar, quarter: float) -> StaffBar:
        gap = _least_gap(bar) * quarter / TICKS_PER_QUARTER
        if gap >= _FULL:
            marks = list(self._all_marks(bar, quarter))
        elif gap >= _HEADS:
            marks = [mark for mark in self._all_marks(bar, quarter) if isinstance(mark, Sign) and mark.part == "head"]
        else:
            marks = list(self._dashes(bar, quarter))
        heads = tuple(mark for mark in marks if isinstance(mark, Sign) and mark.part == "head")
        return StaffBar(tuple(marks), heads)

    def _all_marks(self, bar: NotatedBar, quarter: float) -> Iterator[Mark]:
        end = (bar.end - bar.start) * quarter / TICKS_PER_QUARTER
        for _, together in groupby(lay_out_bar(bar), key=attrgetter("line")):
            placed = [self._placed(each, bar, quarter) for each in together]
            yield from line_marks(placed, self._accents, None, end, {bar.start: end / 2})

    def _placed(self, each: LaidOut, bar: NotatedBar, quarter: float) -> PlacedItem:
        x = self._x(each.item, bar, quarter) + each.offset
        return PlacedItem(each.item, each.layout, x, self.top(each.staff), each.line, bar.start, each.shared)

    def _dashes(self, bar: NotatedBar, quarter: float) -> Iterator[Mark]:
        """A short line for each note, where there is no room for heads."""
        for line in bar.lines:
            for item in line.items:
                x = self._x(item, bar, quarter)
                wide = max(_LEAST_DASH, (item.end - item.start) * quarter / TICKS_PER_QUARTER)
                for head in item.heads:
                    y = self.top(line.staff) + y_of(head.place)
                    yield Rule(x, y, x + wide, y, _DASH, "dash")

    def _x(self, item: NotatedItem, bar: NotatedBar, quarter: float) -> float:
        return (item.start - bar.start) * quarter / TICKS_PER_QUARTER + _HEAD_IN

    @cached_property
    def _accents(self) -> frozenset[int]:
        song = self.scene.song
        if self.scene.front >= len(song.voices):
            return frozenset()
        level = song.voices[self.scene.front].level
        if (song.arrays.loudness[self.notation.indices] == level).all():
            return frozenset()  # soon found, at every key press
        notes = [song.notes[index] for index in self.notation.indices.tolist()]
        return written_loudness(notes, level).accents


def voice_beside(song: Song, front: int) -> int | None:
    """The voice that shares the staff of another: the next that has notes and is of its kind, drums or not."""
    count = len(song.voices)
    others = ((front + step) % count for step in range(1, count))
    return next(
        (
            each
            for each in others
            if len(song.by_voice[each]) and song.voices[each].is_drums == song.voices[front].is_drums
        ),
        None,
    )


def _least_gap(bar: NotatedBar) -> int:
    """The fewest ticks between two onsets of a bar."""
    return min(item.end - item.start for line in bar.lines for item in line.items)
