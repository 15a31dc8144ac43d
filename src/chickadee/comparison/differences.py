"""Differences between the model and an attempt: one for each mistake a teacher would count."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import Enum
from fractions import Fraction
from functools import cached_property

import numpy as np

from ..song import BarGrid
from ..theory import read_key
from .alignment import Pair, alike, all_alike
from .line import Line, Moment

_MOST_STEPS = 24  # by which a gap is moved to try
_FINEST = 96  # the largest denominator of beats

__all__ = ["Difference", "Kind", "Sounding", "differences_in", "settled"]


class Kind(Enum):
    """The kinds of differences, in order of weight: a bar is shown by the heaviest of its own."""

    LENGTH = "length"
    PITCH = "pitch"
    ADDED = "added"
    MISSING = "missing"

    @property
    def weight(self) -> int:
        """The heavier, the more of the bar is wrong."""
        return list(Kind).index(self)


@dataclass(frozen=True, slots=True)
class Sounding:
    """The pitches at a place in one of the tunes."""

    numbers: tuple[int, ...]
    """MIDI numbers: of a chord in rising order, of several moments in order of time; none for a rest."""
    names: tuple[str, ...]
    beats: Fraction
    """Beats of the model's meter there."""


@dataclass(frozen=True, slots=True)
class Difference:
    """One mistake."""

    kind: Kind
    start: int
    """The tick in the model."""
    length: int
    """Ticks in the model that are concerned; 0 where something was added."""
    bar: int
    beat: Fraction
    """Counted from 1 inside the bar."""
    expected: Sounding | None
    """None where something was added."""
    found: Sounding | None
    """None where something is missing."""
    span: tuple[int, int] | None = None
    """Offsets of the place in the attempt's text; that of what stands before it, where something is missing."""
    moments: int = 1
    """How many moments are missing or were added here."""
    bars: int = 0
    """How many whole bars are missing or were added here; 0 where it is not just that."""
    voice: int = 0
    """The voice of the model."""
    own: int | None = None
    """The tick, in the attempt's line, of what stands at ``span``."""
    turns: tuple[int, ...] = ()
    """In a program, the turns of the loops about it, the outermost first."""
    where: str = ""
    """In a program, its line and turn in words."""


# Which of several alignments


def settled(model: Line, attempt: Line, pairs: Sequence[Pair], times: float, grid: BarGrid) -> list[Pair]:
    """Pairs in which what is missing or was added begins where a teacher would say so.

    Where moments come again, what is missing can be one or the other. Best is where the fewest lengths differ, then
    where as much time passes in both tunes from what stands before it to what follows, then at the start of a bar.
    """
    found = list(pairs)
    place = 0
    while place < len(found):
        if None not in found[place]:
            place += 1
            continue
        side = 1 if found[place][0] is None else 0
        end = place
        while end < len(found) and found[end][side] is not None and found[end][1 - side] is None:
            end += 1
        place = _slid(_Slide(model, attempt, times, grid, side), found, place, end)
    return found


@dataclass(frozen=True, slots=True)
class _Slide:
    """Two lines, one of which has a gap that can be moved."""

    model: Line
    attempt: Line
    times: float
    grid: BarGrid
    side: int
    """The line that has what the other lacks: 0 the model, 1 the attempt."""

    def line(self, side: int) -> Line:
        return self.attempt if side else self.model

    def equal(self, one: int, other: int) -> bool:
        """Return whether two moments of the line that has more have the same pitches."""
        moments = self.line(self.side).moments
        return moments[one].numbers == moments[other].numbers

    def penalty(self, pairs: Sequence[Pair], start: int, end: int) -> tuple[int, bool, bool]:
        """Return the penalty of a gap from ``start`` to ``end``."""
        around = [pairs[place] for place in range(max(0, start - 1), min(len(pairs), end + 1))]
        matched = [(one, other) for one, other in around if one is not None and other is not None]
        wrong = sum(not self._same_length(*pair) for pair in matched)
        first = pairs[start][self.side]
        assert first is not None
        tick = self.line(self.side).moments[first].start
        at_bar = self.side == 0 and end - start > 1 and self.grid.place(tick).beat == 1
        return wrong, not self._same_time(pairs, start, end), not at_bar

    def _same_length(self, one: int, other: int) -> bool:
        return alike(float(self.model.lengths[one]), float(self.attempt.lengths[other]) / self.times)

    def _same_time(self, pairs: Sequence[Pair], start: int, end: int) -> bool:
        """Return whether as much time passes in both from the moment before the gap to the one after it."""
        if not 0 < start <= end < len(pairs):
            return False
        spans = []
        for side in (0, 1):
            before = pairs[start - 1][side]
            after = pairs[end][side]
            if before is None or after is None:
                return False
            moments = self.line(side).moments
            spans.append(moments[after].start - moments[before].start)
        return alike(spans[0], spans[1] / self.times)


def _slid(slide: _Slide, pairs: list[Pair], start: int, end: int) -> int:
    """Move the gap from ``start`` to ``end`` to its best place; gives where the walk goes on."""
    side = slide.side
    size = end - start
    best = list(pairs)
    best_penalty = slide.penalty(pairs, start, end)
    moved = 0
    for step in (-1, 1):
        trial = list(pairs) if size < len(pairs) else pairs
        first = start
        while abs(first - start) < _MOST_STEPS:
            edge = first - 1 if step < 0 else first + size
            if not 0 <= edge < len(trial) or None in trial[edge]:
                break
            mine, others = trial[edge]
            own = trial[edge][side]
            far = trial[first + size - 1][side] if step < 0 else trial[first][side]
            assert own is not None and far is not None
            if not slide.equal(own, far):
                break
            partner = others if side == 0 else mine
            block = [trial[place][side] for place in range(first, first + size)]
            line = [own, *block] if step < 0 else [*block, own]
            low = min(edge, first)
            for offset, place in enumerate(line):
                gap = offset < size if step < 0 else offset > 0
                other = None if gap else partner
                trial[low + offset] = (place, other) if side == 0 else (other, place)
            first += step
            penalty = slide.penalty(trial, first, first + size)
            if penalty < best_penalty:
                best = list(trial)
                best_penalty = penalty
                moved = first - start
    pairs[:] = best
    return start + max(0, moved) + size


# Differences


def differences_in(
    model: Line, attempt: Line, pairs: Sequence[Pair], semitones: int, times: float, grid: BarGrid, timed: bool = True
) -> list[Difference]:
    """The differences in order of time. Lengths count where the attempt is ``timed``."""
    return list(_Finder(model, attempt, pairs, semitones, times, grid, timed).differences())


@dataclass(frozen=True)
class _Finder:
    model: Line
    attempt: Line
    pairs: Sequence[Pair]
    semitones: int
    times: float
    grid: BarGrid
    timed: bool

    def differences(self) -> Iterator[Difference]:
        place = 0
        while place < len(self.pairs):
            one, other = self.pairs[place]
            if one is not None and other is not None:
                if place not in self._plain:
                    yield from self._between(place, one, other)
                place += 1
                continue
            end = place
            side = 0 if other is None else 1
            while end < len(self.pairs) and self.pairs[end][side] is not None and self.pairs[end][1 - side] is None:
                end += 1
            yield from self._gap(place, end, side)
            place = end

    @cached_property
    def _plain(self) -> set[int]:
        """The places where both have the same pitches, lengths and rests."""
        both = [
            (place, one, other)
            for place, (one, other) in enumerate(self.pairs)
            if one is not None
            and other is not None
            and self.model.moments[one].numbers == self._numbers(self.attempt.moments[other])
        ]
        if not both:
            return set()
        places, ones, others = np.array(both).T
        same = np.array([bool(self.model.moments[one].numbers) for one in ones.tolist()])
        if self.timed:
            for mine, theirs in ((self.model.lengths, self.attempt.lengths), (self.model.rests, self.attempt.rests)):
                same &= all_alike(mine[ones], theirs[others] / self.times)
        return set(places[same].tolist())

    def _numbers(self, theirs: Moment) -> tuple[int, ...]:
        """An attempt's pitches as the model would have them."""
        return tuple(number - self.semitones for number in theirs.numbers) if self.semitones else theirs.numbers

    def _between(self, place: int, one: int, other: int) -> Iterator[Difference]:
        """Yield the differences at a moment that both have, or in the rest after it."""
        mine = self.model.moments[one]
        theirs = self.attempt.moments[other]
        if self._numbers(theirs) != mine.numbers or not theirs.numbers:
            yield self._difference(Kind.PITCH, mine, self._expected(mine), self._sounding(theirs, mine), theirs)
        if not self.timed:
            return
        if not alike(mine.length, theirs.length / self.times):
            if not self._made_up(place):
                yield self._difference(Kind.LENGTH, mine, self._expected(mine), self._sounding(theirs, mine), theirs)
            return
        follows = place + 1 < len(self.pairs) and None not in self.pairs[place + 1]
        rests = int(self.model.rests[one]), float(self.attempt.rests[other]) / self.times
        if follows and not alike(*rests) and abs(rests[0] - rests[1]) > self._least(mine):
            kind = _kind_of_rests(*rests)
            expected, found = (Sounding((), (), self._beats(mine.end, ticks)) for ticks in rests)
            yield self._difference(
                kind,
                Moment(mine.end, rests[0], (), ()),
                expected if rests[0] else None,
                found if rests[1] else None,
                theirs,
            )

    def _least(self, moment: Moment) -> float:
        """The shortest silence that is no mere breath between notes, in ticks."""
        return moment.length / 8

    def _made_up(self, place: int) -> bool:
        """Return whether a length differs only because of what is missing or was added right after it, or before."""
        after = self._matched(place, 1)
        if after > place + 1 and self._same_time(place, after):
            return True
        before = self._matched(place, -1)
        return before < place - 1 and self._same_time(before, place + 1)

    def _matched(self, place: int, step: int) -> int:
        """The next place, or the one before, at which both tunes have a moment; one beyond the end where none has."""
        place += step
        while 0 <= place < len(self.pairs) and None in self.pairs[place]:
            place += step
        return place

    def _same_time(self, start: int, end: int) -> bool:
        """Return whether as much time passes in both tunes between two places, or from one to the tunes' ends."""
        if start < 0:
            return False
        spans = []
        for side, line in ((0, self.model), (1, self.attempt)):
            first = self.pairs[start][side]
            last = self.pairs[end][side] if end < len(self.pairs) else None
            if first is None or (end < len(self.pairs) and last is None):
                return False
            until = line.moments[last].start if last is not None else line.moments[-1].end
            spans.append(until - line.moments[first].start)
        return alike(spans[0], spans[1] / self.times)

    def _gap(self, start: int, end: int, side: int) -> Iterator[Difference]:
        """Yield the differences of a gap: one for each note, or for all of it where it lasts a bar or more."""
        line = self.attempt if side else self.model
        moments = [line.moments[pair[side] or 0] for pair in self.pairs[start:end]]
        if not side:
            moments = [self._in_attempts_key(moment) for moment in moments]
        tick = self._tick(start) if side else moments[0].start
        duration = self._duration(start, end, side)
        whole = self.timed and len(moments) > 1 and duration >= self.grid.meter_at(tick).bar_ticks
        for group in [moments] if whole else [[moment] for moment in moments]:
            yield self._of_gap(group, tick if side else group[0].start, start, side, duration if whole else 0)

    def _of_gap(self, group: list[Moment], tick: int, place: int, side: int, duration: float) -> Difference:
        """Moments that are missing, or were added, as one difference; ``duration`` is that of a bar or more."""
        sounding = Sounding(
            tuple(number for moment in group for number in moment.numbers),
            tuple(name for moment in group for name in moment.names),
            self._beats(tick, sum(moment.length / self.times if side else moment.length for moment in group)),
        )
        bars = Fraction(duration).limit_denominator(_FINEST) / self.grid.meter_at(tick).bar_ticks
        whole = int(bars) if bars.denominator == 1 and self.grid.place(tick).beat == 1 else 0
        if not side:
            spot = Moment(tick, group[-1].end - tick, (), ())
            found = self._difference(Kind.MISSING, spot, sounding, None, self._moment_before(place))
        else:
            found = self._difference(Kind.ADDED, Moment(tick, 0, (), ()), None, sounding, group[0])
            if not duration and found.beat == 1 and tick > 0:  # a note too many belongs to the bar it makes too long
                before = self.grid.place(tick - 1)
                found = replace(
                    found, bar=before.bar, beat=self.grid.beats(tick - 1, tick - self.grid.start(before.bar)) + 1
                )
        return replace(found, moments=len(group), bars=whole)

    def _duration(self, start: int, end: int, side: int) -> float:
        """Ticks that a gap takes, with the rest that follows it."""
        line = self.attempt if side else self.model
        first, last = (line.moments[self.pairs[place][side] or 0] for place in (start, end - 1))
        after = (self.pairs[end - 1][side] or 0) + 1
        until = line.moments[after].start if after < len(line) else last.end
        return (until - first.start) / (self.times if side else 1)

    def _tick(self, place: int) -> int:
        """The tick in the model at which something was added: where the attempt ends what stands before it."""
        for one, other in reversed(self.pairs[:place]):
            if one is None:
                continue
            before = self.model.moments[one]
            until = self.model.moments[one + 1].start if one + 1 < len(self.model) else before.end
            length = self.attempt.moments[other].length / self.times if other is not None else before.length
            return min(before.start + round(length), until)
        return self.model.moments[0].start if len(self.model) else 0

    def _moment_before(self, place: int) -> Moment | None:
        near = (*reversed(self.pairs[:place]), *self.pairs[place:])
        return next((self.attempt.moments[other] for _, other in near if other is not None), None)

    def _expected(self, moment: Moment) -> Sounding:
        """Return the model's pitches at a moment, in the attempt's key, as all of an attempt is said."""
        return self._sounding(self._in_attempts_key(moment))

    def _in_attempts_key(self, moment: Moment) -> Moment:
        if not self.semitones or self.model.is_drums:
            return moment
        numbers = tuple(number + self.semitones for number in moment.numbers)
        names = tuple(self._attempts_names.get(number) or _named(number) for number in numbers)
        return moment._replace(numbers=numbers, names=names)

    @cached_property
    def _attempts_names(self) -> dict[int, str]:
        """The names of pitches in the attempt."""
        single = (moment for moment in self.attempt.moments if len(moment.numbers) == len(moment.names))
        return {number: name for moment in single for number, name in zip(moment.numbers, moment.names, strict=True)}

    def _sounding(self, moment: Moment, at: Moment | None = None) -> Sounding:
        """Return the pitches at a moment, its beats in the model's meter at ``at``."""
        return Sounding(moment.numbers, moment.names, self._beats((at or moment).start, moment.length))

    def _beats(self, tick: int, ticks: float) -> Fraction:
        """Beats of the model's meter at a tick, as people write them."""
        return Fraction(ticks / self.grid.meter_at(tick).beat_ticks).limit_denominator(_FINEST)

    def _difference(
        self,
        kind: Kind,
        spot: Moment,
        expected: Sounding | None,
        found: Sounding | None,
        theirs: Moment | None,
    ) -> Difference:
        place = self.grid.place(spot.start)
        span, own = (theirs.span, theirs.start) if theirs is not None else (None, None)
        return Difference(kind, spot.start, spot.length, place.bar, place.beat, expected, found, span, own=own)


def _kind_of_rests(expected: float, found: float) -> Kind:
    if not found:
        return Kind.MISSING
    return Kind.LENGTH if expected else Kind.ADDED


def _named(number: int) -> str:
    """The plainest name of a MIDI number; the number itself where no key has it."""
    return read_key("C major").spell(number).text if 0 <= number <= 127 else str(number)
