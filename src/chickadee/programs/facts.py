"""Facts that a program's text tells before it is traced: its names, its parts, what it uses."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

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


def facts_of(program: Program) -> Facts:
    """Return what a program's text tells."""
    names: set[str] = set()
    functions: list[Function] = []
    calls: list[str] = []
    mentioned: dict[str, int] = {}
    loops = 0
    lists = 0
    tempos = 0
    for node in nodes_in(program.body):
        match node:
            case tree.Assignment(target=target):
                names.update(_targets(target))
                tempos += not node.operator and any(verb_of(name) is Verb.TEMPO for name in _targets(target))
            case tree.Each(target=target):
                names.update(_targets(target))
                loops += 1
            case tree.While() | tree.Count() | tree.Repeat():
                loops += 1
            case tree.Comprehension(loops=inner):
                for target, _, _ in inner:
                    names.update(_targets(target))
                loops += 1
            case Function():
                functions.append(node)
                names.update(name for each in node.parameters for name in _targets(each.target))
            case tree.ClassDefinition():
                names.add(node.name)
                names.update(each.name for each in node.methods)
            case tree.Import():
                names.update(name for name, _ in node.names)
            case Call():
                calls.append(called_name(node))
            case tree.Items(items=items):
                nested = sum(isinstance(each, tree.Items) and len(each.items) > 1 for each in items)
                lists += (len(items) > 1) - nested  # what stands in a list is part of it
            case Name():
                mentioned[node.name] = mentioned.get(node.name, 0) + 1
    named = [each for each in functions if each.name]
    names.update(each.name for each in named)
    inner_calls = {
        each.name: {called_name(node) for node in nodes_in(each.body) if isinstance(node, Call)} for each in named
    }
    sounding = _reaching(inner_calls, {Verb.STRIKE})
    waiting = _reaching(inner_calls, {Verb.STRIKE, Verb.SILENCE})
    stand_ins = {
        each.name
        for each in named
        if (verb_of(each.name) is Verb.STRIKE and each.name not in sounding)
        or (verb_of(each.name) is Verb.SILENCE and each.name not in waiting)
        or (is_off(each.name) and each.name not in waiting)
    }
    verbs = {name for name in calls if name not in names and verb_of(name) is not None}
    own = {each.name for each in named} - stand_ins
    used_parts = own.intersection(calls)
    steps = loops + lists + tempos + len(used_parts) + sum(verb_of(name) is not None or name in own for name in calls)
    uncalled = tuple(
        each
        for each in named
        if each.name in sounding and each.name not in stand_ins and not _is_mentioned(each.name, calls, mentioned)
    )
    return Facts(
        frozenset(names),
        frozenset(names | verbs),
        frozenset(stand_ins),
        uncalled,
        Uses(loops, len(used_parts), lists, steps),
    )


def _is_mentioned(name: str, calls: list[str], mentioned: dict[str, int]) -> bool:
    return name in calls or name in mentioned or name in ("main", "setup", "loop", "run")


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
