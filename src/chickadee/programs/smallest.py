"""The smallest program of a row of steps: how few steps it takes with repeats inside one another."""

from __future__ import annotations

from collections.abc import Hashable, Sequence

__all__ = ["fewest_steps"]

_LONGEST = 200  # steps in a row for which the fewest are found exactly


def fewest_steps(steps: Sequence[Hashable]) -> int:
    """The number of steps of the smallest program with repeats, whose heads are one step each.

    Exact for up to 200 steps; a longer row is parted, so that it is never more than line by line.

    >>> fewest_steps("abab"), fewest_steps("aabaab"), fewest_steps("abc")
    (3, 4, 3)
    """
    return sum(_fewest(steps[start : start + _LONGEST]) for start in range(0, len(steps), _LONGEST))


def _fewest(steps: Sequence[Hashable]) -> int:
    """A dynamic program: the fewest steps from each place to each other, whose last is a step or a repeat."""
    size = len(steps)
    alike = _alike(steps)
    periods = [_periods(alike, end) for end in range(size + 1)]
    fewest = [[0] * (size + 1) for _ in range(size + 1)]
    for start in reversed(range(size)):
        row = fewest[start]
        before: dict[tuple[int, int], int] = {}
        """The fewest steps before a repeat, by the repeat's period and end, whatever the number of its turns."""
        for end in range(start + 1, size + 1):
            best = row[end - 1] + 1
            for period in periods[end]:
                if period * 2 > end - start:
                    break
                least = row[end - 2 * period]
                if alike[end - period][period] >= 2 * period:  # one turn less is a repeat as well
                    least = min(least, before.get((period, end - period), least))
                before[period, end] = least
                best = min(best, least + 1 + fewest[end - period][end])
            row[end] = best
    return fewest[0][size]


def _periods(alike: Sequence[Sequence[int]], end: int) -> list[int]:
    """The periods with which the steps before a place repeat, without multiples of smaller ones."""
    found: list[int] = []
    for period in range(1, end // 2 + 1):
        is_new = not any(period % each == 0 and alike[end - each][each] >= period - each for each in found)
        if is_new and alike[end - period][period] >= period:
            found.append(period)
    return found


def _alike(steps: Sequence[Hashable]) -> list[list[int]]:
    """For each place and period how many steps before the place's block are the same as those a period later.

    ``alike[place][period]`` counts the steps backwards from ``place + period - 1``.
    """
    size = len(steps)
    found = [[0] * (size + 1) for _ in range(size + 1)]
    for period in range(1, size // 2 + 1):
        run = 0
        for last in range(period, size):
            run = run + 1 if steps[last] == steps[last - period] else 0
            place = last + 1 - period
            found[place][period] = run
    return found
