"""Offsets in a text, from the places that parsers give."""

from __future__ import annotations

import re
from bisect import bisect_right

from .tree import Span

__all__ = ["LineIndex", "Offsets"]


class LineIndex:
    """Tells the line and column of an offset.

    >>> LineIndex("play\\nrest").place(6)
    (2, 2)
    """

    def __init__(self, text: str) -> None:
        self._starts = [0, *(found.end() for found in re.finditer("\n", text))]

    def of(self, offset: int) -> int:
        """Return the line of an offset, from 1."""
        return bisect_right(self._starts, offset)

    def place(self, offset: int) -> tuple[int, int]:
        """Return the line and column of an offset, both from 1."""
        line = self.of(offset)
        return line, offset - self._starts[line - 1] + 1


class Offsets:
    """Turns lines with columns in bytes, and bytes alone, into offsets in characters."""

    def __init__(self, text: str) -> None:
        self._text = text
        self._is_ascii = text.isascii()
        self._line_starts = [0]
        place = text.find("\n")
        while place >= 0:
            self._line_starts.append(place + 1)
            place = text.find("\n", place + 1)
        self._bytes: list[int] = []
        if not self._is_ascii:
            at = 0
            for sign in text:
                self._bytes.append(at)
                at += len(sign.encode("utf-8", "surrogatepass"))
            self._bytes.append(at)

    def of_byte(self, byte: int) -> int:
        """Return the offset of a byte of the text in UTF-8."""
        return byte if self._is_ascii else max(0, bisect_right(self._bytes, byte) - 1)

    def of_line(self, line: int, column: int = 0) -> int:
        """Return the offset of a line, from 1, and a column in bytes, from 0."""
        start = self._line_starts[min(line, len(self._line_starts)) - 1]
        if self._is_ascii:
            return min(start + column, len(self._text))
        return self.of_byte(self._bytes[start] + column)

    def span_of_line(self, line: int) -> Span:
        """Return where a line stands, from 1."""
        start = self.of_line(line)
        end = self._text.find("\n", start)
        return start, end if end >= 0 else len(self._text)
