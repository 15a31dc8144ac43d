"""Voices should end together."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from ..sheet import Finding, Fix, Reading, Rule, Severity
from ..sheet.drawing import append
from ..sheet.edits import CannotEdit, length_text
from .check import Check
from .profile import Profile

__all__ = ["VoicesEndApart"]

_MOST_RESTS = 200  # bars


class VoicesEndApart(Check):
    """Reports a voice that ends before the longest one. Its fix adds rests."""

    rule = Rule("voices-end-apart", Severity.HINT, "A voice that ends before the others do.")
    why = "A voice that ends early leaves a silence when the tune is repeated; often a bar is missing."
    usual = False

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each voice that ends early."""
        song = reading.song
        for index, voice in enumerate(song.voices):
            if 0 < voice.end < song.end:
                short = song.beats - Fraction(voice.end, song.meter.beat_ticks)
                ends = song.grid.number_at(voice.end - 1)
                last = song.last_bar
                message = (
                    f"{voice.name} ends in bar {ends}, {short} beats before the longest voice ends in bar {last}."
                )
                block = reading.sheet.voices[index]
                yield self.rule.at(block.start, block.end, message, *_rests(reading, index))


def _rests(reading: Reading, voice: int) -> Iterator[Fix]:
    """Rests to the end, bar by bar; none for a voice that ends very early."""
    song = reading.song
    grid = song.grid
    end = song.end
    if grid.number_at(end) - grid.number_at(song.voices[voice].end) > _MOST_RESTS:
        return
    last_bar = grid.start(song.last_bar)
    tick = max(last_bar, song.voices[voice].end)
    try:
        edits = append(reading, voice, tick, f"rest{length_text(reading, tick, end - tick)}")
    except CannotEdit:
        return
    yield Fix("Rest to the end", tuple(edits))
