"""The functions that languages bring, as far as tunes need them."""

from __future__ import annotations

import math
import re
from functools import lru_cache

from .chance_functions import CHANCE
from .faults import End, TraceFault
from .flow_functions import FLOWS
from .function_call import Arguments, Function, Keywords, first_of, number_in
from .items import as_key, item_of, spread
from .list_methods import sorted_items
from .machine import Machine
from .number_functions import MATH, NUMBERS
from .operations import compared, is_true, kind_of, text_of
from .places import cast
from .things import Built, Char, Outside, Pointer, Scope
from .tree import Span

__all__ = ["built_in_scope"]

_SHORT_SPEC = re.compile(r"[^0-9]{0,3}[0-9]{0,2}[,_]?(?:\.[0-9]{1,2})?[a-zA-Z%]?")


def _len(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    value = first_of(given, "len", span)
    if isinstance(value, list | tuple | str | dict | range):
        return len(value)
    if isinstance(value, Outside):
        return Outside(f"{value.name}.length")
    raise TraceFault(f"{kind_of(value)} has no length.", span)


def _range(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    bounds = []
    for each in given:
        if isinstance(each, Outside):
            return each
        if not isinstance(each, int):
            raise TraceFault(f"`range` is given {kind_of(each)} instead of a whole number.", span)
        bounds.append(max(-(10**12), min(10**12, each)))
    if not 1 <= len(bounds) <= 3 or (len(bounds) == 3 and bounds[2] == 0):
        raise TraceFault("`range` takes a start, an end and a step other than 0.", span)
    return range(*bounds)


def _enumerate(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    items = spread(first_of(given, "enumerate", span), machine, span)
    start = given[1] if len(given) > 1 else keywords.get("start", 0)
    machine.take(len(items), span)
    return list(enumerate(items, start if isinstance(start, int) else 0))


def _zip(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    lists = [spread(each, machine, span) for each in given]
    sizes = {len(each) for each in lists}
    if len(sizes) > 1:
        machine.say("Lists of different sizes are gone through together: what only the longer ones have is left out.")
    found = list(zip(*lists, strict=False))
    machine.take(len(found), span)
    return found


def _list(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    items = spread(given[0], machine, span) if given else []
    machine.take(len(items) + 1, span)
    return items


def _tuple(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return tuple(spread(given[0], machine, span)) if given else ()


def _dict(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    found: dict[object, object] = {}
    if given and isinstance(given[0], dict):
        found.update(given[0])
    elif given:
        for pair in spread(given[0], machine, span):
            found[as_key(item_of(pair, 0, machine, span), span)] = item_of(pair, 1, machine, span)
    found.update(keywords)
    machine.take(len(found) + 1, span)
    return found


def _set(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    items = spread(given[0], machine, span) if given else []
    machine.take(len(items), span)
    return list(dict.fromkeys(as_key(item, span) for item in items))


def _sorted(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    items = spread(first_of(given, "sorted", span), machine, span)
    return sorted_items(items, keywords.get("key"), machine, span, bool(keywords.get("reverse")))


def _reversed(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    items = spread(first_of(given, "reversed", span), machine, span)
    machine.take(len(items), span)
    return items[::-1]


def _text(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return machine.text(text_of(given[0], machine), span) if given else ""


def _truth(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return is_true(given[0], machine, span) if given else False


def _map(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    lists = [spread(each, machine, span) for each in given[1:]]
    found = []
    for items in zip(*lists, strict=False):
        machine.step(span)
        found.append(machine.call(given[0], list(items), {}, span))
    machine.take(len(found), span)
    return found


def _filter(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    items = spread(given[1] if len(given) > 1 else [], machine, span)
    if not given or given[0] is None:
        return [item for item in items if is_true(item, machine, span)]
    return [item for item in items if is_true(machine.call(given[0], [item], {}, span), machine, span)]


def _all(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return all(is_true(each, machine, span) for each in spread(first_of(given, "all", span), machine, span))


def _any(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return any(is_true(each, machine, span) for each in spread(first_of(given, "any", span), machine, span))


def _ord(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    value = first_of(given, "ord", span)
    if not isinstance(value, str) or len(value) != 1:
        raise TraceFault("`ord` takes a text of one sign.", span)
    return ord(value)


def _chr(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    number = int(number_in(first_of(given, "chr", span), "chr", span))
    if not 0 <= number < 0xD800:
        raise TraceFault("this number stands for no sign.", span)
    return chr(number)


def _input(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    if not machine.answers:
        raise TraceFault("asks a question; `--answer` gives it an answer.", span, End.QUESTION)
    return machine.answers.pop(0)


def _nothing(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return None


def _formatted(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    value, spec = (*given, "", "")[:2]
    if not isinstance(value, str | int | float) or not isinstance(spec, str) or not _SHORT_SPEC.fullmatch(spec):
        return text_of(value, machine)
    try:
        return format(value, spec)
    except (ValueError, OverflowError):
        raise TraceFault("this value cannot be written so.", span) from None


def _same(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return given[0] if given else None


# Lists of other languages


def _array(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    if len(given) == 1 and isinstance(given[0], int):
        if given[0] < 0:
            raise TraceFault("a list cannot have fewer than no items.", span)
        machine.take(given[0], span)
        return [None] * given[0]
    machine.take(len(given) + 1, span)
    return list(given)


def _array_from(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    source = first_of(given, "from", span)
    if isinstance(source, dict) and isinstance(source.get("length"), int):
        machine.take(source["length"], span)
        items: list[object] = [None] * source["length"]
    else:
        items = spread(source, machine, span)
    if len(given) > 1:
        return [machine.call(given[1], [item, place], {}, span) for place, item in enumerate(items)]
    return items


def _several(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    machine.take(len(given) + 1, span)
    return list(given[0]) if len(given) == 1 and isinstance(given[0], list) else list(given)


def _new_list(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    machine.take(1, span)
    return spread(given[0], machine, span) if given and isinstance(given[0], list | tuple) else []


def _pairs(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    machine.take(len(given) + 1, span)
    keys = [key for key in given[::2] if isinstance(key, str | int | float | bool)]
    return dict(zip(keys, given[1::2], strict=False))


def _pair(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return tuple(given)


def _entries(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    value = first_of(given, "entries", span)
    machine.take(len(value) if isinstance(value, dict) else 0, span)
    return [[key, each] for key, each in value.items()] if isinstance(value, dict) else []


def _dict_keys(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    value = first_of(given, "keys", span)
    return list(value) if isinstance(value, dict) else []


def _dict_values(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    value = first_of(given, "values", span)
    return list(value.values()) if isinstance(value, dict) else []


def _is_list(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return bool(given) and isinstance(given[0], list)


def _is_instance(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    value, kind = (*given, None, None)[:2]
    kinds = {"int": int, "float": float, "str": str, "list": list, "tuple": tuple, "dict": dict, "bool": bool}
    names = [each.name for each in (kind if isinstance(kind, tuple) else (kind,)) if isinstance(each, Built)]
    return any(isinstance(value, kinds[name]) for name in names if name in kinds)


def _same_text(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    """``strcmp``: 0 where two texts are the same."""
    one, other = (str(each) for each in (*given, "", "")[:2])
    return (one > other) - (one < other)


def _text_length(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    value = first_of(given, "strlen", span)
    return len(value.items) - value.place if isinstance(value, Pointer) else _len(machine, given, keywords, span)


def _character(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return cast("char", given[0] if given else 0, machine, span)


def _digit(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    sign = given[0] if given else ""
    return str(sign).isdigit() if not isinstance(sign, int) or isinstance(sign, Char) else False


def _upper(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    sign = given[0] if given else 0
    return Char(ord(chr(sign).upper()[:1])) if isinstance(sign, int) and 0 <= sign < 0x110000 else sign


def _chain(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    found = [item for each in given for item in spread(each, machine, span)]
    machine.take(len(found), span)
    return found


def _type_name(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    value = given[0] if given else None
    if isinstance(value, bool):
        return "boolean"
    if isinstance(value, int | float):
        return "number"
    if isinstance(value, str):
        return "string"
    return "undefined" if value is None else "object"


def _compare(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    one, other = (*given, None, None)[:2]
    return compared("==", one, other, machine, span)


_PYTHON: dict[str, Function] = {
    "len": _len, "range": _range, "enumerate": _enumerate, "zip": _zip, "list": _list, "tuple": _tuple,
    "dict": _dict, "set": _set, "sorted": _sorted, "reversed": _reversed, "sum": NUMBERS["sum"],
    "abs": MATH["abs"], "max": MATH["max"], "min": MATH["min"], "round": MATH["round"], "int": NUMBERS["int"],
    "float": NUMBERS["float"], "str": _text, "bool": _truth, "map": _map, "filter": _filter, "all": _all,
    "any": _any, "pow": MATH["pow"], "divmod": NUMBERS["divmod"], "ord": _ord, "chr": _chr, "input": _input,
    "isinstance": _is_instance, "iter": _list, "frozenset": _set, "format": _formatted,
    "random.random": CHANCE["number"], "random.choice": CHANCE["choice"], "random.randint": CHANCE["whole"],
    "random.randrange": CHANCE["whole"], "random.shuffle": CHANCE["shuffle"], "random.seed": _nothing,
    "random.uniform": CHANCE["number"], "asyncio.run": FLOWS["run"], "asyncio.gather": FLOWS["all"],
    "asyncio.create_task": _same, "asyncio.sleep": FLOWS["sleep"], "threading.Thread": FLOWS["thread"],
    "itertools.chain": _chain, "collections.deque": _list, "operator.eq": _compare, "copy.copy": _list,
    **{f"math.{name}": function for name, function in MATH.items()},
}  # fmt: skip
_JAVASCRIPT: dict[str, Function] = {
    **{f"Math.{name}": function for name, function in MATH.items()}, "Math.random": CHANCE["number"],
    "parseInt": NUMBERS["int"], "parseFloat": NUMBERS["float"], "Number": NUMBERS["float"], "String": _text,
    "Boolean": _truth, "Array": _array, "Array.from": _array_from, "Array.of": _several,
    "Array.isArray": _is_list, "Object.keys": _dict_keys, "Object.values": _dict_values,
    "Object.entries": _entries, "Map": _dict, "Set": _set, "setTimeout": FLOWS["later"],
    "setInterval": FLOWS["every"], "clearInterval": FLOWS["clear"], "clearTimeout": FLOWS["clear"],
    "Promise": FLOWS["promise"], "Promise.all": FLOWS["all"], "Promise.resolve": FLOWS["resolved"],
    "prompt": _input, "typeof": _type_name, "isNaN": NUMBERS["is nan"], "window.setTimeout": FLOWS["later"],
    "Number.isNaN": NUMBERS["is nan"], "Number.parseInt": NUMBERS["int"], "Number.parseFloat": NUMBERS["float"],
    "window.setInterval": FLOWS["every"],
}  # fmt: skip
_C: dict[str, Function] = {
    **MATH, **{f"std.{name}": function for name, function in MATH.items()}, "fabs": MATH["abs"],
    "strlen": _text_length, "strcmp": _same_text, "rand": CHANCE["whole"], "size": _len, "make_pair": _pair,
    "make_tuple": _pair, "std.make_pair": _pair, "std.make_tuple": _pair, "std.size": _len, "std.string": _text,
    "to_string": _text, "std.to_string": _text, "isdigit": _digit, "toupper": _upper, "vector": _new_list,
    "std.vector": _new_list, "atoi": NUMBERS["int"], "atof": NUMBERS["float"], "sizeof": _len, "getchar": _input,
}  # fmt: skip
_JAVA: dict[str, Function] = {
    **{f"Math.{name}": function for name, function in MATH.items()}, "Math.random": CHANCE["number"],
    "List.of": _several, "Arrays.asList": _several, "Map.of": _pairs, "Set.of": _several,
    "Arrays.stream": _several, "Integer.parseInt": NUMBERS["int"], "Integer.valueOf": NUMBERS["int"],
    "Double.parseDouble": NUMBERS["float"], "Double.valueOf": NUMBERS["float"], "String.valueOf": _text,
    "String.format": _text, "ArrayList": _new_list, "LinkedList": _new_list, "ArrayDeque": _new_list,
    "HashMap": _dict, "TreeMap": _dict, "LinkedHashMap": _dict, "HashSet": _set, "Thread": FLOWS["thread"],
    "Character.isDigit": _digit, "Character.valueOf": _character, "IntStream.range": _range,
    "Stream.of": _several, "Collections.reverse": _nothing,
}  # fmt: skip
_VALUES: dict[str, dict[str, object]] = {
    "python": {"__name__": "__main__", "math.pi": math.pi, "math.inf": math.inf},
    "javascript": {"undefined": None, "NaN": math.nan, "Infinity": math.inf, "Math.PI": math.pi},
    "c": {"NULL": None, "nullptr": None, "true": True, "false": False, "M_PI": math.pi, "INT_MAX": 2**31 - 1},
    "java": {"Math.PI": math.pi, "Integer.MAX_VALUE": 2**31 - 1},
}


def _java_reverse(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    if given and isinstance(given[0], list):
        given[0].reverse()
    return None


def _java_range_closed(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    first, last = (int(number_in(each, "rangeClosed", span)) for each in (*given, 0, 0)[:2])
    return _list(machine, [_range(machine, [first, last + 1], keywords, span)], keywords, span)


def _java_range(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return _list(machine, [_range(machine, given, keywords, span)], keywords, span)


_JAVA |= {
    "Collections.reverse": _java_reverse,
    "IntStream.rangeClosed": _java_range_closed,
    "IntStream.range": _java_range,
}


_FUNCTIONS: dict[str, dict[str, Function]] = {
    "python": _PYTHON,
    "javascript": _JAVASCRIPT,
    "c": _C,
    "java": _JAVA,
    "steps": {"zip": _zip},
}
_OWNERS = {
    "javascript": "console document window module process globalThis JSON Object Date Error",
    "java": "System Thread TimeUnit String Integer Double Object InterruptedException",
    "c": "std stdout stdin stderr",
    "python": "print type object super Exception ValueError open exit quit",
}
"""Names that each language brings, of which only the name is known."""


@lru_cache
def _of_language(language: str) -> dict[str, object]:
    functions = _FUNCTIONS.get(language, {})
    found: dict[str, object] = {name: Built(name, function) for name, function in functions.items()}
    found |= _VALUES.get(language, {})
    owners = {name.partition(".")[0] for name in found if "." in name and language != "python"}
    owners.update(_OWNERS.get(language, "").split())
    return {**{name: Outside(name) for name in owners}, **found}


def built_in_scope(language: str) -> Scope:
    """Return what a language brings, by names and by whole names such as ``math.floor``."""
    scope = Scope()
    scope.update(_of_language(language))
    return scope
