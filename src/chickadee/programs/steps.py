"""Programs in plain steps, a line each, as the small tree."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import TYPE_CHECKING

from ..formats.signs import length_of, note_value, pitches_of
from ..sheet.near import Lookalikes
from . import tree
from .tree import Expression, Program, Span, Statement
from .vocabulary import Verb, verb_of

if TYPE_CHECKING:
    from .writing.dialect import Dialect

__all__ = ["STEP_LINE", "can_name_part", "read_steps"]

_NUMBERED = re.compile(r"\s*(?:[0-9]{1,4}\s*[.):]\s+|[-*•]\s+)?")
_COMMENT = re.compile(r"\s*(?:#(?![0-9])|//|--).*$")
_REPEAT = re.compile(
    r"(?:repeat|loop|again|wiederhole|répète|repite|ripeti|herhaal)\b\s*(?P<count>[\w/.]+)?(?:\s*(?:times|x|mal|fois|veces|volte|keer))?"
    r"|(?P<first>[0-9]+)\s*(?:times|x|mal|fois|veces|volte|keer)",
    re.IGNORECASE,
)
_FOREVER = re.compile(r"(?:repeat|loop|do)?\s*(?:for\s*ever|forever|always)\b", re.IGNORECASE)
_PART = re.compile(
    r"(?:part|define|teil|partie|parte|deel)\s+(?P<name>[^\W\d][\w-]*(?:\s+[\w-]+){0,3})", re.IGNORECASE
)
_END = re.compile(r"(?:end(?:\s+\w+)?|ende|fin|fine|einde|\})", re.IGNORECASE)
_CALL = re.compile(r"(?:do|call|run|use)\s+(?P<name>.+)", re.IGNORECASE)
_MOVED = re.compile(r"(?P<name>.+?)\s+(?P<way>up|down)\s+(?:by\s+)?(?P<semitones>-?[0-9]{1,3})", re.IGNORECASE)
_RING = re.compile(r"let\s+(?P<pitches>.+?)\s+ring\b\s*(?P<length>.*)", re.IGNORECASE)
_LIST = re.compile(r"list\s+(?P<name>[^\W\d]\w*)\s*[:=]?\s*(?P<items>.*)", re.IGNORECASE)
_EACH = re.compile(r"for\s+each\s+(?:of\s+)?(?P<names>.+)", re.IGNORECASE)
_NAME = re.compile(r"[^\W\d]\w*")
_LENGTH = re.compile(
    r"(?:\bfor\b|,|\bfür\b|\bpendant\b|\bpor\b|\bper\b|=|:)?\s*"
    r"(?:an?\s+(?=[^\W\d]{2}))?(?P<number>[0-9]+\s+[0-9]+/[0-9]+|[0-9]+/[0-9]+|[0-9]*[.,]?[0-9]+|an?|[^\W\d_]+)\s*"
    r"(?P<unit>beats?|counts?|seconds?|secs?|s|ms|milliseconds?|schläge?|schlag|temps|tiempos?|battit[ie]|tellen)?\s*$",
    re.IGNORECASE,
)
_FILLERS = "the a an note notes then and please now with of pitch midi key number tone &"
_WORDS_BETWEEN = frozenset(_FILLERS.split())
_PARTS_OF_BEATS = (
    (re.compile(r"\b(?:one|an?|1)(?: beats?)? and a half(?: beats?)?\b", re.IGNORECASE), "3/2"),
    (re.compile(r"\bhalf (?:of )?an? beat\b", re.IGNORECASE), "1/2"),
    (re.compile(r"\b(?:a )?quarter of a beat\b", re.IGNORECASE), "1/4"),
    (re.compile(r"\b(?:a )?third of a beat\b", re.IGNORECASE), "1/3"),
)
_BEFORE_LENGTH = re.compile(r"\b(?:for|für|pendant|por|per)\b|[,=:](?=\s*[0-9./]+\s*\w*$)", re.IGNORECASE)
_WORDS_NUMBERS = {"once": 1, "twice": 2, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8}
STEP_LINE = re.compile(
    r"(?im)^[ \t]*(?:[0-9]{1,4}[ \t]*[.):][ \t]+)?"
    r"(?:(?:play|note|strike|sing|rest|wait|pause|tempo|repeat|part|let|list)\b[^(=\n]*|for each\b[^(=\n]*|"
    r"[0-9]+[ \t]+times\b.*|end)$"
)
"""A line that can be a step."""


def read_steps(text: str, dialects: Sequence[Dialect] = ()) -> Program:
    """Read a program in steps; ``dialects`` are the class's own words for them."""
    lines = list(_lines_of(text, dialects))
    parts = {found["name"].strip().lower() for line in lines if (found := _PART.match(line.words)) is not None}
    moved = {found["name"].strip().lower() for line in lines if (found := _MOVED.fullmatch(line.words)) is not None}
    return Program("steps", _Steps(lines, parts, parts & moved).body(-1), text)


def can_name_part(name: str) -> bool:
    """Return whether a part of this name can be called by its name alone.

    >>> can_name_part("refrain"), can_name_part("forever"), can_name_part("end")
    (True, False, False)
    """
    others = (_REPEAT, _FOREVER, _PART, _LIST, _EACH)
    return _END.fullmatch(name) is None and not any(pattern.match(name) for pattern in others)


@dataclass(frozen=True, slots=True)
class _Line:
    words: str
    """Without its number, comment and what opens a block."""
    indent: int
    span: Span
    opens: bool
    """True if a brace opens a block here."""


def _lines_of(text: str, dialects: Sequence[Dialect]) -> list[_Line]:
    found = []
    start = 0
    for line in text.split("\n"):
        plain = _plain_line(line.expandtabs(4), dialects)
        indent = len(plain) - len(plain.lstrip())
        number = _NUMBERED.match(plain)
        words = plain[number.end() if number is not None else 0 :].strip().rstrip(";.").strip()
        for pattern, part in _PARTS_OF_BEATS:
            words = pattern.sub(part, words)
        opens = words.endswith("{")
        words = words.rstrip("{:").strip() if len(words) > 1 else words
        if words:
            first = start + len(line) - len(line.lstrip())
            found.append(_Line(words, indent, (first, start + len(line.rstrip())), opens))
        start += len(line) + 1
    return found


def _plain_line(line: str, dialects: Sequence[Dialect]) -> str:
    """A line in plain steps, without its comment."""
    if dialects:
        from .writing.backwards import in_plain_steps

        plain = in_plain_steps(line, dialects)
        if plain is not None:
            return " " * (len(line) - len(line.lstrip())) + plain
    return _COMMENT.sub("", line)


class _Steps:
    """Reads lines one after the other."""

    def __init__(self, lines: list[_Line], parts: set[str], moved: set[str]) -> None:
        self._lines = lines
        self._parts = parts
        self._moved = moved
        """The parts that are moved by semitones where they are called."""
        self._is_moved = False  # whether the steps being read stand in such a part
        self._lists: list[str] = []
        self._items: set[str] = set()
        """The names for the items of lists, in the loop being read."""
        self._place = 0
        self._depth = 0
        self._lookalikes = Lookalikes()

    def body(self, indent: int, until_end: bool = False) -> tuple[Statement, ...]:
        """The steps that stand further to the right than ``indent``, or until an end."""
        found: list[Statement] = []
        while self._place < len(self._lines):
            line = self._lines[self._place]
            is_end = _END.fullmatch(line.words) is not None
            if is_end and until_end:
                self._place += 1
                break
            if not until_end and line.indent <= indent and indent >= 0:
                break
            self._place += 1
            if not is_end:
                found.append(self._step(line))
        return tuple(found)

    def _block(self, head: _Line) -> tuple[Statement, ...]:
        self._depth += 1
        after = self._lines[self._place] if self._place < len(self._lines) else None
        if self._depth > 100:
            found: tuple[Statement, ...] = (tree.Unsupported("a repeat so deep in others", head.span),)
        elif head.opens or after is None or after.indent <= head.indent:
            found = self.body(head.indent, until_end=True)
        else:
            found = self.body(head.indent)
            if self._place < len(self._lines):
                line = self._lines[self._place]
                self._place += bool(_END.fullmatch(line.words)) and line.indent == head.indent
        self._depth -= 1
        return found

    def _step(self, line: _Line) -> Statement:
        words = line.words
        if (part := _PART.match(words)) is not None:
            return self._part(part["name"].strip().lower(), line)
        if (each := _EACH.fullmatch(words)) is not None and self._lists:
            return self._each(each["names"], line)
        if (listed := _LIST.fullmatch(words)) is not None:
            return self._list(listed["name"].lower(), listed["items"], line)
        if (ring := _RING.fullmatch(words)) is not None:
            return self._strike("let ring", f"{ring['pitches']} {ring['length']}", line)
        if _FOREVER.match(words):
            return tree.Repeat(None, self._block(line), line.span)
        if (repeat := _REPEAT.match(words)) is not None:
            count = (repeat["count"] or repeat["first"] or "").lower()
            number = _WORDS_NUMBERS.get(count) or length_of(count)
            if count and number is None:
                return tree.Unsupported(f"“{words[:30]}”", line.span)
            turns = tree.Literal(int(number), line.span) if number is not None else None
            return tree.Repeat(turns, self._block(line), line.span)
        called = _CALL.fullmatch(words)
        name = (called["name"] if called is not None else words).strip().lower()
        moved = _MOVED.fullmatch(name)
        if moved is not None and moved["name"] in self._parts:
            semitones = int(moved["semitones"]) * (1 if moved["way"] == "up" else -1)
            return self._called(moved["name"], (tree.Literal(semitones, line.span),), (), line.span)
        first, _, rest = words.partition(" ")
        if name not in self._parts and rest.lower() in self._parts:
            name = rest.lower()
        if name in self._parts:
            return self._called(name, (), (), line.span)
        return self._verb(first.rstrip(":"), rest.strip(), line)

    def _part(self, name: str, line: _Line) -> Statement:
        before = self._is_moved
        self._is_moved = name in self._moved
        parameter = tree.Parameter(tree.Name("up", line.span), tree.Literal(0, line.span))
        parameters = (parameter,) if self._is_moved else ()
        function = tree.Function(name, parameters, self._block(line), line.span)
        self._is_moved = before
        return tree.Define(function, line.span)

    def _list(self, name: str, words: str, line: _Line) -> Statement:
        """``list notes: C4 D4``, or the items in the lines below, further to the right."""
        rows = [words]
        while self._place < len(self._lines) and self._lines[self._place].indent > line.indent:
            rows.append(self._lines[self._place].words)
            self._place += 1
        items: list[Expression] = []
        for word in re.split(r"[\s,]+", " ".join(rows).strip()):
            number = length_of(word)
            if number is not None:
                items.append(tree.Literal(_plain(number), line.span))
            elif pitches_of(word) is not None:
                items.append(tree.Literal(word, line.span))
            else:
                return _fault(f"“{word[:20]}” is no pitch and no length.", line.span)
        self._lists.append(name)
        target = tree.Name(name, line.span, "own")
        value = tree.Assignment(target, "", tree.Items(tuple(items), line.span), line.span)
        return tree.Evaluate(value, line.span)

    def _each(self, words: str, line: _Line) -> Statement:
        """``for each note, length:`` goes through the lists of those names, or through the last ones, together."""
        span = line.span
        names = [name.lower() for name in _NAME.findall(words) if name.lower() not in ("and", "in")]
        newest = self._lists[::-1]
        known = [next((each for each in newest if re.fullmatch(f"{name}s?[0-9]*", each)), None) for name in names]
        lists = [each for each in known if each is not None]
        if len(lists) < len(names):
            lists = self._lists[-len(names) :]
        if len(lists) < len(names):
            return _fault(f"there are not {len(names)} lists to go through.", span)
        before = self._items
        self._items = before | set(names)
        body = self._block(line)
        self._items = before
        target = tree.Items(tuple(tree.Name(name, span, "own") for name in names), span, is_fixed=True)
        sources = tuple(tree.Name(name, span) for name in lists)
        return tree.Each(target, tree.Call(tree.Name("zip", span), sources, (), span), body, span)

    def _verb(self, first: str, rest: str, line: _Line) -> Statement:
        verb = verb_of(first)
        span = line.span
        if verb is Verb.TEMPO:
            number = length_of(rest.lstrip("=: ").split(" ")[0])
            if number is not None:
                return self._called(first, (tree.Literal(_plain(number), span),), (), span)
        if verb is Verb.SILENCE:
            if rest.lower() in self._items:
                return self._called(first, (), (("beats", tree.Name(rest.lower(), span)),), span)
            found = _LENGTH.fullmatch(rest or "1")
            length = _length(found) if found is not None else None
            if found is not None and length is not None:
                unit = _unit(found["unit"])
                return self._called(first, (), ((unit, tree.Literal(_plain(length), span)),), span)
        if verb is Verb.STRIKE:
            return self._strike(first, rest, line)
        near = self._lookalikes.of(first.lower(), {*self._parts, "play", "rest", "repeat", "part", "tempo"})
        hint = f"; `{near[0]}` is near" if near else "; the steps are play, rest, repeat, part and tempo"
        return _fault(f"“{line.words[:30]}” is no step{hint}.", span)

    def _strike(self, first: str, rest: str, line: _Line) -> Statement:
        """``play C4 E4 G4 for 2``."""
        span = line.span
        length: Fraction | None = None
        unit = "beats"
        pitches = rest
        cut = _BEFORE_LENGTH.search(rest)
        item = rest[cut.end() :].strip().lower() if cut is not None else ""
        if cut is not None and item in self._items:
            named = self._struck(rest[: cut.start()].split(), span)
            return self._called(first, (named,), ((unit, tree.Name(item, span)),), span)
        if cut is not None:
            found = _LENGTH.fullmatch(rest[cut.start() :].strip())
            if found is None:
                return _fault(f"“{rest[cut.start() :].strip()[:30]}” is no length.", span)
            length = _length(found)
            unit = _unit(found["unit"])
            pitches = rest[: cut.start()]
        signs = [each for each in re.split(r"[\s,&+]+", pitches) if each and each.lower() not in _WORDS_BETWEEN]
        if length is None and len(signs) > 1 and not signs[0][:1].isdigit() and length_of(signs[-1]) is not None:
            length = length_of(signs.pop())
        length = Fraction(1) if length is None else length
        for sign in signs:
            if pitches_of(sign) is None and sign.lower() not in self._items:
                return _fault(f"“{sign[:20]}” is no pitch.", span)
        if not signs:
            return _fault("no pitch is given.", span)
        return self._called(first, (self._struck(signs, span),), ((unit, tree.Literal(_plain(length), span)),), span)

    def _struck(self, signs: Sequence[str], span: Span) -> Expression:
        """The pitches of a strike: a list where they are several."""
        found = [self._pitch(sign, span) for sign in signs]
        return found[0] if len(found) == 1 else tree.Items(tuple(found), span)

    def _pitch(self, sign: str, span: Span) -> Expression:
        if sign.lower() in self._items:
            return tree.Name(sign.lower(), span)
        if not self._is_moved:
            return tree.Literal(int(sign) if sign.isdigit() else sign, span)
        pitches = pitches_of(sign) or ()
        if len(pitches) != 1:
            return tree.Literal(sign, span)
        return tree.Binary("+", tree.Literal(pitches[0].number, span), tree.Name("up", span), span)

    def _called(
        self,
        name: str,
        arguments: tuple[Expression, ...],
        keywords: tuple[tuple[str | None, Expression], ...],
        span: Span,
    ) -> Statement:
        return tree.Evaluate(tree.Call(tree.Name(name.lower(), span), arguments, keywords, span), span)


def _fault(sentence: str, span: Span) -> Statement:
    return tree.Raise(tree.Literal(sentence, span), span)


def _length(found: re.Match[str]) -> Fraction | None:
    word = found["number"].lower()
    if word in ("a", "an", "one"):
        return Fraction(1)
    return length_of(word) or note_value(word) or (Fraction(number) if (number := _WORDS_NUMBERS.get(word)) else None)


def _unit(word: str | None) -> str:
    plain = (word or "beats").lower()
    if plain.startswith(("ms", "milli")):
        return "ms"
    return "seconds" if plain.startswith("s") and not plain.startswith("schl") else "beats"


def _plain(number: Fraction) -> int | float | Fraction:
    return int(number) if number.denominator == 1 else number
