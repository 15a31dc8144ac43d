"""Functions of numbers."""

from __future__ import annotations

import math
from collections.abc import Callable

from .faults import TraceFault
from .function_call import Arguments, Function, Keywords, first_of, number_in
from .items import spread
from .list_methods import sorted_items
from .machine import Machine
from .operations import binary
from .things import Outside
from .tree import Span

__all__ = ["MATH", "NUMBERS"]


def _sum(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    items = spread(first_of(given, "sum", span), machine, span)
    machine.spend(len(items), span)
    total: float = 0
    for item in items:
        total += number_in(item, "sum", span)
    return total


def _extreme(largest: bool) -> Function:
    name = "max" if largest else "min"

    def run(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
        is_list = len(given) == 1 and not isinstance(given[0], int | float)
        items = spread(given[0], machine, span) if is_list else given
        if any(isinstance(item, Outside) for item in items):
            return next(item for item in items if isinstance(item, Outside))
        ordered = sorted_items(items, keywords.get("key"), machine, span)
        if not ordered:
            raise TraceFault(f"`{name}` is given nothing.", span)
        return ordered[-1] if largest else ordered[0]

    return run


def _of_number(name: str, function: Callable[[float], float]) -> Function:
    def run(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
        value = first_of(given, name, span)
        if isinstance(value, Outside):
            return value
        try:
            return function(number_in(value, name, span))
        except (ValueError, OverflowError):
            raise TraceFault(f"`{name}` cannot take this number.", span) from None

    return run


def _round(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    value = first_of(given, "round", span)
    if isinstance(value, Outside):
        return value
    number = number_in(value, "round", span)
    if machine.rules.name != "python":
        return math.floor(number + 0.5) if math.isfinite(number) else number
    places = given[1] if len(given) > 1 else None
    if not math.isfinite(number):
        raise TraceFault("this number has no whole number near it.", span)
    return round(number, places) if isinstance(places, int) and abs(places) < 400 else round(number)


def _int(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    value = given[0] if given else 0
    if isinstance(value, Outside):
        return value
    if isinstance(value, int | float):
        return int(value) if math.isfinite(value) else 0
    base = given[1] if len(given) > 1 and isinstance(given[1], int) and 2 <= given[1] <= 36 else 10
    text = str(value).strip() if isinstance(value, str) else ""
    try:
        return int(text, base) if len(text) < 400 else 0
    except ValueError:
        return _lenient(text, machine, span, whole=True)


def _float(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    value = given[0] if given else 0.0
    if isinstance(value, Outside):
        return value
    if isinstance(value, int | float):
        return float(value) if machine.rules.name == "python" else value
    text = str(value).strip() if isinstance(value, str) else ""
    try:
        number = float(text)
    except ValueError:
        return _lenient(text, machine, span, whole=False)
    return int(number) if machine.rules.counts_nothing and number.is_integer() else number


def _lenient(text: str, machine: Machine, span: Span, whole: bool) -> object:
    """The number that a text begins with, in JavaScript; raises TraceFault in any other language."""
    if not machine.rules.counts_nothing:
        raise TraceFault(f"“{text[:30]}” is no number.", span)
    digits = ""
    for sign in text:
        if not (sign.isdigit() or (sign == "." and not whole and "." not in digits) or (sign == "-" and not digits)):
            break
        digits += sign
    try:
        return int(digits) if whole else float(digits)
    except ValueError:
        return math.nan


def _power(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    if len(given) < 2:
        raise TraceFault("`pow` takes two numbers.", span)
    result = binary("**", given[0], given[1], machine, span)
    return float(result) if machine.rules.divides_whole and isinstance(result, int) else result


def _divmod(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    if len(given) < 2:
        raise TraceFault("`divmod` takes two numbers.", span)
    one, other = (number_in(each, "divmod", span) for each in given[:2])
    if other == 0:
        raise TraceFault("a number is divided by zero.", span)
    return (one // other, one % other)


def _is_nan(machine: Machine, given: Arguments, keywords: Keywords, span: Span) -> object:
    return bool(given) and isinstance(given[0], float) and math.isnan(given[0])


MATH: dict[str, Function] = {
    "abs": _of_number("abs", abs),
    "floor": _of_number("floor", math.floor),
    "ceil": _of_number("ceil", math.ceil),
    "trunc": _of_number("trunc", math.trunc),
    "sqrt": _of_number("sqrt", math.sqrt),
    "sin": _of_number("sin", math.sin),
    "cos": _of_number("cos", math.cos),
    "log2": _of_number("log2", math.log2),
    "exp": _of_number("exp", math.exp),
    "pow": _power,
    "round": _round,
    "max": _extreme(True),
    "min": _extreme(False),
}
"""Functions by the names that most languages have for them."""
NUMBERS: dict[str, Function] = {
    "sum": _sum,
    "int": _int,
    "float": _float,
    "divmod": _divmod,
    "is nan": _is_nan,
}
