"""Points for attempts, by a rule of the teacher's: so many for the pitches, for the lengths, and for all right."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from ..faults import InputFault
from .differences import Kind
from .verdict import Comparison, Verdict

__all__ = ["Points", "PointsFault", "read_points"]

_MOST = 1000
_HALVES = 2  # points are rounded to halves


class PointsFault(InputFault):
    """A rule of points says something that cannot be."""


@dataclass(frozen=True, slots=True)
class Points:
    """The points for pitches, for lengths, and for all right.

    >>> from chickadee.formats.anything import read_text
    >>> from chickadee.sheet import read
    >>> from chickadee.comparison import Model, compared
    >>> judged = compared(Model(read("C4 D4 E4=2").song), read_text("C4 D4 F4=2"))
    >>> Points(6, 3, 1).given(judged), Points(6, 3, 1).most
    (Fraction(7, 1), Fraction(10, 1))
    """

    pitches: Fraction | int = 0
    """For all pitches; for some of them a share."""
    lengths: Fraction | int = 0
    """For all lengths; for some of them a share."""
    all_right: Fraction | int = 0
    """Where nothing at all is wrong."""

    @property
    def most(self) -> Fraction:
        """The points of an attempt that is right."""
        return Fraction(self.pitches + self.lengths + self.all_right)

    def given(self, judged: Comparison) -> Fraction:
        """The points of an attempt, rounded to halves: none for another tune or for what is not readable.

        What is moved or stretched as a whole has its pitches and lengths, but not the points for all right. A note
        that is missing or too many counts against both.
        """
        if judged.verdict in (Verdict.ANOTHER_TUNE, Verdict.UNREADABLE) or not judged.of:
            return Fraction(0)
        away = _moments(judged, Kind.MISSING) + _moments(judged, Kind.ADDED)
        points = self.pitches * _share(judged.of, away + _moments(judged, Kind.PITCH))
        if judged.verdict is not Verdict.PITCHES_ONLY:
            points += self.lengths * _share(judged.of, away + _moments(judged, Kind.LENGTH))
        if judged.verdict is Verdict.RIGHT:
            points += self.all_right
        return Fraction(round(points * _HALVES), _HALVES)


def read_points(words: Sequence[str]) -> Points:
    """A rule from three numbers: for pitches, lengths and all right. Raises PointsFault."""
    try:
        numbers = [float(word.replace(",", ".")) for word in words]
    except ValueError:
        numbers = []
    if len(numbers) != 3 or not all(math.isfinite(number) and 0 <= number <= _MOST for number in numbers):
        raise PointsFault(
            f"Points are three numbers up to {_MOST}: for pitches, for lengths, for all right; as 6,3,1."
        )
    pitches, lengths, all_right = (Fraction(number).limit_denominator(100) for number in numbers)
    return Points(pitches, lengths, all_right)


def _moments(judged: Comparison, kind: Kind) -> int:
    return sum(max(1, each.moments) for each in judged.differences if each.kind is kind)


def _share(of: int, wrong: int) -> Fraction:
    return Fraction(max(0, of - wrong), of)
