"""Lists, tuples and records in the text of programs, whatever the language: brackets, commas, names and values."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from .scanning import CLOSE, COLON, NUMBER, OPEN, OTHER, TEXT, WORD, Token, tokens

__all__ = ["Named", "Value", "assignments"]

_MOST_DEPTH = 20
_MOST_VALUES = 200_000
_SIGNS = {"=", ":"}
_MOST_INSIDE = 3  # signs in the brackets after a name, as in C's `int notes[8] = {`


@dataclass(slots=True)
class Value:
    """A value: a text, a number as it is written, or several inside brackets, perhaps with names."""

    text: str = ""
    is_text: bool = False
    """Whether it stood in quotation marks."""
    items: list[Value] | None = None
    names: dict[str, Value] = field(default_factory=dict)
    """Those of the items that have names, as in a record."""


@dataclass(frozen=True, slots=True)
class Named:
    """A list where it is given a name, as in ``notes = [...]``; an empty name for none."""

    name: str
    value: Value


def assignments(text: str) -> list[Named]:
    """The outermost lists, tuples and records of a program's text without comments, with their names."""
    signs = list(tokens(text))
    found: list[Named] = []
    at = 0
    while at < len(signs):
        if signs[at].kind != OPEN:
            at += 1
            continue
        value, end = _value(signs, at)
        if value is None or not value.items:
            at += 1
            continue
        name, is_given = _name_before(signs, at)
        is_call = not is_given and signs[at].text == "("
        found.append(Named(f"{name}()" if is_call else name, value))
        at = end
    return found


def _name_before(signs: Sequence[Token], at: int) -> tuple[str, bool]:
    """The name before a bracket, and whether a sign gives it that."""
    before = at - 1
    is_given = before >= 0 and (signs[before].kind == COLON or signs[before].text in _SIGNS)
    if is_given:
        before -= 1
        if before >= 0 and signs[before].text == "+" and signs[before].end == signs[before + 1].start:  # +=
            before -= 1
    if before >= 0 and signs[before].text == "]":
        opened = next(
            (each for each in range(before, max(-1, before - _MOST_INSIDE), -1) if signs[each].text == "["), 0
        )
        before = opened - 1 if opened else before
    named = before >= 0 and signs[before].kind in (WORD, TEXT)
    return (signs[before].text if named else ""), is_given


def _value(signs: Sequence[Token], at: int) -> tuple[Value | None, int]:
    """The bracket that begins at a sign, and the sign after it; None where it never ends, or holds code."""
    stack: list[Value] = []
    pending: str | None = None  # the name that the next value has
    names: list[str | None] = []  # those of the brackets that are open
    before = ""
    for place in range(at, min(len(signs), at + _MOST_VALUES)):
        kind, written = signs[place].kind, signs[place].text
        is_call = before == WORD and written == "("
        if len(stack) > _MOST_DEPTH or kind == OTHER or is_call:
            return None, place
        before = kind
        if kind == OPEN:
            stack.append(Value(items=[]))
            names.append(pending)
            pending = None
        elif kind == COLON and stack[-1].items:
            pending = stack[-1].items.pop().text
        elif kind in (CLOSE, TEXT, NUMBER, WORD):
            if kind == CLOSE:
                value, pending = stack.pop(), names.pop()
                if not stack:
                    return value, place + 1
            else:
                value = Value(written, kind == TEXT)
            _put(stack[-1], value, pending)
            pending = None
    return None, len(signs)


def _put(into: Value, value: Value, name: str | None) -> None:
    assert into.items is not None
    into.items.append(value)
    if name is not None:
        into.names[name] = value
