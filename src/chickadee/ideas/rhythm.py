"""The rhythm of a bar: lengths from the recipe that fill it, and that show where its beats are."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from functools import lru_cache

from ..chance import Chance
from .recipe import fills

__all__ = ["bar_of_lengths", "closing_bar"]

_TRIES = 20  # of closing bars
_SELDOM = 6  # one in so many closing bars of two equal notes is taken


def bar_of_lengths(chance: Chance, bar: Fraction, lengths: Sequence[Fraction], pulse: int = 1) -> list[Fraction]:
    """Lengths that fill a bar of so many beats.

    A ``pulse`` is so many beats. What begins inside one ends with it, or does not reach over more than another: so
    the pulse stays heard.
    """
    found: list[Fraction] = []
    here = Fraction(0)
    while here < bar:
        fitting = [length for length in sorted(set(lengths)) if _fits(here, length, bar, lengths, pulse)]
        length = chance.choose(fitting, [_weight(here, length, lengths, pulse) for length in fitting])
        found.append(length)
        here += length
    return found


def closing_bar(
    chance: Chance, bar: Fraction, lengths: Sequence[Fraction], pulse: int = 1, before: int = 0
) -> list[Fraction]:
    """A bar that ends on a long note, at least half of it where a length allows it, with so many notes ``before`` it
    at least. Two notes of the same length come seldom: they halt before the end."""
    long = sorted({length for length in lengths if length <= bar}, reverse=True)
    ends = [length for length in long if 2 * length >= bar] or long[:1]
    found: list[Fraction] = []
    for _ in range(_TRIES):
        last = chance.choose(ends, [1] * len(ends))
        if _fills(bar - last, lengths):
            tried = [*bar_of_lengths(chance, bar - last, lengths, pulse), last]
            if len(tried) > before:
                found = tried
                if tried != [last, last] or not chance.below(_SELDOM):
                    break
    return found or bar_of_lengths(chance, bar, lengths, pulse)


def _fits(here: Fraction, length: Fraction, bar: Fraction, lengths: Sequence[Fraction], pulse: int) -> bool:
    end = here + length
    if end > bar or not _fills(bar - end, lengths):
        return False
    inside = here % pulse
    if pulse > 1:  # of a pulse of three: nothing goes on from one into the next
        return end <= here - inside + pulse or (not inside and not end % pulse)
    return not inside or end <= here - inside + 2


def _weight(here: Fraction, length: Fraction, lengths: Sequence[Fraction], pulse: int) -> int:
    """How likely a length is at a place: as often as it is wished, and more where it ends with a pulse."""
    wished = lengths.count(length)
    if (here + length) % pulse == 0:
        return 4 * wished
    return 2 * wished if here % pulse == 0 else wished


@lru_cache(4096)
def _reaches(room: Fraction, lengths: tuple[Fraction, ...]) -> bool:
    return fills(room, list(lengths))


def _fills(room: Fraction, lengths: Sequence[Fraction]) -> bool:
    return _reaches(room, tuple(sorted(set(lengths))))
