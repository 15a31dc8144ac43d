"""A call of a method that is being made, and the methods that several kinds of things share."""

from __future__ import annotations

from collections.abc import Callable

from .faults import TraceFault
from .items import spread
from .machine import Machine
from .operations import compared, kind_of, text_of
from .things import Closure
from .tree import Span

__all__ = ["Arguments", "Method", "Turn", "equals", "joined", "number_text", "same", "text_in"]

Arguments = list[object]
Method = Callable[["Turn", object, Arguments], object]


class Turn:
    """A call that is being made."""

    __slots__ = ("keywords", "machine", "name", "span")

    def __init__(self, name: str, keywords: dict[str, object], machine: Machine, span: Span) -> None:
        self.name = name
        self.keywords = keywords
        self.machine = machine
        self.span = span

    def call(self, called: object, *arguments: object) -> object:
        """Call one of the arguments."""
        given = list(arguments)
        if isinstance(called, Closure):
            given = given[: max(1, len(called.function.parameters))]
        return self.machine.call(called, given, {}, self.span)

    def whole(self, value: object) -> int:
        """Return a whole number. Raises TraceFault for anything else."""
        if isinstance(value, float):
            return int(value)
        if isinstance(value, int):
            return value
        raise TraceFault(f"`{self.name}` is given {kind_of(value)} instead of a number.", self.span)


def same(turn: Turn, owner: object, given: Arguments) -> object:
    """Return the thing itself."""
    return owner


def equals(turn: Turn, owner: object, given: Arguments) -> object:
    """Return whether two things are the same."""
    other = given[0] if given else None
    if turn.name == "equalsIgnoreCase":
        return text_in(owner).lower() == str(other).lower()
    if turn.name == "compareTo" and isinstance(owner, str) and isinstance(other, str):
        return (owner > other) - (owner < other)
    return compared("==", owner, other, turn.machine, turn.span)


def number_text(turn: Turn, owner: object, given: Arguments) -> object:
    """Return a number as a text."""
    if turn.name == "toFixed" and isinstance(owner, int | float):
        return f"{owner:.{min(20, max(0, turn.whole(given[0]) if given else 0))}f}"
    return text_of(owner, turn.machine)


def text_in(owner: object) -> str:
    """Return a thing as a text."""
    return str(owner)


def joined(turn: Turn, owner: object, given: Arguments) -> object:
    """Return texts joined by a sign."""
    machine = turn.machine
    if isinstance(owner, str):
        parts = spread(given[0] if given else [], machine, turn.span)
        sign = owner
    else:
        parts = spread(owner, machine, turn.span)
        sign = text_of(given[0], machine) if given else ","
    texts = [text_of(part, machine) for part in parts]
    machine.take_text(sum(map(len, texts)) + len(sign) * len(texts), turn.span)
    return sign.join(texts)
