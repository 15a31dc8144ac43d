"""The things that programs work with, besides numbers, texts, lists and dictionaries."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from .recording import Flow
from .tree import Function

if TYPE_CHECKING:
    from .machine import Machine
    from .tree import Span

__all__ = [
    "Built",
    "Char",
    "ClassThing",
    "Closure",
    "Outside",
    "Pointer",
    "Promised",
    "Record",
    "Scope",
    "Thread",
]


class Scope(dict[str, object]):
    """Names and what they stand for; ``outer`` is where a name is looked for next."""

    __slots__ = ("is_function", "outer")

    def __init__(self, outer: Scope | None = None, is_function: bool = False) -> None:
        super().__init__()
        self.outer = outer
        self.is_function = is_function


class Char(int):
    """A single sign, which counts as its number."""

    def __str__(self) -> str:
        return chr(self)


class Outside:
    """Something that the program does not define, known by its name alone."""

    __slots__ = ("name",)

    def __init__(self, name: str) -> None:
        self.name = name[-200:]

    @property
    def last_name(self) -> str:
        """The last part of the name, without the brackets of a call."""
        return self.name.removesuffix("()").rpartition(".")[2]


@dataclass(slots=True, eq=False)
class Closure:
    """A function of the program, with the names about it."""

    function: Function
    scope: Scope
    run: Callable[[Scope], object]
    """Runs the body."""
    bind: Callable[[Scope, Scope, list[object], dict[str, object], Span], None]
    """Gives values to the parameters."""
    this: object = None
    is_stand_in: bool = False
    """True if it only stands for a verb from outside: it sounds nothing itself."""

    def of(self, owner: object) -> Closure:
        """Return it as a method of an object."""
        return Closure(self.function, self.scope, self.run, self.bind, owner, self.is_stand_in)


@dataclass(slots=True, eq=False)
class Built:
    """A function that the language brings."""

    name: str
    run: Callable[[Machine, list[object], dict[str, object], Span], object]


@dataclass(slots=True, eq=False)
class ClassThing:
    """A class of the program."""

    name: str
    base: object
    methods: dict[str, Closure]
    fields: list[tuple[str, Callable[[Scope], object] | None]]
    own: Scope
    """Names that belong to the class itself."""

    def method(self, name: str) -> Closure | None:
        """Return a method, of this class or one it is made from."""
        if name in self.methods:
            return self.methods[name]
        return self.base.method(name) if isinstance(self.base, ClassThing) else None


@dataclass(slots=True, eq=False)
class Record:
    """An object of a class."""

    kind: ClassThing
    fields: dict[str, object] = field(default_factory=dict)


@dataclass(slots=True, eq=False)
class Pointer:
    """A place in a list, as C counts on it."""

    items: list[object]
    place: int


@dataclass(slots=True, eq=False)
class Promised:
    """The promise of an asynchronous function."""

    flow: Flow
    value: object = None


@dataclass(slots=True, eq=False)
class Thread:
    """A thread that may be started."""

    target: object
    arguments: list[object]
    flow: Flow = field(default_factory=Flow)
