"""Differences of an attempt that is a program: the line and the turn of each, and what they come from."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import cached_property
from itertools import islice, pairwise

from ..formats.imported import Imported
from ..formats.traced import TracedProgram, TracedStrike
from .differences import Difference, Kind
from .line import Line, Moment
from .match import Match

__all__ = ["causes_in_program", "in_program"]

_ORDINALS = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth")
_MOST_CAUSES = 2


def in_program(match: Match, found: Imported) -> Match:
    """Return the match with the line and turn of each difference, where the attempt is a program."""
    program = found.program
    if program is None:
        return match
    starts = [_model_starts(match, voice) for voice in range(len(match.voices))]
    placed = [_placed(each, match, program, starts[each.voice]) for each in match.differences]
    return replace(match, differences=tuple(placed))


def _model_starts(match: Match, voice: int) -> dict[int, int | None]:
    """The start in the model for each start in the attempt, in ticks; None for what was added."""
    mine, theirs = match.voices[voice]
    return {
        theirs.moments[other].start: None if one is None else mine.moments[one].start
        for one, other in match.pairs[voice]
        if other is not None
    }


def _placed(
    difference: Difference, match: Match, program: TracedProgram, starts: dict[int, int | None]
) -> Difference:
    strike = _strike(difference.own, difference.span, match.voices[difference.voice][1], program)
    if strike is None or difference.own is None:
        return difference
    place = ""
    if difference.kind is Kind.MISSING:
        start = starts.get(difference.own)
        place = "after " if start is None or start <= difference.start else "before "
    turn = f", {_turn(strike.turns[-1])}" if strike.turns else ""
    return replace(difference, turns=strike.turns, where=f"{place}line {strike.line}{turn}")


def _strike(own: int | None, span: tuple[int, int] | None, line: Line, program: TracedProgram) -> TracedStrike | None:
    """The strike of a moment of the attempt's line."""
    if own is None or span is None:
        return None
    return program.strikes.get((round(own / line.scale), span[0]))


def _turn(turn: int) -> str:
    return f"{_ORDINALS[turn - 1]} time round" if turn <= len(_ORDINALS) else f"turn {turn}"


# Causes


def causes_in_program(match: Match, found: Imported) -> list[str]:
    """A sentence for each likely cause that the program shows, the weightiest first."""
    program = found.program
    if program is None:
        return []
    sentences = list(program.hints)
    if program.fault is not None:
        sentences.append(program.fault.sentence)
    is_known = bool(sentences)
    for voice, (mine, theirs) in enumerate(match.voices):
        own = [each for each in match.differences if each.voice == voice]
        causes = _Causes(mine, theirs, match, voice, program, found.source or "")
        sentences += islice(causes.sentences(own, is_known), _MOST_CAUSES)
    return list(dict.fromkeys(sentences))[:_MOST_CAUSES]


class _Causes:
    """Looks for causes in the lines and turns of an attempt's moments."""

    def __init__(
        self, mine: Line, theirs: Line, match: Match, voice: int, program: TracedProgram, source: str
    ) -> None:
        self._mine = mine
        self._theirs = theirs
        self._pairs = match.pairs[voice]
        self._shift = 0 if mine.is_drums else match.semitones
        self._source = source.split("\n")
        self._strikes = [_strike(moment.start, moment.span, theirs, program) for moment in theirs.moments]
        self._places = {(moment.start, moment.span): place for place, moment in enumerate(theirs.moments)}
        self._loops: dict[_Head, _Loop] = {}
        self._by_tick: dict[int, list[TracedStrike]] = {}
        for (tick, _), strike in program.strikes.items():
            self._by_tick.setdefault(tick, []).append(strike)

    def sentences(self, differences: Sequence[Difference], is_known: bool) -> Iterator[str]:
        """Yield what the differences come from; ``is_known`` tells whether it is clear why an item is missing."""
        if (said := self._at_once()) is not None:
            yield said
            return
        yield from self._rounds(is_known)
        for each in differences:
            if each.kind is Kind.PITCH and (said := self._copied(each)) is not None:
                yield said

    def _at_once(self) -> str | None:
        """Strikes of several lines at one time, where the model has them one after the other."""
        many = sum(len(moment.numbers) > 1 for moment in self._mine.moments)
        lines = [
            (one.line, other.line)
            for one, other in self._struck_together()
            if one.line != other.line or one.turns != other.turns
        ]
        if not lines or len(lines) <= many or len(self._theirs) >= len(self._mine):
            return None
        if len(self._theirs) == 1:
            return "Everything sounds at once: a wait is missing."
        first, second = lines[0]
        if first == second:
            return f"Line {first} sounds several notes at once: is a wait missing?"
        return f"Lines {first} and {second} sound at once: is a wait missing between them?"

    def _struck_together(self) -> Iterator[tuple[TracedStrike, TracedStrike]]:
        for moment in self._theirs.moments:
            if len(moment.numbers) > 1:
                several = self._by_tick.get(round(moment.start / self._theirs.scale), [])
                yield from pairwise(several)

    # Loops that go round too often or too few times, or miss an item

    def _rounds(self, is_known: bool) -> Iterator[str]:
        place = 0
        while place < len(self._pairs):
            one, other = self._pairs[place]
            side = 0 if other is None else 1
            if None not in (one, other):
                place += 1
                continue
            end = place
            while (
                end < len(self._pairs) and self._pairs[end][side] is not None and self._pairs[end][1 - side] is None
            ):
                end += 1
            gap = [self._pairs[each][side] or 0 for each in range(place, end)]
            said = self._too_often(gap) if side else self._too_few(gap, place, end, is_known)
            if said is not None:
                yield said
            place = end

    def _too_often(self, gap: Sequence[int]) -> str | None:
        """Moments that were added are the last turns of a loop whose turns are all alike."""
        strikes = [self._strikes[place] for place in gap]
        if any(strike is None or not strike.turns for strike in strikes):
            return None
        first = strikes[0]
        assert first is not None
        for depth in range(len(first.loops)):
            loop = self._loop(first, depth)
            last = loop.turns
            surplus = {strike.turns[depth] for strike in strikes if strike is not None and len(strike.turns) > depth}
            per_turn = len(loop.of_turn(1))
            if surplus and loop.is_even and per_turn and len(gap) % per_turn == 0 and last > len(gap) // per_turn:
                return f"Line {first.loops[depth]} goes round {_times(len(gap) // per_turn)} too often."
        return None

    def _too_few(self, gap: Sequence[int], place: int, end: int, is_known: bool) -> str | None:
        """Moments that are missing are one more turn of a loop, or the item before its first or after its last."""
        before = next((other for _, other in reversed(self._pairs[:place]) if other is not None), None)
        after = next((other for _, other in self._pairs[end:] if other is not None), None)
        missing = [self._numbers(self._mine.moments[each]) for each in gap]
        for near, is_before in ((before, True), (after, False)):
            strike = self._strikes[near] if near is not None else None
            if near is None or strike is None:
                continue
            for depth in reversed(range(len(strike.loops))):
                loop = self._loop(strike, depth)
                is_edge = strike.turns[depth] == (loop.turns if is_before else 1)
                if not is_edge or self._is_inside(loop, after if is_before else before):
                    continue
                said = self._said_of(loop, missing, is_before, strike.loops[depth], is_known)
                if said is not None:
                    return said
        return None

    def _loop(self, strike: TracedStrike, depth: int) -> _Loop:
        """The loop about a strike, at a depth."""
        head = _head(strike, depth)
        if head not in self._loops:
            self._loops[head] = _Loop(self._theirs, self._strikes, head)
        return self._loops[head]

    def _is_inside(self, loop: _Loop, place: int | None) -> bool:
        return place is not None and place in loop.places

    def _said_of(
        self, loop: _Loop, missing: list[tuple[int, ...]], is_last: bool, line: int, is_known: bool
    ) -> str | None:
        turn = [self._theirs.moments[place].numbers for place in loop.of_turn(1)]
        if loop.is_even and turn and missing == turn * (len(missing) // len(turn)):
            return f"Line {line} goes round {_times(len(missing) // len(turn))} too few."
        if not is_known and not loop.is_even and len(missing) == len(turn):
            return f"The loop in line {line} misses the {'last' if is_last else 'first'} item."
        return None

    def _numbers(self, moment: Moment) -> tuple[int, ...]:
        return tuple(number + self._shift for number in moment.numbers)

    def _copied(self, difference: Difference) -> str | None:
        """A wrong pitch whose line is the same as the line before it that strikes."""
        if difference.own is None or difference.span is None:
            return None
        place = self._places.get((difference.own, difference.span))
        strike = self._strikes[place] if place else None
        before = self._strikes[place - 1] if place else None
        if strike is None or before is None or strike.line == before.line:
            return None
        texts = [self._source[each.line - 1].strip() for each in (before, strike)]
        if texts[0] != texts[1]:
            return None
        return f"Line {strike.line} is the same as line {before.line}: was it copied and not changed?"


_Head = tuple[tuple[int, ...], tuple[int, ...]]
"""The lines of a loop and of those about it, and the turns of those about it."""


def _head(strike: TracedStrike, depth: int) -> _Head:
    return strike.loops[: depth + 1], strike.turns[:depth]


class _Loop:
    """A loop of the attempt, as its moments show it."""

    def __init__(self, line: Line, strikes: Sequence[TracedStrike | None], head: _Head) -> None:
        depth = len(head[1])
        self._line = line
        self._by_turn: dict[int, list[int]] = {}
        for place, strike in enumerate(strikes):
            if strike is not None and _head(strike, depth) == head:
                self._by_turn.setdefault(strike.turns[depth], []).append(place)

    @cached_property
    def turns(self) -> int:
        """The last turn that strikes anything."""
        return max(self._by_turn)

    @cached_property
    def places(self) -> set[int]:
        """All its moments."""
        return {place for places in self._by_turn.values() for place in places}

    def of_turn(self, turn: int) -> list[int]:
        """Return the moments of a turn."""
        return self._by_turn.get(turn, [])

    @cached_property
    def is_even(self) -> bool:
        """True if all turns strike the same."""
        contents = [[self._line.moments[place].numbers for place in places] for places in self._by_turn.values()]
        return all(content == contents[0] for content in contents)


def _times(count: int) -> str:
    return {1: "once", 2: "twice"}.get(count, f"{count} times")
