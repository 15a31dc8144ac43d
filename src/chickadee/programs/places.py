"""Places that values are put into: variables, items, fields, several at once; and values as another kind."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Protocol

from . import tree
from .faults import TraceFault
from .items import as_key, checked_index, spread
from .operations import kind_of, text_of
from .things import Char, ClassThing, Outside, Pointer, Record, Scope
from .tree import Expression, Span
from .vocabulary import Verb, verb_of

if TYPE_CHECKING:
    from .expressions import Evaluated, Expressions
    from .machine import Machine

__all__ = ["Place", "cast", "place_of", "store_member"]


class Place(Protocol):
    """Takes a value."""

    def put(self, scope: Scope, value: object, span: Span) -> None:
        """Put a value there. Raises TraceFault where that cannot be."""


class _Variable:
    def __init__(self, node: tree.Name, machine: Machine) -> None:
        self._name = node.name
        self._scope = node.scope
        self._machine = machine
        self._is_tempo = verb_of(node.name) is Verb.TEMPO

    def put(self, scope: Scope, value: object, span: Span) -> None:
        place: Scope = scope
        if self._scope == "own":
            while not place.is_function and place.outer is not None:
                place = place.outer
        elif self._scope == "found":
            found: Scope | None = scope
            while found is not None and self._name not in found:
                record = found.get("this") if found.is_function else None
                if isinstance(record, Record) and self._name in record.fields and self._machine.rules.knows_fields:
                    record.fields[self._name] = value
                    return
                place = found
                found = found.outer
            place = place if found is None else found
        place[self._name] = value
        if self._is_tempo and isinstance(value, int | float):
            self._machine.heard(Outside(self._name), [value], {}, span)


class _Items:
    def __init__(self, places: list[tuple[Place, bool]], machine: Machine) -> None:
        self._places = places
        self._machine = machine

    def put(self, scope: Scope, value: object, span: Span) -> None:
        if isinstance(value, Outside):
            for place, _ in self._places:
                place.put(scope, Outside(f"{value.name}[]"), span)
            return
        items = spread(value, self._machine, span)
        starred = next((at for at, (_, gathers) in enumerate(self._places) if gathers), None)
        wanted = len(self._places)
        if starred is not None:
            after = wanted - starred - 1
            end = len(items) - after
            items = [*items[:starred], items[starred:end], *items[end:]] if end >= starred else items
        if self._machine.rules.gives_nothing:
            items = [*items, *[None] * (wanted - len(items))][:wanted]
        if len(items) != wanted:
            raise TraceFault(f"{len(items)} values are given to {wanted} names.", span)
        for (place, _), item in zip(self._places, items, strict=True):
            place.put(scope, item, span)


class _Fields:
    """An object taken apart by its keys."""

    def __init__(self, places: list[tuple[str, Place]], machine: Machine) -> None:
        self._places = places
        self._machine = machine

    def put(self, scope: Scope, value: object, span: Span) -> None:
        from .methods import member_of

        for key, place in self._places:
            place.put(scope, member_of(value, key, self._machine, span), span)


class _Item:
    def __init__(self, owner: Evaluated, index: Evaluated, machine: Machine) -> None:
        self._owner = owner
        self._index = index
        self._machine = machine

    def put(self, scope: Scope, value: object, span: Span) -> None:
        owner = self._owner(scope)
        index = self._index(scope)
        if isinstance(owner, Pointer) and isinstance(index, int):
            index += owner.place
            owner = owner.items
        if isinstance(owner, Outside) or isinstance(index, Outside):
            return
        if isinstance(owner, dict):
            self._machine.take(1, span)
            owner[as_key(index, span)] = value
        elif isinstance(owner, list) and isinstance(index, int):
            if self._machine.rules.gives_nothing and len(owner) <= index < len(owner) + 10_000:
                self._machine.take(index - len(owner) + 1, span)
                owner += [None] * (index - len(owner) + 1)
            place = checked_index(owner, index, self._machine, span)
            if place >= 0:
                owner[place] = value
        elif isinstance(owner, Record):
            owner.fields[str(index)] = value
        else:
            raise TraceFault(f"{kind_of(owner)} has no items that can be changed.", span)


class _Member:
    def __init__(self, owner: Evaluated, name: str, machine: Machine) -> None:
        self._owner = owner
        self._name = name
        self._machine = machine

    def put(self, scope: Scope, value: object, span: Span) -> None:
        store_member(self._owner(scope), self._name, value, self._machine, span)


def store_member(owner: object, name: str, value: object, machine: Machine, span: Span) -> None:
    """Put a value into ``owner.name``. Raises TraceFault where it has no such thing."""
    if isinstance(owner, Pointer):
        owner = owner.items[checked_index(owner.items, owner.place, machine, span)]
    if isinstance(owner, Outside):
        if verb_of(name) is Verb.TEMPO and isinstance(value, int | float):
            machine.heard(Outside(f"{owner.name}.{name}"), [value], {}, span)
    elif isinstance(owner, Record):
        owner.fields[name] = value
        if verb_of(name) is Verb.TEMPO and isinstance(value, int | float):
            machine.heard(Outside(name), [value], {}, span)
    elif isinstance(owner, dict):
        owner[name] = value
    elif isinstance(owner, ClassThing):
        owner.own[name] = value
    elif isinstance(owner, list) and name == "length" and isinstance(value, int):
        del owner[max(0, value) :]
    else:
        raise TraceFault(f"{kind_of(owner)} has no `{name}`.", span)


def place_of(compiler: Expressions, node: Expression) -> Place:
    """Return the place that a target names."""
    machine = compiler.machine
    if isinstance(node, tree.Name):
        return _Variable(node, machine)
    if isinstance(node, tree.Items):
        places = [
            (place_of(compiler, each.value if isinstance(each, tree.Spread) else each), isinstance(each, tree.Spread))
            for each in node.items
        ]
        return _Items(places, machine)
    if isinstance(node, tree.Pairs):
        named = [
            (str(key.value) if isinstance(key, tree.Literal) else "", place_of(compiler, value))
            for key, value in node.pairs
        ]
        return _Fields(named, machine)
    if isinstance(node, tree.Assignment):
        return _WithDefault(place_of(compiler, node.target), compiler.of(node.value))
    if isinstance(node, tree.Item):
        return _Item(compiler.of(node.owner), compiler.of(node.place), machine)
    if isinstance(node, tree.Member):
        return _Member(compiler.of(node.owner), node.name, machine)
    return _Nowhere(compiler.of(node))


class _WithDefault:
    """A target that takes something else where it is given nothing."""

    def __init__(self, place: Place, default: Evaluated) -> None:
        self._place = place
        self._default = default

    def put(self, scope: Scope, value: object, span: Span) -> None:
        self._place.put(scope, self._default(scope) if value is None else value, span)


class _Nowhere:
    """A target that is none: it is understood as far as it goes."""

    def __init__(self, target: Evaluated) -> None:
        self._target = target

    def put(self, scope: Scope, value: object, span: Span) -> None:
        self._target(scope)


def cast(kind: str, value: object, machine: Machine, span: Span) -> object:
    """Return a value as another kind. Raises TraceFault where it cannot be."""
    if isinstance(value, Outside):
        return value
    if kind == "text":
        return text_of(value, machine)
    if kind == "sizes":
        return _of_sizes(value, machine, span)
    if not isinstance(value, int | float):
        return value
    if kind == "float":
        return float(value)
    if kind in ("int", "char"):
        if math.isnan(value) or math.isinf(value):
            return 0
        return Char(int(value) & 0x1FFFFF) if kind == "char" and 0 <= value < 0x110000 else int(value)
    return value


def _of_sizes(value: object, machine: Machine, span: Span) -> object:
    """A list, of lists, of zeros: ``new int[3][2]``."""
    sizes = [size if isinstance(size, int) else 0 for size in value] if isinstance(value, list | tuple) else []
    if any(size < 0 for size in sizes):
        raise TraceFault("a list cannot have fewer than no items.", span)
    total = 1
    for size in sizes:
        total *= max(1, size)
        machine.take(total, span)

    def made(depth: int) -> object:
        if depth == len(sizes):
            return 0
        return [made(depth + 1) for _ in range(sizes[depth])]

    return made(0)
