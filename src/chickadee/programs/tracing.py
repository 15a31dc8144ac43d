"""Tracing a program: all that it asks for, in order, and how that ended."""

from __future__ import annotations

import sys
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from threading import Lock

from . import tree
from .built_in import built_in_scope
from .facts import Facts, called_name, facts_of, nodes_in
from .faults import End, TraceFault
from .machine import Machine
from .offsets import LineIndex
from .recording import Recorded
from .rules import RULES
from .statements import Compiler
from .things import ClassThing, Closure, Scope
from .tree import Program, Span

__all__ = ["USUAL_SECONDS", "Trace", "deep", "traced"]

USUAL_SECONDS = 1.2
_RECURSION = 12_000  # frames: two hundred calls within one another, and expressions in them
_ENTRY = ("main", "Main")


@dataclass(slots=True)
class Trace:
    """A traced program: all that it asked for, and how it ended."""

    program: Program
    facts: Facts
    recorded: list[Recorded]
    end: End
    fault: tuple[Span, str] | None
    """Where it ended before its end, and the sentence about it without the line."""
    said: tuple[str, ...]
    """Sentences about what was assumed."""
    lines: LineIndex
    """The lines of its text."""


def traced(program: Program, answers: Sequence[str] = (), seconds: float = USUAL_SECONDS) -> Trace:
    """Trace a program, within bounds; never fails.

    ``answers`` are those to its questions, in order; it is traced for no longer than so many ``seconds``.
    """
    facts = facts_of(program)
    machine = Machine(RULES[program.language], built_in_scope(program.language), answers)
    end = End.END
    fault: tuple[Span, str] | None = None
    with deep():
        try:
            _run(program, Compiler(machine, facts), seconds)
        except TraceFault as reason:
            end = reason.end
            fault = reason.span, reason.sentence
        except RecursionError:
            end = End.BOUND
            fault = (0, 0), "it is nested too deeply."
        except (MemoryError, OverflowError, ArithmeticError):
            end = End.BOUND
            fault = (0, 0), "its numbers or lists grow too large."
    if program.fault is not None and (fault is None or fault[0][0] > program.fault[0][0]):
        end = End.FAULT
        fault = program.fault
    return Trace(program, facts, machine.recorded, end, fault, tuple(machine.said), LineIndex(program.text))


def _run(program: Program, compiler: Compiler, seconds: float) -> None:
    """Run the program's statements, its entry if it has one, and its timers."""
    machine = compiler.machine
    scope = Scope(is_function=True)
    block = compiler.block(program.body)
    machine.begin(seconds)
    signal = block(scope)
    if signal is None and RULES[program.language].divides_whole:
        _enter(scope, machine, program)
    machine.run_timers(program.body[-1].span if program.body else (0, 0))


def _enter(scope: Scope, machine: Machine, program: Program) -> None:
    """Call the entry of a program in C or Java; without one the functions that nothing else calls, in order."""
    functions: dict[str, Closure] = {}
    for name, each in _functions(scope):
        functions.setdefault(name, each)
    entry = next((functions[name] for name in _ENTRY if name in functions), None)
    if entry is not None:
        machine.call(entry, [[]] * len(entry.function.parameters), {}, entry.function.span)
        return
    called = {name for other in functions.values() for name in _called(other)}
    for name, each in functions.items():
        if name in called or each.function.parameters or each.is_stand_in:
            continue
        if name == "loop":
            loop = machine.begin_loop(each.function.span)
            into = machine.into
            try:
                heard_before = machine.heard_count - 1
                while machine.heard_count > heard_before:  # else it never does anything
                    heard_before = machine.heard_count
                    machine.begin_turn(loop)
                    machine.check_endless(loop, 0)
                    machine.call(each, [], {}, each.function.span)
            finally:
                machine.end_loop(loop, into)
        else:
            machine.call(each, [], {}, each.function.span)


def _functions(scope: Scope) -> Iterator[tuple[str, Closure]]:
    """The functions of a program, and those of its classes that need no object."""
    for name, value in list(scope.items()):
        if isinstance(value, Closure):
            yield name, value
        elif isinstance(value, ClassThing):
            yield from _functions(value.own)


def _called(closure: Closure) -> set[str]:
    return {called_name(node) for node in nodes_in(closure.function.body) if isinstance(node, tree.Call)}


class _Deep:
    """Counts the threads that need many frames: the limit is the whole process's."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._count = 0
        self._before = 0

    def enter(self) -> None:
        with self._lock:
            if not self._count:
                self._before = sys.getrecursionlimit()
                sys.setrecursionlimit(max(self._before, _RECURSION))
            self._count += 1

    def leave(self) -> None:
        with self._lock:
            self._count -= 1
            if not self._count:
                sys.setrecursionlimit(self._before)


_DEEP = _Deep()


@contextmanager
def deep() -> Iterator[None]:
    """Allow as many frames as programs within our bounds need."""
    _DEEP.enter()
    try:
        yield
    finally:
        _DEEP.leave()
