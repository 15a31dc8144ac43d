"""Somebody's attempt as it is laid over the tune on the timeline."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from ..song import BarGrid
from . import words

if TYPE_CHECKING:  # the comparison is loaded with the first attempt
    from ..comparison.beside import Beside
    from ..comparison.differences import Difference

__all__ = ["AttemptOverlay", "marked"]


@dataclass(frozen=True)
class AttemptOverlay:
    """The drawing of an attempt: outlines where it differs, and a reading row with all of its pitches."""

    name: str
    moments: Sequence[Beside]
    """In order of time."""
    missing: Sequence[tuple[int, int]] = ()
    """(start, end) in ticks of what it does not have."""

    @classmethod
    def of(cls, name: str, moments: Sequence[Beside], differences: Sequence[Difference]) -> AttemptOverlay:
        """An attempt by its name, from what was compared."""
        from ..comparison.differences import Kind

        missing = [(each.start, each.start + each.length) for each in differences if each.kind is Kind.MISSING]
        return cls(name, moments, missing)

    @property
    def reach(self) -> list[int]:
        """The lowest and the highest MIDI number that is drawn; none where all is right."""
        numbers = [number for each in self.moments if each.kind is not None for number in each.numbers]
        return [min(numbers), max(numbers)] if numbers else []


def marked(moment: Beside, grid: BarGrid) -> str:
    """Return the text of a moment in the reading row: its pitches, its beats where wrong, ``+`` if added."""
    from ..comparison.differences import Kind
    from .class_table import pretty

    names = pretty(" ".join(moment.names))
    if moment.kind is Kind.LENGTH:
        return f"{names} {words.beats(grid.beats(moment.start, moment.length).limit_denominator(96))}"
    return f"+ {names}" if moment.kind is Kind.ADDED else names
