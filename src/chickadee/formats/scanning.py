"""Signs of a program's text, whatever its language: strings, numbers, words, brackets; comments are left out.

Each character is looked at a bounded number of times, whatever the text holds: quotes that never end and digits
without end are what would make a plain pattern slow.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

__all__ = [
    "CLOSE",
    "COLON",
    "COMMA",
    "NUMBER",
    "OPEN",
    "OTHER",
    "TEXT",
    "WORD",
    "Token",
    "tokens",
    "without_comments",
]

TEXT = "text"
NUMBER = "number"
WORD = "word"
OPEN = "open"
CLOSE = "close"
COLON = "colon"
COMMA = "comma"
OTHER = "other"

_TOKEN = re.compile(
    r"(?P<number>[-+]?(?:[0-9]{1,40}/[0-9]{1,40}|[0-9]{0,40}\.[0-9]{1,40}|[0-9]{1,40}\.?)"
    r"(?:[eE][-+]?[0-9]{1,3})?[fFLl]?)(?![\w#♯♭])"
    r"|(?P<word>[^\W\d][\w#♯♭.]*)"
    r"|(?P<open>[\[({])|(?P<close>[\])}])|(?P<colon>:|=>)|(?P<comma>[,;])|(?P<other>\S)"
)
_STRING = {quote: re.compile(rf"{quote}((?:[^{quote}\\\n]|\\.)*){quote}") for quote in "\"'"}
_BLANK = re.compile(r"\s*")
_MARK = re.compile(r"[\"'#]|/[/*]")
_SHARPENED = frozenset("ABCDEFGabcdefg0123456789")
_VISIBLE = re.compile(r"[^\n]")


class Token(NamedTuple):
    """A sign of a program, and where it stands in the text."""

    kind: str
    text: str
    """As it is written; of a string what stands between its quotes."""
    start: int
    end: int


class _Strings:
    """Finds the strings of a text. A quote that never ends makes the rest of its line plain signs."""

    def __init__(self, text: str) -> None:
        self._text = text
        self._without: dict[str, int] = {}  # for each quote, up to where it begins no string

    def at(self, place: int) -> re.Match[str] | None:
        """The string that begins at an offset, if any does."""
        quote = self._text[place]
        if place < self._without.get(quote, 0):
            return None
        found = _STRING[quote].match(self._text, place)
        if found is None:
            end = self._text.find("\n", place)
            self._without[quote] = end if end >= 0 else len(self._text)
        return found


def tokens(text: str) -> Iterator[Token]:
    """Return the signs of a text without comments, in order.

    >>> [(each.kind, each.text) for each in tokens("notes = ['C4', 1/2]")][:4]
    [('word', 'notes'), ('other', '='), ('open', '['), ('text', 'C4')]
    """
    strings = _Strings(text)
    at = _BLANK.match(text, 0).end()  # type: ignore[union-attr]
    while at < len(text):
        string = strings.at(at) if text[at] in _STRING else None
        if string is not None:
            yield Token(TEXT, string[1], at, string.end())
            at = string.end()
        else:
            found = _TOKEN.match(text, at)
            assert found is not None and found.lastgroup is not None
            yield Token(found.lastgroup, found[0], at, found.end())
            at = found.end()
        at = _BLANK.match(text, at).end()  # type: ignore[union-attr]


def without_comments(text: str) -> str:
    """Return a program's text with spaces for its comments; ``#`` after a letter or digit is a sharp.

    >>> without_comments("a = [60] // one")
    'a = [60]       '
    """
    strings = _Strings(text)
    parts: list[str] = []
    copied = at = 0
    while (mark := _MARK.search(text, at)) is not None:
        start, at = mark.span()
        if mark[0] in _STRING:
            string = strings.at(start)
            at = string.end() if string is not None else at
            continue
        if mark[0] == "#" and start and text[start - 1] in _SHARPENED:
            continue
        end = text.find("*/", at) + 2 if mark[0] == "/*" else text.find("\n", at)
        if mark[0] == "/*" and end < 2:  # it never ends, and neither does any after it
            break
        at = end if end >= 0 else len(text)
        parts += (text[copied:start], _VISIBLE.sub(" ", text[start:at]))
        copied = at
    return "".join((*parts, text[copied:]))
