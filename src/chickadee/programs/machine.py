"""The state of a trace: its bounds, its clock of timers, and all that was asked for from outside."""

from __future__ import annotations

import heapq
import random
import time
from collections.abc import Sequence
from fractions import Fraction
from itertools import count
from typing import NamedTuple

from .faults import End, TraceFault, shown
from .recording import Flow, Heard, LoopRun, PartRun, Recorded
from .rules import Rules
from .things import Built, Closure, Outside, Promised, Scope, Thread
from .tree import Span

__all__ = ["FLOW_COST", "LOOKS", "Machine"]

_MOST_STEPS = 200_000
_MOST_EVENTS = 100_000
_MOST_DEPTH = 200
_MOST_IN_TURN = 8  # functions that call one another in turn, where they do so without an end
_MOST_ITEMS = 1_000_000
_MOST_TEXT = 1_000_000  # characters of one text
_MOST_TEXTS = 30_000_000  # characters of all texts
FLOW_COST = 50
"""Items that one more flow of time counts as."""
LOOKS = 256
"""Steps from one look at the clock to the next."""
_ENOUGH_HEARD = 512  # calls after which a loop without an end has shown what it does
_ENOUGH_TURNS = 4_096
_MOST_HEARD = 20_000  # calls in a loop that may have an end
_MOST_TIMERS = 2_000
_MANY_TURNS = 100
_LONGEST_NAME = 200  # characters of a text that is given to a call
_MOST_ARGUMENTS = 40
_MOST_KEPT = 1_000  # items of a list that is given to a call
_DEEPEST_KEPT = 3
_SEED = 1
_TOO_LONG = "it goes on for longer than a program is traced."


def _kept(value: object, depth: int = 0) -> object:
    """Return a value as it is now, bounded: lists as tuples, what is no value as something from outside."""
    if isinstance(value, str):
        return value[:_LONGEST_NAME]
    if value is None or isinstance(value, int | float | Fraction | Outside):
        return value
    if isinstance(value, list | tuple | range) and depth < _DEEPEST_KEPT:
        return tuple(_kept(each, depth + 1) for each in value[:_MOST_KEPT])
    return Outside("something")


class _Timer(NamedTuple):
    """Something that is to be called later; the earliest comes first, then the one that was set first."""

    at: float
    """Milliseconds."""
    number: int
    called: object
    arguments: list[object]
    flow: Flow
    turns: tuple[int, ...]
    loops: tuple[Span, ...]
    """Those in which it was set, with their turns."""
    every: float | None
    """Milliseconds until it comes again."""


class Machine:
    """The state of a program that is traced."""

    def __init__(self, rules: Rules, built_in: Scope, answers: Sequence[str] = ()) -> None:
        self.rules = rules
        self.built_in = built_in
        self.answers = list(answers)
        self.recorded: list[Recorded] = []
        self.into = self.recorded
        """Where what is heard next goes."""
        self.turns: list[int] = []
        self.loops: list[Span] = []
        self.open_loops: set[Span] = set()
        """Loops that go round while a condition holds, and so may have no end."""
        self._entered: list[Span] = []
        """The functions that are being called, the outermost first."""
        self.steps = 0
        self.heard_count = 0
        self.chance = random.Random(_SEED)
        self.said: list[str] = []
        """Sentences about what was assumed."""
        self.missed: TraceFault | None = None
        """The first item asked for that is not there, where the language goes on without it."""
        self._items = 0
        self._texts = 0
        self._until = 0.0
        self._timers: list[_Timer] = []
        self._order = count()
        self._stopped: set[object] = set()
        self._now = 0.0

    # Bounds

    def begin(self, seconds: float) -> None:
        """Begin to count the time that the trace may take."""
        self._until = time.monotonic() + seconds

    def step(self, span: Span) -> None:
        """Count a statement. Raises TraceFault at a bound."""
        self.steps += 1
        if self.steps % LOOKS == 0:
            self.look(span)

    def spend(self, steps: int, span: Span) -> None:
        """Count work that is done at once. Raises TraceFault at a bound."""
        before = self.steps // LOOKS
        self.steps += steps // 16
        if self.steps // LOOKS != before:
            self.look(span)

    def look(self, span: Span) -> None:
        """Look at the clock and the count of steps. Raises TraceFault at a bound."""
        if self.steps >= _MOST_STEPS or time.monotonic() > self._until:
            raise self._unended(span)

    def _unended(self, span: Span) -> TraceFault:
        """Return the fault of what goes on beyond the bounds: the outermost loop that may have no end."""
        turning = [
            loop for loop, turn in zip(self.loops, self.turns[-len(self.loops) :], strict=True) if turn > _MANY_TURNS
        ]
        unended = next((loop for loop in turning if loop in self.open_loops), None)
        if unended is not None:
            return self.endless(unended)
        return self.too_much(_TOO_LONG, self.loops[0] if self.loops else span)

    def endless(self, span: Span) -> TraceFault:
        """Return the fault of a loop that has no end, or none within the bounds."""
        return TraceFault("goes round for ever", span, End.BOUND)

    def too_much(self, sentence: str, span: Span) -> TraceFault:
        """Return the fault of something too large to go on with."""
        return TraceFault(sentence, span, End.BOUND)

    def unknown(self, value: Outside, span: Span) -> TraceFault:
        """Return the fault of what depends on something from outside the program."""
        sentence = f"what comes now depends on `{shown(value.name)}`, which only the running program knows."
        return TraceFault(sentence, span, End.BOUND)

    def take(self, items: int, span: Span) -> None:
        """Count items that are made. Raises TraceFault where there are too many."""
        self._items += items
        if self._items > _MOST_ITEMS:
            raise self.too_much("the lists grow beyond a million items.", span)

    def take_text(self, length: int, span: Span) -> None:
        """Count characters that are made. Raises TraceFault where there are too many."""
        self._texts += length
        if length > _MOST_TEXT or self._texts > _MOST_TEXTS:
            raise self.too_much("the texts grow beyond a million characters.", span)

    def text(self, made: str, span: Span) -> str:
        """Count a text that was made, and give it back."""
        if len(made) > 64:
            self.take_text(len(made), span)
        return made

    def say(self, sentence: str) -> None:
        """Note what was assumed, once."""
        if sentence not in self.said:
            self.said.append(sentence)

    # Loops

    def begin_loop(self, span: Span) -> LoopRun:
        """Begin a loop; each turn is told by :meth:`begin_turn`."""
        self.turns.append(0)
        self.loops.append(span)
        return LoopRun(span)

    def begin_turn(self, loop: LoopRun) -> None:
        """Begin the next turn. Raises TraceFault at a bound."""
        self.step(loop.span)
        self.turns[-1] += 1
        turns = loop.turns
        if turns and not turns[-1]:
            self.into = turns[-1]  # nothing was heard in the turn before: its list serves again
        else:
            self.into = []
            turns.append(self.into)

    def end_loop(self, loop: LoopRun, into: list[Recorded]) -> None:
        """End a loop that was begun while ``into`` was filled."""
        self.turns.pop()
        self.loops.pop()
        self.into = into
        if loop.turns and not loop.turns[-1]:
            loop.turns.pop()
        if loop.turns:
            into.append(loop)

    def check_endless(self, loop: LoopRun, heard_before: int, is_sure: bool = True) -> None:
        """Raise TraceFault for a loop without an end, once it has shown what it does.

        One that may have an end after all, if it is not ``is_sure``, may go on for longer.
        """
        heard = self.heard_count - heard_before
        if heard >= _MOST_HEARD or (is_sure and (heard >= _ENOUGH_HEARD or self.turns[-1] >= _ENOUGH_TURNS)):
            raise self.endless(loop.span)

    # Calls

    def heard(self, called: Outside, arguments: list[object], keywords: dict[str, object], span: Span) -> object:
        """Note a call of something from outside. Raises TraceFault at a bound."""
        if self.missed is not None and None in arguments:
            raise self.missed
        self.heard_count += 1
        if self.heard_count > _MOST_EVENTS:
            raise self._unended(span)
        named = {str(name)[:_LONGEST_NAME]: _kept(value) for name, value in list(keywords.items())[:_MOST_ARGUMENTS]}
        plain = []
        for value in arguments[:_MOST_ARGUMENTS]:
            if isinstance(value, dict):
                named |= {
                    str(key)[:_LONGEST_NAME]: _kept(each) for key, each in list(value.items())[:_MOST_ARGUMENTS]
                }
            else:
                plain.append(_kept(value))
        self.into.append(
            Heard(called.last_name, called.name, tuple(plain), named, span, tuple(self.turns), tuple(self.loops))
        )
        return Outside(f"{called.name}()")

    def call(self, called: object, arguments: list[object], keywords: dict[str, object], span: Span) -> object:
        """Call whatever can be called. Raises TraceFault for what cannot."""
        if isinstance(called, Built):
            return called.run(self, arguments, keywords, span)
        if isinstance(called, Closure):
            return self._enter(called, arguments, keywords, span)
        if isinstance(called, Outside):
            return self.heard(called, arguments, keywords, span)
        from .methods import made

        return made(called, arguments, keywords, self, span)

    def _enter(self, called: Closure, arguments: list[object], keywords: dict[str, object], span: Span) -> object:
        """Call a function of the program."""
        if called.is_stand_in:
            names = [getattr(each.target, "name", "") for each in called.function.parameters]
            named = dict(zip(names, arguments, strict=False))
            return self.heard(Outside(called.function.name), [], {**named, **keywords}, span)
        if len(self._entered) >= _MOST_DEPTH:
            raise self._too_deep(called, span)
        self.step(span)
        scope = Scope(called.scope, is_function=True)
        if called.this is not None:
            scope["this"] = called.this
        called.bind(scope, called.scope, arguments, keywords, span)
        into = self.into
        run: PartRun | Flow = Flow() if called.function.is_async else PartRun(called.function.name, span)
        self._entered.append(called.function.span)
        self.into = run.items
        try:
            value = called.run(scope)
        finally:
            self._entered.pop()
            self.into = into
            if run.items:
                into.append(run)
        return Promised(run, value) if isinstance(run, Flow) else value

    def _too_deep(self, called: Closure, span: Span) -> TraceFault:
        """Return the fault of calls too deep in one another."""
        name = called.function.name or "this function"
        if self._entered.count(called.function.span) * _MOST_IN_TURN >= len(self._entered):
            return self.too_much(f"`{name}` calls itself without an end.", span)
        return self.too_much(f"`{name}` is called more than {_MOST_DEPTH} calls deep, which is too deep.", span)

    # What goes on beside the rest

    def start(self, thread: Thread, span: Span) -> None:
        """Start a thread: it goes on beside what follows."""
        into = self.into
        into.append(thread.flow)
        self.into = thread.flow.items
        try:
            self.call(thread.target, thread.arguments, {}, span)
        finally:
            self.into = into

    def set_timer(
        self,
        called: object,
        milliseconds: float,
        arguments: list[object],
        span: Span,
        every: float | None = None,
    ) -> object:
        """Have something called later, and again and again with ``every``; gives what stops it."""
        self.take(FLOW_COST, span)
        flow = Flow(delay=milliseconds)
        self.into.append(flow)
        number = next(self._order)
        timer = _Timer(
            self._now + milliseconds, number, called, arguments, flow, tuple(self.turns), tuple(self.loops), every
        )
        heapq.heappush(self._timers, timer)
        return number

    def stop_timer(self, number: object) -> None:
        """Stop a timer."""
        self._stopped.add(number)

    def run_timers(self, span: Span) -> None:
        """Do what timers have to do, in order of time. Raises TraceFault where that has no end."""
        done = 0
        while self._timers:
            timer = heapq.heappop(self._timers)
            if timer.number in self._stopped:
                continue
            done += 1
            if done > _MOST_TIMERS:
                raise self.endless(span)
            self._now = timer.at
            self.step(span)
            self.into = timer.flow.items
            self.turns = list(timer.turns)
            self.loops = list(timer.loops)
            self.call(timer.called, timer.arguments, {}, span)
            if timer.every is not None and timer.number not in self._stopped:
                if self.heard_count > _ENOUGH_HEARD:
                    raise self.endless(span)
                flow = Flow(delay=timer.every)
                timer.flow.items.append(flow)
                heapq.heappush(self._timers, timer._replace(at=timer.at + timer.every, flow=flow))
        self.turns = []
        self.loops = []
        self.into = self.recorded
