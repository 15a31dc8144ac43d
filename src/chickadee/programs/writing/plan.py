"""The plan of a program: its steps, repeats, parts and calls, before they are spelled in a language."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import NamedTuple, Union

from ..smallest import Again, Row, smallest

__all__ = [
    "Call",
    "Part",
    "Plan",
    "Planned",
    "Repeat",
    "Step",
    "line_by_line",
    "repeated",
    "steps_in",
    "with_repeats",
]


class Step(NamedTuple):
    """An instruction."""

    place: int
    """Its place among the instructions, where it is first done."""


class Call(NamedTuple):
    """A part is done here."""

    part: int
    """Its place among the plan's parts."""
    up: int = 0
    """The semitones by which it is moved."""


class Repeat(NamedTuple):
    """Steps that are repeated."""

    turns: int
    """At least 2."""
    body: tuple[Planned, ...]


Planned = Union[Step, Call, Repeat]  # noqa: UP007 - its members name it


@dataclass(frozen=True, slots=True)
class Part:
    """A part of a program, which is called by its name."""

    name: str
    body: tuple[Planned, ...]
    is_moved: bool = False
    """True if any call of it moves it."""


@dataclass(frozen=True, slots=True)
class Plan:
    """The steps of a program. Done in order, its calls followed, they are the instructions in order."""

    body: tuple[Planned, ...]
    parts: tuple[Part, ...] = ()
    """Each stands before those that call it."""

    @property
    def steps(self) -> int:
        """How many steps it has; the heads of repeats and of parts are steps too."""
        return steps_in(self.body) + sum(1 + steps_in(part.body) for part in self.parts)


def steps_in(body: Sequence[Planned]) -> int:
    """Return how many steps stand in a body."""
    return sum(1 + steps_in(each.body) if isinstance(each, Repeat) else 1 for each in body)


def line_by_line(count: int) -> Plan:
    """Return the plan of so many instructions where nothing is repeated."""
    return Plan(tuple(Step(place) for place in range(count)))


def with_repeats(keys: Sequence[int]) -> Plan:
    """Return the smallest plan with repeats; instructions that are written alike have the same key."""
    return Plan(repeated([Step(place) for place in range(len(keys))], keys))


def repeated(items: Sequence[Step | Call], keys: Sequence[object]) -> tuple[Planned, ...]:
    """Return the smallest row with repeats of some items; those with the same key are alike."""
    return tuple(_planned(smallest(keys), items))


def _planned(rows: Sequence[Row], items: Sequence[Step | Call]) -> Iterator[Planned]:
    for each in rows:
        if isinstance(each, Again):
            yield Repeat(each.turns, tuple(_planned(each.body, items)))
        else:
            yield items[each.place]
