"""Statements as functions that run them on the names in force."""

from __future__ import annotations

from collections.abc import Callable

from . import tree
from .expressions import Expressions
from .facts import nodes_in
from .faults import TraceFault
from .items import spread
from .machine import LOOKS
from .operations import compared, is_true, kind_of
from .places import place_of
from .things import ClassThing, Closure, Outside, Scope
from .tree import Function, Span, Statement

__all__ = ["Compiler"]

Run = Callable[[Scope], object]


class _Signal:
    """The end of a block before its last statement."""

    __slots__ = ("value",)

    def __init__(self, value: object = None) -> None:
        self.value = value


_BREAK = _Signal()
_CONTINUE = _Signal()


class Compiler(Expressions):
    """Turns statements into functions that run them; those give a signal where a block ends early."""

    def block(self, body: tuple[Statement, ...]) -> Run:
        """Return the function that runs statements one after the other, functions defined first."""
        ordered = sorted(body, key=lambda each: not isinstance(each, tree.Define)) if self._hoists else body
        steps = [(self._statement(each), each.span) for each in ordered]
        machine = self.machine

        def run(scope: Scope) -> object:
            for each, span in steps:
                machine.steps += 1  # as Machine.step, which would take as long as a small statement
                if not machine.steps % LOOKS:
                    machine.look(span)
                signal = each(scope)
                if signal is not None:
                    return signal
            return None

        return run

    @property
    def _hoists(self) -> bool:
        return self.machine.rules.name != "python"

    def body(self, function: Function) -> Run:
        """Return the function that runs a function's body and gives its result."""
        block = self.block(function.body)

        def run(scope: Scope) -> object:
            signal = block(scope)
            return signal.value if isinstance(signal, _Signal) else None

        return run

    def _statement(self, node: Statement) -> Run:
        known: dict[type, Callable[..., Run]] = {
            tree.Evaluate: self._evaluate,
            tree.Block: self._block,
            tree.If: self._if,
            tree.Each: self._each,
            tree.While: self._while,
            tree.Count: self._count,
            tree.Repeat: self._repeat,
            tree.Switch: self._switch,
            tree.Return: self._return,
            tree.Define: self._define,
            tree.ClassDefinition: self._class,
            tree.Import: self._import,
            tree.Try: self._try,
            tree.Raise: self._raise,
            tree.Unsupported: self.unsupported,
        }
        if isinstance(node, tree.Break):
            return lambda scope: _BREAK
        if isinstance(node, tree.Continue):
            return lambda scope: _CONTINUE
        return known[type(node)](node)

    def _evaluate(self, node: tree.Evaluate) -> Run:
        value = self.of(node.value)

        def run(scope: Scope) -> object:
            value(scope)
            return None

        return run

    def _block(self, node: tree.Block) -> Run:
        block = self.block(node.body)
        return lambda scope: block(Scope(scope))

    def _if(self, node: tree.If) -> Run:
        condition = self.of(node.condition)
        then = self.block(node.then)
        otherwise = self.block(node.otherwise)
        machine = self.machine
        return lambda scope: (then if is_true(condition(scope), machine, node.span) else otherwise)(scope)

    # Loops

    def _each(self, node: tree.Each) -> Run:
        source = self.of(node.source)
        place = place_of(self, node.target)
        block = self.block(node.body)
        otherwise = self.block(node.otherwise)
        machine = self.machine
        has_own = self._hoists

        def run(scope: Scope) -> object:
            found = source(scope)
            items: list[object] | range
            if node.by_keys and isinstance(found, list | tuple | str):
                items = [str(index) for index in range(len(found))]
            else:
                items = found if isinstance(found, range) else spread(found, machine, node.span)
            into = machine.into
            loop = machine.begin_loop(node.span)
            try:
                for item in items:
                    machine.begin_turn(loop)
                    inner = Scope(scope) if has_own else scope
                    place.put(inner, item, node.span)
                    signal = block(inner)
                    if signal is _BREAK:
                        return None
                    if signal is not None and signal is not _CONTINUE:
                        return signal
                    if isinstance(found, list) and isinstance(items, list) and len(found) != len(items):
                        turn = machine.turns[-1]
                        items[turn:] = found[turn:]
            finally:
                machine.end_loop(loop, into)
            return otherwise(scope)

        return run

    def _while(self, node: tree.While) -> Run:
        condition = self.of(node.condition)
        block = self.block(node.body)
        otherwise = self.block(node.otherwise)
        machine = self.machine
        is_endless = isinstance(node.condition, tree.Literal) and bool(node.condition.value)
        return self._round(
            node.span,
            lambda scope: is_true(condition(scope), machine, node.span),
            block,
            None,
            otherwise,
            node.asks_last,
            is_endless and not _can_end(node.body),
        )

    def _count(self, node: tree.Count) -> Run:
        start = self.block(node.start)
        condition = self.of(node.condition) if node.condition is not None else None
        steps = [self.of(each) for each in node.step]
        machine = self.machine

        def step(scope: Scope) -> None:
            for each in steps:
                each(scope)

        going = self._round(
            node.span,
            lambda scope: condition is None or is_true(condition(scope), machine, node.span),
            self.block(node.body),
            step,
            self.block(()),
            False,
            condition is None and not _can_end(node.body),
        )

        def run(scope: Scope) -> object:
            inner = Scope(scope)
            start(inner)
            return going(inner)

        return run

    def _round(
        self,
        span: Span,
        goes_on: Callable[[Scope], bool],
        block: Run,
        step: Callable[[Scope], None] | None,
        otherwise: Run,
        asks_last: bool,
        is_endless: bool,
    ) -> Run:
        """Return the function that goes round while a condition holds."""
        machine = self.machine
        machine.open_loops.add(span)

        def run(scope: Scope) -> object:
            into = machine.into
            heard_before = machine.heard_count
            loop = machine.begin_loop(span)
            asks = not asks_last
            here = scope
            try:
                while not asks or goes_on(here):
                    asks = True
                    machine.begin_turn(loop)
                    machine.check_endless(loop, heard_before, is_endless)
                    if step is not None:
                        turn = Scope(scope.outer)  # each turn keeps its own counter
                        turn.update(here)
                        here = turn
                    signal = block(Scope(here) if step is not None else here)
                    if signal is _BREAK:
                        return None
                    if signal is not None and signal is not _CONTINUE:
                        return signal
                    if step is not None:
                        after = Scope(scope.outer)
                        after.update(here)
                        step(after)
                        here = after
            finally:
                machine.end_loop(loop, into)
            return otherwise(scope)

        return run

    def _repeat(self, node: tree.Repeat) -> Run:
        block = self.block(node.body)
        machine = self.machine
        if node.times is None:
            return self._round(node.span, lambda scope: True, block, None, self.block(()), False, True)
        count = self.of(node.times)

        def run(scope: Scope) -> object:
            turns = count(scope)
            if isinstance(turns, Outside):
                raise machine.unknown(turns, node.span)
            if not isinstance(turns, int | float):
                raise TraceFault(f"a repeat is given {kind_of(turns)} instead of a count.", node.span)
            into = machine.into
            loop = machine.begin_loop(node.span)
            try:
                for _ in range(int(min(turns, 1e9))):
                    machine.begin_turn(loop)
                    signal = block(scope)
                    if signal is _BREAK:
                        break
                    if signal is not None and signal is not _CONTINUE:
                        return signal
            finally:
                machine.end_loop(loop, into)
            return None

        return run

    # Choices and ends

    def _switch(self, node: tree.Switch) -> Run:
        subject = self.of(node.subject)
        cases = [([self.of(value) for value in values], self.block(body)) for values, body in node.cases]
        machine = self.machine

        def run(scope: Scope) -> object:
            value = subject(scope)
            if isinstance(value, Outside):
                raise machine.unknown(value, node.span)
            inner = Scope(scope)
            chosen = next(
                (
                    place
                    for place, (values, _) in enumerate(cases)
                    if any(compared("==", value, each(scope), machine, node.span) is True for each in values)
                ),
                next((place for place, (values, _) in enumerate(cases) if not values), None),
            )
            if chosen is None:
                return None
            for _, block in cases[chosen:] if node.falls_through else cases[chosen : chosen + 1]:
                signal = block(inner)
                if signal is _BREAK:
                    return None
                if signal is not None:
                    return signal
            return None

        return run

    def _return(self, node: tree.Return) -> Run:
        if node.value is None:
            return lambda scope: _Signal()
        value = self.of(node.value)
        return lambda scope: _Signal(value(scope))

    def _try(self, node: tree.Try) -> Run:
        block = self.block(node.body)
        handler = self.block(node.handler) if node.handler is not None else None
        last = self.block(node.last)
        machine = self.machine

        def run(scope: Scope) -> object:
            into = machine.into
            try:
                signal = block(scope)
            except TraceFault as fault:
                if handler is None or fault.end is not fault.end.FAULT:
                    raise
                machine.into = into
                signal = handler(scope)
            return last(scope) or signal

        return run

    def _raise(self, node: tree.Raise) -> Run:
        value = self.of(node.value) if node.value is not None else None
        machine = self.machine

        def run(scope: Scope) -> object:
            given = value(scope) if value is not None else None
            words = given if isinstance(given, str) else ""
            if machine.rules.name == "steps":
                raise TraceFault(words, node.span)
            raise TraceFault(f"the program stops itself here{f': {words[:60]}' if words else ''}.", node.span)

        return run

    # Definitions

    def _define(self, node: tree.Define) -> Run:
        function = self._function(node.function)
        name = node.function.name

        def run(scope: Scope) -> object:
            scope[name] = function(scope)
            return None

        return run

    def _class(self, node: tree.ClassDefinition) -> Run:
        methods = [(each.name, self._function(each)) for each in node.methods]
        fields = [(name, self.of(value) if value is not None else None) for name, value in node.fields]
        body = self.block(node.body)
        base = self.of(node.base) if node.base is not None else None

        def run(scope: Scope) -> object:
            own = Scope(scope, is_function=True)
            made = ClassThing(node.name, base(scope) if base is not None else None, {}, fields, own)
            scope[node.name] = made
            body(own)
            for name, function in methods:
                closure = function(own if self._hoists else scope)
                assert isinstance(closure, Closure)
                made.methods[name] = closure
                if not closure.function.has_this:
                    own[name] = closure
            return None

        return run

    def _import(self, node: tree.Import) -> Run:
        names = [(name, self.machine.built_in.get(f"{whole}", Outside(whole))) for name, whole in node.names]

        def run(scope: Scope) -> object:
            scope.update(names)
            return None

        return run


def _can_end(body: tuple[Statement, ...]) -> bool:
    """Return whether statements hold anything that may end a loop around them."""
    return any(isinstance(node, tree.Break | tree.Return | tree.Raise) for node in nodes_in(body))
