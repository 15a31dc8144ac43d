"""Data in the text of programs, whatever the language: lists, tuples, records, constants, and sums of them.

Nothing is run. What is not data is passed over; whether there is any such thing is told.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction

from .scanning import COLON, COMMA, NUMBER, OPEN, OTHER, TEXT, WORD, Token, tokens, without_comments

__all__ = ["Named", "Program", "TooMuchData", "Value", "program_of"]

_MOST_DEPTH = 20
_MOST_ITEMS = 30_000  # of one list
_MOST_WORK = 1_000_000  # items of all lists that are put together
_LONGEST_NUMBER = 40  # digits
_CLOSED_BY = {"[": "]", "(": ")", "{": "}"}
_ADDING = {"append", "push", "add", "extend", "push_back", "concat"}
_LOOPS = frozenset(["for", "while", "repeat", "forever", "loop", "foreach"])
_WORDS_OF_CODE = _LOOPS | frozenset(["def", "function", "void", "lambda", "switch", "if", "else", "return", "do"])
_NO_TYPES = frozenset(["return", "await", "new", "else", "do", "and", "or", "not", "in", "print"])
_DEFINE = re.compile(r"(?m)^[^\S\n]*#[^\S\n]*define[^\S\n]+(\w{1,60})[^\S\n]+(\S[^\n]*)$")
_NUMBER_TAIL = re.compile(r"[fFLl]$")


class TooMuchData(ValueError):  # noqa: N818 - it becomes a sentence
    """A program's lists, put together, have more items than a tune has."""


@dataclass(slots=True)
class Value:
    """A value: a text, a number as it is written or worked out, or several inside brackets, perhaps with names."""

    text: str = ""
    is_text: bool = False
    """True if it stood in quotation marks."""
    items: list[Value] | None = None
    names: dict[str, Value] = field(default_factory=dict)
    """Those of the items that have names, as in a record."""
    call: str = ""
    """The name of the function that is called with the items, if any is."""
    span: tuple[int, int] = (0, 0)
    """Offsets of the text that wrote it."""

    @property
    def number(self) -> Fraction | None:
        """The number that it is; None for anything else."""
        return _number(self.text) if self.items is None and not self.is_text else None


@dataclass(slots=True)
class Named:
    """A value where it is given a name, as in ``notes = [...]``; an empty name for none."""

    name: str
    value: Value


@dataclass(frozen=True, slots=True)
class Program:
    """The data of a program."""

    lists: tuple[Named, ...]
    """Lists, records and texts that are not part of others, in order."""
    calls: tuple[Named, ...]
    """Calls that stand for themselves, such as ``tone(440, 500)``, in order."""
    is_running: bool
    """True if it has loops, or functions that it calls to play a part."""

    @property
    def texts(self) -> set[str]:
        """All single values."""
        found: set[str] = set()
        waiting = [each.value for each in (*self.lists, *self.calls)]
        while waiting:
            value = waiting.pop()
            if value.items is None:
                found.update(value.text.split() if value.is_text else [value.text])
            else:
                waiting += value.items
        return found


def program_of(text: str) -> Program:
    """Return the data in a program's text. Raises TooMuchData.

    >>> [(each.name, [item.text for item in each.value.items]) for each in program_of("a = [60, 60 + 2] * 2").lists]
    [('a', ['60', '62', '60', '62'])]
    """
    reader = _Reader(text)
    reader.read()
    used = reader.used
    lists = tuple(each for name, each in reader.named.items() if name not in used)
    return Program((*lists, *_as_one(reader.unnamed)), tuple(reader.calls), reader.is_running)


def _as_one(unnamed: Sequence[Value]) -> list[Named]:
    """Lists without a name, as one list of them; a single one as it is."""
    if len(unnamed) < 2:
        return [Named("", value) for value in unnamed]
    return [Named("", Value(items=list(unnamed), span=unnamed[0].span))]


class _NoDataError(Exception):
    """No data stands here."""


class _Reader:
    def __init__(self, text: str) -> None:
        defined = list(_DEFINE.finditer(text))
        plain = _DEFINE.sub(lambda found: re.sub(r"[^\n]", " ", found[0]), text)
        self._tokens: list[Token] = list(tokens(without_comments(plain)))
        self._at = 0
        self._depth = 0
        self._work = 0
        self._constants: dict[str, Value] = {}
        self.named: dict[str, Named] = {}
        self.unnamed: list[Value] = []
        self.calls: list[Named] = []
        self.used: set[str] = set()
        self._defined: set[str] = set()
        self._has_loops = any(token.kind == WORD and token.text in _LOOPS for token in self._tokens)
        for found in defined:
            self._constants[found[1]] = Value(found[2].split("//")[0].strip().strip("()\"'"), span=found.span(2))

    @property
    def is_running(self) -> bool:
        """True if there are loops, or functions of its own that are called to play a part."""
        return self._has_loops or any(each.name in self._defined and not each.value.items for each in self.calls)

    def read(self) -> None:
        """Read all statements that hold data."""
        count = len(self._tokens)
        while self._at < count:
            before = self._at
            if not (self._assignment() or self._alone()):
                self._at = before + 1

    # Statements

    def _assignment(self) -> bool:
        """``name = value``, with types, brackets and the like before the sign; ``name += value`` adds to the list."""
        found = self._tokens
        if found[self._at].kind not in (WORD, TEXT):
            return False
        name = found[self._at].text
        after = self._at + 1
        while self._is(after, "[") and after + 2 < len(found):  # int notes[8] = or notes[][2] =
            after += 2 if self._is(after + 1, "]") else 3
        adds = self._is(after, "+") and self._is(after + 1, "=")
        after += adds
        is_given = self._is(after, "=") and not self._is(after + 1, "=")
        is_label = found[self._at].kind == TEXT and after < len(found) and found[after].kind == COLON
        if not (is_given or is_label):
            return False
        used = set(self.used)
        value = self._tried(after + 1)
        if value is None:
            return False
        if value.call:  # what it gives is not known, nor whether the lists in it are used up
            self.used = used
            if any(item is each.value for item in value.items or () for each in self.named.values()):
                return True
        if adds and name in self.named and value.items is not None:
            self._extend(self.named[name].value, value.items)
        else:
            self._keep(name, value)
        return True

    def _keep(self, name: str, value: Value) -> None:
        if value.items is None and not value.is_text:
            self._constants[name] = value
            return
        self.named.pop(name, None)
        self.used.discard(name)
        self.named[name] = Named(name, value)

    def _alone(self) -> bool:
        """A value that is given no name: a list, or a call, also one that adds to a list."""
        token = self._tokens[self._at]
        if token.kind == OPEN:
            if token.text == "[" and self._at and self._tokens[self._at - 1].end == token.start:
                return False  # an item of a list
            value = self._tried(self._at)
            if value is None or not value.items:
                return False
            self.unnamed.append(value)
            return True
        if token.kind != WORD or token.text in _WORDS_OF_CODE or not self._is(self._at + 1, "("):
            return False
        used = set(self.used)
        start = self._at
        value = self._tried(start)
        if value is None:
            return False
        owner, _, method = token.text.rpartition(".")
        if method in _ADDING and owner:
            self._add(owner, method, value)
        elif value.call and self._is_definition(start):
            self.used = used
            self._defined.add(value.call)
        elif value.call:
            self.used = used
            self.calls.append(Named(value.call, value))
        else:
            self.unnamed.append(value)
        return True

    def _is_definition(self, at: int) -> bool:
        """Return whether a type or a word of definitions stands right before a name, so that nothing is called."""
        before = self._tokens[at - 1] if at else None
        return before is not None and before.kind == WORD and before.text not in _NO_TYPES

    def _add(self, owner: str, method: str, call: Value) -> None:
        into = self.named.setdefault(owner, Named(owner, Value(items=[], span=call.span)))
        given = call.items or []
        if method in ("extend", "concat") and len(given) == 1 and given[0].items is not None:
            given = given[0].items
        elif len(given) > 1 and method != "push":
            given = [Value(items=given, names=call.names, span=call.span)]
        self._extend(into.value, given)

    def _extend(self, into: Value, items: Sequence[Value]) -> None:
        if into.items is None:
            into.items = []
        self._work += len(items)
        into.items += items
        self._bound(len(into.items))

    # Values

    def _tried(self, at: int) -> Value | None:
        """The value that begins at a token; None where none does."""
        start = self._at
        self._at = at
        self._depth = 0
        try:
            return self._sum()
        except (_NoDataError, IndexError):
            self._at = start
            return None

    def _sum(self) -> Value:
        value = self._product()
        while self._at < len(self._tokens):
            token = self._tokens[self._at]
            if token.kind == NUMBER and token.text[0] in "+-" and token.start == self._tokens[self._at - 1].end:
                value = self._summed(value, "+", self._product())  # 60+2: the sign is the number's
            elif token.kind == OTHER and token.text in "+-" and not self._is(self._at + 1, "="):
                self._at += 1
                value = self._summed(value, token.text, self._product())
            else:
                break
        return value

    def _product(self) -> Value:
        value = self._single()
        while self._is(self._at, "*") or self._is(self._at, "/"):
            sign = self._tokens[self._at].text
            self._at += 1
            value = self._multiplied(value, sign, self._single())
        return value

    def _single(self) -> Value:
        token = self._tokens[self._at]
        self._at += 1
        if token.kind == OPEN:
            return self._bracket(token)
        if token.kind == TEXT:
            return self._split(Value(token.text, True, span=(token.start + 1, token.end - 1)))
        if token.kind == NUMBER:
            return Value(token.text, span=(token.start, token.end))
        if token.kind != WORD:
            raise _NoDataError
        if token.text == "new":
            return self._single()
        if token.text in _WORDS_OF_CODE:
            raise _NoDataError
        if self._is(self._at, "[") and self._tokens[self._at].start == token.end:
            raise _NoDataError  # an item of a list, which only a run would tell
        if self._is(self._at, "("):
            self._at += 1
            found = self._bracket(self._tokens[self._at - 1], is_call=True)
            return Value(items=found.items, names=found.names, call=token.text, span=(token.start, found.span[1]))
        return self._named(token)

    def _named(self, token: Token) -> Value:
        """Return the value of a word: a constant, a list with that name, or itself."""
        span = (token.start, token.end)
        if token.text in self._constants:
            return replace(self._constants[token.text], span=span)
        if token.text in self.named:
            self.used.add(token.text)
            return self.named[token.text].value
        return Value(token.text, span=span)

    def _split(self, value: Value) -> Value:
        """``"C4 D4".split()`` and the like."""
        if (
            self._is(self._at, ".")
            and self._at + 1 < len(self._tokens)
            and self._tokens[self._at + 1].text == "split"
        ):
            self._at += 2
            if self._is(self._at, "("):
                self._at += 1
                self._bracket(self._tokens[self._at - 1], is_call=True)
        return value

    def _bracket(self, opened: Token, is_call: bool = False) -> Value:
        """Read the values between an open bracket and the one that closes it."""
        self._depth += 1
        if self._depth > _MOST_DEPTH:
            raise _NoDataError
        closing = _CLOSED_BY[opened.text]
        items: list[Value] = []
        names: dict[str, Value] = {}
        separated = False
        while not self._is(self._at, closing):
            if self._at >= len(self._tokens):
                raise _NoDataError
            if self._tokens[self._at].kind == COMMA:
                if self._tokens[self._at].text == ";" and opened.text != "[":
                    raise _NoDataError  # statements
                separated = True
                self._at += 1
                continue
            name = self._label()
            value = self._sum()
            items.append(value)
            if name is not None:
                names[name] = value
            self._work += 1
        end = self._tokens[self._at].end
        self._at += 1
        self._depth -= 1
        if opened.text == "(" and len(items) == 1 and not (is_call or separated or names):
            return items[0]  # brackets of a sum
        return Value(items=items, names=names, span=(opened.start, end))

    def _label(self) -> str | None:
        """``name:`` or ``name=`` before a value; None where there is none."""
        token = self._tokens[self._at]
        if token.kind not in (WORD, TEXT, NUMBER) or self._at + 1 >= len(self._tokens):
            return None
        after = self._tokens[self._at + 1]
        if after.kind == COLON or (after.text == "=" and token.kind == WORD and not self._is(self._at + 2, "=")):
            self._at += 2
            return token.text
        return None

    def _is(self, at: int, text: str) -> bool:
        return at < len(self._tokens) and self._tokens[at].text == text and self._tokens[at].kind != TEXT

    # Sums

    def _summed(self, one: Value, sign: str, other: Value) -> Value:
        span = (one.span[0], other.span[1])
        if one.items is not None and other.items is not None and sign == "+":
            return Value(items=self._joined(one.items, other.items), span=one.span)
        if one.is_text and other.is_text and sign == "+":
            if len(one.text) + len(other.text) > _MOST_ITEMS:
                raise TooMuchData
            return Value(one.text + other.text, True, span=one.span)
        first = one.number
        second = other.number
        if first is None or second is None:
            raise _NoDataError
        return Value(_written(first + second if sign == "+" else first - second), span=span)

    def _multiplied(self, one: Value, sign: str, other: Value) -> Value:
        if other.items is not None and one.items is None:
            one, other = other, one
        times = other.number
        if times is None:
            raise _NoDataError
        if one.items is not None or one.is_text:
            if sign != "*" or times.denominator != 1 or times < 0:
                raise _NoDataError
            return self._repeated(one, int(times))
        number = one.number
        if number is None or (sign == "/" and times == 0):
            raise _NoDataError
        return Value(_written(number * times if sign == "*" else number / times), span=(one.span[0], other.span[1]))

    def _repeated(self, value: Value, times: int) -> Value:
        if value.items is None:
            if len(value.text) * times > _MOST_ITEMS:
                raise TooMuchData
            return replace(value, text=value.text * times)
        self._work += len(value.items) * times
        self._bound(len(value.items) * times)
        return replace(value, items=value.items * times)

    def _joined(self, one: Sequence[Value], other: Sequence[Value]) -> list[Value]:
        joined = [*one, *other]
        self._work += len(joined)
        self._bound(len(joined))
        return joined

    def _bound(self, items: int) -> None:
        if items > _MOST_ITEMS or self._work > _MOST_WORK:
            raise TooMuchData


def _number(text: str) -> Fraction | None:
    """The number that a program's text writes; None where it writes none."""
    plain = _NUMBER_TAIL.sub("", text)
    if not plain or len(plain) > _LONGEST_NUMBER or not re.fullmatch(r"[-+]?[0-9./]+(?:[eE][-+]?[0-9]{1,2})?", plain):
        return None
    try:
        return Fraction(plain)
    except (ValueError, ZeroDivisionError):
        return None


def _written(number: Fraction) -> str:
    if max(len(str(number.numerator)), len(str(number.denominator))) > _LONGEST_NUMBER:
        raise _NoDataError
    return str(number)
