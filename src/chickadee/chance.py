"""Numbers that follow from a seed, the same on every machine and for ever."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeVar

__all__ = ["Chance"]

_MULTIPLIER = 6364136223846793005
_INCREMENT = 1442695040888963407
_MODULUS = 1 << 64
_T = TypeVar("_T")


class Chance:
    """A linear congruential generator of 64 bits, of which the upper ones are used.

    Its constants are Knuth's (The Art of Computer Programming, volume 2). Only whole numbers are reckoned with.

    >>> chance = Chance(7)
    >>> [chance.below(100) for _ in range(5)]
    [19, 90, 96, 10, 64]
    """

    def __init__(self, seed: int) -> None:
        self._state = (seed * 2862933555777941757 + 3037000493) % _MODULUS
        self.next()

    def next(self) -> int:
        """The next number, below 2 to the power of 64."""
        self._state = (self._state * _MULTIPLIER + _INCREMENT) % _MODULUS
        return self._state

    def below(self, limit: int) -> int:
        """A number from 0 up to a limit."""
        return (self.next() >> 33) % limit

    def shuffle(self, things: list[_T]) -> None:
        """Shuffle as Fisher and Yates do."""
        for last in reversed(range(1, len(things))):
            other = self.below(last + 1)
            things[last], things[other] = things[other], things[last]

    def choose(self, things: Sequence[_T], weights: Sequence[int]) -> _T:
        """One of several things, each as likely as its weight; weights of which none is above 0 are all the same."""
        total = sum(weights)
        if total <= 0:
            return things[self.below(len(things))]
        at = self.below(total)
        for thing, weight in zip(things, weights, strict=True):
            at -= weight
            if at < 0:
                return thing
        return things[-1]
