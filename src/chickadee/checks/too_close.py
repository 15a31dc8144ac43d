"""Notes should not follow each other quicker than they can be played."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..sheet import Finding, Reading, Rule, Severity
from ..sheet.walk import EventKind
from ..song import Song
from .check import Check
from .profile import Profile

__all__ = ["TooClose"]


class TooClose(Check):
    """Reports notes of a voice that are struck quicker one after the other than they can be played or heard apart."""

    rule = Rule("too-close", Severity.WARNING, "Notes closer together than they can be played.")
    why = "Notes less than about a twentieth of a second apart blur into one, and hands and boards cannot keep up."
    limits = ("closest",)

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each place in the text."""
        song = reading.song
        least = profile.closest
        for voice, events in enumerate(reading.events):
            if not _hurries(song, voice, least):
                continue
            struck = [event for event in events if event.kind is EventKind.STRIKE]
            seconds = song.tempo.seconds([event.tick for event in struck])
            for place in np.flatnonzero(np.diff(seconds) < least - 1e-9):
                event = struck[place + 1]
                apart = float(seconds[place + 1] - seconds[place])
                message = f"Only {apart:.3f} seconds after the note before; at least {least:g} are wanted."
                yield self.rule.at(event.start, event.end, message)


def _hurries(song: Song, voice: int, least: float) -> bool:
    """Return whether any of a voice's notes come closer; the parts of one broken chord are told apart later."""
    columns = song.arrays
    apart = np.diff(song.tempo.seconds(columns.start[song.by_voice[voice]]))
    return bool(np.any((apart > 0) & (apart < least - 1e-9)))
