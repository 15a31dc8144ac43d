"""Near misses: common ways of writing something that the language writes a little differently."""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass
from difflib import get_close_matches
from functools import lru_cache

__all__ = ["Lookalikes", "NearMiss", "near_miss", "written_together"]

_MOST_COMPARED = 20_000  # words of one sheet, which take about a tenth of a second
_LONGEST = 40
_MOST_SLIPS = 4  # in one word
_VALUES = {"8th": "eighth", "4th": "quarter", "half note": "half", "quarter note": "quarter"}


@dataclass(frozen=True, slots=True)
class NearMiss:
    """A word as it was surely meant."""

    meant: str
    message: str


_RUN = re.compile(r"(?:[A-G][#♯b♭]?[0-9]?){2,}|[a-g]{2,}|(?:[a-g][#♯b♭]?[0-9]){2,}")
_ONE_OF_RUN = re.compile(r"[A-G][#♯b♭]?[0-9]?|[a-g](?:[#♯b♭]?[0-9])?|[A-Z]")
_WITH_OTHERS = re.compile(r"[A-Z]{4,}")
_MOST_OTHERS = 1 / 4  # of the letters of a run, that are no notes
_SHARP = re.compile(r"([>'‘’]*[A-Ga-g])(s|is)(-?[0-9]?)((?:=.*)?)")


def near_miss(word: str) -> NearMiss | None:
    """Return the word that was surely meant by one that cannot be read, or None. Several slips are all put right;
    the message speaks of the first."""
    first = found = _one_slip(word)
    for _ in range(_MOST_SLIPS):
        if found is None or (following := _one_slip(found.meant)) is None:
            break
        found = following
    return NearMiss(found.meant, first.message) if found and first else None


def _one_slip(word: str) -> NearMiss | None:
    if word[-1] in ",;" and word.rstrip(",;"):
        return NearMiss(word.rstrip(",;"), "No comma is needed; a space keeps notes apart.")
    if any(mark in word for mark in "‘’`´"):
        return NearMiss(re.sub("[‘’`´]", "'", word), "A short note is marked with a straight ' before it.")
    if found := re.fullmatch(r"([^:=]+):([0-9.,/]+)", word):
        return NearMiss(f"{found[1]}={found[2]}", "A length is written with =, as in C4=2.")
    if found := re.fullmatch(r"([^=]*=[0-9]*),([0-9]+)", word):
        return NearMiss(f"{found[1]}.{found[2]}", "A decimal is written with a point, as in =0.5.")
    if found := re.fullmatch(r"(?i)([^=]*=)(8th|4th|half note|quarter note)", word):
        return NearMiss(f"{found[1]}{_VALUES[found[2].lower()]}", "A note value is written as a word, as in =eighth.")
    if found := re.fullmatch(r"([>']*[EAea])s(-?[0-9]?)((?:=.*)?)", word):
        return NearMiss(f"{found[1]}b{found[2]}{found[3]}", "A flat is written b, as in Eb4.")
    if found := re.fullmatch(r"([>']*[A-Ga-g][#♯b♭]*-?[0-9]?)[.]", word):
        return NearMiss(f"{found[1]}=3/2", "A dotted beat is written =3/2, or with a note value as =quarter.")
    if found := re.fullmatch(r"[rR]((?:=.*)?)", word):
        return NearMiss(f"rest{found[1]}", "A rest is written rest, or with a point.")
    if found := _SHARP.fullmatch(word):
        return NearMiss(f"{found[1]}#{found[3]}{found[4]}", "A sharp is written #, as in G#4.")
    return None


def written_together(word: str) -> list[tuple[int, int]]:
    """The offsets of the notes in a word that holds several, as ``CEGEC``, ``c4d4``, ``C,E,G`` and ``C-E-G`` do.

    The last has the length that the word ends with. Of many letters a few may be no notes. Empty for other words.
    """
    body = re.split("[=:]", word)[0].rstrip(",;")
    if _RUN.fullmatch(body):
        spans = [found.span() for found in _ONE_OF_RUN.finditer(body)]
    elif re.search("[,;]|[A-Ga-g0-9]-[A-Ga-g]", body):
        spans = [found.span() for found in re.finditer("(?:[^,;-]|-(?=[0-9]))+", body)]
    elif _WITH_OTHERS.fullmatch(body) and sum(letter > "G" for letter in body) <= len(body) * _MOST_OTHERS:
        spans = [found.span() for found in _ONE_OF_RUN.finditer(body)]
    else:
        return []
    if len(spans) < 2:
        return []
    start, end = spans[-1]
    return [*spans[:-1], (start, end + len(word.rstrip(",;")) - len(body))]


class Lookalikes:
    """Finds names that a word resembles; after very many words it stops looking.

    >>> Lookalikes().of("temp", ["tempo", "title"])
    ['tempo']
    """

    def __init__(self) -> None:
        self._left = _MOST_COMPARED

    def of(self, word: str, names: Collection[str], likeness: float = 0.6) -> list[str]:
        """The two names most like a word, if they are at least so much like it, from 0 to 1."""
        self._left -= len(names)
        if len(word) > _LONGEST or self._left < 0:
            return []
        return _nearest(word, frozenset(names), likeness)


@lru_cache(maxsize=512)
def _nearest(word: str, names: frozenset[str], likeness: float) -> list[str]:
    return get_close_matches(word, sorted(names), 2, likeness)
