"""How far a melody is from what makes a practice tune good, in numbers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby, pairwise

__all__ = ["FIFTH", "Judgement", "judge"]

_LEAP = 3  # steps, from which on a move is a leap that is to be answered
FIFTH = 4
"""Steps that a melody is to go through at least."""


@dataclass(frozen=True, slots=True)
class Judgement:
    """Counts in a melody of places on the ladder of its key."""

    moves: int
    """How many moves there are, from each note to the next."""
    by_step: int
    """Moves to a neighbour or to the same pitch."""
    too_far: int
    """Moves by more than the longest leap."""
    leaps: int
    """Moves by a fourth or more (three steps)."""
    answered: int
    """Leaps after which the melody turns back, or ends."""
    tops: int
    """How often the highest pitch is struck anew."""
    span: int
    """Steps from the lowest pitch to the highest."""
    longest_same: int
    """How often one pitch is sung in a row, at most."""
    closes_by_step: bool
    """True if the last note is reached by a step up or down."""

    @property
    def cost(self) -> int:
        """0 for a melody that is as it should be; what breaks the recipe weighs most."""
        return (
            100 * self.too_far
            + 4 * max(0, self.longest_same - 3)
            + 2 * max(0, self.leaps - self.answered)
            + max(0, self.moves // 2 - self.by_step)
            + max(0, self.tops - 4)
            + max(0, FIFTH - self.span)
            + (not self.closes_by_step)
        )


def judge(places: Sequence[int], longest_leap: int) -> Judgement:
    """Count in the places of a melody, each a step of the key or scale above the lowest pitch."""
    moves = [after - before for before, after in pairwise(places)]
    after_leaps = [(move, later) for move, later in pairwise([*moves, 0]) if abs(move) >= _LEAP]
    runs = [(place, len(list(same))) for place, same in groupby(places)]
    return Judgement(
        moves=len(moves),
        by_step=sum(abs(move) <= 1 for move in moves),
        too_far=sum(abs(move) > longest_leap for move in moves),
        leaps=len(after_leaps),
        answered=sum(move * later <= 0 for move, later in after_leaps),
        tops=sum(place == max(places) for place, _ in runs),
        span=max(places, default=0) - min(places, default=0),
        longest_same=max((length for _, length in runs), default=0),
        closes_by_step=not moves or abs(moves[-1]) == 1,
    )
