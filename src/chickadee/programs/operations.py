"""Operators on values, as each language has them, within bounds."""

from __future__ import annotations

import math
import operator
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from .faults import TraceFault
from .things import Char, Outside, Pointer
from .tree import Span

if TYPE_CHECKING:
    from .machine import Machine

__all__ = ["COMPARING", "binary", "compared", "is_true", "kind_of", "negated", "text_of"]

_MOST_BITS = 4_096
_DEEPEST_TEXT = 3  # lists in one another that are written out
COMPARING: dict[str, Callable[[Any, Any], bool]] = {
    "<": operator.lt,
    ">": operator.gt,
    "<=": operator.le,
    ">=": operator.ge,
}


def kind_of(value: object) -> str:
    """Return the kind of a value in the words of a sentence."""
    if isinstance(value, bool):
        return "a truth value"
    if isinstance(value, int | float):
        return "a number"
    if isinstance(value, str):
        return "a text"
    if isinstance(value, list | tuple):
        return "a list"
    if isinstance(value, dict):
        return "a dictionary"
    return "nothing" if value is None else "a thing"


def is_true(value: object, machine: Machine, span: Span) -> bool:
    """Return whether a condition holds; raises TraceFault where only the running program would know."""
    if value is True or value is False:
        return value is True
    if isinstance(value, Outside):
        raise machine.unknown(value, span)
    if isinstance(value, list | tuple | dict) and machine.rules.lists_are_true:
        return True
    if isinstance(value, float) and value != value:
        return not machine.rules.lists_are_true
    return bool(value)


def text_of(value: object, machine: Machine, depth: int = 0) -> str:
    """Return a value as the program would write it."""
    if isinstance(value, str):
        return value
    rules = machine.rules
    if isinstance(value, bool):
        return str(value) if rules.name == "python" else str(value).lower()
    if value is None:
        return {"python": "None", "javascript": "undefined"}.get(rules.name, "null")
    if isinstance(value, int | float):
        return str(value)
    if isinstance(value, list | tuple):
        if depth > _DEEPEST_TEXT:
            return "[…]"
        inner = ", ".join(text_of(item, machine, depth + 1) for item in value[:100])
        return inner.replace(", ", ",") if rules.name == "javascript" else f"[{inner}]"
    return value.name if isinstance(value, Outside) else kind_of(value)


def binary(sign: str, left: object, right: object, machine: Machine, span: Span) -> object:
    """Return what an operator makes of two values. Raises TraceFault where the language has no such thing."""
    if isinstance(left, Outside) or isinstance(right, Outside):
        return left if isinstance(left, Outside) else right
    if isinstance(left, str | Char) or isinstance(right, str | Char):
        return _with_text(sign, left, right, machine, span)
    if isinstance(left, list | tuple) or isinstance(right, list | tuple):
        return _with_lists(sign, left, right, machine, span)
    if isinstance(left, Pointer) and isinstance(right, int) and sign in ("+", "-"):
        return Pointer(left.items, left.place + (right if sign == "+" else -right))
    if isinstance(left, dict) and isinstance(right, dict) and sign == "|":
        machine.take(len(left) + len(right), span)
        return {**left, **right}
    if machine.rules.counts_nothing and (left is None or right is None):
        return math.nan
    if isinstance(left, int | float) and isinstance(right, int | float):
        return _of_numbers(sign, left, right, machine, span)
    raise _mismatch(sign, left, right, span)


def _mismatch(sign: str, left: object, right: object, span: Span) -> TraceFault:
    return TraceFault(f"`{sign}` cannot join {kind_of(left)} and {kind_of(right)}.", span)


def _with_text(sign: str, left: object, right: object, machine: Machine, span: Span) -> object:
    texts = isinstance(left, str), isinstance(right, str)
    if sign == "+" and (all(texts) or (any(texts) and machine.rules.joins_text)):
        return machine.text(text_of(left, machine) + text_of(right, machine), span)
    if sign == "*" and machine.rules.name == "python" and any(texts):
        text, count = (left, right) if texts[0] else (right, left)
        if isinstance(text, str) and isinstance(count, int):
            machine.take_text(len(text) * max(0, count), span)
            return text * count
    if sign == "%" and texts[0] and machine.rules.name == "python":
        return _filled(str(left), right, machine, span)
    if isinstance(left, int | float) and isinstance(right, int | float):
        return _of_numbers(sign, left, right, machine, span)
    if machine.rules.counts_nothing and sign in ("-", "*", "/", "%"):
        return _of_numbers(sign, _as_number(left), _as_number(right), machine, span)
    raise _mismatch(sign, left, right, span)


def _as_number(value: object) -> float:
    """A value as JavaScript counts with it."""
    try:
        return float(str(value)) if isinstance(value, str) else float(value)  # type: ignore[arg-type]
    except (TypeError, ValueError):
        return math.nan


def _filled(pattern: str, values: object, machine: Machine, span: Span) -> str:
    """Return ``pattern % values`` for the signs in common use."""
    given = values if isinstance(values, tuple) else (values,)
    plain = tuple(each if isinstance(each, str | int | float) else text_of(each, machine) for each in given)
    if any(len(word) > 3 for word in pattern.split("%")[1:] if word[:1].isdigit()) or "*" in pattern:
        return pattern
    try:
        return machine.text(pattern % plain, span)
    except (TypeError, ValueError, OverflowError):
        raise TraceFault("the text and the values after `%` do not fit.", span) from None


def _with_lists(sign: str, left: object, right: object, machine: Machine, span: Span) -> object:
    if isinstance(left, list | tuple) and isinstance(right, list | tuple) and type(left) is type(right):
        if sign == "+" and not machine.rules.lists_are_true:
            machine.take(len(left) + len(right), span)
            return left + right  # type: ignore[operator]
    elif sign == "*" and machine.rules.name == "python":
        items, count = (left, right) if isinstance(left, list | tuple) else (right, left)
        if isinstance(items, list | tuple) and isinstance(count, int):
            machine.take(len(items) * max(0, count), span)
            return items * count
    elif isinstance(left, list) and isinstance(right, int) and machine.rules.has_pointers and sign == "+":
        return Pointer(left, right)
    raise _mismatch(sign, left, right, span)


def _of_numbers(sign: str, left: float, right: float, machine: Machine, span: Span) -> object:
    whole = isinstance(left, int) and isinstance(right, int)
    try:
        match sign:
            case "+":
                result: float = left + right
            case "-":
                result = left - right
            case "*":
                result = left * right
            case "/" if whole and machine.rules.divides_whole:
                result = _truncated(int(left), int(right))
            case "/":
                result = _divided(left, right, machine)
            case "//":
                result = left // right
            case "%":
                result = _remainder(left, right, machine)
            case "**":
                result = _power(left, right, machine, span)
            case "<<" | ">>" | ">>>" | "&" | "|" | "^":
                return _bits(sign, int(left), int(right), machine, span)
            case _:
                raise TraceFault(f"`{sign}` is not understood.", span)
    except ZeroDivisionError:
        raise TraceFault("a number is divided by zero.", span) from None
    except (OverflowError, ValueError):
        raise TraceFault("this number is too large.", span) from None
    return _bounded(result, machine, span)


def _bounded(number: float, machine: Machine, span: Span) -> object:
    if isinstance(number, int):
        if number.bit_length() > _MOST_BITS:
            raise machine.too_much("this number is too large to go on.", span)
        if number.bit_length() > 256:
            machine.take(1, span)
        return int(number)
    if machine.rules.counts_nothing and isinstance(number, float) and number.is_integer() and abs(number) < 1e15:
        return int(number)
    return number


def _truncated(left: int, right: int) -> int:
    """Return a quotient of whole numbers, rounded towards zero."""
    quotient = abs(left) // abs(right)
    return quotient if (left < 0) == (right < 0) else -quotient


def _divided(left: float, right: float, machine: Machine) -> float:
    if right == 0 and machine.rules.name != "python":
        return math.nan if left == 0 else math.copysign(math.inf, left)
    return left / right


def _remainder(left: float, right: float, machine: Machine) -> float:
    if machine.rules.name == "python":
        return left % right
    if isinstance(left, int) and isinstance(right, int):
        return left - right * _truncated(left, right)
    return math.fmod(left, right) if right else math.nan


def _power(left: float, right: float, machine: Machine, span: Span) -> float:
    if isinstance(left, int) and isinstance(right, int) and right > 0 and left.bit_length() * right > _MOST_BITS:
        raise machine.too_much("this number is too large to go on.", span)
    result = left**right
    return result if isinstance(result, int | float) else math.nan


def _bits(sign: str, left: int, right: int, machine: Machine, span: Span) -> int:
    if sign == "<<" and left.bit_length() + right > _MOST_BITS:
        raise machine.too_much("this number is too large to go on.", span)
    known: dict[str, Callable[[int, int], int]] = {
        "<<": operator.lshift,
        ">>": operator.rshift,
        ">>>": operator.rshift,
        "&": operator.and_,
        "|": operator.or_,
        "^": operator.xor,
    }
    return known[sign](left, right)


def negated(value: object, machine: Machine, span: Span) -> object:
    """Return a number with the other sign."""
    if isinstance(value, Outside):
        return value
    if isinstance(value, int | float):
        return -value
    if machine.rules.counts_nothing:
        return math.nan
    raise TraceFault(f"{kind_of(value)} has no negative.", span)


def compared(sign: str, left: object, right: object, machine: Machine, span: Span) -> object:
    """Return whether a comparison holds; something unknown where a side is unknown."""
    if isinstance(left, Outside) or isinstance(right, Outside):
        if sign in ("==", "===", "!=", "!==", "is", "is not") and None in (left, right):
            return sign in ("!=", "!==", "is not")
        return left if isinstance(left, Outside) else right
    match sign:
        case "==" | "===" | "is":
            return _equal(left, right)
        case "!=" | "!==" | "is not":
            return not _equal(left, right)
        case "in" | "not in":
            return _contains(right, left, machine, span) is (sign == "in")
    if machine.rules.has_pointers:
        left = _place_in(left)
        right = _place_in(right)
    if machine.rules.counts_nothing and not (isinstance(left, str) and isinstance(right, str)):
        left = _as_number(left)
        right = _as_number(right)
    try:
        return bool(COMPARING[sign](left, right))
    except (TypeError, KeyError, RecursionError):
        raise TraceFault(f"{kind_of(left)} and {kind_of(right)} cannot be compared by `{sign}`.", span) from None


def _place_in(value: object) -> object:
    """A pointer as the place in its list; a list is a pointer to its first item."""
    if isinstance(value, list):
        return 0
    return value.place if isinstance(value, Pointer) else value


def _equal(left: object, right: object) -> bool:
    if isinstance(left, Pointer) and isinstance(right, Pointer | list):
        return _place_in(left) == _place_in(right)
    if isinstance(left, Char) and isinstance(right, str):
        return str(left) == right
    if isinstance(right, Char) and isinstance(left, str):
        return str(right) == left
    try:
        return bool(left == right)
    except RecursionError:
        return False


def _contains(owner: object, item: object, machine: Machine, span: Span) -> bool:
    if isinstance(owner, str):
        return isinstance(item, str) and item in owner
    if isinstance(owner, list | tuple | dict | range):
        machine.spend(len(owner), span)
        try:
            if isinstance(owner, dict) and isinstance(item, tuple | list):
                return any(item == key for key in owner)
            return item in owner
        except (TypeError, RecursionError):
            return False
    raise TraceFault(f"`in` looks into a list or a text, not into {kind_of(owner)}.", span)
