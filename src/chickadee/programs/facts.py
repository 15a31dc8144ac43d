"""Facts that a program's text tells before it is traced: its names, its parts, what it uses."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from ..formats.traced import Uses
from . import tree
from .tree import Call, Function, Member, Name, Program
from .vocabulary import Verb, is_off, verb_of

__all__ = ["Facts", "called_name", "facts_of", "nodes_in"]


@dataclass(frozen=True, slots=True)
class Facts:
    """Facts about a program's text."""

    names: frozenset[str]
    """All names that it gives to anything."""
    near_names: frozenset[str]
    """The names that a misspelt one may be meant for."""
    stand_ins: frozenset[str]
    """Functions of its own that only stand for a verb, and sound nothing themselves."""
    uncalled: tuple[Function, ...]
    """Functions that sound something and are called nowhere."""
    uses: Uses


def nodes_in(node: object) -> Iterator[tuple[object, ...]]:
    """Yield all nodes of a tree, in order of the text, without recursion."""
    waiting = [node]
    while waiting:
        each = waiting.pop()
        if not isinstance(each, tuple):
            continue
        if hasattr(each, "_fields"):
            yield each
        waiting.extend(part for part in reversed(each) if isinstance(part, tuple))


def called_name(call: Call) -> str:
    """Return the last part of the name of what is called; empty where it has none."""
    if isinstance(call.function, Name | Member):
        return call.function.name
    return ""


@dataclass(slots=True)
class _Counts:
    """Names and counts, gathered node by node."""

    names: set[str] = field(default_factory=set)
    functions: list[Function] = field(default_factory=list)
    calls: list[str] = field(default_factory=list)
    mentioned: set[str] = field(default_factory=set)
    loops: int = 0
    lists: int = 0
    tempos: int = 0

    def add(self, node: object) -> None:
        """Count a node."""
        match node:
            case tree.Assignment(target=target, operator=operator):
                self._give(target)
                self.tempos += not operator and any(verb_of(name) is Verb.TEMPO for name in _targets(target))
            case tree.Each(target=target):
                self._give(target)
                self.loops += 1
            case tree.While() | tree.Count() | tree.Repeat():
                self.loops += 1
            case tree.Comprehension(loops=inner):
                for target, _, _ in inner:
                    self._give(target)
                self.loops += 1
            case Function(parameters=parameters):
                self.functions.append(node)
                for parameter in parameters:
                    self._give(parameter.target)
            case tree.ClassDefinition(name=name, methods=methods):
                self.names |= {name, *(each.name for each in methods)}
            case tree.Import(names=named):
                self.names.update(name for name, _ in named)
            case Call():
                self.calls.append(called_name(node))
            case tree.Items():
                self.lists += _lists_in(node)
            case Name(name=name):
                self.mentioned.add(name)

    def _give(self, target: object) -> None:
        """Count the names that are given a value; several at once are no list."""
        self.names.update(_targets(target))
        self.lists -= sum(_lists_in(node) for node in nodes_in(target) if isinstance(node, tree.Items))


def _lists_in(node: tree.Items) -> int:
    """Return 1 for a list, without those that stand in it: they are part of it, and are counted by themselves."""
    nested = sum(isinstance(each, tree.Items) and len(each.items) > 1 for each in node.items)
    return (len(node.items) > 1) - nested


def facts_of(program: Program) -> Facts:
    """Return what a program's text tells."""
    counts = _Counts()
    for node in nodes_in(program.body):
        counts.add(node)
    named = [each for each in counts.functions if each.name]
    names = counts.names | {each.name for each in named}
    inner_calls = {
        each.name: {called_name(node) for node in nodes_in(each.body) if isinstance(node, Call)} for each in named
    }
    sounding = _reaching(inner_calls, {Verb.STRIKE})
    stand_ins = _stand_ins(inner_calls, sounding) | _idle_tempos(named)
    verbs = {name for name in counts.calls if name not in names and verb_of(name) is not None}
    own = {each.name for each in named} - stand_ins
    parts = own.intersection(counts.calls)
    struck = sum(verb_of(name) is not None or name in own for name in counts.calls)
    steps = counts.loops + counts.lists + counts.tempos + len(parts) + struck
    uncalled = tuple(
        each
        for each in named
        if each.name in sounding and each.name not in stand_ins and not _is_mentioned(each.name, counts)
    )
    uses = Uses(counts.loops, len(parts), counts.lists, steps)
    return Facts(frozenset(names), frozenset(names | verbs), frozenset(stand_ins), uncalled, uses)


def _stand_ins(calls: dict[str, set[str]], sounding: set[str]) -> set[str]:
    """Return the functions that are called like a verb and do nothing of the kind themselves."""
    waiting = _reaching(calls, {Verb.STRIKE, Verb.SILENCE})
    return {
        name
        for name in calls
        if (verb_of(name) is Verb.STRIKE and name not in sounding)
        or (verb_of(name) is Verb.SILENCE and name not in waiting)
        or (is_off(name) and name not in waiting)
    }


def _idle_tempos(functions: Sequence[Function]) -> set[str]:
    """Return the functions that are called like a word of tempo and change nothing."""
    acting = (tree.Assignment, tree.Return)
    return {
        each.name
        for each in functions
        if verb_of(each.name) is Verb.TEMPO and not any(isinstance(node, acting) for node in nodes_in(each.body))
    }


def _is_mentioned(name: str, counts: _Counts) -> bool:
    return name in counts.calls or name in counts.mentioned or name in ("main", "setup", "loop", "run")


def _reaching(calls: dict[str, set[str]], verbs: set[Verb]) -> set[str]:
    """Return the functions that call one of some verbs, themselves or by others.

    A function that only stands for a verb is as good as the verb.
    """
    callers: dict[str, list[str]] = {}
    for name, called in calls.items():
        for each in called:
            callers.setdefault(each, []).append(name)

    def with_callers(names: set[str]) -> set[str]:
        found: set[str] = set()
        waiting = list(names)
        while waiting:
            name = waiting.pop()
            if name not in found:
                found.add(name)
                waiting += callers.get(name, ())
        return found

    outside = {each for each in callers if each not in calls and (verb_of(each) in verbs or is_off(each))}
    found = with_callers({name for each in outside for name in callers[each] if name != each})
    stand_ins = {each for each in calls if verb_of(each) in verbs and each not in found}
    return found | with_callers({name for each in stand_ins for name in callers.get(each, ()) if name != each})


def _targets(target: object) -> list[str]:
    """The names that a target gives a value to."""
    return [node.name for node in nodes_in(target) if isinstance(node, Name)]
