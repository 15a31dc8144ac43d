"""Steps of a program in another order: every order of them that sounds the tune."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import islice
from typing import NamedTuple

from .plan import Call, Plan, Planned, Repeat

__all__ = ["MOST_ORDERS", "IndentedStrip", "Strip", "right_orders", "strips_of"]

MOST_ORDERS = 200
"""Right orders that are looked for."""
_MOST_LOOKS = 200_000  # places at which a strip is tried


class Strip(NamedTuple):
    """A line of a puzzle; strips that are equal can stand for one another."""

    kind: str
    """``step``, ``repeat``, ``part`` or ``call``."""
    key: int
    """Of a step what it does, of a repeat its turns, of a part and its calls the part's place in the plan."""


class IndentedStrip(NamedTuple):
    """A strip that is laid out."""

    strip: Strip
    depth: int
    """In how many repeats and parts it stands."""


def strips_of(plan: Plan, keys: Sequence[int]) -> tuple[IndentedStrip, ...]:
    """Return the strips of a program in its own order; ``keys`` say which instructions are alike."""
    found: list[IndentedStrip] = []
    for place, part in enumerate(plan.parts):
        found.append(IndentedStrip(Strip("part", place), 0))
        found += _strips(part.body, keys, 1)
    return (*found, *_strips(plan.body, keys, 0))


def _strips(body: Sequence[Planned], keys: Sequence[int], depth: int) -> Iterator[IndentedStrip]:
    for each in body:
        if isinstance(each, Repeat):
            yield IndentedStrip(Strip("repeat", each.turns), depth)
            yield from _strips(each.body, keys, depth + 1)
        elif isinstance(each, Call):
            yield IndentedStrip(Strip("call", each.part), depth)
        else:
            yield IndentedStrip(Strip("step", keys[each.place]), depth)


def right_orders(laid: Sequence[IndentedStrip], keys: Sequence[int]) -> tuple[list[tuple[IndentedStrip, ...]], bool]:
    """Return every order of the strips that does the instructions, the given one first, and whether those are all.

    Of equal strips one order stands for all; parts stand at the beginning, in the order of the first call of each.
    No more than :data:`MOST_ORDERS` are returned.
    """
    search = _Search(keys, _counted(each.strip for each in laid))
    given = _as_found(tuple(laid), keys)
    others = (order for order in search.orders() if order != given)
    found = [given, *islice(others, MOST_ORDERS)]
    return found[:MOST_ORDERS], len(found) <= MOST_ORDERS and search.looks <= _MOST_LOOKS


def _counted(strips: Iterator[Strip]) -> dict[Strip, int]:
    found: dict[Strip, int] = {}
    for strip in strips:
        found[strip] = found.get(strip, 0) + 1
    return found


def _as_found(laid: tuple[IndentedStrip, ...], keys: Sequence[int]) -> tuple[IndentedStrip, ...]:
    """The same strips with the parts in the order of the first call of each."""
    blocks: dict[int, list[IndentedStrip]] = {}
    main: list[IndentedStrip] = []
    here = main
    for each in laid:
        if each.depth == 0:
            here = blocks.setdefault(each.strip.key, []) if each.strip.kind == "part" else main
        here.append(each)
    order: list[int] = []

    def need(rows: Sequence[IndentedStrip]) -> None:
        for each in rows:
            if each.strip.kind == "call" and each.strip.key not in order:
                need(blocks[each.strip.key])
                order.append(each.strip.key)

    need(main)
    return (*(each for part in order for each in blocks[part]), *main)


Rows = tuple[IndentedStrip, ...]


@dataclass
class _Search:
    """Lays strips one after the other, wherever they do what comes next."""

    keys: Sequence[int]
    left: dict[Strip, int]
    looks: int = 0
    contents: dict[int, tuple[int, ...]] = field(default_factory=dict)
    """The instructions of each part that is called so far."""
    bodies: dict[int, Rows] = field(default_factory=dict)
    order: list[int] = field(default_factory=list)
    """The parts in the order in which they are complete."""

    def orders(self) -> Iterator[Rows]:
        """Yield every order that uses all strips."""
        for main in self._filled(tuple(self.keys), 0):
            if not any(self.left.values()):
                parts = [
                    row for part in self.order for row in (IndentedStrip(Strip("part", part), 0), *self.bodies[part])
                ]
                yield (*parts, *main)

    def _filled(self, content: tuple[int, ...], depth: int) -> Iterator[Rows]:
        """Yield every way to do a content with the strips that are left; they are taken meanwhile."""
        if not content:
            yield ()
            return
        for strip in list(self.left):
            self.looks += 1
            if self.looks > _MOST_LOOKS or not self.left[strip] or strip.kind == "part":
                continue
            self.left[strip] -= 1
            for first, size in self._laid(strip, content, depth):
                for rest in self._filled(content[size:], depth):
                    yield (*first, *rest)
            self.left[strip] += 1

    def _laid(self, strip: Strip, content: tuple[int, ...], depth: int) -> Iterator[tuple[Rows, int]]:
        """Yield the ways to begin a content with a strip, and how much of it that does."""
        if strip.kind == "step":
            if content[0] == strip.key:
                yield (IndentedStrip(strip, depth),), 1
        elif strip.kind == "repeat":
            for size in range(1, len(content) // strip.key + 1):
                if content[:size] * strip.key == content[: size * strip.key]:
                    for body in self._filled(content[:size], depth + 1):
                        yield (IndentedStrip(strip, depth), *body), size * strip.key
        else:
            yield from self._called(strip, content, depth)

    def _called(self, strip: Strip, content: tuple[int, ...], depth: int) -> Iterator[tuple[Rows, int]]:
        part = strip.key
        known = self.contents.get(part)
        if known is not None:
            if part in self.bodies and content[: len(known)] == known:
                yield (IndentedStrip(strip, depth),), len(known)
            return
        for size in range(1, len(content) + 1):
            self.contents[part] = content[:size]
            head = Strip("part", part)
            if not self.left.get(head):
                break
            self.left[head] -= 1
            for body in self._filled(content[:size], 1):
                self.bodies[part] = body
                self.order.append(part)
                yield (IndentedStrip(strip, depth),), size
                self.order.remove(part)
                del self.bodies[part]
            self.left[head] += 1
        self.contents.pop(part, None)
