"""Marks of a staff as shapes of a page: staff spaces become millimetres."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace

from ..engraving import Blot, Engraver, Mark, Measure, PathStep, Rule, Sign, WordPlace, outline
from ..engraving.marks import Words
from .metrics import MILLIMETRES, text_width
from .shapes import Align, Filled, Line, Shape, Text

__all__ = ["at_scale", "measure_at", "on_page"]

_SIZE = 1 / MILLIMETRES  # points of a millimetre
_SMALLEST = 8.0  # points


def measure_at(space: float) -> Measure:
    """A measure of how wide texts are, in staff spaces of so many millimetres, none smaller than can be read."""

    def measure(text: str, size: float, bold: bool) -> float:
        return text_width(text, _points(size, space), bold) / space

    return measure


def at_scale(engraver: Engraver, space: float) -> Engraver:
    """The same layout in staff spaces of so many millimetres."""
    return replace(engraver, measure=measure_at(space), smallest=_SMALLEST / space / _SIZE)


def _points(size: float, space: float) -> float:
    """The points of a text whose size is given in staff spaces."""
    return max(_SMALLEST, size * space * _SIZE)


def on_page(marks: Iterable[Mark], left: float, top: float, space: float) -> Iterator[Shape]:
    """Marks whose origin is at a place of a page, ``space`` millimetres to a staff space."""
    for mark in marks:
        if isinstance(mark, Sign):
            yield Filled(
                _scaled(outline(mark.name).steps, left + mark.x * space, top + mark.y * space, space * mark.scale)
            )
        elif isinstance(mark, Blot):
            yield Filled(_scaled(mark.steps, left, top, space), mark.white)
        elif isinstance(mark, Rule):
            ends = (
                left + mark.left * space,
                top + mark.top * space,
                left + mark.right * space,
                top + mark.bottom * space,
            )
            yield Line(*ends, mark.width * space)
        else:
            yield _text(mark, left, top, space)


def _scaled(steps: Iterable[PathStep], x: float, y: float, scale: float) -> tuple[PathStep, ...]:
    return tuple(
        (letter, tuple((y if place % 2 else x) + number * scale for place, number in enumerate(numbers)))
        for letter, numbers in steps
    )


def _text(words: Words, left: float, top: float, space: float) -> Text:
    points = _points(words.size, space)
    width = text_width(words.text, points, words.bold)
    high = points / _SIZE
    is_middle = words.place is WordPlace.MIDDLE
    x = left + words.x * space - (width / 2 if is_middle else 0.0)
    align = Align.MIDDLE if is_middle else Align.LEFT
    grey = 1.0 if words.white else 0.0
    return Text(x, top + words.y * space - high / 2, width, high, words.text, points, words.bold, align, grey)
