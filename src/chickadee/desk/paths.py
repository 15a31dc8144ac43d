"""Outlines as Qt's paths."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainterPath

__all__ = ["painter_path"]


def painter_path(steps: Iterable[tuple[str, tuple[float, ...]]]) -> QPainterPath:
    """The path of an outline: ``M`` moves, ``L`` draws a line, ``Q`` and ``C`` curves, ``Z`` closes."""
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    draw: dict[str, Callable[..., None]] = {
        "M": path.moveTo,
        "L": path.lineTo,
        "Q": path.quadTo,
        "C": path.cubicTo,
        "Z": path.closeSubpath,
    }
    for letter, numbers in steps:
        draw[letter](*numbers)
    return path
