"""The line under what has a finding."""

from __future__ import annotations

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPolygonF

from ...sheet import Severity
from ..theme import Look

__all__ = ["paint_squiggle", "severity_color"]


def severity_color(look: Look, severity: Severity) -> QColor:
    """The colour of a finding's mark."""
    return look.color({Severity.ERROR: "wrong", Severity.WARNING: "doubtful", Severity.HINT: "right"}[severity])


def paint_squiggle(painter: QPainter, left: float, right: float, y: float) -> None:
    """Draw a wave from one x to another, with the painter's pen."""
    count = max(2, int((right - left) / 3) + 1)
    painter.drawPolyline(QPolygonF([QPointF(left + 3 * i, y + (1.5 if i % 2 else -1.5)) for i in range(count)]))
