"""Notes should have the lengths that a class knows."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from ..sheet import Finding, Fix, Reading, Rule, Severity, TextEdit
from ..sheet.walk import Event, EventKind
from .check import Check
from .plain import is_plain
from .profile import Profile

__all__ = ["LengthSet"]


class LengthSet(Check):
    """Reports a note of another length. Its fixes share out the same time with the note beside it."""

    rule = Rule("length-set", Severity.HINT, "A note of a length that is not among those wanted.")
    why = "A class reads the lengths it has learned, and boards play the few they have."
    usual = False
    limits = ("lengths",)

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each place in the text."""
        wanted = profile.lengths
        grid = reading.song.grid
        known: dict[tuple[int, int], bool] = {}  # whether so many ticks, of a meter with such a beat, are wanted
        for events in reading.events:
            sounding = [event for event in events if event.kind is not EventKind.BAR]
            for place, event in enumerate(sounding):
                if event.kind is not EventKind.STRIKE:
                    continue
                kind = event.length, grid.meter_at(event.tick).beat_ticks
                if kind not in known:
                    known[kind] = self._beats(reading, event) in wanted
                if not known[kind]:
                    beats = self._beats(reading, event)
                    message = f"This note lasts {beats} beats; {_listed(wanted)} are wanted."
                    beside = sounding[place - 1 : place] + sounding[place + 1 : place + 2]
                    yield self.rule.at(event.start, event.end, message, *self._shared(reading, event, beside, wanted))

    def _shared(
        self, reading: Reading, event: Event, beside: list[Event], wanted: tuple[Fraction, ...]
    ) -> Iterator[Fix]:
        """The time of a note and of one beside it, in the same bar, shared out so that both are as wanted."""
        grid = reading.song.grid
        beats = self._beats(reading, event)
        for other in beside if is_plain(reading, event) else ():
            theirs = self._beats(reading, other)
            if (
                grid.number_at(other.tick) != grid.number_at(event.tick)
                or not is_plain(reading, other)
                or other.start == event.start
            ):
                continue
            ways = [length for length in wanted if beats + theirs - length in wanted]
            if ways:
                length = min(ways, key=lambda way: abs(way - beats))
                edits = (_lengthened(reading, event, length), _lengthened(reading, other, beats + theirs - length))
                yield Fix(f"Make it {length}, and the one beside it {beats + theirs - length}", edits)
                return

    def _beats(self, reading: Reading, event: Event) -> Fraction:
        return reading.song.grid.beats(event.tick, event.length)


def _lengthened(reading: Reading, event: Event, beats: Fraction) -> TextEdit:
    text = reading.text[event.start : event.end]
    at = event.start + (text.find("=") if "=" in text else len(text))
    return TextEdit(at, event.end, "" if beats == 1 else f"={beats}")


def _listed(lengths: tuple[Fraction, ...]) -> str:
    *first, last = [str(length) for length in lengths]
    return f"{', '.join(first)} and {last}" if first else last
