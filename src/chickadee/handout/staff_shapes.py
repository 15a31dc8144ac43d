"""Marks of a staff as shapes of a page: staff spaces become millimetres."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from ..engraving import Blot, Mark, PathStep, Rule, Sign, WordPlace, outline
from ..engraving.marks import Words
from .metrics import MILLIMETRES, text_width
from .shapes import Align, Filled, Line, Shape, Text

__all__ = ["measured", "on_page"]

_SIZE = 1 / MILLIMETRES  # points of a millimetre


def measured(text: str, size: float, bold: bool = False) -> float:
    """How wide a text is, in the unit of its size: millimetres or staff spaces."""
    return text_width(text, size * _SIZE, bold)


def on_page(marks: Iterable[Mark], left: float, top: float, space: float) -> Iterator[Shape]:
    """Marks whose origin is at a place of a page, ``space`` millimetres to a staff space."""
    for mark in marks:
        if isinstance(mark, Sign):
            yield Filled(
                _scaled(outline(mark.name).steps, left + mark.x * space, top + mark.y * space, space * mark.scale)
            )
        elif isinstance(mark, Blot):
            yield Filled(_scaled(mark.steps, left, top, space))
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
    size = words.size * space
    width = measured(words.text, size, words.bold)
    is_middle = words.place is WordPlace.MIDDLE
    x = left + words.x * space - (width / 2 if is_middle else 0.0)
    align = Align.MIDDLE if is_middle else Align.LEFT
    grey = 1.0 if words.white else 0.0
    return Text(x, top + words.y * space - size / 2, width, size, words.text, size * _SIZE, words.bold, align, grey)
