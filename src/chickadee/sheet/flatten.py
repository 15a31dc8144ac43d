"""Groups, phrases and what is done to them, laid out flat: every sign in the order it happens."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import NamedTuple

from . import rules
from .finding import Finding
from .length import Length
from .tree import (
    Backwards,
    BarLine,
    Block,
    Change,
    Direction,
    Group,
    Item,
    Move,
    Node,
    OnSteps,
    Repeat,
    Stretch,
    ToTheEnd,
    UpsideDown,
    Use,
)
from .word import Kind

__all__ = ["FitEnd", "FitStart", "Flattener", "Frame", "Mirror", "Placed", "TooMany", "Until"]


@dataclass(frozen=True, slots=True, eq=False)
class Frame:
    """How the signs of one use are read: where they stand, and what has been done to them."""

    octave: int
    """The octave of letters without one."""
    syllables: Mapping[int, str]
    moves: tuple[Move | Mirror, ...] = ()
    factor: Fraction = field(default=Fraction(1))
    """Lengths are multiplied by it."""


class Placed(NamedTuple):
    """A sign and the frame it is read in."""

    node: Item | BarLine | Direction | FitStart | FitEnd | Until
    frame: Frame


@dataclass(frozen=True, slots=True)
class Mirror:
    """A mirroring in steps about a note: the first of what is mirrored, as it was before."""

    axis: Placed


@dataclass(frozen=True, slots=True, eq=False)
class FitStart:
    """From here to its end, lengths are fitted into one."""

    start: int
    end: int
    length: Length


@dataclass(frozen=True, slots=True, eq=False)
class FitEnd:
    """The end of what a FitStart began."""


@dataclass(frozen=True, slots=True, eq=False)
class Until:
    """Something repeated until the longest other voice ends."""

    start: int
    end: int
    body: tuple[Placed, ...]


_placed = tuple.__new__  # makes a named tuple at a third of its own constructor's time


class TooMany(Exception):  # noqa: N818 - it becomes a finding
    """More signs than a tune may have."""

    def __init__(self, start: int, end: int) -> None:
        super().__init__()
        self.start, self.end = start, end


class Flattener:
    """Lays blocks out flat, counting before it does so."""

    def __init__(self, phrases: Mapping[str, Block], most: int) -> None:
        self.phrases, self.most = phrases, most
        self.findings: list[Finding] = []
        self.used: set[str] = set()
        """The phrases that were met."""
        self._stack: list[str] = []
        self._counts: dict[str, int] = {}

    def voice(self, block: Block, octave: int) -> list[Placed]:
        """All of a block. Raises TooMany."""
        self._count(block.body, block.start, block.end)
        return self._body(block.body, Frame(octave, block.syllables))

    # Counting, so that nothing large is ever built in vain

    def _count(self, body: tuple[Node, ...], start: int, end: int) -> int:
        total = 0
        for node in body:
            if isinstance(node, Group):
                total += self._changed_count(self._count(node.body, node.start, node.end) + 2, node)
            elif isinstance(node, Use):
                total += self._changed_count(self._phrase_count(node.name), node)
            else:
                total += 1
        if total > self.most:
            raise TooMany(start, end)
        return total

    def _phrase_count(self, name: str) -> int:
        if name not in self.phrases or name in self._stack:
            return 0
        if name not in self._counts:
            self._stack.append(name)
            block = self.phrases[name]
            self._counts[name] = self._count(block.body, block.start, block.end)
            self._stack.pop()
        return self._counts[name]

    def _changed_count(self, count: int, node: Group | Use) -> int:
        for change in node.changes:
            if isinstance(change, Repeat):
                count *= change.times
            elif isinstance(change, OnSteps):
                count *= len(change.steps)
            if count > self.most:
                raise TooMany(node.start, node.end)
        return count

    # Laying out

    def _body(self, body: tuple[Node, ...], frame: Frame) -> list[Placed]:
        if not any(type(node) is Group or type(node) is Use for node in body):
            return [_placed(Placed, (node, frame)) for node in body]
        found: list[Placed] = []
        for node in body:
            if type(node) is Group:
                found += self._group(node, frame)
            elif type(node) is Use:
                found += self._use(node, frame)
            else:
                found.append(_placed(Placed, (node, frame)))
        return found

    def _group(self, group: Group, frame: Frame) -> list[Placed]:
        inner = self._body(group.body, frame)
        if group.length is not None:
            fit = FitStart(group.start, group.end, group.length)
            inner = [Placed(fit, frame), *_without_bars(inner), Placed(FitEnd(), frame)]
        return self._changed(inner, group)

    def _use(self, use: Use, frame: Frame) -> list[Placed]:
        phrase = self.phrases[use.name]
        self.used.add(use.name)
        if use.name in self._stack:
            message = f"The phrase {use.name} uses itself here, so it would never end; it is left out."
            self.findings.append(rules.ITSELF.at(use.start, use.end, message))
            return []
        self._stack.append(use.name)
        octave = frame.octave if phrase.settings.octave is None else phrase.settings.octave
        inner = self._body(phrase.body, Frame(octave, phrase.syllables))
        self._stack.pop()
        return self._changed(inner, use)

    def _changed(self, inner: list[Placed], node: Group | Use) -> list[Placed]:
        for change in node.changes:
            inner = self._with(change, inner, node)
        return inner

    def _with(self, change: Change, inner: list[Placed], node: Group | Use) -> list[Placed]:
        if isinstance(change, Repeat):
            return inner * change.times
        if isinstance(change, Move):
            return _moved(inner, change)
        if isinstance(change, OnSteps):
            return [each for step in change.steps for each in _moved(inner, Move(steps=step - 1))]
        if isinstance(change, Backwards):
            return _backwards(_without_bars(inner))
        if isinstance(change, UpsideDown):
            axis = next((each for each in inner if type(each.node) is Item and each.node.word.signs), None)
            if axis is None:
                return inner
            return _moved(inner, Mirror(axis))
        if isinstance(change, Stretch):
            longer = _framed(inner, lambda frame: replace(frame, factor=frame.factor * change.factor))
            return _without_bars(longer)
        assert isinstance(change, ToTheEnd)
        return [Placed(Until(node.start, node.end, tuple(inner)), inner[0].frame)] if inner else []


def _moved(inner: list[Placed], move: Move | Mirror) -> list[Placed]:
    return _framed(inner, lambda frame: replace(frame, moves=(*frame.moves, move)))


def _framed(inner: list[Placed], change: Callable[[Frame], Frame]) -> list[Placed]:
    """The same signs with each frame changed; each frame is changed once."""
    frames: dict[Frame, Frame] = {}
    found = []
    for node, frame in inner:
        if frame not in frames:
            frames[frame] = change(frame)
        if type(node) is Until:
            node = Until(node.start, node.end, tuple(_framed(list(node.body), change)))
        found.append(Placed(node, frames[frame]))
    return found


def _without_bars(inner: list[Placed]) -> list[Placed]:
    return [each for each in inner if type(each.node) is not BarLine]


def _backwards(inner: list[Placed]) -> list[Placed]:
    """The last sign first. Holds stay behind what they hold, and fitted groups stay fitted."""
    units: list[list[Placed]] = []
    for each in inner:
        node = each.node
        if units and type(node) is Item and node.word.kind is Kind.HOLD and type(units[-1][0].node) is Item:
            units[-1].append(each)
        else:
            units.append([each])
    found = [each for unit in reversed(units) for each in unit]
    starts: list[int] = []
    for place, each in enumerate(found):
        if type(each.node) is FitEnd:
            starts.append(place)
        elif type(each.node) is FitStart:
            first = starts.pop()
            found[first], found[place] = each, found[first]
    return found
