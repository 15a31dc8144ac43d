"""Marks in the sheet's margin: which bars a line ends, and whether they are full."""

from __future__ import annotations

from dataclasses import dataclass
from operator import attrgetter

from ..sheet import Reading
from ..sheet.bars import Bar

__all__ = ["BarMark", "bar_marks"]


@dataclass(frozen=True, slots=True)
class BarMark:
    """The bars that one line closes; of a phrase used more than once, where it is used first."""

    text: str
    """``1–4 ✓``, or ``7 ✗`` where bar 7 is the first that is not full."""
    full: bool


def bar_marks(reading: Reading) -> dict[int, BarMark]:
    """The marks of the lines that close bars, by line counted from 1."""
    lines: dict[int, list[Bar]] = {}
    for bar in reading.bars:
        lines.setdefault(reading.place(bar.start)[0], []).append(bar)
    return {line: _mark(bars) for line, bars in lines.items()}


def _mark(bars: list[Bar]) -> BarMark:
    faulty = sorted({bar.number for bar in bars if not bar.full})
    if faulty:
        return BarMark(f"{', '.join(map(str, faulty[:2]))}{'…' if len(faulty) > 2 else ''} ✗", False)
    runs: list[tuple[int, int]] = []
    for bar in sorted(bars, key=attrgetter("number")):
        last = bar.number + bar.spans - 1
        if runs and bar.number <= runs[-1][1] + 1:
            runs[-1] = (runs[-1][0], max(last, runs[-1][1]))
        else:
            runs.append((bar.number, last))
    said = [f"{first}–{last}" if last > first else str(first) for first, last in runs]
    return BarMark(f"{said[0]}{' …' if len(said) > 1 else ''} ✓", True)
