"""No more notes at once than can be played."""

from __future__ import annotations

from collections.abc import Iterator

from ..sheet import Finding, Fix, Reading, Rule, Severity, TextEdit
from ..sheet.walk import EventKind
from ..sheet.word import word_reader
from ..sheet.written import ChordSign
from .check import Check
from .profile import Profile

__all__ = ["AtOnce"]


class AtOnce(Check):
    """Reports more notes struck together in a voice than allowed. Its fix keeps the first of them."""

    rule = Rule("at-once", Severity.HINT, "More notes at once in a voice than can be played.")
    why = "A whistle or a board plays one note at a time, two beaters play two."
    usual = False
    limits = ("most-at-once",)

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each place in the text."""
        most = profile.most_at_once
        columns = reading.song.arrays
        struck: dict[tuple[int, int], int] = {}
        for start, voice in zip(columns.start.tolist(), columns.voice.tolist(), strict=True):
            struck[voice, start] = struck.get((voice, start), 0) + 1
        crowded = {place: count for place, count in struck.items() if count > most}
        if not crowded:
            return
        for voice, events in enumerate(reading.events):
            for event in events:
                count = crowded.get((voice, event.tick), 0)
                if event.kind is EventKind.STRIKE and count:
                    message = f"{count} notes sound at once here; at most {most} are wanted."
                    yield self.rule.at(
                        event.start, event.end, message, *_fewer(reading, event.start, event.end, most)
                    )


def _fewer(reading: Reading, start: int, end: int, most: int) -> Iterator[Fix]:
    text = reading.text
    word = word_reader(reading.song.naming)(text[start:end])
    if len(word.signs) > most and not any(isinstance(sign.what, ChordSign) for sign in word.signs):
        last = word.signs[most - 1]
        kept = text[start : start + last.end]
        yield Fix(f"Keep {kept}", (TextEdit(start + last.end, start + word.length_start, ""),))
