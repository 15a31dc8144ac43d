"""Tidying: a sheet laid out evenly, with nothing that sounds changed."""

from __future__ import annotations

import re
from fractions import Fraction

from .length import Unit, read_length
from .music import COMMENT, TOKEN
from .parse import is_property_line, read_header
from .properties import PROPERTIES

__all__ = ["tidy"]

_TICKS = re.compile(r"(?im)^[^\S\n]*ticks[^\S\n]*:")
_LENGTH = re.compile(r"=([^\s&=]+)$")


def tidy(text: str) -> str:
    """The sheet with one space between signs, bars in columns, beats in their simplest form and blocks set apart.

    >>> tidy("C4=0.5 D4=1.5|E4=2\\n F4   G4=1/1 |A4=2")
    'C4=1/2 D4=3/2 | E4=2\\nF4 G4         | A4=2\\n'

    Comments stay where they are. Tidying a tidy sheet changes nothing.
    """
    return _Tidier(text).tidied()


class _Tidier:
    def __init__(self, text: str) -> None:
        self.lines = text.split("\n")
        self.counts_ticks = _TICKS.search(text) is not None
        self.done: list[str] = []
        self.music: list[tuple[list[str], str]] = []  # (bars, comment) of the lines of music that stand together
        self.indent = ""

    def tidied(self) -> str:
        for line in self.lines:
            self._line(line.strip(), line[:1].isspace())
        self._flush()
        while self.done and not self.done[-1]:
            self.done.pop()
        return "\n".join(self.done) + "\n" if self.done else ""

    def _line(self, line: str, indented: bool) -> None:
        if not line:
            self._flush()
            if self.done and self.done[-1]:
                self.done.append("")
        elif (header := read_header(line)) is not None:
            self._flush()
            if self.done and self.done[-1] and not self.done[-1].lstrip().startswith("//"):
                self.done.append("")
            self.done.append(" ".join(header))
            self.indent = "  "
        elif is_property_line(line):
            self._property(line)
        elif line.startswith("//"):
            self._flush()
            self.done.append((self.indent if indented else "") + line)
        else:
            self._music(line)

    def _property(self, line: str) -> None:
        self._flush()
        name, _, value = line.partition(":")
        known = " ".join(name.lower().split())
        self.done.append(
            f"{self.indent}{known if known in PROPERTIES or known == 'words' else name}: {value.strip()}".rstrip()
        )

    def _music(self, line: str) -> None:
        comment = COMMENT.search(line)
        bars, signs = [], ""
        for token in TOKEN.finditer(line[: comment.start()] if comment else line):
            if token.lastgroup == "bar":
                bars.append(signs)
                signs = ""
            else:
                word = " ".join(token[0].split())
                word = self._word(word) if token.lastgroup in ("word", "close") else word
                joined = not signs or signs[-1] == "(" or token.lastgroup == "close"
                signs += word if joined else f" {word}"
        self.music.append(([*bars, signs], comment[0] if comment else ""))

    def _word(self, word: str) -> str:
        """A word with its length in beats written in the simplest way."""
        found = _LENGTH.search(word)
        length = read_length(found[1]) if found else None
        if found is None or length is None or length.unit is not Unit.BEAT or not length.count:
            return word
        if length.count == Fraction(1) and not self.counts_ticks and word[0] != ")":
            return word[: found.start()] or word
        return f"{word[: found.start()]}={length.count}"

    def _flush(self) -> None:
        """Write the lines of music gathered so far, their bars in columns."""
        widths: list[int] = []
        for bars, _ in self.music:
            widths += [0] * (len(bars) - 1 - len(widths))
            widths[: len(bars) - 1] = map(max, widths, map(len, bars[:-1]))
        for bars, comment in self.music:
            closed = "".join(f"{bar:<{widths[place]}} | " for place, bar in enumerate(bars[:-1]))
            if bars[-1].startswith(")"):
                closed = closed.rstrip()
            self.done.append(f"{self.indent}{closed}{bars[-1]}  {comment}".rstrip())
        self.music = []
