"""Sheets of any length that are wrong, or odd, in one way all along: reading them must cost in proportion."""

from __future__ import annotations

import gc
import statistics
import time
from collections.abc import Callable

from chickadee import read

__all__ = ["KINDS", "growth"]


def _lines(sign: str, notes: int, bar: str = " ") -> str:
    return "\n".join(bar.join([sign] * 16) for _ in range(notes // 16))


def _phrases(notes: int) -> str:
    return (
        "".join(f"phrase wrd{number}\n  C4 D4 H4 E4\n" for number in range(notes // 4))
        + "voice V\n"
        + " ".join(f"wrd{number}" for number in range(notes // 4))
    )


KINDS: dict[str, Callable[[int], str]] = {
    "every bar too short": lambda notes: "meter: 5/4\n" + _lines("C4 D4 E4 F4 |", notes // 4),
    "every bar too long": lambda notes: "meter: 3/4\nticks: 4\n" + _lines("C4=8 D4=8 E4 F4 |", notes // 4),
    "one bar in all": lambda notes: _lines("C4", notes) + " |",
    "a bar line after each note": lambda notes: _lines("C4|", notes),
    "one line in all": lambda notes: "C4 D4 E4 F4 | " * (notes // 4),
    "one faulty phrase, used again and again": lambda notes: f"(C4 D4 E4 |) x{notes // 3}",
    "unknown words": lambda notes: "phrase call\nC4\nvoice V\n" + " ".join(f"wrd{n}x" for n in range(notes)),
    "unknown phrases": _phrases,
    "ramps of the tempo": lambda notes: " ".join(f"[slow to {60 + n % 40} over 1] C4" for n in range(notes)),
    "changes of meter and key": lambda notes: " ".join(
        f"[meter {2 + n % 5}/4] [key {'CDEFG'[n % 5]} major] C4 B4 |" for n in range(notes // 2)
    ),
    "notes held on and on": lambda notes: "C4&E4&G4" + " -" * notes,
    "blocks of one name": lambda notes: "phrase wrd\nC4 |\n" * notes,
    "turned upside down": lambda notes: f"({_lines('C4&E4&G4', notes)}) upside-down up 2 steps upside-down",
    "fitted, one inside the other": lambda notes: "(" * 50 + _lines("C4", notes) + ")=2" * 50,
    "open brackets": lambda notes: "( [ { C4 H4= ) \n" * (notes // 4),
    "two voices that disagree": lambda notes: "\n".join(
        f"voice V{v}\n" + " ".join(f"[tempo {60 + n % 50 + v}] C4" for n in range(notes // 2)) for v in range(2)
    ),
    "numbers too low to be heard": lambda notes: _lines("1", notes),
    "equal bars": lambda notes: "C4 D4 E4 F4 |\n" * (notes // 4),
    "words for other notes": lambda notes: "C4 D4 |\nwords: la la la la\n" * (notes // 2),
}
"""A sheet of about so many notes, by what is wrong with it."""


def growth(kind: str) -> float:
    """How much longer reading and checking 10,000 notes takes than 1,000: at the median of five comparisons, each of
    one long sheet with ten short ones, none of which was met before."""
    ratios = []
    for turn in range(5):
        short = sum(_seconds(kind, 1_000, f"{turn}s{each}") for each in range(10)) / 10
        ratios.append(_seconds(kind, 10_000, f"{turn}l") / short)
    return statistics.median(ratios)


def _seconds(kind: str, notes: int, mark: str) -> float:
    """The seconds that one sheet takes. A mark in its unknown words, its names and a comment tells it from others."""
    text = KINDS[kind](notes).replace("wrd", f"w{mark}d") + f"\n// {mark}"
    read("")  # what was read before goes now, and not while this is timed
    read(" ")
    gc.collect()
    start = time.perf_counter()
    read(text)
    return time.perf_counter() - start
