"""The tree that a sheet's text is read into. Offsets count characters of the whole text."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import NamedTuple

from .direction import What
from .length import Length
from .properties import Settings
from .word import Word

_BEFORE = frozenset(" \t\n()]|")  # what may stand before a word that is written by itself
_AFTER = frozenset(" \t\n()[|")  # and after it

__all__ = [
    "Backwards",
    "BarLine",
    "Block",
    "Change",
    "Direction",
    "Group",
    "Item",
    "Move",
    "Node",
    "OnSemitones",
    "OnSteps",
    "Property",
    "Repeat",
    "Sheet",
    "Stretch",
    "Sung",
    "ToTheEnd",
    "UpsideDown",
    "Use",
    "groups_in",
    "is_written_so",
    "items_in",
    "uses_in",
]


class Item(NamedTuple):
    """A word where it stands. (Named tuples, since sheets hold very many.)"""

    start: int
    end: int
    word: Word


class BarLine(NamedTuple):
    """A bar line: a check, not a sound."""

    start: int
    end: int


class Direction(NamedTuple):
    """A direction in square brackets."""

    start: int
    end: int
    what: What


@dataclass(frozen=True, slots=True)
class Repeat:
    """``x3``."""

    times: int


@dataclass(frozen=True, slots=True)
class ToTheEnd:
    """``to the end``."""


@dataclass(frozen=True, slots=True)
class Move:
    """``up 5``, ``down 1 octave``, ``up 2 steps``: exactly one of the three is not zero, or all are."""

    semitones: int = 0
    octaves: int = 0
    steps: int = 0


@dataclass(frozen=True, slots=True)
class OnSteps:
    """``on ^6 ^4``: once on each step, ^1 being where it stands."""

    steps: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class OnSemitones:
    """``on 0 -3 5``: once at each distance in semitones from where it stands."""

    semitones: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Backwards:
    """``backwards``."""


@dataclass(frozen=True, slots=True)
class UpsideDown:
    """``upside-down``."""


@dataclass(frozen=True, slots=True)
class Stretch:
    """``stretched 2``, or ``squeezed 2`` as a half."""

    factor: Fraction


Change = Repeat | ToTheEnd | Move | OnSteps | OnSemitones | Backwards | UpsideDown | Stretch


@dataclass(frozen=True, slots=True)
class Group:
    """``( … )``, perhaps fitted into a length, with what is done to it; or a single sign and what is done to it."""

    start: int
    end: int
    """The end of the last change, or of the bracket where there is none."""
    body: tuple[Node, ...]
    length: Length | None
    changes: tuple[Change, ...]
    spans: tuple[tuple[int, int], ...]
    """(start, end) of each change."""


@dataclass(frozen=True, slots=True)
class Use:
    """A phrase's name where it is used, with what is done to it."""

    start: int
    end: int
    """The end of the last change, or of the name where there is none."""
    name: str
    changes: tuple[Change, ...]
    spans: tuple[tuple[int, int], ...]
    """(start, end) of each change."""


Node = Item | BarLine | Direction | Group | Use


@dataclass(frozen=True, slots=True)
class Property:
    """A ``name: value`` line."""

    name: str
    start: int
    """Offsets of the name."""
    end: int
    value: str
    value_start: int
    value_end: int


@dataclass(frozen=True, slots=True, eq=False)
class Sung:
    """The words of a sign: a syllable of each verse, sung in turn as the sign comes again."""

    verses: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Block:
    """A voice or a phrase: its properties and its music."""

    name: str
    start: int
    """Offsets of the name, or of the music's first sign where the block has no header."""
    end: int
    settings: Settings
    properties: tuple[Property, ...]
    body: tuple[Node, ...]
    words: tuple[Property, ...]
    """Its ``words:`` lines."""
    syllables: Mapping[int, Sung]
    """The words of the item that starts at an offset."""
    use_words: Mapping[int, tuple[Sung, ...]]
    """The words of the signs that a use strikes, in order, by the offset of a use with words of its own."""


@dataclass(frozen=True, slots=True)
class Sheet:
    """A whole sheet, as written."""

    settings: Settings
    properties: tuple[Property, ...]
    """The song's own."""
    phrases: Mapping[str, Block]
    voices: tuple[Block, ...]
    left_out: frozenset[int] = frozenset()
    """Offsets of the uses that are not followed: those of a phrase inside itself, and those that stand too deep."""


def is_written_so(text: str, item: Item) -> bool:
    """Return whether an item stands by itself in a sheet's text, as the language has it, and not in a near miss."""
    start = item.start
    end = item.end
    apart = (start == 0 or text[start - 1] in _BEFORE) and (end == len(text) or text[end] in _AFTER)
    return apart and end - start == len(item.word.text)


def items_in(body: tuple[Node, ...]) -> Iterator[Item]:
    """The notes, rests and holds of a body, those of its groups too."""
    for node in body:
        if isinstance(node, Item):
            yield node
        elif isinstance(node, Group):
            yield from items_in(node.body)


def groups_in(body: tuple[Node, ...]) -> Iterator[Group]:
    """The groups of a body and of its groups."""
    for node in body:
        if isinstance(node, Group):
            yield node
            yield from groups_in(node.body)


def uses_in(body: tuple[Node, ...]) -> Iterator[Use]:
    """The phrases used in a body and in its groups."""
    for node in body:
        if isinstance(node, Use):
            yield node
        elif isinstance(node, Group):
            yield from uses_in(node.body)
