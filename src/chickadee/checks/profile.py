"""Profiles: which checks a class wants, and their limits."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from ..faults import InputFault
from ..sheet.length import Unit, read_length
from ..sheet.properties import PROPERTIES

__all__ = ["LIMITS", "USUAL", "Limit", "Profile"]


@dataclass(frozen=True)
class Profile:
    """The checks that a folder's tunes are given.

    >>> Profile(switched={"leap": True}, limits={"largest-leap": "7"}).largest_leap
    7
    """

    switched: Mapping[str, bool] = field(default_factory=dict)
    """Rules that are on or off, by code; the others are as they usually are."""
    limits: Mapping[str, str] = field(default_factory=dict)
    """Limits as they are written, by name; each can be read."""

    def asks_for(self, code: str, usual: bool) -> bool:
        """Return whether a rule is on."""
        return self.switched.get(code, usual)

    @property
    def largest_leap(self) -> int:
        """Semitones."""
        return int(self._value("largest-leap"))

    @property
    def closest(self) -> float:
        """Seconds between two strikes of a voice."""
        return float(self._value("closest"))

    @property
    def most_at_once(self) -> int:
        """Notes that may sound together in a voice."""
        return int(self._value("most-at-once"))

    @property
    def lengths(self) -> tuple[Fraction, ...]:
        """Beats that a note may last."""
        return tuple(self._value("lengths"))

    @property
    def range(self) -> tuple[int, int] | None:
        """The lowest and highest MIDI number, for voices that name none."""
        low, high = self._value("range") if "range" in self.limits else (0, 0)
        return (low, high) if "range" in self.limits else None

    @property
    def allow(self) -> frozenset[int] | None:
        """The allowed pitches, as a voice's property has them, for voices that name none."""
        return frozenset(self._value("allow")) if "allow" in self.limits else None

    def _value(self, name: str) -> Any:
        limit = LIMITS[name]
        return limit.read(self.limits.get(name, limit.usual))


USUAL = Profile()
"""The checks where a folder says nothing."""


@dataclass(frozen=True, slots=True)
class Limit:
    """A measure that a check goes by.

    >>> LIMITS["largest-leap"].read("7")
    7
    """

    name: str
    label: str
    """Its name, for people."""
    usual: str
    """Its value where a folder says nothing; empty where there is no limit then."""
    example: str
    read: Callable[[str], Any]
    """Gives the value, or raises InputFault with a sentence."""


def _whole(low: int, high: int, what: str) -> Callable[[str], int]:
    def read(text: str) -> int:
        if not re.fullmatch(r"\s*[0-9]{1,9}\s*", text, re.ASCII) or not low <= int(text) <= high:
            raise InputFault(f"{what} is a whole number from {low} to {high}.")
        return int(text)

    return read


def _seconds(text: str) -> float:
    try:
        seconds = float(text)
    except ValueError:
        seconds = -1.0
    if not 0 <= seconds <= 10:
        raise InputFault("This is a number of seconds from 0 to 10, such as 0.1.")
    return seconds


def _lengths(text: str) -> tuple[Fraction, ...]:
    found = [read_length(word) for word in text.replace(",", " ").split()]
    lengths = [length.count for length in found if length and length.unit is Unit.BEAT and length.count > 0]
    if not lengths or len(lengths) != len(found):
        raise InputFault("Lengths are beats with spaces between, such as 1/2 1 2.")
    return tuple(lengths)


_ALL = (
    Limit("range", "Range of voices that do not set one", "", "C4 to C6", PROPERTIES["range"].read),
    Limit("allow", "Pitches of voices that do not set any", "", "C D E G A", PROPERTIES["allow"].read),
    Limit("largest-leap", "Largest leap, in semitones", "12", "12", _whole(1, 127, "A leap in semitones")),
    Limit("lengths", "Lengths that notes may have, in beats", "1/2 1 3/2 2 3 4", "1/2 1 2", _lengths),
    Limit("closest", "Shortest time between notes, in seconds", "0.04", "0.1", _seconds),
    Limit("most-at-once", "Most notes at once in a voice", "4", "1", _whole(1, 99, "A number of notes")),
)

LIMITS: dict[str, Limit] = {limit.name: limit for limit in _ALL}
"""Every limit by name, in the order the reference and the desk list them."""
