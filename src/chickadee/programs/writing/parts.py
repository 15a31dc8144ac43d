"""Parts for a program: the phrases of its sheet, and other passages that come again."""

from __future__ import annotations

from bisect import bisect_left
from collections import Counter
from collections.abc import Hashable, Sequence
from dataclasses import dataclass, field
from itertools import islice

from ...sheet.names import PHRASE_NAMES
from ..smallest import fewest_steps
from .alike import Moment, Passage, moved_by, passages
from .instructions import Instruction, Kind
from .phrase_uses import PhraseUse
from .plan import Call, Part, Plan, Planned, Step, repeated

__all__ = ["with_parts"]

_MOST_PARTS = 40
_LEAST_SIZE = 3  # items of a passage: a part of two is more to read than it saves
_MOST_TRIED = 6  # passages, until one makes the program smaller
_EXACT = 400  # instructions whose passages are judged by the steps that they really save

Item = Step | Call


@dataclass(slots=True)
class _Draft:
    """A part that is being made."""

    name: str
    """Empty until it gets one."""
    row: list[Item]
    is_moved: bool = False


@dataclass(slots=True)
class _Drafts:
    """A plan that is being made."""

    keys: Sequence[int]
    moments: list[Moment]
    """For each instruction, what it is like."""
    main: list[Item] = field(default_factory=list)
    parts: list[_Draft] = field(default_factory=list)

    def key(self, item: Item) -> Hashable:
        """The same for items that are alike."""
        return self.keys[item.place] if isinstance(item, Step) else item

    def moment(self, item: Item) -> Moment:
        """The likeness of an item."""
        return self.moments[item.place] if isinstance(item, Step) else Moment(item)

    @property
    def rows(self) -> list[list[Item]]:
        """The row of the whole, then those of the parts."""
        return [self.main, *(part.row for part in self.parts)]

    @property
    def cost(self) -> int:
        """The steps of the plan with repeats."""
        return len(self.parts) + sum(fewest_steps([self.key(item) for item in row]) for row in self.rows)


def with_parts(
    instructions: Sequence[Instruction], keys: Sequence[int], uses: Sequence[PhraseUse], can_move: bool
) -> Plan:
    """Return the plan with parts, and repeats in all of them.

    ``keys`` are the same for instructions that are written alike; ``uses`` are those of the sheet's phrases; where
    the language ``can_move`` a part by semitones, passages that are alike but for that are one part.
    """
    drafts = _Drafts(keys, _moments(instructions, keys))
    _Phrases(instructions, drafts, can_move).fill(uses)
    for _ in range(_MOST_PARTS):
        if not _add_passage(drafts, can_move):
            break
    return _finished(drafts)


def _moments(instructions: Sequence[Instruction], keys: Sequence[int]) -> list[Moment]:
    """The likeness of each instruction; those of the same shape are alike but for a move of all their pitches."""
    numbers: dict[Hashable, int] = {}
    found = []
    for each, key in zip(instructions, keys, strict=True):
        if each.kind is Kind.TEMPO:
            found.append(Moment(key))
            continue
        lowest = each.pitches[0].number if each.pitches else None
        rises = tuple(pitch.number - each.pitches[0].number for pitch in each.pitches)
        shape = numbers.setdefault((each.kind, each.beats, rises), len(numbers))
        found.append(Moment(key, shape, lowest))
    return found


# The sheet's phrases


class _Phrases:
    """Makes parts of the phrases that the sheet has."""

    def __init__(self, instructions: Sequence[Instruction], drafts: _Drafts, can_move: bool) -> None:
        self._instructions = instructions
        self._drafts = drafts
        self._can_move = can_move
        self._ticks = [each.tick for each in instructions]
        self._moves: dict[tuple[str, int, int], int] = {}
        """The move of each use that is a call, by its phrase and the instructions from where to where it is."""
        self._moved: set[str] = set()
        self._numbers: dict[str, int] = {}

    def fill(self, uses: Sequence[PhraseUse]) -> None:
        """Make the parts, and the row of the whole with their calls."""
        self._judge(uses)
        self._drafts.main = self._row(0, len(self._instructions), uses)

    def _judge(self, uses: Sequence[PhraseUse]) -> None:
        """Find out which uses are the same, perhaps moved."""
        found: dict[str, list[tuple[int, int]]] = {}
        waiting = list(uses)
        while waiting:
            use = waiting.pop()
            waiting += use.inside
            places = self._places(use)
            if places is not None:
                found.setdefault(use.name, []).append(places)
        for name, several in found.items():
            several.sort()
            written = Counter(self._content(places) for places in several)
            usual = max(several, key=lambda places: written[self._content(places)])
            for places in several:
                move = self._move(usual, places)
                if move is not None:
                    self._moves[name, *places] = move
                    if move:
                        self._moved.add(name)

    def _places(self, use: PhraseUse) -> tuple[int, int] | None:
        """The instructions of a use; None where something goes on over its edges."""
        first = bisect_left(self._ticks, use.start)
        last = bisect_left(self._ticks, use.end)
        while first < last and self._instructions[first].kind is Kind.TEMPO:
            first += 1
        mine = self._instructions[first:last]
        if not mine or mine[0].tick != use.start or max(each.end for each in mine) > use.end:
            return None
        return first, last

    def _content(self, places: tuple[int, int]) -> tuple[int, ...]:
        return tuple(self._drafts.keys[places[0] : places[1]])

    def _move(self, one: tuple[int, int], other: tuple[int, int]) -> int | None:
        """The semitones by which instructions are moved against others; None where they are not the same."""
        if self._content(one) == self._content(other):
            return 0
        first = self._drafts.moments[one[0] : one[1]]
        second = self._drafts.moments[other[0] : other[1]]
        if not self._can_move:
            return None
        return moved_by(first, second)

    def _row(self, start: int, end: int, uses: Sequence[PhraseUse]) -> list[Item]:
        """The items from one instruction to another, with calls for what is a phrase."""
        row: list[Item] = []
        at = start
        for use in uses:
            places = self._places(use)
            if places is None or not at <= places[0] < places[1] <= end:
                continue
            row += map(Step, range(at, places[0]))
            move = self._moves.get((use.name, *places))
            row += [Call(self._part(use, places), move)] if move is not None else self._row(*places, use.inside)
            at = places[1]
        return [*row, *map(Step, range(at, end))]

    def _part(self, use: PhraseUse, places: tuple[int, int]) -> int:
        if use.name not in self._numbers:
            is_moved = use.name in self._moved
            usual = self._usual(use.name) or places
            inside = () if is_moved else use.inside
            row = self._row(*usual, _at(inside, self._ticks[usual[0]] - use.start))
            self._numbers[use.name] = len(self._drafts.parts)
            self._drafts.parts.append(_Draft(use.name, row, is_moved))
        return self._numbers[use.name]

    def _usual(self, name: str) -> tuple[int, int] | None:
        """A use of a phrase that is not moved."""
        unmoved = (each for each, move in self._moves.items() if each[0] == name and move == 0)
        first = next(unmoved, None)
        return None if first is None else first[1:]


def _at(uses: Sequence[PhraseUse], later: int) -> list[PhraseUse]:
    """The same uses so many ticks later."""
    return [
        use._replace(start=use.start + later, end=use.end + later, inside=tuple(_at(use.inside, later)))
        for use in uses
    ]


# Other passages


def _add_passage(drafts: _Drafts, can_move: bool) -> bool:
    """Make a part of the passage that saves most steps; False where none saves any."""
    whole = [drafts.moment(item) for item in drafts.main]
    rows = [whole, *([] if part.is_moved else [drafts.moment(item) for item in part.row] for part in drafts.parts)]
    is_exact = len(drafts.keys) <= _EXACT
    cost = drafts.cost if is_exact else 0
    likely = (each for each in passages(rows, can_move) if each.size >= _LEAST_SIZE)
    for passage in islice(likely, _MOST_TRIED):
        changed = _with_passage(drafts, passage)
        if not is_exact or changed.cost < cost:
            drafts.main = changed.main
            drafts.parts = changed.parts
            return True
    return False


def _with_passage(drafts: _Drafts, passage: Passage) -> _Drafts:
    """The plan with a part for a passage, and calls in its places."""
    row, start = passage.places[0]
    is_moved = any(passage.moves)
    part = _Draft("", drafts.rows[row][start : start + passage.size], is_moved)
    number = len(drafts.parts)
    rows = [list(each) for each in drafts.rows]
    for (place, first), move in reversed(list(zip(passage.places, passage.moves, strict=True))):
        rows[place][first : first + passage.size] = [Call(number, move)]
    parts = [_Draft(each.name, rows[place], each.is_moved) for place, each in enumerate(drafts.parts, 1)]
    return _Drafts(drafts.keys, drafts.moments, rows[0], [*parts, part])


# The end


def _finished(drafts: _Drafts) -> Plan:
    """The plan with repeats; each part stands before those that call it, in the order in which they are needed."""
    order: list[int] = []

    def need(row: Sequence[Item]) -> None:
        for item in row:
            if isinstance(item, Call) and item.part not in order:
                need(drafts.parts[item.part].row)
                order.append(item.part)

    need(drafts.main)
    places = {part: place for place, part in enumerate(order)}
    names = _names([drafts.parts[part].name for part in order])

    def body(row: Sequence[Item]) -> tuple[Planned, ...]:
        items = [item._replace(part=places[item.part]) if isinstance(item, Call) else item for item in row]
        return repeated(items, [drafts.key(item) for item in row])

    parts = [
        Part(name, body(drafts.parts[part].row), drafts.parts[part].is_moved)
        for name, part in zip(names, order, strict=True)
    ]
    return Plan(body(drafts.main), tuple(parts))


def _names(given: Sequence[str]) -> list[str]:
    """The names of parts; those without one get the next word that is free."""
    taken = {name.lower() for name in given if name}
    words = (word for word in PHRASE_NAMES if word not in taken)
    numbers = iter(range(1, len(given) + 1))
    return [name or next(words, None) or f"part{next(numbers)}" for name in given]
