"""What the sheet's margin says of each line: which bars it ends, and whether they are full. No Qt."""

from __future__ import annotations

from dataclasses import dataclass

from ...sheet import Reading

__all__ = ["BarMark", "bar_marks"]


@dataclass(frozen=True, slots=True)
class BarMark:
    """The bars that one line closes."""

    text: str
    """``1–4 ✓``, or ``7 ✗`` where bar 7 is the first that is not full."""
    full: bool


def bar_marks(reading: Reading) -> dict[int, BarMark]:
    """The marks of the lines that close bars, by line counted from 1."""
    lines: dict[int, list[tuple[int, int, bool]]] = {}
    for bar in reading.bars:
        line = reading.place(bar.start)[0]
        lines.setdefault(line, []).append((bar.number, bar.number + bar.count - 1, bar.full))
    marks = {}
    for line, bars in lines.items():
        faulty = [first for first, _, full in bars if not full]
        first, last = bars[0][0], bars[-1][1]
        if faulty:
            marks[line] = BarMark(f"{', '.join(map(str, faulty[:2]))}{'…' if len(faulty) > 2 else ''} ✗", False)
        else:
            marks[line] = BarMark(f"{first}–{last} ✓" if last > first else f"{first} ✓", True)
    return marks
