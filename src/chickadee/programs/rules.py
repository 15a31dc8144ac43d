"""How the languages differ where their programs look alike."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["RULES", "Rules"]


@dataclass(frozen=True, slots=True)
class Rules:
    """The ways of a language with values."""

    name: str
    divides_whole: bool = False
    """True if whole numbers divide to whole numbers."""
    joins_text: bool = False
    """True if a text and a number can be joined by ``+``."""
    lists_are_true: bool = False
    """True if an empty list is true."""
    counts_nothing: bool = False
    """True if nothing and texts count as numbers, and whole results are whole numbers."""
    has_pointers: bool = False
    """True if a list is a place in memory that can be counted on from."""
    knows_fields: bool = False
    """True if a method may name its object's fields without the object."""
    gives_nothing: bool = False
    """True if an item that is not there is nothing, instead of a fault."""
    counts_from_end: bool = False
    """True if item -1 is the last."""


RULES = {
    rules.name: rules
    for rules in (
        Rules("python", counts_from_end=True),
        Rules("javascript", joins_text=True, lists_are_true=True, counts_nothing=True, gives_nothing=True),
        Rules("c", divides_whole=True, has_pointers=True, knows_fields=True),
        Rules("java", divides_whole=True, joins_text=True, knows_fields=True),
        Rules("steps", counts_from_end=True),
    )
}
