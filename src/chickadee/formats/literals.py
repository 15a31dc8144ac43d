"""Lists, tuples and records in the text of programs, whatever the language: brackets, commas, names and values."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

__all__ = ["Named", "Value", "assignments", "without_comments"]

_TOKEN = re.compile(
    r"\s*(?:(?P<text>\"(?:[^\"\\\n]|\\.)*\"|'(?:[^'\\\n]|\\.)*')"
    r"|(?P<number>[-+]?(?:[0-9]+/[0-9]+|[0-9]*\.[0-9]+|[0-9]+\.?)(?:[eE][-+]?[0-9]{1,3})?[fFLl]?)(?![\w#♯♭])"
    r"|(?P<word>[A-Za-z_][\w#♯♭.]*-?[0-9]*)"
    r"|(?P<open>[\[({])|(?P<close>[\])}])|(?P<colon>:|=>)|(?P<comma>[,;])|(?P<other>\S))"
)
_STARTS = re.compile(r"(?P<name>[A-Za-z_][\w.]*)?(?:\s*\[[^\]\n]{0,20}\])?\s*(?P<sign>=|:|\+=)?\s*(?=[\[({])")
_QUOTED = r"(\"(?:[^\"\\\n]|\\.)*\"|'(?:[^'\\\n]|\\.)*')"
_COMMENTS = re.compile(_QUOTED + r"|/\*.*?\*/|//[^\n]*|(?<![A-Ga-g0-9])#[^\n]*", re.DOTALL)
_MOST_DEPTH, _MOST_VALUES = 20, 200_000


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


def without_comments(text: str) -> str:
    """A program's text with spaces for its comments; ``#`` after a letter is a sharp and begins none."""
    return _COMMENTS.sub(lambda found: found[1] or re.sub(r"[^\n]", " ", found[0]), text)


def assignments(text: str) -> list[Named]:
    """The outermost lists, tuples and records of a program's text, with their names."""
    found: list[Named] = []
    at = 0
    for start in _STARTS.finditer(text):
        if start.end() < at:
            continue
        name = start["name"] or ""
        value, end = _value(text, start.end())
        if value is None or not value.items:
            continue
        at = end
        found.append(Named(name if start["sign"] or text[start.end()] != "(" else f"{name}()", value))
    return found


def _value(text: str, at: int) -> tuple[Value | None, int]:
    """The bracket that begins at an offset, and where it ends; None where it never does, or holds code."""
    stack: list[Value] = []
    pending: str | None = None  # the name that the next value has
    names: list[str | None] = []  # those of the brackets that are open
    before: str | None = None
    for count, token in enumerate(_tokens(text, at)):
        kind, written = token.lastgroup, token[token.lastgroup or 0]
        is_call = before == "word" and written == "("
        if count > _MOST_VALUES or len(stack) > _MOST_DEPTH or kind == "other" or is_call:
            return None, token.end()
        before = kind
        if kind == "open":
            stack.append(Value(items=[]))
            names.append(pending)
            pending = None
        elif kind == "colon" and stack[-1].items:
            pending = stack[-1].items.pop().text
        elif kind in ("close", "text", "number", "word"):
            if kind == "close":
                value, pending = stack.pop(), names.pop()
                if not stack:
                    return value, token.end()
            else:
                value = Value(written[1:-1] if kind == "text" else written, kind == "text")
            _put(stack[-1], value, pending)
            pending = None
    return None, len(text)


def _tokens(text: str, at: int) -> Iterator[re.Match[str]]:
    while (token := _TOKEN.match(text, at)) is not None:
        yield token
        at = token.end()


def _put(into: Value, value: Value, name: str | None) -> None:
    assert into.items is not None
    into.items.append(value)
    if name is not None:
        into.names[name] = value
