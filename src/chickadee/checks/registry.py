"""The checks in one list, and reading a sheet with those that a profile asks for."""

from __future__ import annotations

from collections.abc import Iterator

from ..fault_log import logged
from ..sheet import Finding, Reading, read
from ..sheet.reading import collector_paused, not_read
from ..sheet.rules import NOT_READ
from ..song import Song
from .allowed import Allowed
from .at_once import AtOnce
from .bar_length import BarLength
from .check import Check
from .copied_bars import CopiedBars
from .endings import VoicesEndApart
from .gap import NoGap
from .key import OutOfKey
from .leap import Leap
from .length_set import LengthSet
from .loudness import Loudness
from .midi_division import MidiDivision
from .phrases import SamePhrase, UnusedPhrase
from .profile import USUAL, Profile
from .slip import LikelySlip
from .too_close import TooClose
from .unheard import Unheard
from .unison import Unison
from .voice_range import VoiceRange
from .waits import Waits

__all__ = ["CHECKS", "checked_reading"]

CHECKS: tuple[Check, ...] = (
    BarLength(), Unheard(), VoiceRange(), Allowed(), MidiDivision(), OutOfKey(), LikelySlip(), Leap(), LengthSet(),
    TooClose(), AtOnce(), Unison(), NoGap(), Loudness(), VoicesEndApart(), UnusedPhrase(), SamePhrase(), CopiedBars(),
    Waits(),
)  # fmt: skip
"""Every check, in the order the reference and the desk list them."""


def reading_of(tune: Reading | Song) -> Reading:
    """The tune with its text; a song without one is written as a sheet."""
    if isinstance(tune, Reading):
        return tune
    from ..sheet.writing import write_song  # loaded with the first such song

    return checked_reading(write_song(tune))


def checked_reading(text: str, profile: Profile = USUAL) -> Reading:
    """Read a sheet and check its song; the findings of both stand in order of place.

    Never fails, whatever the text: should the reader or a check fail by a fault of ours, that is a finding too.
    """
    try:
        reading = read(text)
    except Exception as fault:
        logged(fault)
        return not_read(text)
    asked = [check for check in CHECKS if profile.asks_for(check.rule.code, check.usual)]
    with collector_paused():
        return reading.with_findings(finding for check in asked for finding in _found(check, reading, profile))


def _found(check: Check, reading: Reading, profile: Profile) -> Iterator[Finding]:
    try:
        yield from check.findings(reading, profile)
    except Exception as fault:
        logged(fault)
        message = (
            f"Chickadee could not run the check “{check.rule.code}” because of an internal error; "
            "everything else was checked."
        )
        yield NOT_READ.at(0, len(reading.text), message)
