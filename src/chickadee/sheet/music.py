"""Lines of music into bodies: words, bar lines, directions, groups and phrases used."""

from __future__ import annotations

import re
from itertools import islice

from ..caching import remembered
from ..faults import InputFault
from . import rules
from .bounds import Allowance, Findings
from .changes import read_change
from .direction import read_direction
from .finding import Finding, Fix, TextEdit, shown
from .grammar import Token, tokens
from .length import Length, read_length
from .near import Lookalikes, letter_run
from .tree import BarLine, Change, Direction, Group, Item, Node, Use
from .word import Kind, Word, read_word

__all__ = ["MOST_DEPTH", "MusicReader"]

MOST_DEPTH = 60
"""How deep groups may stand inside groups."""

_LONGEST_PLAIN = 400  # characters of a line that is remembered as a whole
_WINDOW = 4096  # tokens of a longer line that are looked at together
_MOST_CHANGES = 120  # words after a group or phrase that are read as changes


_Plain = tuple[int, int, Word | None]  # offsets inside the line, and the word; None for a bar line
_node = tuple.__new__  # makes a named tuple at a third of its own constructor's time


@remembered(100_000, _LONGEST_PLAIN)
def _plain_line(line: str) -> tuple[_Plain, ...] | None:
    """What a line of notes, rests, holds and bar lines says, the same wherever it stands; None for any other line.

    Most lines are such, and of a sheet that is being edited all but one are the same as a moment ago.
    """
    found: list[_Plain] = []
    for token in tokens(line, 0, len(line)):
        if token.lastgroup == "word":
            word = read_word(token[0])
            if word.findings:
                return None
            if found and token[0][0] in "0123456789" and len(token[0].partition("=")[0]) == 1 and found[-1][2]:
                return None  # perhaps an octave apart from its letter
            found.append((*token.span(), word))
        elif token.lastgroup == "bar":
            found.append((*token.span(), None))
        elif token.lastgroup != "comment":
            return None
    return tuple(found)


class _OpenGroup:
    def __init__(self, start: int, body: list[Node]) -> None:
        self.start, self.outer = start, body


class MusicReader:
    """Reads the lines of one block; groups may go on from line to line."""

    def __init__(
        self, text: str, phrases: frozenset[str], findings: Findings, allowance: Allowance, lookalikes: Lookalikes
    ) -> None:
        self.text, self.phrases, self.findings, self.lookalikes = text, phrases, findings, lookalikes
        self._allowance = allowance  # what all blocks may hold together
        self.body: list[Node] = []
        """What stands in the innermost group that is open."""
        self.last_line: list[Node] = []
        """What the newest line of music added, groups or not."""
        self._open: list[_OpenGroup] = []

    def closed(self) -> tuple[Node, ...]:
        """The whole body; groups still open are closed here."""
        while self._open:
            start = self._open[-1].start
            end = self.text.find("\n", start)
            line_end = start + len(self.text[start : end if end >= 0 else None].rstrip())
            fix = Fix("Close it at the end of the line", (TextEdit(line_end, line_end, " )"),))
            self.findings.append(rules.GROUP.at(start, start + 1, "This group has no closing bracket.", fix))
            self._close_group(start + 1, None, (), ())
        return tuple(self.body)

    def line(self, start: int, end: int) -> None:
        """Read one line. Raises TooMany beyond the bounds."""
        plain = _plain_line(self.text[start:end]) if end - start <= _LONGEST_PLAIN else None
        if plain is not None:
            self._plain(plain, start, end)
            return
        rest = tokens(self.text, start, end)
        ahead = list(islice(rest, _WINDOW))
        if not ahead or ahead[0].lastgroup == "comment":
            return
        self.last_line = []
        while ahead:
            more = len(ahead) == _WINDOW
            self._allowance.spend(len(ahead), ahead[0].start(), ahead[-1].end())
            place, last = 0, len(ahead) - (_MOST_CHANGES + 2 if more else 0)  # a token looks at those after it
            while place < last:
                place += self._token(ahead, place)
            left = ahead[place:]
            self._allowance.left += len(left)
            ahead = left + list(islice(rest, _WINDOW - len(left)))

    def _plain(self, plain: tuple[_Plain, ...], start: int, end: int) -> None:
        if plain:
            self._allowance.spend(len(plain), start, end)
            line: list[Node] = [
                _node(Item, (start + at, start + to, word)) if word else _node(BarLine, (start + at, start + to))
                for at, to, word in plain
            ]
            self.body += line
            self.last_line = line

    def _token(self, ahead: list[Token], place: int) -> int:
        """Read one token and what belongs to it; the number of tokens taken."""
        token = ahead[place]
        kind = token.lastgroup
        if kind == "word":
            text = token[0]
            if text in self.phrases:
                changes, spans, taken = self._changes(ahead, place + 1)
                self.body.append(Use(token.start(), ahead[place + taken].end(), text, changes, spans))
                return 1 + taken
            return self._word(ahead, place)
        if kind == "bar":
            self.body.append(BarLine(*token.span()))
        elif kind == "direction":
            self._direction(token)
        elif kind == "open":
            self._open_group(token)
        elif kind == "close":
            return 1 + self._closing(ahead, place)
        elif kind == "stray":
            cut = Fix("Delete it", (TextEdit(token.start(), token.end(), ""),))
            message = f"“{shown(token[0])}” is not a note or sign that Chickadee knows."
            self.findings.append(rules.NOT_UNDERSTOOD.at(token.start(), token.end(), message, cut))
        return 1

    def _word(self, ahead: list[Token], place: int) -> int:
        token = ahead[place]
        text, (at, to) = token[0], token.span()
        word = read_word(text)
        after = ahead[place + 1] if place + 1 < len(ahead) else None
        if (
            after is not None
            and (text[-1] == "=" or after[0] == "=")
            and (joined := self._length_apart(ahead, place))
        ):
            return joined
        if after is not None and after[0][0] in "=0123456789" and (joined := self._joined(token, after)):
            return joined
        if word.findings:
            if word.kind is Kind.SILENT and self._understood(text, at):
                return 1
            self.findings.extend((self._with_phrases(finding, text) for finding in word.findings), at)
        item = Item(at, to, word)
        self.body.append(item)
        self.last_line.append(item)
        return 1

    def _length_apart(self, ahead: list[Token], place: int) -> int:
        """A note whose length stands apart from its ``=``, as in ``C4 = 2`` and ``C4= 2``: read as one."""
        words = [token[0] for token in ahead[place : place + 3] if token.lastgroup == "word"]
        if len(words) > 2 and words[1] == "=" and "=" not in words[0]:
            meant, count = f"{words[0]}={words[2]}", 3
        elif len(words) > 1 and words[0][-1] == "=" and words[0].count("=") == 1:
            meant, count = words[0] + words[1], 2
        else:
            return 0
        word = read_word(meant)
        if word.findings or word.length is None:
            return 0
        self._take(
            ahead[place].start(), ahead[place + count - 1].end(), meant, "A length is written right after its note."
        )
        return count

    def _take(self, start: int, end: int, meant: str, message: str) -> None:
        """Read what stands between two offsets as the word that was meant."""
        fix = Fix(f"Write {shown(meant)}", (TextEdit(start, end, meant),))
        self.findings.append(rules.NEAR_MISS.at(start, end, message, fix))
        item = Item(start, end, read_word(meant))
        self.body.append(item)
        self.last_line.append(item)

    def _joined(self, token: Token, after: Token) -> int:
        """A letter and its octave, or a note and its length, written apart: read as one."""
        if after.lastgroup != "word" or token[0][0] in "=0123456789":
            return 0
        first = read_word(token[0])
        octave = re.fullmatch(r"[0-9](=\S*)?", after[0]) if re.fullmatch(r"[>']*[A-Ga-g][#♯b♭]?", token[0]) else None
        if first.findings or first.length is not None or not (octave or after[0][0] == "="):
            return 0
        start, end = token.start(), after.end()
        meant = token[0] + after[0]
        word = read_word(meant)
        if word.findings:
            return 0
        what = "A length" if after[0][0] == "=" else "An octave"
        self._take(start, end, meant, f"{what} is written right after its note.")
        return 2

    def _understood(self, text: str, at: int) -> bool:
        """Letters written together, as in CEGEC: a note each."""
        run = letter_run(text)
        if not run:
            return False
        meant = " ".join(text[start:end] for start, end in run)
        fix = Fix(f"Write {shown(meant)}", (TextEdit(at, at + len(text), meant),))
        self.findings.append(rules.NEAR_MISS.at(at, at + len(text), "A space keeps notes apart.", fix))
        for start, end in run:
            item = Item(at + start, at + end, read_word(text[start:end]))
            self.body.append(item)
            self.last_line.append(item)
        return True

    def _with_phrases(self, finding: Finding, text: str) -> Finding:
        """A finding that also offers the phrase whose name is nearly that."""
        near = self.lookalikes.of(text, self.phrases, 0.7) if finding.code == rules.NOT_UNDERSTOOD.code else []
        fixes = [Fix(f"Use {name}", (TextEdit(finding.start, finding.end, name),)) for name in near]
        return Finding(
            finding.code, finding.severity, finding.start, finding.end, finding.message, (*fixes, *finding.fixes)
        )

    def _changes(self, ahead: list[Token], place: int) -> tuple[tuple[Change, ...], tuple[tuple[int, int], ...], int]:
        """What is done to a phrase or group, by the words after it, with their offsets; and how many tokens those
        are."""
        words: list[str] = []
        for token in ahead[place : place + _MOST_CHANGES]:
            if token.lastgroup != "word":
                break
            words.append(token[0])
        changes: list[Change] = []
        spans: list[tuple[int, int]] = []
        taken = 0
        while taken < len(words):
            change, count = read_change(words[taken:])
            if not count:
                break
            start, end = ahead[place + taken].start(), ahead[place + taken + count - 1].end()
            if change is None:
                message = (
                    f"“{shown(self.text[start:end])}” is not finished: up 5, up 2 steps, up 1 octave, on ^1 ^5, x3, "
                    "to the end, stretched 2 are some that are."
                )
                cut = Fix("Delete it", (TextEdit(start, end, ""),))
                self.findings.append(rules.CHANGE.at(start, end, message, cut))
            else:
                changes.append(change)
                spans.append((start, end))
            taken += count
        return tuple(changes), tuple(spans), taken

    def _open_group(self, token: Token) -> None:
        if len(self._open) >= MOST_DEPTH:
            message = f"Groups may be nested at most {MOST_DEPTH} deep."
            self.findings.append(rules.GROUP.at(token.start(), token.end(), message))
            return
        self._open.append(_OpenGroup(token.start(), self.body))
        self.body = []

    def _closing(self, ahead: list[Token], place: int) -> int:
        token = ahead[place]
        if not self._open:
            cut = Fix("Delete it", (TextEdit(token.start(), token.end(), ""),))
            message = "This bracket closes no group."
            self.findings.append(rules.GROUP.at(token.start(), token.end(), message, cut))
            return 0
        length = self._fitted(token)
        changes, spans, taken = self._changes(ahead, place + 1)
        self._close_group(ahead[place + taken].end(), length, changes, spans)
        return taken

    def _fitted(self, token: Token) -> Length | None:
        written = token[0][2:]
        if len(token[0]) == 1:
            return None
        length = read_length(written)
        if length is None or not length.count:
            cut = Fix("Delete it", (TextEdit(token.start() + 1, token.end(), ""),))
            message = f"“={shown(written)}” is not a length to fit the group into; =2 beats is one."
            self.findings.append(rules.LENGTH.at(token.start() + 1, token.end(), message, cut))
            return None
        return length

    def _close_group(
        self, end: int, length: Length | None, changes: tuple[Change, ...], spans: tuple[tuple[int, int], ...]
    ) -> None:
        opened = self._open.pop()
        group = Group(opened.start, end, tuple(self.body), length, changes, spans)
        self.body = opened.outer
        self.body.append(group)

    def _direction(self, token: Token) -> None:
        start, end, text = token.start(), token.end(), token[0]
        if not text.endswith("]"):
            fix = Fix("Close it", (TextEdit(end, end, "]"),))
            self.findings.append(rules.DIRECTION.at(start, end, "This direction has no closing bracket.", fix))
            return
        try:
            self.body.append(Direction(start, end, read_direction(text[1:-1])))
        except InputFault as fault:
            cut = Fix("Delete it", (TextEdit(start, end, ""),))
            self.findings.append(rules.DIRECTION.at(start, end, str(fault), cut))
