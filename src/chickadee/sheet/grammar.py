"""The grammar of a sheet's text: headers, properties, comments, and the tokens of a line of music.

Nothing else looks for these in the text. What they mean is read from them once, by :mod:`chickadee.sheet.parse`.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from enum import Enum
from typing import NamedTuple

from .near import written_together
from .word import Kind, read_word

__all__ = ["Header", "LineKind", "PropertyLine", "Token", "comment_start", "header_at", "headers", "kind_of",
           "property_at", "syllable_spans", "tokens"]  # fmt: skip

Token = re.Match[str]
"""One token of music; its ``lastgroup`` is ``word``, ``bar``, ``repeat``, ``open``, ``close``, ``direction``,
``comment`` or ``stray``."""

_COMMENT = re.compile(r"(?:^|(?<=\s))//")
_HEADER = re.compile(r"[^\S\n]*((?a:voice|phrase))(?!\S)(?![^\S\n]*:)[^\S\n]*([^\n]*)", re.IGNORECASE)
_HEADERS = {
    place: re.compile(rf"(?im)^[^\S\n]*(?a:{place})(?!\S)(?![^\S\n]*:)[^\S\n]*([^\n]*)")
    for place in ("phrase", "voice")
}
_PROPERTY = re.compile(r"[^\S\n]*([^\W\d_]{2,}(?:[^\S\n]+[^\W\d_]+)*)[^\S\n]*:(?!:)[^\S\n]*([^\n]*)")
_SYLLABLE = re.compile(r"[^\s-]+-?")
_TOKEN = re.compile(
    r"(?P<comment>(?<!\S)//[^\n]*)"
    r"|(?P<repeat>:\|+:?|\|+:)"
    r"|(?P<word>(?:[^\s|\[\](){}:]|:(?!\|)|\{(?:[^}\n]{0,60}\}|[^\s|\[\](){}]*))+)"
    r"|(?P<bar>\|+)"
    r"|(?P<open>\()"
    r"|(?P<close>\)(?:=[^\s|\[\](){}]*)?)"
    r"|(?P<direction>\[(?:[^\]\n\[]*\]|[^\]\n\[|()]*))"
    r"|(?P<stray>\S)"
)


class LineKind(Enum):
    """The kind of a line."""

    BLANK = "blank"
    COMMENT = "comment"
    HEADER = "header"
    PROPERTY = "property"
    MUSIC = "music"


class Header(NamedTuple):
    """``voice Whistle``: offsets count in the whole text."""

    place: str
    """``voice`` or ``phrase``."""
    name: str
    """Empty where there is none."""
    start: int
    """Of the name, or of the word before it where there is no name."""
    end: int


class PropertyLine(NamedTuple):
    """``key: G major``: offsets count in the whole text."""

    name: str
    """In lower case, with single spaces."""
    start: int
    end: int
    value: str
    """Without spaces around it and without a comment."""
    value_start: int
    value_end: int


def comment_start(text: str, start: int, end: int) -> int:
    """Where the comment of a line begins; its end where it has none."""
    found = _COMMENT.search(text, start, end)
    return found.start() if found else end


def header_at(text: str, start: int, end: int) -> Header | None:
    """The header that a line is, if it is one."""
    found = _HEADER.match(text, start, end)
    if found is None:
        return None
    name = _without_comment(found, 2)
    first, last = (found.start(2), found.start(2) + len(name)) if name else found.span(1)
    return Header(found[1].lower(), name, first, last)


def property_at(text: str, start: int, end: int) -> PropertyLine | None:
    """The property that a line sets, if it sets one. (``Bb: 2`` and ``cc: 2`` are notes.)"""
    found = _PROPERTY.match(text, start, end)
    if found is None or not read_word(found[1]).findings:
        return None
    value = _without_comment(found, 2)
    if value[:1].isdigit() and all(map(_is_music, found[1].split())):
        return None
    return PropertyLine(
        " ".join(found[1].lower().split()), *found.span(1), value, found.start(2), found.start(2) + len(value)
    )


def _is_music(word: str) -> bool:
    return read_word(word).kind is not Kind.SILENT or bool(written_together(word))


def kind_of(text: str, start: int, end: int) -> LineKind:
    """The kind of a line."""
    line = text[start:end].lstrip()
    if not line:
        return LineKind.BLANK
    if line.startswith("//"):
        return LineKind.COMMENT
    if _HEADER.match(text, start, end):
        return LineKind.HEADER
    return LineKind.PROPERTY if property_at(text, start, end) else LineKind.MUSIC


def headers(text: str, place: str) -> Iterator[str]:
    """The names after every ``phrase``, or every ``voice``, that begins a line."""
    return (_without_comment(found, 1) for found in _HEADERS[place].finditer(text))


def tokens(text: str, start: int, end: int) -> Iterator[Token]:
    """The tokens of a line of music."""
    return _TOKEN.finditer(text, start, end)


def syllable_spans(text: str, start: int, end: int) -> list[tuple[int, int]]:
    """Where the syllables of a ``words:`` value stand."""
    return [found.span() for found in _SYLLABLE.finditer(text, start, end)]


def _without_comment(found: re.Match[str], group: int) -> str:
    start, end = found.span(group)
    return found.string[start : comment_start(found.string, start, end)].strip()
