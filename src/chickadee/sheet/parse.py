"""Text to tree: lines into blocks, and music into words, bar lines and directions. Recovers from every fault."""

from __future__ import annotations

import re
from dataclasses import replace
from difflib import get_close_matches

from ..song.sounds import SOUNDS
from . import rules
from .direction import LOUDNESS, read_direction
from .finding import Finding, Fix, TextEdit
from .properties import PROPERTIES, Settings, UnknownSound
from .tree import BarLine, Block, Direction, Item, Node, Property, Sheet
from .word import read_word, shown

__all__ = ["FIRST_VOICE", "parse"]

FIRST_VOICE = "Melody"
"""The name of the voice that notes before any block belong to."""

_HEADER = re.compile(r"[^\S\n]*(voice)\b(?![^\S\n]*:)[^\S\n]*([^\n]*)", re.IGNORECASE)
_PROPERTY = re.compile(r"[^\S\n]*([^\W\d_]{2,}(?:[ ][^\W\d_]+)*)[^\S\n]*:(?!:)[^\S\n]*([^\n]*)")
_COMMENT = re.compile(r"(?:^|(?<=\s))//[^\n]*")
_TOKEN = re.compile(
    r"(?P<comment>(?<!\S)//[^\n]*)|(?P<word>[^\s|\[\](){}]+)|(?P<bar>\|+)|(?P<direction>\[[^\]\n\[]*\]?)|(?P<stray>\S)"
)


def parse(text: str) -> tuple[Sheet, list[Finding]]:
    """The tree of a sheet and what was found on the way."""
    return _Parser(text).parse()


class _OpenBlock:
    """A block while its lines are read."""

    def __init__(self, place: str, name: str, start: int, end: int) -> None:
        self.place, self.name, self.start, self.end = place, name, start, end
        self.settings = Settings()
        self.properties: list[Property] = []
        self.body: list[Node] = []

    def closed(self) -> Block:
        return Block(self.name, self.start, self.end, self.settings, tuple(self.properties), tuple(self.body))


class _Parser:
    def __init__(self, text: str) -> None:
        self.text = text
        self.findings: list[Finding] = []
        self.song = _OpenBlock("song", FIRST_VOICE, 0, 0)
        self.block = self.song
        self.voices: list[_OpenBlock] = []
        self.names: set[str] = set()

    def parse(self) -> tuple[Sheet, list[Finding]]:
        at = 0
        while at <= len(self.text):
            end = self.text.find("\n", at)
            end = len(self.text) if end < 0 else end
            self._line(at, end)
            at = end + 1
        voices = [voice.closed() for voice in self.voices]
        if self.song.body:
            first = self.song.body[0]
            voices.insert(0, Block(FIRST_VOICE, first.start, first.end, Settings(), (), tuple(self.song.body)))
        return Sheet(self.song.settings, tuple(self.song.properties), tuple(voices)), self.findings

    def _line(self, start: int, end: int) -> None:
        if header := _HEADER.match(self.text, start, end):
            self._voice(header)
        elif (found := _PROPERTY.match(self.text, start, end)) and not _is_sign(found[1]):
            self._property(found)
        else:
            self._music(start, end)

    def _voice(self, header: re.Match[str]) -> None:
        name = _COMMENT.sub("", header[2]).strip()
        start = header.start(2) if name else header.start(1)
        end = header.start(2) + len(name) if name else header.end(1)
        if not name:
            self.findings.append(
                rules.BLOCK_NAME.at(
                    start,
                    end,
                    "This voice needs a name after the word voice.",
                    Fix("Call it Melody", (TextEdit(end, end, " Melody"),)),
                )
            )
        elif name.lower() in self.names or (name == FIRST_VOICE and self.song.body):
            other = self._free_name(name)
            self.findings.append(
                rules.BLOCK_NAME.at(
                    start,
                    end,
                    f"There is already a voice called {shown(name)}; each needs a name of its own.",
                    Fix(f"Call it {shown(other)}", (TextEdit(start, end, other),)),
                )
            )
            name = other
        name = name or self._free_name("Voice")
        self.names.add(name.lower())
        self.block = _OpenBlock("voice", name, start, end)
        self.voices.append(self.block)

    def _free_name(self, name: str) -> str:
        count = 2
        while f"{name} {count}".lower() in self.names:
            count += 1
        return f"{name} {count}"

    def _property(self, found: re.Match[str]) -> None:
        name = " ".join(found[1].lower().split())
        value = _COMMENT.sub("", found[2]).strip()
        line = Property(name, found.start(1), found.end(1), value, found.start(2), found.start(2) + len(value))
        kind = PROPERTIES.get(name)
        block = self.block
        if kind is None or block.place not in kind.places:
            self._misplaced(line)
            return
        if any(other.name == name for other in block.properties):
            self.findings.append(
                rules.PROPERTY_TWICE.at(
                    line.start,
                    line.end,
                    f"{name.capitalize()} is set twice here; the later one counts.",
                    Fix("Take this one out", (TextEdit(line.start, line.value_end, ""),)),
                )
            )
        block.properties.append(line)
        try:
            block.settings = replace(block.settings, **{name: kind.read(value)})  # type: ignore[arg-type]
        except UnknownSound as fault:
            fixes = [
                Fix(f"Use {near}", (TextEdit(line.value_start, line.value_end, near),))
                for near in get_close_matches(value.lower(), SOUNDS, 2, 0.3)
            ]
            self.findings.append(rules.SOUND.at(line.value_start, line.value_end, str(fault), *fixes))
        except ValueError as fault:
            start, end = (line.value_start, line.value_end) if value else (line.start, line.end)
            example = Fix(
                f"Use {kind.example}", (TextEdit(line.value_start, line.value_end, _spaced(found, kind.example)),)
            )
            self.findings.append(rules.VALUE.at(start, end, str(fault), example))

    def _misplaced(self, line: Property) -> None:
        block = self.block
        here = f"the voice {block.name}" if block.place == "voice" else "the song"
        kind = PROPERTIES.get(line.name)
        comment = Fix("Make it a comment", (TextEdit(line.start, line.start, "// "),))
        if kind is not None:
            where = "before the first voice" if kind.places == ("song",) else "under a voice"
            self.findings.append(
                rules.PROPERTY.at(
                    line.start,
                    line.end,
                    f"{line.name.capitalize()} is not a property of {here}; it stands {where}.",
                    comment,
                )
            )
            return
        known = [name for name, kind in PROPERTIES.items() if block.place in kind.places]
        fixes = [
            Fix(f"Use {near}", (TextEdit(line.start, line.end, near),))
            for near in get_close_matches(line.name, known, 2)
        ]
        self.findings.append(
            rules.PROPERTY.at(
                line.start,
                line.end,
                f"“{shown(line.name)}” is not a property of {here}; it can have {', '.join(known)}.",
                *fixes,
                comment,
            )
        )

    def _music(self, start: int, end: int) -> None:
        add = self.block.body.append
        for found in _TOKEN.finditer(self.text, start, end):
            kind = found.lastgroup
            at, to = found.span()
            if kind == "word":
                word = read_word(found[0])
                add(Item(at, to, word))
                if word.findings:
                    self.findings += [finding.moved(at) for finding in word.findings]
            elif kind == "bar":
                add(BarLine(at, to))
            elif kind == "direction":
                self._direction(at, to, found[0])
            elif kind == "stray":
                self.findings.append(
                    rules.NOT_UNDERSTOOD.at(
                        at,
                        to,
                        f"“{shown(found[0])}” is not a note or sign that Chickadee knows.",
                        Fix("Take it out", (TextEdit(at, to, ""),)),
                    )
                )

    def _direction(self, start: int, end: int, text: str) -> None:
        if not text.endswith("]"):
            self.findings.append(
                rules.DIRECTION.at(
                    start, end, "This direction has no closing bracket.", Fix("Close it", (TextEdit(end, end, "]"),))
                )
            )
            return
        what = read_direction(text[1:-1])
        if what is not None:
            self.block.body.append(Direction(start, end, what))
            return
        self.findings.append(
            rules.DIRECTION.at(
                start,
                end,
                f"“{shown(text)}” is not a direction; loudness is one of {' '.join(LOUDNESS)} or 1 to 127.",
                Fix("Take it out", (TextEdit(start, end, ""),)),
            )
        )


def _is_sign(name: str) -> bool:
    """Whether the name before a colon is really a note, as in ``Bb: 2``."""
    return not read_word(name).findings


def _spaced(found: re.Match[str], value: str) -> str:
    return value if found.string[found.start(2) - 1].isspace() else f" {value}"
