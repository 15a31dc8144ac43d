"""A function that a language brings: its type, and what it is given."""

from __future__ import annotations

from collections.abc import Callable

from .faults import TraceFault
from .machine import Machine
from .operations import kind_of
from .tree import Span

__all__ = ["Arguments", "Function", "Keywords", "first_of", "number_in"]

Arguments = list[object]
Keywords = dict[str, object]
Function = Callable[[Machine, Arguments, Keywords, Span], object]


def first_of(given: Arguments, name: str, span: Span) -> object:
    """Return the first argument. Raises TraceFault where there is none."""
    if not given:
        raise TraceFault(f"`{name}` is given nothing.", span)
    return given[0]


def number_in(value: object, name: str, span: Span) -> float:
    """Return a number. Raises TraceFault for anything else."""
    if isinstance(value, int | float):
        return value
    raise TraceFault(f"`{name}` is given {kind_of(value)} instead of a number.", span)
