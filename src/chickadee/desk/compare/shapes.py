"""The shapes that stand for right, moved, and each kind of difference: they tell as much as their colours."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from ...comparison.differences import Kind
from ..theme import Look
from ..timeline.attempt import kind_color

__all__ = ["LEGEND", "draw_shape"]

LEGEND: dict[str, Kind | bool] = {
    "right": True, "right, moved or stretched": False, "pitch": Kind.PITCH, "length": Kind.LENGTH,
    "missing": Kind.MISSING, "added": Kind.ADDED,
}  # fmt: skip
"""The meaning of each shape; True and False are right as it stands, and right but moved."""


def draw_shape(painter: QPainter, look: Look, what: Kind | bool, at: QPointF) -> None:
    """Draw a shape with its middle at a point."""
    kind = what if isinstance(what, Kind) else None
    colour = kind_color(look, kind)
    radius = look.px(5)
    x = at.x()
    y = at.y()
    painter.setPen(QPen(colour, 2 * look.scale))
    painter.setBrush(colour if what is True or kind in (Kind.PITCH, Kind.LENGTH) else Qt.BrushStyle.NoBrush)
    if kind is None:
        painter.drawEllipse(at, radius - 1, radius - 1)
        if what is False:  # half filled
            painter.setBrush(colour)
            painter.drawPie(QRectF(x - radius + 1, y - radius + 1, 2 * radius - 2, 2 * radius - 2), 90 * 16, 180 * 16)
    elif kind is Kind.PITCH:
        painter.drawPolygon(
            QPolygonF(
                [QPointF(x, y - radius), QPointF(x + radius, y + radius - 1), QPointF(x - radius, y + radius - 1)]
            )
        )
    elif kind is Kind.LENGTH:
        painter.fillRect(QRectF(x - 1.5 * radius, y - 0.4 * radius, 3 * radius, 0.9 * radius), colour)
    elif kind is Kind.MISSING:
        painter.drawEllipse(at, radius + 0.5, radius + 0.5)
        painter.drawLine(QPointF(x - radius, y + radius), QPointF(x + radius, y - radius))
    else:
        painter.drawLine(QPointF(x - radius, y), QPointF(x + radius, y))
        painter.drawLine(QPointF(x, y - radius), QPointF(x, y + radius))
