"""Near misses: what a class writes when it means something the language says a little differently."""

from __future__ import annotations

import re
from dataclasses import dataclass

__all__ = ["NearMiss", "letter_run", "near_miss"]


@dataclass(frozen=True, slots=True)
class NearMiss:
    """A word as it was surely meant."""

    meant: str
    message: str


_RUN = re.compile(r"(?:[A-G][#♯b♭]?[0-9]?){2,}|[a-g]{3,}")
_ONE_OF_RUN = re.compile(r"[A-G][#♯b♭]?[0-9]?|[a-g]")
_SHARP = re.compile(r"([>'‘’]*[A-Ga-g])(s|is)(-?[0-9]?)((?:=.*)?)")


def near_miss(word: str) -> NearMiss | None:
    """What a word that cannot be read was surely meant to be, or None."""
    if word[-1] in ",;" and len(word) > 1:
        return NearMiss(word.rstrip(",;"), "No comma is needed; a space keeps notes apart.")
    if any(mark in word for mark in "‘’`´"):
        return NearMiss(re.sub("[‘’`´]", "'", word), "A short note is marked with a straight ' before it.")
    if found := re.fullmatch(r"([^:=]+):([0-9./]+)", word):
        return NearMiss(f"{found[1]}={found[2]}", "A length is written with =, as in C4=2.")
    if found := re.fullmatch(r"([^=]*=[0-9]*),([0-9]+)", word):
        return NearMiss(f"{found[1]}.{found[2]}", "A decimal is written with a point, as in =0.5.")
    if found := re.fullmatch(r"[rR]((?:=.*)?)", word):
        return NearMiss(f"rest{found[1]}", "A rest is written rest, or with a point.")
    if found := _SHARP.fullmatch(word):
        return NearMiss(f"{found[1]}#{found[3]}{found[4]}", "A sharp is written #, as in G#4.")
    return None


def letter_run(word: str) -> list[tuple[int, int]]:
    """The offsets of each note in letters written together, as in ``CEGEC``; empty for any other word."""
    if _RUN.fullmatch(word) is None:
        return []
    return [found.span() for found in _ONE_OF_RUN.finditer(word)]
