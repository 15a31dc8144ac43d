"""Bars that come again, written once as phrases and used by their names."""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Sequence
from typing import NamedTuple

from .names import PHRASE_NAMES, free_name

__all__ = ["Bar", "Phrase", "Piece", "phrased"]

_LONGEST = 16
_MOST_PHRASES = 40
_SILENT = re.compile(r"(?:rest|-)\S* \|")  # a bar without strikes
_ROUND = {2: 1.2, 4: 1.3, 8: 1.2}  # by how many bars a phrase is liked better
_OVERHEAD = 2  # words that a phrase's own lines cost the reader


class Piece(NamedTuple):
    """A bar as it is written, or a phrase used so many times in a row."""

    text: str
    """The bar's signs, or the phrase's name."""
    is_use: bool = False
    times: int = 1
    bar: int = 0
    """Which of its voice's bars it is, or begins with."""
    head: str = ""
    """The directions before it."""
    bars: int = 1
    """How many bars it holds, played once."""

    @property
    def written(self) -> str:
        """How it stands in the sheet."""
        text = f"{self.text} x{self.times}" if self.times > 1 else self.text
        return f"{self.head} {text}".strip()


class Bar(NamedTuple):
    """A bar as text, without the directions at its start."""

    head: str
    text: str


class Phrase(NamedTuple):
    """A phrase: its name and its bars."""

    name: str
    bars: tuple[str, ...]


def phrased(
    voices: Sequence[Sequence[Bar]], fixed: Sequence[frozenset[int]], taken: set[str]
) -> tuple[list[Phrase], list[list[Piece]]]:
    """Phrases for the bars that come again, and each voice's bars with the phrases used in their place.

    ``voices`` are each voice's bars, ``fixed`` which of them stay as they are. What saves most words is
    found first. ``taken`` are names that phrases cannot have, in lower case; those given are added.
    """
    finder = _Finder(voices, fixed)
    found: list[tuple[str, ...]] = []
    while len(found) < _MOST_PHRASES and (bars := finder.best()) is not None:
        finder.use(bars, len(found))
        found.append(bars)
    order = finder.order()
    phrases = {}
    for place, number in enumerate(order):
        name = free_name(PHRASE_NAMES[place % len(PHRASE_NAMES)], "phrase", taken)
        taken.add(name.lower())
        phrases[number] = Phrase(name, found[number])
    return [phrases[number] for number in order], [finder.pieces(voice, phrases) for voice in range(len(voices))]


Row = list[tuple[str | int | None, int]]
"""Bars as text, phrases as numbers, None for what stays; with the bar of the voice that each begins with."""


def _sounding(row: Row) -> list[tuple[int, str]]:
    """The (place, bar) of each bar in a row that is not silent."""
    return [(place, bar) for place, (bar, _) in enumerate(row) if isinstance(bar, str) and not _SILENT.fullmatch(bar)]


class _Finder:
    """Voices as rows of bars, in which bars are replaced by the numbers of phrases."""

    def __init__(self, voices: Sequence[Sequence[Bar]], fixed: Sequence[frozenset[int]]) -> None:
        self._rows: list[Row] = [
            [
                (bar.text if place not in kept and bar.text.endswith("|") else None, place)
                for place, bar in enumerate(bars)
            ]
            for bars, kept in zip(voices, fixed, strict=True)
        ]
        self._sounding = [_sounding(row) for row in self._rows]
        self._voices = voices

    def _window(self, voice: int, place: int, length: int) -> tuple[str, ...] | None:
        """The bars from a place in a row on; None where they are no bars, or directions stand between them."""
        row = self._rows[voice]
        found = list[str]()
        for bar, number in row[place : place + length]:
            if not isinstance(bar, str) or (found and self._voices[voice][number].head):
                return None
            found.append(bar)
        return tuple(found)

    def best(self) -> tuple[str, ...] | None:
        """The run of bars whose naming saves most words; None where none saves any.

        It begins and ends with a bar that comes again and is not silent.
        """
        best = None
        most = 0.0
        edges = self._edges()
        for length in range(min(_LONGEST, max(map(len, self._rows), default=0)), 0, -1):
            for window, count in self._windows(length, edges).items():
                words = sum(bar.count(" ") for bar in window)  # the bar line is no word
                saved = (count - 1) * words - count - _OVERHEAD
                if count > 1 and saved * _ROUND.get(length, 1.0) > most and not _is_periodic(window):
                    best = window
                    most = saved * _ROUND.get(length, 1.0)
        return best

    def _edges(self) -> list[list[int]]:
        """The places in each row where a phrase can begin or end."""
        seen = Counter(bar for row in self._sounding for _, bar in row)
        return [[place for place, bar in row if seen[bar] > 1] for row in self._sounding]

    def _windows(self, length: int, edges: Sequence[Sequence[int]]) -> dict[tuple[str, ...], int]:
        """How often each run of so many bars stands in the rows, without overlapping itself."""
        times: dict[tuple[str, ...], int] = defaultdict(int)
        for voice, places in enumerate(edges):
            past: dict[tuple[str, ...], int] = {}
            ends = set(places)
            for place in places:
                if place + length - 1 not in ends:
                    continue
                window = self._window(voice, place, length)
                if window is not None and past.get(window, -length) + length <= place:
                    times[window] += 1
                    past[window] = place
        return times

    def use(self, bars: tuple[str, ...], number: int) -> None:
        """Put a phrase in the place of its bars, wherever they stand."""
        length = len(bars)
        for voice, row in enumerate(self._rows):
            found = list[int]()
            free = 0
            for place, bar in self._sounding[voice]:
                if place >= free and bar == bars[0] and self._window(voice, place, length) == bars:
                    found.append(place)
                    free = place + length
            for place in reversed(found):
                row[place : place + length] = [(number, row[place][1])]
            if found:
                self._sounding[voice] = _sounding(row)

    def order(self) -> list[int]:
        """The phrases in the order in which they are first used."""
        return list(dict.fromkeys(bar for row in self._rows for bar, _ in row if isinstance(bar, int)))

    def pieces(self, voice: int, phrases: dict[int, Phrase]) -> list[Piece]:
        """A voice's bars and uses, equal uses in a row as one."""
        found: list[Piece] = []
        for bar, place in self._rows[voice]:
            head, text = self._voices[voice][place]
            if not isinstance(bar, int):
                found.append(Piece(text, bar=place, head=head))
            elif not head and found and found[-1].is_use and found[-1].text == phrases[bar].name:
                found[-1] = found[-1]._replace(times=found[-1].times + 1)
            else:
                phrase = phrases[bar]
                found.append(Piece(phrase.name, is_use=True, bar=place, head=head, bars=len(phrase.bars)))
        return found


def _is_periodic(window: tuple[str, ...]) -> bool:
    """Return whether a run of bars is a shorter one, several times."""
    length = len(window)
    return any(
        length % step == 0 and window == window[:step] * (length // step) for step in range(1, length // 2 + 1)
    )
