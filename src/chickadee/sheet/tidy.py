"""Tidying: a sheet laid out evenly, with nothing that sounds changed."""

from __future__ import annotations

from .changes import CHANGE_WORDS
from .grammar import LineKind, Token, comment_start, kind_of, property_at, tokens
from .length import Unit, read_length
from .properties import PROPERTIES
from .word import read_word, third_of

__all__ = ["tidy"]


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
        properties = (property_at(line, 0, len(line)) for line in self.lines)
        self.counts_ticks = any(each is not None and each.name == "ticks" for each in properties)
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
            return
        kind = kind_of(line, 0, len(line))
        if kind is LineKind.HEADER:
            self._flush()
            if self.done and self.done[-1] and not self.done[-1].lstrip().startswith("//"):
                self.done.append("")
            place, rest = line.split(maxsplit=1) if " " in line else (line, "")
            self.done.append(f"{place.lower()} {rest}".rstrip())
            self.indent = "  "
        elif kind is LineKind.PROPERTY:
            self._property(line)
        elif kind is LineKind.COMMENT:
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
        written = comment_start(line, 0, len(line))
        bars = []
        signs = ""
        found = list(tokens(line, 0, written))
        if any(token[0].startswith("//") for token in found):  # which a space before it would make a comment
            self.music.append(([line[:written].rstrip()], line[written:]))
            return
        for place, token in enumerate(found):
            if token.lastgroup == "bar":
                bars.append(signs)
                signs = ""
            else:
                before, after = (found[each][0] if 0 <= each < len(found) else "" for each in (place - 1, place + 1))
                word = self._written(token, before, after)
                joined = not signs or signs[-1] == "(" or token.lastgroup == "close"
                signs += word if joined else f" {word}"
        even = " | ".join([*bars, signs])
        if kind_of(even, 0, len(even)) is not kind_of(line, 0, len(line)):  # a space would make a header of it
            self.music.append(([line[:written].rstrip()], line[written:]))
            return
        self.music.append(([*bars, signs], line[written:]))

    def _written(self, token: Token, before: str, after: str) -> str:
        """A token between two others, its length in beats written in the simplest way that reads the same."""
        text = " ".join(token[0].split())
        if token.lastgroup == "close":
            length = read_length(text[2:])
            at = 1
        elif token.lastgroup == "word":
            word = read_word(text)
            length = word.length
            at = word.length_start
        else:
            return text
        if length is None or length.unit is not Unit.BEAT or not length.count or third_of(text[at + 1 :]):
            return text
        if length.count == 1 and not self.counts_ticks and at and token.lastgroup == "word":
            return text[:at] if _stands_alone(text[:at], before, after) else text
        return f"{text[:at]}={length.count}"

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


def _stands_alone(sign: str, before: str, after: str) -> bool:
    """Return whether a sign that loses its length still reads the same between two others.

    A letter without an octave would take a number after it as one, a step or a number would go with a change.
    """
    if (before.lower() in CHANGE_WORDS or before.startswith("^")) and (sign[0] == "^" or sign.isdigit()):
        return False
    return sign[-1].isdigit() or not after[:1].isdigit()
