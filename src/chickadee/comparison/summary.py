"""A class at a glance: how many have each bar right, and which mistakes come most often."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from .differences import Difference, Kind
from .verdict import Comparison, Verdict
from .words import difference_in_words

__all__ = ["Common", "bars_right", "common_in", "judged_by_bar", "key_of"]

_LEAST = 2  # attempts that share a mistake

MistakeKey = tuple[Kind, int, Fraction, tuple[int, ...], Fraction | None]


@dataclass(frozen=True, slots=True)
class Common:
    """A mistake that several attempts share."""

    key: MistakeKey
    """The identity of a mistake: its kind, bar and beat, and what was found there."""
    words: str
    attempts: int

    @property
    def kind(self) -> Kind:
        """The kind of the mistake."""
        return self.key[0]

    @property
    def bar(self) -> int:
        """Where it is."""
        return self.key[1]

    @property
    def beat(self) -> Fraction:
        """Where in that bar."""
        return self.key[2]

    @property
    def found(self) -> tuple[int, ...]:
        """The MIDI numbers found instead; none where something is missing."""
        return self.key[3]


def key_of(difference: Difference) -> MistakeKey:
    """Return the identity of a difference."""
    found = difference.found
    return (
        difference.kind,
        difference.bar,
        difference.beat,
        found.numbers if found else (),
        found.beats if found and difference.kind is Kind.LENGTH else None,
    )


def common_in(comparisons: Sequence[Comparison]) -> list[Common]:
    """The mistakes that at least two attempts share, the commonest first, then in order of time."""
    counts: Counter[MistakeKey] = Counter()
    words: dict[MistakeKey, str] = {}
    for comparison in comparisons:
        mine = {key_of(each): each for each in comparison.differences}
        counts.update(mine.keys())
        for key, each in mine.items():
            words.setdefault(key, difference_in_words(each))
    shared = [Common(key, words[key], count) for key, count in counts.items() if count >= _LEAST]
    return sorted(shared, key=lambda each: (-each.attempts, each.bar, each.beat, each.kind.weight))


def judged_by_bar(comparison: Comparison) -> bool:
    """Return whether an attempt was read and is one at this tune, so that its bars say something."""
    return comparison.verdict not in (Verdict.UNREADABLE, Verdict.ANOTHER_TUNE)


def bars_right(comparisons: Sequence[Comparison], bars: int) -> list[int]:
    """For each of the model's bars, how many attempts have it right."""
    read = [each.bars for each in comparisons if judged_by_bar(each)]
    return [sum(cells[bar] is None for cells in read) for bar in range(bars)]
