"""The checks in one list, and reading a sheet with all of them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Protocol

from ..sheet import Finding, Reading, read
from .allowed import Allowed
from .bar_length import BarLength
from .midi_division import MidiDivision
from .voice_range import VoiceRange

__all__ = ["CHECKS", "Check", "checked_reading"]


class Check(Protocol):
    """A rule about songs."""

    def findings(self, reading: Reading) -> Iterator[Finding]:
        """What the rule finds in a reading."""


CHECKS: tuple[Check, ...] = (BarLength(), VoiceRange(), Allowed(), MidiDivision())
"""Every check, in the order the reference lists them."""


def checked_reading(text: str) -> Reading:
    """Read a sheet and check its song; the findings of both stand in order of place."""
    reading = read(text)
    return reading.with_findings(finding for check in CHECKS for finding in check.findings(reading))
