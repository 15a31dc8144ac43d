"""Lines of music into bodies: words, bar lines, directions, groups and phrases used."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import cached_property, lru_cache
from itertools import islice

from ..caching import remembered
from ..faults import InputFault
from ..theory import Naming
from . import rules
from .bounds import Allowance, Findings
from .changes import begins_change, read_change
from .direction import read_direction
from .finding import Finding, Fix, TextEdit, shown
from .grammar import Token, tokens
from .groups import OpenGroups
from .length import Length, read_length
from .near import Lookalikes, written_together
from .tree import BarLine, Change, Direction, Group, Item, Use
from .word import Kind, Word, word_reader

__all__ = ["MusicReader"]

_OCTAVE = re.compile(r"[0-9](=\S*)?")  # apart from its letter
_LONGEST_PLAIN = 400  # characters of a line that is remembered as a whole
_WINDOW = 4096  # tokens of a longer line that are looked at together
_MOST_IN_DIRECTION = 8  # words
_TOP = 2_000  # characters in which a sheet says how pitches are named
_LETTERS = re.compile(r"\b[A-G][#b]?[0-9]")
_H = re.compile(r"(?<!\S)[hH](?:is)?[0-9]?(?=[=\s])")
_MANY = 3
_NAMES = re.compile(r"(?im)^[^\S\n]*names[^\S\n]*:")
_MOST_CHANGES = 120  # words after a group or phrase that are read as changes


_Plain = tuple[int, int, Word | None]  # offsets inside the line, and the word; None for a bar line
_node = tuple.__new__  # makes a named tuple at a third of its own constructor's time


@lru_cache
def _plain_lines(naming: Naming) -> Callable[[str], tuple[_Plain, ...] | None]:
    """Return the reader of lines whose pitches are named so.

    It gives what a line of notes, rests, holds and bar lines says, the same wherever it stands; None for any other
    line. Most lines are such, and of a sheet that is being edited all but one are the same as a moment ago.
    """
    read = word_reader(naming)

    @remembered(100_000, _LONGEST_PLAIN)
    def plain_line(line: str) -> tuple[_Plain, ...] | None:
        return _plain_line(read, line)

    return plain_line


def _plain_line(read: Callable[[str], Word], line: str) -> tuple[_Plain, ...] | None:
    found: list[_Plain] = []
    for token in tokens(line, 0, len(line)):
        if token.lastgroup == "word":
            word = read(token[0])
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


class MusicReader:
    """Reads the lines of one block; groups may go on from line to line."""

    def __init__(
        self,
        text: str,
        name: str,
        phrases: frozenset[str],
        findings: Findings,
        allowance: Allowance,
        lookalikes: Lookalikes,
        naming: Naming = Naming.LETTERS,
    ) -> None:
        self.text = text
        self.phrases = phrases
        self.findings = findings
        self.lookalikes = lookalikes
        self._name = name  # of the block that is read
        self._allowance = allowance  # what all blocks may hold together
        self.groups = OpenGroups(text, findings)
        self.last_line: list[Item | Use] = []
        """The signs and uses of the newest line of music, in groups or not."""
        self.use_naming(naming)
        self._letter_by_letter = False  # whether this line has small letters that are read one by one

    def use_naming(self, naming: Naming) -> None:
        """From here on pitches are named so."""
        self._naming = naming
        self._read_word = word_reader(naming)
        self._plain_line = _plain_lines(naming)

    def line(self, start: int, end: int) -> None:
        """Read one line. Raises TooMany beyond the bounds."""
        plain = self._plain_line(self.text[start:end]) if end - start <= _LONGEST_PLAIN else None
        if plain is not None:
            self._plain(plain, start, end)
            return
        rest = tokens(self.text, start, end)
        ahead = list(islice(rest, _WINDOW))
        if not ahead or ahead[0].lastgroup == "comment":
            return
        self.last_line = []
        self._letter_by_letter = False
        while ahead:
            more = len(ahead) == _WINDOW
            self._allowance.spend(len(ahead), ahead[0].start(), ahead[-1].end())
            # a token looks at those after it
            place = 0
            last = len(ahead) - (_MOST_CHANGES + 2 if more else 0)
            while place < last:
                place += self._token(ahead, place)
            left = ahead[place:]
            self._allowance.left += len(left)
            ahead = left + list(islice(rest, _WINDOW - len(left)))
        self._doubtful_flats()

    def _plain(self, plain: tuple[_Plain, ...], start: int, end: int) -> None:
        if plain:
            self._allowance.spend(len(plain), start, end)
            line: list[Item | BarLine] = [
                _node(Item, (start + at, start + to, word)) if word else _node(BarLine, (start + at, start + to))
                for at, to, word in plain
            ]
            self.groups.body += line
            self.last_line = [node for node in line if type(node) is Item]

    def _token(self, ahead: list[Token], place: int) -> int:
        """Read one token and what belongs to it; the number of tokens taken."""
        token = ahead[place]
        kind = token.lastgroup
        if kind == "word":
            text = token[0]
            if text in self.phrases:
                changes, spans, taken = self._changes(ahead, place + 1)
                self._add(Use(token.start(), ahead[place + taken].end(), text, changes, spans))
                return 1 + taken
            return self._word(ahead, place)
        if kind == "bar":
            self.groups.body.append(BarLine(*token.span()))
        elif kind == "repeat":
            self.groups.repeat_sign(token)
        elif kind == "direction":
            self._direction(token)
        elif kind == "open":
            self.groups.open(token)
        elif kind == "close":
            return 1 + self._close_group(ahead, place)
        elif kind == "stray":
            cut = Fix("Delete it", (TextEdit(token.start(), token.end(), ""),))
            message = f"“{shown(token[0])}” is not a note or sign that Chickadee knows."
            self.findings.append(rules.NOT_UNDERSTOOD.at(token.start(), token.end(), message, cut))
        return 1

    def _word(self, ahead: list[Token], place: int) -> int:
        token = ahead[place]
        text = token[0]
        (at, to) = token.span()
        word = self._read_word(text)
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
            if word.kind is Kind.SILENT and self._understood(text, at, after):
                return 1
            self.findings.extend((self._with_more(finding, text, at) for finding in word.findings), at)
        self._add(Item(at, to, word))
        changed = after is not None and after.lastgroup == "word" and begins_change(after[0])
        return 1 + (self._changed_alone(ahead, place + 1) if changed else 0)

    def _add(self, node: Item | Use) -> None:
        self.groups.body.append(node)
        self.last_line.append(node)

    def _changed_alone(self, ahead: list[Token], place: int) -> int:
        """Change the newest sign alone, as in ``C4 x3``; return the number of tokens that say it."""
        changes, spans, taken = self._changes(ahead, place)
        if changes:
            item = self.groups.body.pop()
            self.groups.body.append(Group(item.start, spans[-1][1], (item,), None, changes, spans))
        return taken

    def _length_apart(self, ahead: list[Token], place: int) -> int:
        """A note whose length stands apart from its ``=``, as in ``C4 = 2`` and ``C4= 2``: read as one."""
        words = [token[0] for token in ahead[place : place + 3] if token.lastgroup == "word"]
        if len(words) > 2 and words[1] == "=" and "=" not in words[0]:
            meant = f"{words[0]}={words[2]}"
            count = 3
        elif len(words) > 1 and words[0][-1] == "=" and words[0].count("=") == 1:
            meant = words[0] + words[1]
            count = 2
        else:
            return 0
        word = self._read_word(meant)
        if word.findings or word.length is None:
            return 0
        self._take(
            ahead[place].start(), ahead[place + count - 1].end(), meant, "A length is written right after its note."
        )
        return count

    def _take(self, start: int, end: int, meant: str, message: str) -> None:
        """Read what stands between two offsets as the word that was meant."""
        self._near_miss(start, end, meant, message)
        self._add(Item(start, end, self._read_word(meant)))

    def _joined(self, token: Token, after: Token) -> int:
        """A letter and its octave, or a note and its length, written apart: read as one."""
        if after.lastgroup != "word" or token[0][0] in "=0123456789":
            return 0
        first = self._read_word(token[0])
        octave = _OCTAVE.fullmatch(after[0]) if re.fullmatch(r"[>']*[A-Ga-g][#♯b♭]?", token[0]) else None
        if first.findings or first.length is not None or not (octave or after[0][0] == "="):
            return 0
        start = token.start()
        end = after.end()
        meant = token[0] + after[0]
        word = self._read_word(meant)
        if word.findings:
            return 0
        what = "A length" if after[0][0] == "=" else "An octave"
        self._take(start, end, meant, f"{what} is written right after its note.")
        return 2

    def _understood(self, text: str, at: int, after: Token | None) -> bool:
        """Notes written together, as in CEGEC and C,E,G: one each. Letters among them that are no notes are said."""
        if self._naming != Naming.LETTERS or self.lookalikes.of(text, self.phrases, 0.7):
            return False
        spans = written_together(text)
        words = [self._read_word(text[start:end]) for start, end in spans]
        bad = [place for place, word in enumerate(words) if not _is_readable(word)]
        if not spans or len(bad) * 2 > len(spans):
            return False
        meant = [_meant(word) for word in words]
        if not bad:
            joins = after is not None and _OCTAVE.fullmatch(after[0]) and meant[-1].isalpha()  # gab 2 would be g a b2
            self._near_miss(at, at + len(text), "" if joins else " ".join(meant), "A space keeps notes apart.")
        for place in bad:
            start, end = spans[place]
            written = " ".join(["rest" if each == place else word for each, word in enumerate(meant)])
            fix = Fix(f"Write {shown(written)}", (TextEdit(at, at + len(text), written),))
            message = f"“{shown(text[start:end])}” is not a note; the other letters of “{shown(text)}” are."
            self.findings.append(rules.NOT_UNDERSTOOD.at(at + start, at + end, message, fix))
        for (start, end), word in zip(spans, words, strict=True):
            self._add(Item(at + start, at + end, word))
        self._letter_by_letter |= text.isalpha() and text.islower()
        return True

    def _listed(self, token: Token) -> bool:
        """A list of notes in square brackets, as programs have it: one each."""
        found = list(re.finditer(r"[^,\s]+", token[0][1:-1]))
        words = [self._read_word(each[0]) for each in found]
        if "," not in token[0] or len(words) < 2 or not all(map(_is_readable, words)):
            return False
        meant = " ".join(map(_meant, words))
        self._near_miss(*token.span(), meant, "Notes are written without brackets and commas.")
        for each, word in zip(found, words, strict=True):
            self._add(Item(token.start() + 1 + each.start(), token.start() + 1 + each.end(), word))
        return True

    def _doubtful_flats(self) -> None:
        """Say which words are flats in a line where other small letters are read one by one: gab ab bb."""
        if not self._letter_by_letter:
            return
        for node in self.last_line:
            if isinstance(node, Item) and re.fullmatch("[a-g]b", node.word.text):
                letter = node.word.text[0]
                message = f"“{letter}b” is {letter.upper()} flat; two notes have a space between them."
                self._near_miss(node.start, node.end, f"{letter} b", message)

    def _near_miss(self, start: int, end: int, meant: str, message: str) -> None:
        """Say what was understood, and how it is written where there is a way."""
        fixes = [Fix(f"Write {shown(meant)}", (TextEdit(start, end, meant),))] if meant else []
        self.findings.append(rules.NEAR_MISS.at(start, end, message, *fixes))

    def _with_more(self, finding: Finding, text: str, at: int) -> Finding:
        """A finding in the word at an offset, that also offers the phrase whose name is nearly that, or the way of
        naming pitches in which the word is one."""
        if finding.code != rules.NOT_UNDERSTOOD.code:
            return finding
        near = self.lookalikes.of(text, self.phrases, 0.7)
        fixes = [
            Fix(f"Use {name}", (TextEdit(finding.start, finding.end, name),)) for name in near if name != self._name
        ]
        fixes += finding.fixes
        naming = self._naming_of(text)
        if naming is not None:
            fix = Fix(
                f"Name all pitches so (names: {naming.value})", (TextEdit(-at, -at, f"names: {naming.value}\n"),)
            )
            is_first = naming == Naming.SYLLABLES and _LETTERS.search(self.text, 0, _TOP) is None
            fixes.insert(0 if is_first else len(fixes) - 1, fix)
        return Finding(finding.code, finding.severity, finding.start, finding.end, finding.message, tuple(fixes))

    def _naming_of(self, text: str) -> Naming | None:
        """The way of naming pitches in which a word is one, where the sheet says none."""
        if self._naming != Naming.LETTERS:
            return None
        sign = text.partition("=")[0]
        if Naming.SYLLABLES.read(sign) is not None:
            return None if self._names_are_said else Naming.SYLLABLES
        is_h = sign[:1] in "hH" and Naming.H.read(sign) is not None
        return Naming.H if is_h and self._has_many_h and not self._names_are_said else None

    @cached_property
    def _names_are_said(self) -> bool:
        """True if the sheet says how its pitches are named."""
        return _NAMES.search(self.text, 0, _TOP) is not None

    @cached_property
    def _has_many_h(self) -> bool:
        """True if H is named so often that it is surely meant."""
        return len(_H.findall(self.text, 0, _TOP)) >= _MANY

    def _changes(self, ahead: list[Token], place: int) -> tuple[tuple[Change, ...], tuple[tuple[int, int], ...], int]:
        """Return the changes of a phrase or group, by the words after it, their offsets, and how many tokens those
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
            start = ahead[place + taken].start()
            end = ahead[place + taken + count - 1].end()
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

    def _close_group(self, ahead: list[Token], place: int) -> int:
        """Read a closing bracket with the changes after it; the tokens that those are."""
        token = ahead[place]
        if not self.groups.may_close(token):
            return 0
        length = self._fitted(token)
        changes, spans, taken = self._changes(ahead, place + 1)
        self.groups.close(ahead[place + taken].end(), length, changes, spans)
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

    def _unclosed(self, token: Token) -> None:
        """A direction without its closing bracket: as many words as can be read as one; music goes on after them."""
        start = token.start()
        end = token.end()
        text = token[0]
        words = list(re.finditer(r"\S+", text[1:]))
        message = "This direction has no closing bracket."
        for count in range(min(len(words), _MOST_IN_DIRECTION), 0, -1):
            at = words[count - 1].end() + 1
            try:
                what = read_direction(text[1:at])
            except InputFault:
                continue
            fix = Fix("Close it", (TextEdit(start + at, start + at, "]"),))
            self.findings.append(rules.DIRECTION.at(start, start + at, message, fix))
            self.groups.body.append(Direction(start, start + at, what))
            ahead = list(tokens(self.text, start + at, end))
            place = 0
            while place < len(ahead):
                place += self._token(ahead, place)
            return
        self.findings.append(rules.DIRECTION.at(start, end, message))

    def _direction(self, token: Token) -> None:
        start = token.start()
        end = token.end()
        text = token[0]
        if not text.endswith("]"):
            self._unclosed(token)
            return
        if self._listed(token):
            return
        try:
            self.groups.body.append(Direction(start, end, read_direction(text[1:-1])))
        except InputFault as fault:
            cut = Fix("Delete it", (TextEdit(start, end, ""),))
            self.findings.append(rules.DIRECTION.at(start, end, str(fault), *self._as_notes(token), cut))

    def _as_notes(self, token: Token) -> tuple[Fix, ...]:
        """The fixes that make notes of what stands in square brackets, where all of it can be read."""
        words = token[0][1:-1].split()
        read = [self._read_word(word) for word in words[:_MOST_IN_DIRECTION]]
        if len(words) != len(read) or len(words) < 2 or not all(map(_is_readable, read)):
            return ()
        meant = [_meant(word) for word in read]
        fixes = [Fix("Write the notes in turn", (TextEdit(*token.span(), " ".join(meant)),))]
        if all(word.length is None for word in read):
            fixes.insert(0, Fix("Sound them together", (TextEdit(*token.span(), "&".join(meant)),)))
        return tuple(fixes)


def _is_readable(word: Word) -> bool:
    """Return whether a word is in the language, or so near to it that it is understood."""
    return word.kind is not Kind.SILENT and all(each.code == rules.NEAR_MISS.code for each in word.findings)


def _meant(word: Word) -> str:
    """A readable word as the language has it."""
    return word.findings[0].fixes[0].edits[0].text if word.findings and word.findings[0].fixes else word.text
