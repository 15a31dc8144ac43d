"""Somebody's attempt as it is laid over the tune on the timeline."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:  # the comparison is loaded with the first attempt
    from ..comparison.beside import Beside
    from ..comparison.differences import Difference

__all__ = ["AttemptOverlay"]


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
