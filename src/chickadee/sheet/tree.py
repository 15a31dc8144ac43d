"""The tree that a sheet's text is read into. Offsets count characters of the whole text."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from .direction import Loudness
from .properties import Settings
from .word import Word

__all__ = ["BarLine", "Block", "Direction", "Item", "Node", "Property", "Sheet"]


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
    what: Loudness


Node = Item | BarLine | Direction


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


@dataclass(frozen=True, slots=True)
class Block:
    """A voice: its properties and its music."""

    name: str
    start: int
    """Offsets of the name, or of the music's first sign where the block has no header."""
    end: int
    settings: Settings
    properties: tuple[Property, ...]
    body: tuple[Node, ...]


@dataclass(frozen=True, slots=True)
class Sheet:
    """A whole sheet, as written."""

    settings: Settings
    properties: tuple[Property, ...]
    """The song's own."""
    voices: tuple[Block, ...]
