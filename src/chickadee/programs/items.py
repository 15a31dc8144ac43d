"""Items, slices and what is gone through."""

from __future__ import annotations

from typing import Any

from .faults import End, TraceFault
from .machine import Machine
from .operations import kind_of
from .things import Char, Outside, Pointer, Record
from .tree import Span

__all__ = ["as_key", "checked_index", "item_of", "sliced", "spread"]


_FAR = 1_000_000_000


def item_of(owner: object, index: object, machine: Machine, span: Span) -> object:
    """Return ``owner[index]``. Raises TraceFault where it is not there."""
    if isinstance(owner, Outside):
        return Outside(f"{owner.name}[]")
    if isinstance(index, Outside):
        return index
    if isinstance(owner, Pointer):
        place = owner.place + index if isinstance(index, int) else owner.place
        return owner.items[checked_index(owner.items, place, machine, span)]
    if isinstance(owner, list | tuple | range | str):
        if isinstance(index, float) and index.is_integer() and machine.rules.name != "python":
            index = int(index)
        if isinstance(index, str) and index.isdecimal() and machine.rules.gives_nothing and len(index) < 10:
            index = int(index)
        if not isinstance(index, int):
            if machine.rules.gives_nothing:
                return None
            raise TraceFault(f"an item is asked for by {kind_of(index)} instead of a whole number.", span)
        place = checked_index(owner, index, machine, span)
        if place < 0:
            return None
        return Char(ord(owner[place])) if isinstance(owner, str) and machine.rules.has_pointers else owner[place]
    if isinstance(owner, dict):
        return _value_of(owner, index, machine, span)
    if isinstance(owner, Record):
        return owner.fields.get(str(index))
    raise TraceFault(f"{kind_of(owner)} has no items.", span)


def as_key(value: object, span: Span) -> object:
    """Return a value as the key of a dictionary. Raises TraceFault for lists, and for tuples inside tuples."""
    if isinstance(value, list | dict):
        raise TraceFault("a list cannot be the key of a dictionary.", span)
    if isinstance(value, tuple) and any(isinstance(each, tuple | list | dict) for each in value):
        raise TraceFault("tuples of tuples as keys of a dictionary are not understood.", span, End.BOUND)
    return value


def _value_of(owner: dict[object, object], key: object, machine: Machine, span: Span) -> object:
    key = as_key(key, span)
    if key in owner:
        return owner[key]
    if machine.rules.gives_nothing and str(key) in owner:
        return owner[str(key)]
    if machine.rules.gives_nothing or machine.rules.name == "java":
        return None
    raise TraceFault(f"the dictionary has nothing for `{str(key)[:30]}`.", span)


def checked_index(
    owner: list[object] | tuple[object, ...] | range | str, index: int, machine: Machine, span: Span
) -> int:
    """Return the place of an item, or -1 where the language goes on without it. Raises TraceFault else."""
    size = len(owner)
    if 0 <= index < size:
        return index
    if machine.rules.counts_from_end and -size <= index < 0:
        return index + size
    what = "text" if isinstance(owner, str) else "list"
    unit = "sign" if what == "text" else "item"
    if abs(index) > _FAR:
        sentence = f"the {what} has {size} {unit}{'' if size == 1 else 's'}; one far beyond is asked for."
    elif index < 0:
        sentence = f"the {what} has no {unit} {index}."
    elif size == 0:
        sentence = f"the {what} is empty; {unit} {index + 1} is asked for."
    else:
        sentence = f"the {what} has {size} {unit}{'' if size == 1 else 's'}; {unit} {index + 1} is asked for."
    fault = TraceFault(sentence, span)
    if machine.rules.gives_nothing:
        machine.missed = machine.missed or fault
        return -1
    raise fault


def sliced(owner: object, bounds: list[Any], machine: Machine, span: Span) -> object:
    """Return ``owner[start:stop:step]``. Raises TraceFault where it has no items."""
    if isinstance(owner, Outside):
        return Outside(f"{owner.name}[]")
    for each in bounds:
        if isinstance(each, Outside):
            return each
        if each is not None and not isinstance(each, int):
            raise TraceFault(f"a slice is asked for by {kind_of(each)} instead of a number.", span)
    start, stop, step = bounds
    if step == 0:
        raise TraceFault("the step of a slice cannot be 0.", span)
    if not isinstance(owner, list | tuple | range | str):
        raise TraceFault(f"{kind_of(owner)} has no items.", span)
    found = owner[slice(start, stop, step)]
    if isinstance(found, str):
        return machine.text(found, span)
    machine.take(len(found), span)
    return list(found) if isinstance(found, range) else found


def spread(value: object, machine: Machine, span: Span) -> list[object]:
    """Return all items of something that can be gone through. Raises TraceFault for anything else."""
    if isinstance(value, Outside):
        raise machine.unknown(value, span)
    if isinstance(value, Pointer):
        value = value.items[value.place :]
    if isinstance(value, str):
        machine.take(len(value), span)
        return [Char(ord(sign)) for sign in value] if machine.rules.has_pointers else list(value)
    if isinstance(value, list | tuple | range | dict):
        machine.take(len(value) // 8 + 1, span)
        return list(value)
    raise TraceFault(f"a loop goes through a list or a text, not through {kind_of(value)}.", span)
