"""Which uses of phrases can be followed: none that comes back to itself, none too deep."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from . import rules
from .bounds import MOST_NESTED
from .finding import Finding
from .tree import Block, Group, Node, Use

__all__ = ["left_out"]


def left_out(phrases: Mapping[str, Block]) -> dict[int, Finding]:
    """The uses inside phrases that are left out, each by its offset, with the finding that says why.

    What is left is a tree at most MOST_NESTED deep, so whoever follows it may do so by recursion. This does not: it
    keeps the phrases on its way in a list.
    """
    found: dict[int, Finding] = {}
    uses = {name: list(_uses(phrase.body, 0)) for name, phrase in phrases.items()}
    depths: dict[str, int] = {}  # how deep each phrase is that was looked into
    for first in phrases:
        way: list[tuple[str, int]] = [] if first in depths else [(first, 0)]  # a phrase and its next use
        names = {first}  # of the phrases on the way
        while way:
            name, place = way.pop()
            if place == len(uses[name]):
                depths[name] = _depth(phrases[name], uses[name], depths, found)
                names.discard(name)
                continue
            use, outer = uses[name][place]
            if use.name in names:
                message = f"The phrase {use.name} uses itself here, so it would never end; it is left out."
                found[use.start] = rules.ITSELF.at(use.start, use.end, message)
            elif use.name in phrases and use.name not in depths:
                way += (name, place), (use.name, 0)
                names.add(use.name)
                continue
            elif outer + 1 + depths.get(use.name, 0) > MOST_NESTED:
                message = (
                    f"Groups and phrases are nested more than {MOST_NESTED} deep in {use.name}; it is left out here."
                )
                found[use.start] = rules.TOO_DEEP.at(use.start, use.end, message)
            way.append((name, place + 1))
    return found


def _depth(phrase: Block, uses: list[tuple[Use, int]], depths: Mapping[str, int], cut: Mapping[int, Finding]) -> int:
    inside = (outer + 1 + depths.get(use.name, 0) for use, outer in uses if use.start not in cut)
    return max([_groups_deep(phrase.body), *inside])


def _groups_deep(body: tuple[Node, ...]) -> int:
    return max((1 + _groups_deep(node.body) for node in body if type(node) is Group), default=0)


def _uses(body: tuple[Node, ...], outer: int) -> Iterator[tuple[Use, int]]:
    """The uses in a body, each with how many groups stand around it."""
    for node in body:
        if type(node) is Use:
            yield node, outer
        elif type(node) is Group:
            yield from _uses(node.body, outer + 1)
