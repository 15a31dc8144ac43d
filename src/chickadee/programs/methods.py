"""Members and methods of things: of texts and lists, and of a program's own classes."""

from __future__ import annotations

from .faults import TraceFault
from .items import checked_index, item_of
from .list_methods import DICT_METHODS, LIST_METHODS, PAIR_METHODS
from .machine import FLOW_COST, Machine
from .method_call import Arguments, Method, Turn, equals, number_text, same
from .operations import kind_of
from .recording import Joined
from .text_methods import TEXT_METHODS
from .things import Built, ClassThing, Closure, Outside, Pointer, Promised, Record, Scope, Thread
from .tree import Span

__all__ = ["call_method", "made", "member_of"]

_PAIR_PARTS = {"first": 0, "second": 1}


def member_of(owner: object, name: str, machine: Machine, span: Span) -> object:
    """Return ``owner.name``. Raises TraceFault where there is no such thing."""
    if isinstance(owner, Pointer):
        owner = owner.items[checked_index(owner.items, owner.place, machine, span)]
    if isinstance(owner, Outside):
        return machine.built_in.get(f"{owner.name}.{name}") or Outside(f"{owner.name}.{name}")
    if isinstance(owner, Record):
        if name in owner.fields:
            return owner.fields[name]
        method = owner.kind.method(name)
        if method is not None:
            return method.of(owner)
        if name in owner.kind.own:
            return owner.kind.own[name]
        if isinstance(owner.kind.base, Outside):
            return Outside(f"{owner.kind.base.name}.{name}")
        if machine.rules.gives_nothing:
            return None
        raise TraceFault(f"`{owner.kind.name}` has no `{name}`.", span)
    if isinstance(owner, Built):
        return machine.built_in.get(f"{owner.name}.{name}") or Outside(f"{owner.name}.{name}")
    if isinstance(owner, list | tuple) and name in _PAIR_PARTS and machine.rules.has_pointers:
        return item_of(owner, _PAIR_PARTS[name], machine, span)
    if isinstance(owner, ClassThing):
        return owner.own.get(name) or owner.methods.get(name) or Outside(f"{owner.name}.{name}")
    if isinstance(owner, dict) and name in owner and machine.rules.name != "python":
        return owner[name]
    if name in ("length", "size") and isinstance(owner, list | tuple | str | dict):
        return len(owner)
    if isinstance(owner, list | tuple | str | dict | range | int | float | Promised):
        if machine.rules.gives_nothing and not _has_method(owner, name):
            return None
        return Built(
            name,
            lambda machine, arguments, keywords, span: call_method(owner, name, arguments, keywords, machine, span),
        )
    if owner is None:
        raise TraceFault(f"there is nothing here that could have a `{name}`.", span)
    return Outside(f"{kind_of(owner)}.{name}")


def _has_method(owner: object, name: str) -> bool:
    return any(isinstance(owner, kinds) and name in methods for kinds, methods in _METHODS)


def call_method(
    owner: object, name: str, arguments: Arguments, keywords: dict[str, object], machine: Machine, span: Span
) -> object:
    """Call ``owner.name(...)``. Raises TraceFault where there is no such thing."""
    if isinstance(owner, Pointer) and owner.items:
        owner = owner.items[checked_index(owner.items, owner.place, machine, span)]
    turn = Turn(name, keywords, machine, span)
    if isinstance(owner, Record) and (method := owner.kind.method(name)) is not None:
        return machine.call(method.of(owner), arguments, keywords, span)
    if isinstance(owner, Record | ClassThing | Outside | Built) or (isinstance(owner, dict) and name in owner):
        called = member_of(owner, name, machine, span)
        if isinstance(owner, dict) and isinstance(called, Closure) and called.function.has_this:
            called = called.of(owner)
        return machine.call(called, arguments, keywords, span)
    if isinstance(owner, Closure) and name in ("apply", "call", "run", "accept", "get", "start"):
        return machine.call(owner, arguments[1:] if name in ("call",) else arguments, {}, span)
    for kinds, methods in _METHODS:
        if isinstance(owner, kinds) and name in methods:
            try:
                return methods[name](turn, owner, arguments)
            except IndexError:
                raise TraceFault(f"`{name}` is given too little.", span) from None
    if owner is None:
        raise TraceFault(f"there is nothing here that could `{name}`.", span)
    raise TraceFault(f"{kind_of(owner)} has no `{name}`.", span)


def made(called: object, arguments: Arguments, keywords: dict[str, object], machine: Machine, span: Span) -> object:
    """Return a new object of a class. Raises TraceFault for anything that is no class."""
    if not isinstance(called, ClassThing):
        raise TraceFault(f"{kind_of(called)} is called as if it were a function.", span)
    machine.take(1, span)
    record = Record(called)
    kind: object = called
    while isinstance(kind, ClassThing):
        for name, first in kind.fields:
            scope = Scope(kind.own)
            scope["this"] = record
            record.fields.setdefault(name, first(scope) if first is not None else None)
        kind = kind.base
    start = called.method("__init__")
    if start is not None:
        machine.call(start.of(record), arguments, keywords, span)
    else:
        names = [name for name, _ in called.fields]
        record.fields.update(dict(zip(names, arguments, strict=False)))
        record.fields.update(keywords)
    return record


def _then(turn: Turn, owner: object, given: Arguments) -> object:
    """Do something once a promise is kept."""
    assert isinstance(owner, Promised)
    machine = turn.machine
    machine.take(FLOW_COST, turn.span)
    after = type(owner.flow)(holds_for_inner=True)
    into = machine.into
    into.append(after)
    machine.into = after.items
    try:
        after.items.append(Joined(owner.flow))
        value = turn.call(given[0], owner.value) if given and turn.name != "catch" else owner.value
        if isinstance(value, Promised):
            after.items.append(Joined(value.flow))
            value = value.value
    finally:
        machine.into = into
    return Promised(after, value)


def _thread(turn: Turn, owner: object, given: Arguments) -> object:
    assert isinstance(owner, Thread)
    if turn.name == "start":
        turn.machine.start(owner, turn.span)
    elif turn.name == "join":
        turn.machine.into.append(Joined(owner.flow))
    return None


_NUMBER_METHODS: dict[str, Method] = {
    **dict.fromkeys(("toFixed", "toString", "valueOf"), number_text),
    **dict.fromkeys(("intValue", "doubleValue"), same),
    "equals": equals,
}
_METHODS: tuple[tuple[tuple[type, ...], dict[str, Method]], ...] = (
    ((list,), LIST_METHODS),
    ((tuple,), PAIR_METHODS),
    ((range,), {name: LIST_METHODS[name] for name in ("index", "count", "forEach", "map")}),
    ((dict,), DICT_METHODS),
    ((str,), TEXT_METHODS),
    ((int, float), _NUMBER_METHODS),
    ((Promised,), dict.fromkeys(("then", "finally", "catch"), _then)),
    ((Thread,), dict.fromkeys(("start", "join", "setDaemon"), _thread)),
)
