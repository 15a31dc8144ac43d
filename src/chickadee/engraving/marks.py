"""The marks of a staff: signs, straight lines, filled shapes and words, in staff spaces, y downwards."""

from __future__ import annotations

from collections.abc import Callable
from enum import Enum
from typing import NamedTuple

from ..song import Note
from .outlines import Box, PathStep, outline

__all__ = ["Blot", "Mark", "Measure", "Rule", "Sign", "WordPlace", "Words", "box_of", "ellipse", "moved", "polygon"]


class Sign(NamedTuple):
    """An outline at a place."""

    name: str
    x: float
    y: float
    scale: float = 1.0
    note: Note | None = None
    """The note it is the head of."""
    part: str = ""
    """``head``, ``accidental``, ``flag``, ``dot`` or ``rest``, where it is one of a note."""

    @property
    def box(self) -> Box:
        """Where it is drawn."""
        left, top, right, bottom = outline(self.name).box
        return Box(left * self.scale, top * self.scale, right * self.scale, bottom * self.scale).moved(self.x, self.y)


class Rule(NamedTuple):
    """A straight line of some width."""

    left: float
    top: float
    right: float
    bottom: float
    width: float
    part: str = ""


class Blot(NamedTuple):
    """A filled shape, such as a beam or a tie."""

    steps: tuple[PathStep, ...]
    part: str = ""
    white: bool = False
    """True if it is the inside of another."""


class WordPlace(Enum):
    """The part of words that stands at their x."""

    LEFT = "left"
    MIDDLE = "middle"


class Words(NamedTuple):
    """Words in one line."""

    text: str
    x: float
    y: float
    """Their middle."""
    size: float = 1.6
    """Staff spaces of their size."""
    bold: bool = False
    place: WordPlace = WordPlace.LEFT
    part: str = ""
    white: bool = False
    """True if they are written in a black head."""


Mark = Sign | Rule | Blot | Words
Measure = Callable[[str, float, bool], float]
"""How wide a text is, in the unit of its size: text, size, whether bold."""
_ROUND = 0.5523  # of a radius, to the control points of a quarter of a circle
_CAPITALS = 0.76  # of the size: the height of capitals and figures


def ellipse(x: float, y: float, wide: float, high: float, white: bool = False) -> Blot:
    """A filled ellipse around a middle, so many staff spaces to each side, and up and down."""
    across = wide * _ROUND
    down = high * _ROUND
    steps: tuple[PathStep, ...] = (
        ("M", (x + wide, y)),
        ("C", (x + wide, y + down, x + across, y + high, x, y + high)),
        ("C", (x - across, y + high, x - wide, y + down, x - wide, y)),
        ("C", (x - wide, y - down, x - across, y - high, x, y - high)),
        ("C", (x + across, y - high, x + wide, y - down, x + wide, y)),
        ("Z", ()),
    )
    return Blot(steps, "head", white)


def polygon(*points: tuple[float, float], part: str = "") -> Blot:
    """A filled shape with straight edges."""
    first, *others = points
    return Blot((("M", first), *(("L", point) for point in others), ("Z", ())), part)


def box_of(mark: Mark, measure: Measure) -> Box:
    """The box around a mark."""
    if isinstance(mark, Sign):
        return mark.box
    if isinstance(mark, Rule):
        half = mark.width / 2
        across = abs(mark.right - mark.left) > abs(mark.bottom - mark.top)
        x = 0.0 if across else half
        y = half if across else 0.0
        top, bottom = sorted((mark.top, mark.bottom))
        left, right = sorted((mark.left, mark.right))
        return Box(left - x, top - y, right + x, bottom + y)
    if isinstance(mark, Blot):
        xs = [number for _, numbers in mark.steps for number in numbers[::2]]
        ys = [number for _, numbers in mark.steps for number in numbers[1::2]]
        return Box(min(xs), min(ys), max(xs), max(ys))
    width = measure(mark.text, mark.size, mark.bold)
    left = mark.x - (width / 2 if mark.place is WordPlace.MIDDLE else 0.0)
    half = mark.size * _CAPITALS / 2
    return Box(left, mark.y - half, left + width, mark.y + half)


def moved(mark: Mark, x: float, y: float) -> Mark:
    """A mark so much further right and down."""
    if isinstance(mark, Rule):
        return Rule(mark.left + x, mark.top + y, mark.right + x, mark.bottom + y, mark.width, mark.part)
    if isinstance(mark, Blot):
        steps = tuple((letter, _shifted(numbers, x, y)) for letter, numbers in mark.steps)
        return mark._replace(steps=steps)
    return mark._replace(x=mark.x + x, y=mark.y + y)


def _shifted(numbers: tuple[float, ...], x: float, y: float) -> tuple[float, ...]:
    return tuple(number + (y if place % 2 else x) for place, number in enumerate(numbers))
