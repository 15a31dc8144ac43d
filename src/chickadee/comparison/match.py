"""An attempt laid over the model as well as it can be: aligned, moved and stretched."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property
from itertools import groupby
from operator import attrgetter

from ..formats.imported import Form, Imported, LengthsIn
from ..formats.snapping import snapped
from ..song import BarGrid
from .alignment import Pair, aligned
from .causes import is_one_mistake
from .differences import Difference, Kind, differences_in, settled
from .line import Line
from .model import Model, Voices, ways_of
from .relation import likely_semitones, likely_times

__all__ = ["Match", "matched"]

_MOVED_COST = 2  # mistakes that taking the tune as moved must save
_RUN = 3


@dataclass(frozen=True)
class Match:
    """Lines of the model and of the attempt, and what differs."""

    voices: Voices
    pairs: tuple[list[Pair], ...]
    """For each of the voices."""
    semitones: int
    """By how many the attempt is higher."""
    times: Fraction
    """How many times as long the attempt is."""
    differences: tuple[Difference, ...]
    """In order of time, then voice."""
    mistakes: int
    """As a teacher counts them: pitches that are all wrong for one reason are one."""

    @cached_property
    def same(self) -> list[list[bool]]:
        """For each voice, whether the pitches of each pair of moments are the same."""
        return [
            [one is not None and other is not None and self._equal(voice, one, other) for one, other in pairs]
            for voice, pairs in enumerate(self.pairs)
        ]

    @property
    def likeness(self) -> float:
        """From 0 to 2, how much one tune is like the other.

        Two shares are added: of the pairs that have the same pitches, without what only one tune has before or after
        the other; and of the shorter tune's moments that stand among three or more such pairs.
        """
        right = inner = in_runs = 0
        for pairs, row in zip(self.pairs, self.same, strict=True):
            both = [place for place, pair in enumerate(pairs) if None not in pair]
            inner += both[-1] + 1 - both[0] if both else 0
            right += sum(row)
            runs = (len(list(group)) for same, group in groupby(row) if same)
            in_runs += sum(run for run in runs if run >= _RUN)
        return right / max(1, inner) + in_runs / max(1, self.fewer)

    @property
    def fewer(self) -> int:
        """How many moments the shorter of both tunes has."""
        return sum(min(len(mine), len(theirs)) for mine, theirs in self.voices)

    @property
    def right(self) -> int:
        """How many moments of the model the attempt has with the same pitches and lengths."""
        wrong = {
            (each.voice, each.start)
            for each in self.differences
            if each.kind in (Kind.PITCH, Kind.LENGTH) and each.expected and each.expected.numbers
        }
        return sum(
            same and (voice, self.voices[voice][0].moments[one or 0].start) not in wrong
            for voice, (pairs, row) in enumerate(zip(self.pairs, self.same, strict=True))
            for (one, _), same in zip(pairs, row, strict=True)
        )

    def _equal(self, voice: int, one: int, other: int) -> bool:
        mine, theirs = self.voices[voice]
        shift = 0 if mine.is_drums else self.semitones
        numbers = tuple(number - shift for number in theirs.moments[other].numbers)
        return bool(numbers) and numbers == mine.moments[one].numbers


def matched(model: Model, found: Imported) -> Match:
    """The match with the fewest mistakes, of all ways in which voices may stand for one another. Raises TooLong.

    The strikes of a MIDI file are taken as they were meant.
    """
    if found.form is Form.MIDI:
        found = replace(found, song=snapped(found.song).song)
    best: Match | None = None
    for voices in ways_of(model, found):
        match = _overlaid(voices, model.song.grid, found.lengths is not LengthsIn.NOTHING)
        if best is None or match.mistakes < best.mistakes:
            best = match
        if not best.mistakes:
            break
    assert best is not None
    return best


def _overlaid(voices: Voices, grid: BarGrid, timed: bool) -> Match:
    """The match at the distance, and the ratio of lengths, that leave the fewest mistakes."""
    longest = max(voices, key=lambda pair: (not pair[0].is_drums, len(pair[0])))
    found = []
    for semitones in likely_semitones(*longest):
        times = likely_times(*longest, semitones) if timed else Fraction(1)
        found.append(_at(voices, grid, semitones, times, timed))
    return min(found, key=_weight)


def _weight(match: Match) -> tuple[int, int, bool]:
    moved = bool(match.semitones and match.mistakes)
    return match.mistakes + _MOVED_COST * moved, abs(match.semitones), match.times != 1


def _at(voices: Voices, grid: BarGrid, semitones: int, times: Fraction, timed: bool) -> Match:
    every: list[Difference] = []
    ways: list[list[Pair]] = []
    mistakes = 0
    for voice, (mine, theirs) in enumerate(voices):
        shift = 0 if mine.is_drums else semitones
        laid = _Overlay.of(mine, theirs, aligned(mine, theirs, shift, float(times)), shift, times, grid, timed)
        if laid.mistakes > 1 and len(mine) == len(theirs):
            straight = _Overlay.of(
                mine, theirs, [(place, place) for place in range(len(mine))], shift, times, grid, timed
            )
            laid = min(laid, straight, key=attrgetter("mistakes"))
        mistakes += laid.mistakes
        ways.append(laid.pairs)
        every += [replace(each, voice=voice) for each in laid.differences] if voice else laid.differences
    every.sort(key=attrgetter("start", "voice"))
    return Match(voices, tuple(ways), semitones, times, tuple(every), mistakes)


@dataclass(frozen=True)
class _Overlay:
    """A line laid over one of the model in one way."""

    pairs: list[Pair]
    differences: list[Difference]
    mistakes: int
    """As a teacher counts them."""

    @classmethod
    def of(
        cls, mine: Line, theirs: Line, pairs: list[Pair], shift: int, times: Fraction, grid: BarGrid, timed: bool
    ) -> _Overlay:
        """Find the differences between two lines with such pairs."""
        pairs = settled(mine, theirs, pairs, float(times), grid)
        found = differences_in(mine, theirs, pairs, shift, float(times), grid, timed)
        pitches = sum(each.kind is Kind.PITCH for each in found)
        return cls(pairs, found, len(found) - (pitches - 1 if is_one_mistake(mine, found) else 0))
