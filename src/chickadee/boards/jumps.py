"""Cells that come twice in a row, written once with a jump back."""

from __future__ import annotations

from collections.abc import Sequence

from .cells import Cell, CellKind

__all__ = ["with_jumps"]

_LEAST = 2  # cells that a jump must save
# cells that are looked through, and of a stretch that comes again
_MOST = 600
_LONGEST = 64


def with_jumps(cells: list[Cell], last: int) -> list[Cell]:
    """Cells with stretches that are repeated at once played by jumps, the longest saving first, none inside another.

    ``last`` is how many cells a jump can reach.
    """
    if len(cells) > _MOST:
        return cells
    keys = [(cell.kind, cell.length, cell.number) for cell in cells]
    taken = [False] * len(cells)
    chosen: list[tuple[int, int, int]] = []  # first cell, cells, how often they are played
    while (best := _best(keys, taken)) is not None:
        first, size, times = best
        for place in range(first, first + size * times):
            taken[place] = True
        chosen.append(best)
    starts = {first: (size, times) for first, size, times in chosen}
    found: list[Cell] = []
    place = 0
    while place < len(cells):
        if place in starts and len(found) < last:
            size, times = starts[place]
            goal = len(found)
            found += cells[place : place + size]
            after = cells[place + size - 1]
            found += [Cell(CellKind.JUMP, after.start + after.length, 0, goal)] * (times - 1)
            place += size * times
        else:
            found.append(cells[place])
            place += 1
    return found


def _best(keys: Sequence[object], taken: Sequence[bool]) -> tuple[int, int, int] | None:
    """The stretch that saves most cells when it is played by jumps; None where none saves enough."""
    best = None
    most = _LEAST - 1
    for size in range(min(_LONGEST, len(keys) // 2), 0, -1):
        run = 0
        for place in range(len(keys) - size):
            free = not taken[place] and not taken[place + size]
            run = run + 1 if free and keys[place] == keys[place + size] else 0
            if run >= size:
                first = place - run + 1
                times = 1 + run // size
                saved = (size - 1) * (times - 1)
                if saved > most:
                    best = (first, size, times)
                    most = saved
    return best
