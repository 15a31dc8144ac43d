"""Parts must be loud enough to be heard, and not so loud that they hurt."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..sheet import Finding, Fix, Reading, Rule, Severity
from ..sheet.edits import set_property
from .check import Check
from .profile import Profile

__all__ = ["Loudness"]

_SOFTEST = 16
_LOUDEST = 120


class Loudness(Check):
    """Reports a voice whose loudest note is too soft to be heard, or whose softest is as loud as can be."""

    rule = Rule("loudness", Severity.HINT, "A voice too soft to be heard, or too loud throughout.")
    why = "A part below about 16 of 127 is lost on a projector; one above 120 throughout drowns the others."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each voice."""
        columns = reading.song.arrays
        for index, voice in enumerate(reading.song.voices):
            loudness = columns.loudness[reading.song.by_voice[index]]
            if not len(loudness) or (np.max(loudness) >= _SOFTEST and np.min(loudness) <= _LOUDEST):
                continue
            low = int(np.min(loudness))
            high = int(np.max(loudness))
            if high < _SOFTEST:
                message = f"{voice.name} is never louder than {high} of 127, too soft to be heard."
            else:
                message = f"{voice.name} is never softer than {low} of 127, too loud for the others."
            block = reading.sheet.voices[index]
            level = set_property(reading, "level", "mf", index) if block.settings.level is not None else []
            fixes = [Fix("Begin at mf", tuple(level))] if level else []
            yield self.rule.at(block.start, block.end, message, *fixes)
