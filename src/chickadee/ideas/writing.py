"""Bars of a practice tune, and how they are written: four in a line, with syllables where they are asked for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import NamedTuple

from ..chance import Chance
from ..theory import Pitch
from .recipe import Recipe
from .syllables import syllables

__all__ = ["IN_LINE", "Bar", "Line", "bar_with_rests", "lines_of", "places_of", "row_of", "texts_of", "together"]

IN_LINE = 4
"""How many bars stand in a line."""


@dataclass(frozen=True, slots=True)
class Bar:
    """Lengths with their pitches; None for a rest."""

    lengths: tuple[Fraction, ...]
    pitches: tuple[Pitch | None, ...]

    @property
    def strikes(self) -> int:
        """How many notes are struck."""
        return sum(pitch is not None for pitch in self.pitches)

    @property
    def text(self) -> str:
        """The bar as it is written."""
        words = []
        for length, pitch in zip(self.lengths, self.pitches, strict=True):
            sign = pitch.text if pitch is not None else "rest"
            words.append(sign if length == 1 else f"{sign}={length}")
        return " ".join(words)


def bar_with_rests(recipe: Recipe, chance: Chance, lengths: Sequence[Fraction], pitches: Sequence[Pitch]) -> Bar:
    """A bar with as many of its notes left out as the recipe wishes, but never the first."""
    sung = [pitch if not place or chance.below(100) >= recipe.rests else None for place, pitch in enumerate(pitches)]
    return Bar(tuple(lengths), tuple(sung))


def places_of(recipe: Recipe, bars: Sequence[Bar]) -> list[int]:
    """The places on the ladder of all that is sung in some bars."""
    return [recipe.ladder.index(pitch) for bar in bars for pitch in bar.pitches if pitch is not None]


class Line(NamedTuple):
    """A line of a voice, how many notes it strikes, and its bars."""

    text: str
    strikes: int
    bars: int


def lines_of(bars: Sequence[Bar]) -> list[Line]:
    rows = (bars[place : place + IN_LINE] for place in range(0, len(bars), IN_LINE))
    return [Line(row_of([bar.text for bar in row]), sum(bar.strikes for bar in row), len(row)) for row in rows]


def together(lines: Sequence[Line]) -> list[Line]:
    """Lines joined where together they have no more bars than stand in a line."""
    found = [*lines[:1]]
    for line in lines[1:]:
        if found[-1].bars + line.bars > IN_LINE:
            found.append(line)
        else:
            text, strikes, bars = found[-1]
            found[-1] = Line(f"{text} {line.text}", strikes + line.strikes, bars + line.bars)
    return found


def row_of(texts: Sequence[str]) -> str:
    """Bars as a line of a voice, each with its bar line."""
    return " ".join(f"{text} |" for text in texts)


def texts_of(lines: Sequence[Line], chance: Chance | None = None) -> list[str]:
    """Lines as they stand in a block, with syllables under them where ``chance`` is to choose some."""
    found = []
    for line in lines:
        found.append(f"  {line.text}")
        if chance is not None:
            found.append(f"  words: {' '.join(syllables(chance, line.strikes))}")
    return found
