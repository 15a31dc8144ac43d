"""Painting pages: the same for the screen, the printer, PDF and PNG."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFont, QFontDatabase, QFontMetricsF, QPainter, QPen

from ...files import visible
from ...handout.metrics import MILLIMETRES
from ...handout.shapes import Align, Box, Filled, Line, Page, Text
from ..paths import painter_path

__all__ = ["paint_page"]

_FAMILY = "DejaVu Sans"
_HATCH = 1.2  # millimetres from one line of the hatching to the next
# of the size: of capitals and figures, which stand in the middle of their room
_ASCENT = 0.76
_DESCENT = 0.0


def paint_page(painter: QPainter, page: Page, per_millimetre: float) -> None:
    """Draw a page, its upper left corner at the painter's origin, so many units of the painter to a millimetre."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(per_millimetre, per_millimetre)
    for shape in page.shapes:
        if isinstance(shape, Box):
            _paint_box(painter, shape)
        elif isinstance(shape, Line):
            painter.setPen(_pen(shape.width, dashed=shape.dashed))
            painter.drawLine(QLineF(shape.left, shape.top, shape.right, shape.bottom))
        elif isinstance(shape, Filled):
            painter.fillPath(painter_path(shape.steps), Qt.GlobalColor.white if shape.white else Qt.GlobalColor.black)
        elif shape.text:
            _paint_text(painter, replace(shape, text=visible(shape.text)))
    painter.restore()


def _grey(value: float) -> QColor:
    level = round(255 * value)
    return QColor(level, level, level)


def _pen(width: float, dashed: bool = False) -> QPen:
    pen = QPen(Qt.GlobalColor.black, width)
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    if dashed:
        pen.setDashPattern([8.0, 6.0])
    return pen


def _paint_box(painter: QPainter, box: Box) -> None:
    area = QRectF(box.left, box.top, box.width, box.height)
    painter.setPen(_pen(box.edge) if box.edge else Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(_grey(box.fill)) if box.filled else Qt.BrushStyle.NoBrush)
    painter.drawRect(area)
    if box.hatched:
        painter.setPen(_pen(0.1))
        for line in _hatching(area):
            painter.drawLine(line)


def _hatching(area: QRectF) -> list[QLineF]:
    """Lines that rise to the right, cut at the edges of a box."""
    found = []
    reach = area.width() + area.height()
    at = _HATCH
    while at < reach:
        x1 = area.left() + max(0.0, at - area.height())
        y1 = area.top() + min(at, area.height())
        x2 = area.left() + min(at, area.width())
        y2 = area.top() + max(0.0, at - area.width())
        found.append(QLineF(x1, y1, x2, y2))
        at += _HATCH
    return found


def _paint_text(painter: QPainter, text: Text) -> None:
    """Words at their place, narrowed to their room where the font is another than pages are worked out for."""
    size = text.size * MILLIMETRES
    font = _font(text.bold)
    width = QFontMetricsF(font).horizontalAdvance(text.text) * size / _UNIT
    squeeze = min(1.0, text.width / width) if width else 1.0
    left = {
        Align.LEFT: 0.0,
        Align.MIDDLE: (text.width - width * squeeze) / 2,
        Align.RIGHT: text.width - width * squeeze,
    }[text.align]
    painter.save()
    painter.translate(text.left + left, text.top + text.height / 2 + size * (_ASCENT - _DESCENT) / 2)
    painter.scale(size / _UNIT * squeeze, size / _UNIT)
    painter.setFont(font)
    painter.setPen(_grey(text.grey))
    for at, word in _words(text.text, QFontMetricsF(font)):
        painter.drawText(QPointF(at, 0), word)
    painter.restore()


def _words(text: str, metrics: QFontMetricsF) -> list[tuple[float, str]]:
    """Each word with where it begins. Spaces are left out: in a PDF they would be taken for tabs."""
    found = []
    before = ""
    for word in text.split(" "):
        if word:
            found.append((metrics.horizontalAdvance(before), word))
        before += f"{word} "
    return found


_UNIT = 100  # pixels of the font that is scaled to every size


def _font(bold: bool) -> QFont:
    if _FAMILY in QFontDatabase.families():
        font = QFont(_FAMILY)
    else:
        font = QFontDatabase.systemFont(QFontDatabase.SystemFont.GeneralFont)
    font.setPixelSize(_UNIT)
    font.setBold(bold)
    font.setFeature(QFont.Tag("liga"), 0)  # what is searched for or copied in a PDF is plain letters
    font.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    return font
