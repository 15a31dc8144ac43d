"""Bars must hold what the meter asks for."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from fractions import Fraction
from itertools import pairwise

from ..sheet import Finding, Fix, Reading, Rule, Severity, TextEdit
from ..sheet.bars import Bar
from ..sheet.walk import Event, EventKind
from .check import Check
from .plain import is_plain
from .profile import Profile

__all__ = ["BarLength"]


class BarLength(Check):
    """Reports a bar that holds more or fewer beats than the meter asks for, and ways to fill or shorten it."""

    rule = Rule("bar-length", Severity.ERROR, "A bar that holds more or fewer beats than the meter asks for.")
    why = "Voices that play together drift apart from a bar that is too long or too short."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each faulty bar."""
        lines = Counter(
            event.start
            for events in (*reading.events, *reading.unused)
            for event in events
            if event.kind is EventKind.BAR
        )
        ended: dict[int, list[Bar]] = {}
        for bar in reading.bars:
            ended.setdefault(bar.start, []).append(bar)
        for bar in reading.bars:
            if not bar.full:
                yield _Fault(reading, bar, ended[bar.start], lines[bar.start]).finding()


class _Fault:
    def __init__(self, reading: Reading, bar: Bar, ended: list[Bar], lines: int) -> None:
        """``ended`` are all bars that the bar's line ends, this one too, and ``lines`` says how often that sounds."""
        self.reading, self.bar, self.ended = reading, bar, ended
        self.beat = reading.song.grid.meter_at(bar.tick).beat_ticks
        self.over = bar.length - bar.expected
        self.alike = len(ended) == lines and all(each.length - each.expected == self.over for each in ended)

    def finding(self) -> Finding:
        holds, asked = self._beats(self.bar.length), self._beats(self.bar.expected)
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
        if self.over % self.bar.expected == 0 and (places := self._missing_lines()):
            fixes.append(Fix("Put the missing bar lines in", tuple(TextEdit(at, at, "| ") for at in places)))
        for event in reversed(self.bar.events):
            if event.length == self.over and event.kind is not EventKind.HOLD and self._mends(event):
                start, end = event.start, event.end
                while end < len(self.reading.text) and self.reading.text[end] in " \t":
                    end += 1
                fixes.append(Fix(f"Take out {self._shown(event)}", (TextEdit(start, end, ""),)))
                break
        if last.length > self.over and self._mends(last):
            fixes.append(self._resized(last, last.length - self.over, "Shorten"))
        return fixes

    def _longer(self) -> list[Fix]:
        last = self.bar.events[-1]
        rest = TextEdit(self.bar.start, self.bar.start, self._spaced("rest" + self._length(-self.over)))
        longer = [self._resized(last, last.length - self.over, "Lengthen")] if self._mends(last) else []
        filled = [Fix(f"Add a rest of {_count(self._beats(-self.over))}", (rest,))] if self.alike else []
        return [*longer, *filled]

    def _mends(self, event: Event) -> bool:
        """Whether another length for an event would be its own, and mend every bar that ends in the same line."""
        everywhere = all(any(each.start == event.start for each in bar.events) for bar in self.ended)
        return everywhere and is_plain(self.reading, event)

    def _missing_lines(self) -> list[int]:
        """Where bar lines would stand if each bar were full; empty where a note crosses one, or where what sounds
        here is not written here in this order."""
        starts = [event.start for event in self.bar.events]
        sheet = self.reading.sheet
        blocks = [block.body for block in (*sheet.voices, *sheet.phrases.values()) if block.body]
        mine = [body for body in blocks if body[0].start <= starts[0] and self.bar.end <= body[-1].end]
        if not mine or any(before >= after for before, after in pairwise([*starts, self.bar.start])):
            return []
        wanted = set(range(self.bar.tick + self.bar.expected, self.bar.tick + self.bar.length, self.bar.expected))
        places = [event.start for event in self.bar.events if event.tick in wanted]
        return places if len(places) == len(wanted) else []

    def _resized(self, event: Event, ticks: int, verb: str) -> Fix:
        text = self.reading.text[event.start : event.end]
        at = text.find("=", text.rfind("&") + 1)
        head = text if at < 0 else text[:at]
        edit = TextEdit(event.start + len(head), event.end, self._length(ticks))
        return Fix(f"{verb} {self._shown(event)} to {_count(self._beats(ticks))}", (edit,))

    def _length(self, ticks: int) -> str:
        beats = self._beats(ticks)
        return "" if beats == 1 else f"={beats}"

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
