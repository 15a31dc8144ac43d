"""The methods of lists and dictionaries."""

from __future__ import annotations

from functools import cmp_to_key
from typing import Any

from .faults import TraceFault
from .items import as_key, checked_index, item_of, spread
from .machine import Machine
from .method_call import Arguments, Method, Turn, equals, joined, number_text, same
from .operations import compared, is_true, text_of
from .things import Closure
from .tree import Span

__all__ = ["DICT_METHODS", "LIST_METHODS", "PAIR_METHODS", "sorted_items"]


def _items(owner: object) -> list[object]:
    assert isinstance(owner, list)
    return owner


def _append(turn: Turn, owner: object, given: Arguments) -> object:
    items = _items(owner)
    turn.machine.take(len(given), turn.span)
    if turn.name == "add" and len(given) == 2:
        items.insert(turn.whole(given[0]), given[1])
    else:
        items.extend(given)
    return len(items) if turn.name == "push" else None


def _front(turn: Turn, owner: object, given: Arguments) -> object:
    turn.machine.take(len(given), turn.span)
    _items(owner)[:0] = given
    return len(_items(owner))


def _extend(turn: Turn, owner: object, given: Arguments) -> object:
    turn.machine.take(0, turn.span)
    more = spread(given[0] if given else [], turn.machine, turn.span)
    turn.machine.take(len(more), turn.span)
    _items(owner).extend(more)
    return None


def _joined_lists(turn: Turn, owner: object, given: Arguments) -> object:
    if isinstance(owner, str):
        return turn.machine.text(owner + "".join(text_of(each, turn.machine) for each in given), turn.span)
    found = list(_items(owner))
    for each in given:
        found += each if isinstance(each, list) else [each]
    turn.machine.take(len(found), turn.span)
    return found


def _insert(turn: Turn, owner: object, given: Arguments) -> object:
    turn.machine.take(1, turn.span)
    _items(owner).insert(turn.whole(given[0]), given[1])
    return None


def _pop(turn: Turn, owner: object, given: Arguments) -> object:
    if isinstance(owner, dict):
        return owner.pop(as_key(given[0], turn.span), given[1] if len(given) > 1 else None)
    items = _items(owner)
    if not items:
        if turn.machine.rules.gives_nothing:
            return None
        raise TraceFault(f"the list is empty; `{turn.name}` takes an item from it.", turn.span)
    if given and isinstance(given[0], int):
        return items.pop(checked_index(items, given[0], turn.machine, turn.span))
    return items.pop(0 if turn.name in ("shift", "popleft", "removeFirst", "poll") else -1)


def _remove(turn: Turn, owner: object, given: Arguments) -> object:
    if isinstance(owner, dict):
        return owner.pop(as_key(given[0], turn.span), None)
    items = _items(owner)
    if turn.machine.rules.name == "java" and given and isinstance(given[0], int):
        return items.pop(checked_index(items, given[0], turn.machine, turn.span))
    if not given or given[0] not in items:
        if turn.machine.rules.name == "python":
            raise TraceFault("the item that is to be removed is not in the list.", turn.span)
        return False
    items.remove(given[0])
    return True


def _index(turn: Turn, owner: object, given: Arguments) -> object:
    assert isinstance(owner, list | tuple | str | range)
    turn.machine.spend(len(owner), turn.span)
    try:
        return owner.index(given[0])  # type: ignore[arg-type]
    except (ValueError, TypeError):
        if turn.machine.rules.name != "python" or turn.name == "find":
            return -1
        raise TraceFault("what is looked for is not in there.", turn.span) from None


def _count(turn: Turn, owner: object, given: Arguments) -> object:
    assert isinstance(owner, list | tuple | str)
    turn.machine.spend(len(owner), turn.span)
    return owner.count(given[0])  # type: ignore[arg-type]


def _reverse(turn: Turn, owner: object, given: Arguments) -> object:
    turn.machine.spend(len(_items(owner)), turn.span)
    _items(owner).reverse()
    return owner if turn.machine.rules.gives_nothing else None


def _reversed(turn: Turn, owner: object, given: Arguments) -> object:
    turn.machine.take(len(_items(owner)), turn.span)
    return list(reversed(_items(owner)))


def sorted_items(
    items: list[object], key: object, machine: Machine, span: Span, backwards: bool = False
) -> list[object]:
    """Return items in order. Raises TraceFault where they have none."""
    machine.take(len(items), span)
    machine.spend(len(items), span)
    try:
        if key is not None:
            return sorted(items, key=lambda item: machine.call(key, [item], {}, span), reverse=backwards)  # type: ignore[arg-type,return-value]
        return sorted(items, reverse=backwards)  # type: ignore[type-var]
    except TypeError:
        raise TraceFault("the items of this list have no order.", span) from None


def _sort(turn: Turn, owner: object, given: Arguments) -> object:
    items = _items(owner)
    machine = turn.machine
    order = given[0] if given else None
    if machine.rules.gives_nothing and isinstance(order, Closure):

        def by(one: object, other: object) -> int:
            result = machine.call(order, [one, other], {}, turn.span)
            return (result > 0) - (result < 0) if isinstance(result, int | float) else 0

        items[:] = sorted(items, key=cmp_to_key(by))
        return items
    if machine.rules.gives_nothing:
        items.sort(key=lambda item: text_of(item, machine))
        return items
    key = turn.keywords.get("key")
    backwards = bool(turn.keywords.get("reverse"))
    items[:] = sorted_items(items, key, machine, turn.span, backwards)
    return None


def _slice(turn: Turn, owner: object, given: Arguments) -> object:
    assert isinstance(owner, list | tuple | str)
    bounds = [turn.whole(each) if each is not None else None for each in given[:2]]
    if turn.name == "subList" or turn.name.startswith("substr"):
        bounds = [max(0, each) if each is not None else None for each in bounds]
    if turn.name == "substr" and len(bounds) == 2:
        bounds[1] = (bounds[0] or 0) + (bounds[1] or 0)
    found = owner[slice(*bounds) if len(bounds) == 2 else slice(bounds[0] if bounds else None, None)]
    if isinstance(found, str):
        return turn.machine.text(found, turn.span)
    turn.machine.take(len(found), turn.span)
    return found


def _splice(turn: Turn, owner: object, given: Arguments) -> object:
    items = _items(owner)
    first = turn.whole(given[0]) if given else 0
    size = turn.whole(given[1]) if len(given) > 1 else len(items)
    first = max(0, first + len(items)) if first < 0 else first
    taken = items[first : first + size]
    turn.machine.take(len(taken) + len(given), turn.span)
    items[first : first + size] = given[2:]
    return taken


def _copy(turn: Turn, owner: object, given: Arguments) -> object:
    if isinstance(owner, dict):
        turn.machine.take(len(owner), turn.span)
        return dict(owner)
    items = spread(owner, turn.machine, turn.span)
    turn.machine.take(len(items), turn.span)
    return items


def _clear(turn: Turn, owner: object, given: Arguments) -> object:
    if isinstance(owner, list | dict):
        owner.clear()
    return None


def _fill(turn: Turn, owner: object, given: Arguments) -> object:
    items = _items(owner)
    items[:] = [given[0]] * len(items)
    turn.machine.take(len(items), turn.span)
    return items


def _get(turn: Turn, owner: object, given: Arguments) -> object:
    if isinstance(owner, dict):
        if given and as_key(given[0], turn.span) in owner:
            return owner[given[0]]
        return given[1] if len(given) > 1 else None
    index = given[0] if given else 0
    if turn.name == "at" and isinstance(index, int) and index < 0 and isinstance(owner, list | str):
        index += len(owner)
    return item_of(owner, index, turn.machine, turn.span)


def _set(turn: Turn, owner: object, given: Arguments) -> object:
    if isinstance(owner, dict):
        turn.machine.take(1, turn.span)
        owner[as_key(given[0], turn.span)] = given[1]
        return owner
    items = _items(owner)
    items[checked_index(items, turn.whole(given[0]), turn.machine, turn.span)] = given[1]
    return None


def _first(turn: Turn, owner: object, given: Arguments) -> object:
    return item_of(owner, 0, turn.machine, turn.span)


def _last(turn: Turn, owner: object, given: Arguments) -> object:
    assert isinstance(owner, list | str)
    return item_of(owner, max(0, len(owner) - 1), turn.machine, turn.span)


def _is_empty(turn: Turn, owner: object, given: Arguments) -> object:
    return not owner


def _size(turn: Turn, owner: object, given: Arguments) -> object:
    return len(owner)  # type: ignore[arg-type]


def _contains(turn: Turn, owner: object, given: Arguments) -> object:
    return compared("in", given[0], owner, turn.machine, turn.span)


def _each_turn(turn: Turn, owner: object, given: Arguments) -> list[object]:
    """Call something for each item, as turns of a loop; gives the results."""
    machine = turn.machine
    is_pairs = isinstance(owner, dict)
    items: list[Any] = list(owner.items()) if isinstance(owner, dict) else spread(owner, machine, turn.span)
    into = machine.into
    loop = machine.begin_loop(turn.span)
    found = []
    try:
        for place, item in enumerate(items):
            machine.begin_turn(loop)
            if is_pairs:
                key, value = item
                pair = (value, key) if machine.rules.gives_nothing else (key, value)
                found.append(turn.call(given[0], *pair))
            else:
                found.append(turn.call(given[0], item, place, owner))
    finally:
        machine.end_loop(loop, into)
    return found


def _for_each(turn: Turn, owner: object, given: Arguments) -> object:
    _each_turn(turn, owner, given)
    return None


def _map(turn: Turn, owner: object, given: Arguments) -> object:
    found = _each_turn(turn, owner, given)
    turn.machine.take(len(found), turn.span)
    if turn.name != "flatMap":
        return found
    return [part for each in found for part in (each if isinstance(each, list) else [each])]


def _filter(turn: Turn, owner: object, given: Arguments) -> object:
    items = spread(owner, turn.machine, turn.span)
    kept = [is_true(each, turn.machine, turn.span) for each in _each_turn(turn, owner, given)]
    found = [item for item, keep in zip(items, kept, strict=False) if keep]
    if turn.name == "find":
        return found[0] if found else None
    if turn.name == "findIndex":
        return kept.index(True) if found else -1
    if turn.name in ("some", "anyMatch"):
        return bool(found)
    if turn.name in ("every", "allMatch"):
        return all(kept)
    turn.machine.take(len(found), turn.span)
    return found


def _reduce(turn: Turn, owner: object, given: Arguments) -> object:
    items = spread(owner, turn.machine, turn.span)
    if len(given) > 1:
        value = given[1]
    else:
        value = items.pop(0) if items else None
    for item in items:
        turn.machine.step(turn.span)
        value = turn.call(given[0], value, item)
    return value


def _flat(turn: Turn, owner: object, given: Arguments) -> object:
    found = [part for each in _items(owner) for part in (each if isinstance(each, list) else [each])]
    turn.machine.take(len(found), turn.span)
    return found


def _pairs(turn: Turn, owner: object, given: Arguments) -> object:
    turn.machine.take(len(owner), turn.span)  # type: ignore[arg-type]
    if isinstance(owner, dict):
        return [(key, value) for key, value in owner.items()]
    return [[place, item] for place, item in enumerate(_items(owner))]


def _keys(turn: Turn, owner: object, given: Arguments) -> object:
    return list(owner) if isinstance(owner, dict) else list(range(len(_items(owner))))


def _values(turn: Turn, owner: object, given: Arguments) -> object:
    return list(owner.values()) if isinstance(owner, dict) else list(_items(owner))


def _update(turn: Turn, owner: object, given: Arguments) -> object:
    if isinstance(owner, dict) and given and isinstance(given[0], dict):
        turn.machine.take(len(given[0]), turn.span)
        owner.update(given[0])
    return None


def _set_default(turn: Turn, owner: object, given: Arguments) -> object:
    assert isinstance(owner, dict)
    return owner.setdefault(as_key(given[0], turn.span), given[1] if len(given) > 1 else None)


def _pair_part(turn: Turn, owner: object, given: Arguments) -> object:
    assert isinstance(owner, tuple)
    return owner[0 if turn.name == "getKey" else 1]


LIST_METHODS: dict[str, Method] = {
    **dict.fromkeys(("append", "push", "push_back", "emplace_back", "add", "addLast", "offer"), _append),
    **dict.fromkeys(("unshift", "push_front", "addFirst", "appendleft"), _front),
    **dict.fromkeys(("extend", "addAll"), _extend),
    "concat": _joined_lists,
    "insert": _insert,
    **dict.fromkeys(("pop", "pop_back", "shift", "popleft", "removeLast", "removeFirst", "poll"), _pop),
    "remove": _remove,
    **dict.fromkeys(("index", "indexOf"), _index),
    "count": _count,
    "reverse": _reverse,
    "toReversed": _reversed,
    "sort": _sort,
    **dict.fromkeys(("slice", "subList"), _slice),
    "splice": _splice,
    **dict.fromkeys(("copy", "clone", "toSorted"), _copy),
    **dict.fromkeys(("stream", "boxed", "toList", "begin", "iterator", "toArray", "parallelStream"), same),
    "collect": same,
    "clear": _clear,
    "fill": _fill,
    **dict.fromkeys(("get", "at"), _get),
    "set": _set,
    **dict.fromkeys(("front", "getFirst", "peek"), _first),
    **dict.fromkeys(("back", "getLast"), _last),
    **dict.fromkeys(("isEmpty", "empty"), _is_empty),
    **dict.fromkeys(("size", "length"), _size),
    **dict.fromkeys(("contains", "includes"), _contains),
    "forEach": _for_each,
    **dict.fromkeys(("map", "flatMap", "mapToObj", "mapToInt"), _map),
    **dict.fromkeys(("filter", "find", "findIndex", "some", "every", "anyMatch", "allMatch"), _filter),
    "reduce": _reduce,
    "flat": _flat,
    "entries": _pairs,
    "keys": _keys,
    "values": _values,
    "join": joined,
    "toString": number_text,
    "equals": equals,
}
DICT_METHODS: dict[str, Method] = {
    **dict.fromkeys(("get", "getOrDefault", "at"), _get),
    **dict.fromkeys(("set", "put", "insert"), _set),
    **dict.fromkeys(("items", "entries", "entrySet"), _pairs),
    **dict.fromkeys(("keys", "keySet"), _keys),
    "values": _values,
    **dict.fromkeys(("has", "containsKey", "contains"), _contains),
    **dict.fromkeys(("pop",), _pop),
    **dict.fromkeys(("remove", "delete", "erase"), _remove),
    "update": _update,
    "setdefault": _set_default,
    "copy": _copy,
    "clear": _clear,
    "forEach": _for_each,
    **dict.fromkeys(("isEmpty", "empty"), _is_empty),
    "size": _size,
}
PAIR_METHODS: dict[str, Method] = {
    **{name: LIST_METHODS[name] for name in ("index", "count", "map", "forEach", "contains", "size", "get")},
    **dict.fromkeys(("getKey", "getValue"), _pair_part),
}
