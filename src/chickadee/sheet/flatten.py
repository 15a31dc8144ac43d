"""Groups and phrases expanded, with their changes: every sign in the order in which it sounds."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import NamedTuple

from . import rules
from .bounds import MOST_EVENTS, MOST_MOVES, Allowance, Findings, TooMany
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
    OnSemitones,
    OnSteps,
    Repeat,
    Sheet,
    Stretch,
    Sung,
    ToTheEnd,
    UpsideDown,
    Use,
)
from .word import Kind

__all__ = ["Fit", "Flattener", "Frame", "Mirror", "Placed", "Until"]

_MOST_WORK = 4 * MOST_EVENTS


@dataclass(frozen=True, slots=True, eq=False)
class Frame:
    """How the signs of one use are read: where they stand, and what has been done to them."""

    octave: int
    """The octave of letters without one."""
    syllables: Mapping[int, Sung]
    use_words: Mapping[int, tuple[Sung, ...]] = field(default_factory=dict)
    """The words of the uses in the block that is read, where they have words of their own."""
    moves: tuple[Move | Mirror, ...] = ()
    factor: Fraction = field(default=Fraction(1))
    """Lengths are multiplied by it."""
    fits: tuple[Fit, ...] = ()
    """The lengths that groups around it are fitted into, from the innermost."""


class Placed(NamedTuple):
    """A sign and the frame it is read in."""

    node: Item | BarLine | Direction | Until
    frame: Frame


@dataclass(frozen=True, slots=True, eq=False)
class Mirror:
    """A mirroring in steps about a note: the first of what is mirrored, as it was before."""

    axis: Placed


@dataclass(frozen=True, slots=True, eq=False)
class Fit:
    """A group fitted into a length: each length in it is multiplied by that length over what they come to."""

    length: Length
    items: tuple[Placed, ...]
    """All that is fitted, as it is before."""


@dataclass(frozen=True, slots=True, eq=False)
class Until:
    """Something repeated until the longest other voice ends."""

    start: int
    end: int
    body: tuple[Placed, ...]


_placed = tuple.__new__  # makes a named tuple at a third of its own constructor's time


class _Size(NamedTuple):
    """How much an expansion makes."""

    signs: int
    """How many there are in the end."""
    work: int
    """How often one is laid out, for changes lay all out again."""
    moves: int
    """How many changes of pitch a sign goes through at most."""


class Flattener:
    """Expands blocks, counting first what they would become.

    What all blocks come to together is bounded, so whoever walks over them need not be afraid of their size.
    """

    def __init__(self, sheet: Sheet) -> None:
        self.sheet = sheet
        self.used: set[str] = set()
        """The phrases that were met."""
        self._signs = Allowance()
        self._work = Allowance(_MOST_WORK)
        self._sizes: dict[str, _Size] = {}
        self.findings = Findings()

    def voice(self, block: Block, octave: int) -> list[Placed]:
        """All of a block. Raises TooMany where this and all before it are too large."""
        size = self._size(block.body, block.start, block.end)
        self._signs.spend(size.signs, block.start, block.end)
        self._work.spend(size.work, block.start, block.end)
        return self._body(block.body, Frame(octave, block.syllables, block.use_words))

    # Counting, so that nothing large is ever built in vain

    def _size(self, body: tuple[Node, ...], start: int, end: int) -> _Size:
        signs = work = moves = 0
        for node in body:
            if type(node) is Group:
                inside = self._size(node.body, node.start, node.end)
                size = _changed_size(inside, node)
            elif type(node) is Use:
                size = _changed_size(self._phrase_size(node), node)
            else:
                signs += 1
                continue
            signs = signs + size.signs
            work = work + size.work
            moves = max(moves, size.moves)
        if signs > MOST_EVENTS:
            raise TooMany(start, end)
        return _Size(signs, work + signs, moves)

    def _phrase_size(self, use: Use) -> _Size:
        if use.start in self.sheet.left_out:
            return _Size(0, 0, 0)
        if use.name not in self._sizes:
            block = self.sheet.phrases[use.name]
            self._sizes[use.name] = self._size(block.body, block.start, block.end)
        return self._sizes[use.name]

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
            inner = self._fitted(group, group.length, _without_bars(inner))
        return self._changed(inner, group)

    def _fitted(self, group: Group, length: Length, inner: list[Placed]) -> list[Placed]:
        if any(type(each.node) is Until for each in inner):
            message = "What is fitted into a length cannot be repeated to the end; it is played once here."
            self.findings.append(rules.TO_THE_END.at(group.start, group.end, message))
            inner = _played_once(inner)
        items = tuple(each for each in inner if type(each.node) is Item)
        if not items:
            message = "There is nothing in this group to fit into a length."
            self.findings.append(rules.GROUP.at(group.start, group.end, message))
            return inner
        fit = Fit(length, items)
        return _framed(inner, lambda frame: replace(frame, fits=(*frame.fits, fit)))

    def _use(self, use: Use, frame: Frame) -> list[Placed]:
        if use.start in self.sheet.left_out:
            return []
        phrase = self.sheet.phrases[use.name]
        self.used.add(use.name)
        octave = frame.octave if phrase.settings.octave is None else phrase.settings.octave
        inner = self._body(phrase.body, Frame(octave, phrase.syllables, phrase.use_words))
        if use.start in frame.use_words:
            inner = _sung(inner, iter(frame.use_words[use.start]))
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
        if isinstance(change, OnSemitones):
            return [each for by in change.semitones for each in _moved(inner, Move(semitones=by))]
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


def _changed_size(size: _Size, node: Group | Use) -> _Size:
    """Return the size after the changes of a node. Raises TooMany."""
    signs, work, moves = size
    for change in node.changes:
        if isinstance(change, Repeat):
            signs *= change.times
        elif isinstance(change, OnSteps):
            signs *= len(change.steps)
        elif isinstance(change, OnSemitones):
            signs *= len(change.semitones)
        moves += isinstance(change, OnSteps | OnSemitones | Move | UpsideDown)
        work += signs
        if signs > MOST_EVENTS or work > _MOST_WORK:
            raise TooMany(node.start, node.end)
        if moves > MOST_MOVES:
            raise TooMany(node.start, node.end, f"This is moved more than {MOST_MOVES} times; one move is enough.")
    return _Size(signs, work, moves)


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


def _sung(inner: list[Placed], words: Iterator[Sung]) -> list[Placed]:
    """The same signs with other words: each that is struck takes the next syllable, those after the last none."""
    found = []
    for node, frame in inner:
        sung = next(words, None) if type(node) is Item and node.word.signs else None
        if type(node) is Until:
            node = Until(node.start, node.end, tuple(_sung(list(node.body), words)))
        own = {node.start: sung} if sung is not None else {}
        found.append(Placed(node, replace(frame, syllables=own) if own or frame.syllables else frame))
    return found


def _without_bars(inner: list[Placed]) -> list[Placed]:
    return [each for each in inner if type(each.node) is not BarLine]


def _played_once(inner: list[Placed]) -> list[Placed]:
    """The same signs without anything that is repeated to the end."""
    found: list[Placed] = []
    for each in inner:
        found += _played_once(list(each.node.body)) if isinstance(each.node, Until) else [each]
    return found


def _backwards(inner: list[Placed]) -> list[Placed]:
    """The last sign first. Holds stay behind what they hold, whatever stands between."""
    units: list[list[Placed]] = []
    holder: list[Placed] | None = None  # of the next hold
    for each in inner:
        if holder is not None and type(each.node) is Item and each.node.word.kind is Kind.HOLD:
            holder.append(each)
            continue
        units.append([each])
        if type(each.node) is not Direction:
            holder = units[-1] if type(each.node) is Item else None
    return [each for unit in reversed(units) for each in unit]
