"""The shapes of a page: boxes, lines and words, in millimetres from its upper left corner."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

__all__ = ["Align", "Box", "Filled", "Line", "Page", "Paper", "Shape", "Text"]


class Align(Enum):
    """Where words stand in their room."""

    LEFT = "left"
    MIDDLE = "middle"
    RIGHT = "right"


@dataclass(frozen=True, slots=True)
class Box:
    """A rectangle."""

    left: float
    top: float
    width: float
    height: float
    edge: float = 0.25
    """Millimetres of its edge; 0 for none."""
    fill: float = 1.0
    """From 0, black, to 1, white."""
    hatched: bool = False
    filled: bool = True
    """True if it covers what lies under it."""
    cell: tuple[str, int] | None = None
    """The row and the index of the cell it stands for, where it is one."""


@dataclass(frozen=True, slots=True)
class Line:
    """A straight line."""

    left: float
    top: float
    right: float
    bottom: float
    width: float = 0.25
    dashed: bool = False


@dataclass(frozen=True, slots=True)
class Text:
    """Words in one line, in the middle of the height of their room."""

    left: float
    top: float
    width: float
    height: float
    text: str
    size: float = 10.0
    """Points; at least 8."""
    bold: bool = False
    align: Align = Align.LEFT
    grey: float = 0.0
    """From 0, black, to 1, white."""
    cell: tuple[str, int] | None = None
    """The row and the index of the cell it stands for, where it is one."""


@dataclass(frozen=True, slots=True)
class Filled:
    """A filled outline with straight and curved edges."""

    steps: tuple[tuple[str, tuple[float, ...]], ...]
    """``M`` x y moves, ``L`` x y draws a line, ``Q`` and ``C`` a quadratic and a cubic curve, ``Z`` closes."""
    white: bool = False


Shape = Box | Line | Text | Filled


@dataclass(frozen=True, slots=True)
class Paper:
    """A sheet of paper with its margins."""

    width: float = 210.0
    height: float = 297.0
    margin: float = 15.0

    @classmethod
    def of(cls, name: str, across: bool = False) -> Paper:
        """``A4`` or ``Letter``, upright or across."""
        width, height = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}[name.lower()]
        return cls(height, width) if across else cls(width, height)

    @property
    def room(self) -> float:
        """Millimetres between the margins at the sides."""
        return self.width - 2 * self.margin


@dataclass(frozen=True, slots=True)
class Page:
    """One page."""

    paper: Paper
    shapes: tuple[Shape, ...]
