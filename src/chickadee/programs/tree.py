"""The small tree that programs of every language become."""

from __future__ import annotations

from typing import NamedTuple, Protocol

__all__ = [
    "Assignment",
    "Await",
    "Binary",
    "Block",
    "Break",
    "Call",
    "Cast",
    "Choice",
    "ClassDefinition",
    "Comparison",
    "Comprehension",
    "Continue",
    "Count",
    "Define",
    "Each",
    "Evaluate",
    "Expression",
    "Function",
    "If",
    "Import",
    "Item",
    "Items",
    "Literal",
    "Logic",
    "Loop",
    "Member",
    "Name",
    "Pairs",
    "Parameter",
    "Program",
    "Raise",
    "Repeat",
    "Return",
    "Slice",
    "Span",
    "Spread",
    "Statement",
    "Switch",
    "Text",
    "Try",
    "Unary",
    "Unsupported",
    "While",
]

Span = tuple[int, int]
"""Offsets in the program's text, in characters."""


class Expression(Protocol):
    """A node that has a value."""

    @property
    def span(self) -> Span:
        """Where it stands."""


class Statement(Protocol):
    """A node that does something."""

    @property
    def span(self) -> Span:
        """Where it stands."""


# Expressions


class Literal(NamedTuple):
    """A number, a text, a truth value or nothing."""

    value: object
    span: Span


class Name(NamedTuple):
    """A variable; assigned to, the place where the language keeps it."""

    name: str
    span: Span
    scope: str = "found"
    """``found`` looks outwards; ``own`` is the function's own; ``new`` makes one in this block."""


class Items(NamedTuple):
    """A list, or where it ``is_fixed`` a tuple; assigned to, its items are."""

    items: tuple[Expression, ...]
    span: Span
    is_fixed: bool = False


class Pairs(NamedTuple):
    """A dictionary or object; a pair without a key spreads another one."""

    pairs: tuple[tuple[Expression | None, Expression], ...]
    span: Span


class Text(NamedTuple):
    """A text with values in it."""

    parts: tuple[Expression, ...]
    span: Span


class Binary(NamedTuple):
    """``left operator right``; ``div`` is the division of whole numbers."""

    operator: str
    left: Expression
    right: Expression
    span: Span


class Unary(NamedTuple):
    """``-x``, ``+x``, ``~x``, ``not x``."""

    operator: str
    operand: Expression
    span: Span


class Logic(NamedTuple):
    """``and``, ``or`` and ``??``, which look at the right side only where they must."""

    operator: str
    left: Expression
    right: Expression
    span: Span


class Comparison(NamedTuple):
    """``first < second <= third``."""

    first: Expression
    rest: tuple[tuple[str, Expression], ...]
    span: Span


class Choice(NamedTuple):
    """One value or another."""

    condition: Expression
    then: Expression
    otherwise: Expression
    span: Span


class Call(NamedTuple):
    """A call; ``is_new`` where it makes an object."""

    function: Expression
    arguments: tuple[Expression, ...]
    keywords: tuple[tuple[str | None, Expression], ...]
    """A keyword without a name spreads a dictionary."""
    span: Span
    is_new: bool = False


class Member(NamedTuple):
    """``owner.name``."""

    owner: Expression
    name: str
    span: Span


class Item(NamedTuple):
    """``owner[place]``."""

    owner: Expression
    place: Expression
    span: Span


class Slice(NamedTuple):
    """``owner[start:stop:step]``."""

    owner: Expression
    start: Expression | None
    stop: Expression | None
    step: Expression | None
    span: Span


class Parameter(NamedTuple):
    """A parameter of a function."""

    target: Expression
    default: Expression | None = None
    gathers: str = ""
    """``*`` or ``**`` where it takes all that is left."""


class Function(NamedTuple):
    """A function, named or not."""

    name: str
    parameters: tuple[Parameter, ...]
    body: tuple[Statement, ...]
    span: Span
    own: frozenset[str] = frozenset()
    """The names that are its own wherever they are used in it."""
    is_async: bool = False
    has_this: bool = False
    """True for a method, whose owner is ``this``."""


class Comprehension(NamedTuple):
    """A list, or dictionary where there is a ``key``, made by loops."""

    element: Expression
    loops: tuple[tuple[Expression, Expression, tuple[Expression, ...]], ...]
    """For each loop its target, its source and its conditions."""
    span: Span
    key: Expression | None = None


class Spread(NamedTuple):
    """All items of a list, in a list or call."""

    value: Expression
    span: Span


class Await(NamedTuple):
    """Waiting until something is over."""

    value: Expression
    span: Span


class Assignment(NamedTuple):
    """A value given to a target; ``operator`` is what joins it with the old value, empty for none."""

    target: Expression
    operator: str
    value: Expression
    span: Span
    gives_old: bool = False
    """True for ``i++``, whose value is the one before."""


class Cast(NamedTuple):
    """A value as another kind: ``int``, ``float``, ``char``, ``struct`` or ``sizes``, an array of such sizes."""

    kind: str
    value: Expression
    span: Span


class Unsupported(NamedTuple):
    """A construct that is not understood; reached, the trace ends."""

    words: str
    span: Span


# Statements


class Evaluate(NamedTuple):
    """An expression by itself."""

    value: Expression
    span: Span


class Block(NamedTuple):
    """Statements with names of their own."""

    body: tuple[Statement, ...]
    span: Span


class If(NamedTuple):
    """One block or another."""

    condition: Expression
    then: tuple[Statement, ...]
    otherwise: tuple[Statement, ...]
    span: Span


class Each(NamedTuple):
    """A loop over items, or over keys."""

    target: Expression
    source: Expression
    body: tuple[Statement, ...]
    span: Span
    otherwise: tuple[Statement, ...] = ()
    by_keys: bool = False


class While(NamedTuple):
    """A loop with a condition, asked at the end where it ``asks_last``."""

    condition: Expression
    body: tuple[Statement, ...]
    span: Span
    asks_last: bool = False
    otherwise: tuple[Statement, ...] = ()


class Count(NamedTuple):
    """A loop with a start, a condition and a step, as C has it."""

    start: tuple[Statement, ...]
    condition: Expression | None
    step: tuple[Expression, ...]
    body: tuple[Statement, ...]
    span: Span


class Repeat(NamedTuple):
    """A loop that goes round so many times; for ever without a number of them."""

    times: Expression | None
    body: tuple[Statement, ...]
    span: Span


class Switch(NamedTuple):
    """Cases of a value; a case without values is for all others."""

    subject: Expression
    cases: tuple[tuple[tuple[Expression, ...], tuple[Statement, ...]], ...]
    span: Span
    falls_through: bool = True


class Break(NamedTuple):
    """The end of a loop."""

    span: Span


class Continue(NamedTuple):
    """The end of a turn."""

    span: Span


class Return(NamedTuple):
    """The end of a function."""

    value: Expression | None
    span: Span


class Define(NamedTuple):
    """A function's definition."""

    function: Function
    span: Span


class ClassDefinition(NamedTuple):
    """A class, record or struct."""

    name: str
    base: Expression | None
    methods: tuple[Function, ...]
    body: tuple[Statement, ...]
    """Statements that set its own fields."""
    fields: tuple[tuple[str, Expression | None], ...]
    """The fields of each object, with what they hold at first."""
    span: Span


class Import(NamedTuple):
    """Names that come from elsewhere: each with the whole name of what it is."""

    names: tuple[tuple[str, str], ...]
    span: Span


class Try(NamedTuple):
    """Statements, with what is done where they fail, and in any case."""

    body: tuple[Statement, ...]
    handler: tuple[Statement, ...] | None
    last: tuple[Statement, ...]
    span: Span


class Raise(NamedTuple):
    """The end of the program, unless a Try catches it."""

    value: Expression | None
    span: Span


Loop = (Each, While, Count, Repeat)


class Program(NamedTuple):
    """A whole program."""

    language: str
    body: tuple[Statement, ...]
    text: str
    fault: tuple[Span, str] | None = None
    """The first place that is no program, and the sentence about it; what stands before it is in the body."""
