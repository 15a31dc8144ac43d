"""Bars must hold what the meter asks for."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from fractions import Fraction
from itertools import pairwise
from typing import NamedTuple

from ..sheet import Finding, Fix, Reading, Rule, Severity, TextEdit, apply_edits, read
from ..sheet.bars import Bar
from ..sheet.edits import length_text, set_property
from ..sheet.walk import Event, EventKind
from .check import Check
from .plain import is_plain
from .profile import Profile

__all__ = ["BarLength"]


_LONGEST_DIRECTION = 200  # characters


class BarLength(Check):
    """Reports a bar that holds more or fewer beats than the meter asks for, with fixes that fill or shorten it."""

    rule = Rule("bar-length", Severity.ERROR, "A bar that holds more or fewer beats than the meter asks for.")
    why = "After a bar that is too long or too short, voices that play together are no longer in time."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each place in the text where a faulty bar ends."""
        faulty = {bar.start for bar in reading.bars if not bar.full}
        if not faulty:
            return
        times = Counter(
            event.start
            for events in (*reading.events, *reading.unused)
            for event in events
            if event.kind is EventKind.BAR and event.start in faulty
        )
        ended: dict[int, list[Bar]] = {}
        for bar in reading.bars:
            if bar.start in faulty:
                ended.setdefault(bar.start, []).append(bar)
        overs: dict[int, set[int]] = {}
        for bar in reading.bars:
            for event in bar.events:
                overs.setdefault(event.start, set()).add(bar.length - bar.expected)
        alike = frozenset(start for start, found in overs.items() if len(found) == 1)
        lines = {start: _Line.of(bars, times[start], alike) for start, bars in ended.items()}
        said: set[tuple[int, int]] = set()
        for bar in reading.bars:
            place = bar.start, bar.events[-1].start if bar.events else bar.start
            if not bar.full and place not in said:
                said.add(place)
                yield _Fault(reading, bar, lines[bar.start]).finding()


class _Line(NamedTuple):
    """A bar line as it is written, and all the bars that it ends wherever it sounds."""

    alike: bool
    """True if each time it sounds it ends a bar, and every one is too long, or too short, by as much."""
    common: frozenset[int]
    """Where the events begin, in the text, that every faulty one of those bars has, and no bar that is otherwise."""

    @classmethod
    def of(cls, bars: list[Bar], times: int, alike: frozenset[int]) -> _Line:
        """``times`` is how often the line sounds, ``alike`` where events begin all of whose bars are as long."""
        overs = {bar.length - bar.expected for bar in bars}
        starts = ({event.start for event in bar.events} for bar in bars if not bar.full)
        return cls(len(bars) == times and len(overs) == 1, alike.intersection(*starts))


class _Fault:
    def __init__(self, reading: Reading, bar: Bar, line: _Line) -> None:
        self.reading = reading
        self.bar = bar
        self.line = line
        self.beat = reading.song.grid.meter_at(bar.tick).beat_ticks
        self.over = bar.length - bar.expected
        self.times = Counter(event.start for event in bar.events)

    def finding(self) -> Finding:
        holds = self._beats(self.bar.length)
        asked = self._beats(self.bar.expected)
        what = "The pickup" if self.bar.number == 0 else f"Bar {self.bar.number}"
        asks = "it should hold" if self.bar.number == 0 else "the meter asks for"
        start = self.bar.events[-1].start if self.bar.events else self.bar.start
        if start > self.bar.start or "\n" in self.reading.text[start : self.bar.start]:
            start = self.bar.start  # the last note stands in another phrase, or another line
        fixes = self._shorter() if self.over > 0 else self._longer()
        return BarLength.rule.at(start, self.bar.end, f"{what} holds {_count(holds)}, {asks} {asked}.", *fixes)

    def _shorter(self) -> list[Fix]:
        fixes = []
        last = self.bar.events[-1]
        whole = self.reading.song.grid.meter_at(self.bar.tick).bar_ticks
        if self.over % whole == 0 and (places := self._missing_lines()):
            fixes.append(Fix("Put the missing bar lines in", tuple(TextEdit(at, at, "| ") for at in places)))
        if self.bar.length == 2 * self.bar.expected and all(map(self._mends, self.bar.events)):
            halves = [self._with_length(event, event.length // 2) for event in self.bar.events if event.length]
            fixes.append(Fix("Halve these lengths", tuple(halves)))
        for event in reversed(self.bar.events):
            if event.length == self.over and event.kind is not EventKind.HOLD and self._mends(event):
                start = event.start
                end = event.end
                while end < len(self.reading.text) and self.reading.text[end] in " \t":
                    end += 1
                fixes.append(Fix(f"Delete {self._shown(event)}", (TextEdit(start, end, ""),)))
                break
        if last.length > self.over and self._mends(last):
            fixes.append(self._resized(last, last.length - self.over, "Shorten"))
        return fixes

    def _longer(self) -> list[Fix]:
        last = self.bar.events[-1]
        rest = TextEdit(self.bar.start, self.bar.start, self._spaced("rest" + self._length(-self.over, last.tick)))
        longer = [self._resized(last, last.length - self.over, "Lengthen")] if self._mends(last) else []
        filled = []
        if self.line.alike and not self._is_in_direction(self.bar.start):
            filled = [Fix(f"Add a rest of {_count(self._beats(-self.over))}", (rest,))]
        return [*longer, *filled, *self._pickup()]

    def _is_in_direction(self, at: int) -> bool:
        """Return whether an offset stands behind a square bracket that its line does not close."""
        text = self.reading.text
        start = max(text.rfind("\n", 0, at) + 1, at - _LONGEST_DIRECTION)
        return text.rfind("[", start, at) > text.rfind("]", start, at)

    def _pickup(self) -> list[Fix]:
        """A first bar that is too short may be a pickup: offered where all bars are full then."""
        bars = self.reading.bars
        voices = len(self.reading.song.voices)
        if self.bar.tick or self.reading.song.grid.pickup or len(bars) <= voices:
            return []
        if sum(not bar.full for bar in bars) > 2 * voices:  # the first, and perhaps the last
            return []
        edits = set_property(self.reading, "pickup", str(self._beats(self.bar.length)))
        after = read(apply_edits(self.reading.text, edits))
        if not all(bar.full for bar in after.bars):
            return []
        return [Fix(f"Make it a pickup of {_count(self._beats(self.bar.length))}", tuple(edits))]

    def _mends(self, event: Event) -> bool:
        """Return whether another length for an event would be its own and mend every bar that ends in its line."""
        return self.times[event.start] == 1 and event.start in self.line.common and is_plain(self.reading, event)

    def _missing_lines(self) -> list[int]:
        """Where bar lines would stand if each bar were full; empty where a note crosses one, or where what sounds
        here is not written here in this order."""
        starts = [event.start for event in self.bar.events]
        block = self.reading.block_at(starts[0])
        if block is None or self.bar.end > block.body[-1].end:
            return []
        if any(before >= after for before, after in pairwise([*starts, self.bar.start])):
            return []
        tick = self.bar.tick + self.bar.expected
        end = self.bar.tick + self.bar.length
        wanted = set()
        while tick < end:
            wanted.add(tick)
            tick += self.reading.song.grid.meter_at(tick).bar_ticks
        places = [event.start for event in self.bar.events if event.tick in wanted]
        apart = all(self.reading.text[at - 1 : at].strip(" \t\n(|)]") == "" for at in places)
        return places if apart and len(places) == len(wanted) else []

    def _resized(self, event: Event, ticks: int, verb: str) -> Fix:
        title = f"{verb} {self._shown(event)} to {_count(self._beats(ticks))}"
        return Fix(title, (self._with_length(event, ticks),))

    def _with_length(self, event: Event, ticks: int) -> TextEdit:
        text = self.reading.text[event.start : event.end]
        at = text.find("=", text.rfind("&") + 1)
        head = text if at < 0 else text[:at]
        return TextEdit(event.start + len(head), event.end, self._length(ticks, event.tick))

    def _length(self, ticks: int, tick: int) -> str:
        return length_text(self.reading, tick, ticks)

    def _beats(self, ticks: int) -> Fraction:
        return Fraction(ticks, self.beat)

    def _shown(self, event: Event) -> str:
        text = self.reading.text[event.start : event.end].partition("=")[0]
        return {"-": "the hold", ".": "the rest", "rest": "the rest"}.get(text.lower(), text)

    def _spaced(self, sign: str) -> str:
        before = self.reading.text[self.bar.start - 1]
        return f"{sign} " if before.isspace() else f" {sign} "


def _count(beats: Fraction) -> str:
    if beats == 1:
        return "1 beat"
    return f"{beats} beats" if beats > 1 else f"{beats} of a beat"
