"""The outlines of musical signs, as paths in staff spaces."""

from __future__ import annotations

from functools import cache
from importlib.resources import files
from typing import NamedTuple

__all__ = ["Box", "Outline", "PathStep", "outline", "outline_names"]

PathStep = tuple[str, tuple[float, ...]]
"""``M`` x y moves, ``L`` x y draws a line, ``Q`` and ``C`` a quadratic and a cubic curve, ``Z`` closes."""
_THOUSANDTHS = 1000
_NUMBERS = {"M": 2, "L": 2, "Q": 4, "C": 6, "Z": 0}


class Box(NamedTuple):
    """A rectangle around something that is drawn, in staff spaces, y downwards."""

    left: float
    top: float
    right: float
    bottom: float

    def moved(self, x: float, y: float) -> Box:
        """The box so much further right and down."""
        return Box(self.left + x, self.top + y, self.right + x, self.bottom + y)

    def meets(self, other: Box) -> bool:
        """Return whether two boxes have an area in common."""
        return (
            self.left < other.right
            and other.left < self.right
            and self.top < other.bottom
            and other.top < self.bottom
        )


class Outline(NamedTuple):
    """A sign's path, which begins at its left edge, and the box around it."""

    steps: tuple[PathStep, ...]
    box: Box

    @property
    def width(self) -> float:
        """Staff spaces from its left edge to its right one."""
        return self.box.right - self.box.left


def outline(name: str) -> Outline:
    """The outline of a sign, such as ``head-black``; the names are those in ``outlines.txt``."""
    return _outlines()[name]


def outline_names() -> tuple[str, ...]:
    """Every sign that there is."""
    return tuple(_outlines())


@cache
def _outlines() -> dict[str, Outline]:
    text = files(__package__).joinpath("outlines.txt").read_text("utf-8")
    lines = (line.partition(": ") for line in text.splitlines() if line and not line.startswith("#"))
    return {name: _read(path.split()) for name, _, path in lines}


def _read(words: list[str]) -> Outline:
    steps: list[PathStep] = []
    place = 0
    while place < len(words):
        letter = words[place]
        last = place + 1 + _NUMBERS[letter]
        steps.append((letter, tuple(int(word) / _THOUSANDTHS for word in words[place + 1 : last])))
        place = last
    xs = [number for _, numbers in steps for number in numbers[::2]]
    ys = [number for _, numbers in steps for number in numbers[1::2]]
    return Outline(tuple(steps), Box(min(xs), min(ys), max(xs), max(ys)))
