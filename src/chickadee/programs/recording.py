"""Calls of what a program does not define, in the order and the shape in which it makes them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import chain
from typing import Union

from .tree import Span

__all__ = ["Flow", "Heard", "Joined", "LoopRun", "PartRun", "Pause", "Recorded", "heard_in"]


@dataclass(slots=True)
class Heard:
    """A call of something that the program does not define."""

    name: str
    """The last part of its name: ``sleep`` of ``time.sleep``."""
    whole_name: str
    arguments: tuple[object, ...]
    keywords: dict[str, object]
    span: Span
    turns: tuple[int, ...]
    """The turn of each loop about it, from 1, the outermost first."""
    loops: tuple[Span, ...] = ()
    """Those loops."""


@dataclass(slots=True)
class Pause:
    """Time that a timer lets pass."""

    milliseconds: float


@dataclass(slots=True)
class LoopRun:
    """A loop: what each of its turns asked for."""

    span: Span
    turns: list[list[Recorded]] = field(default_factory=list)


@dataclass(slots=True)
class PartRun:
    """A call of one of the program's own functions."""

    name: str
    span: Span
    """The call's."""
    items: list[Recorded] = field(default_factory=list)


@dataclass(slots=True)
class Flow:
    """A timer, thread or asynchronous function: it goes on beside all that follows."""

    items: list[Recorded] = field(default_factory=list)
    delay: float = 0.0
    """Milliseconds until it begins."""
    holds_for_inner: bool = False
    """True if it is over only once all that it began is over."""


@dataclass(slots=True)
class Joined:
    """The point at which a flow is waited for."""

    flow: Flow


Recorded = Union[Heard, Pause, LoopRun, PartRun, Flow, Joined]  # noqa: UP007 - its members name it


def heard_in(items: list[Recorded]) -> Iterator[Heard]:
    """Yield every call, in order."""
    waiting = [iter(items)]
    while waiting:
        for item in waiting[-1]:
            if isinstance(item, Heard):
                yield item
            elif isinstance(item, LoopRun):
                waiting.append(chain.from_iterable(item.turns))
                break
            elif isinstance(item, PartRun | Flow):
                waiting.append(iter(item.items))
                break
        else:
            waiting.pop()
