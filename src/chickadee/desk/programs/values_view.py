"""The values while a program is done: turns, parts, and lists with their item of now."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ...display.written_view import ValueRow
from ..theme import Look

__all__ = ["ValuesView"]

# pixels at scale 1
_ROW = 30
_CELL = 24
_NAME = 82
_PAD = 10
_GAP = 7


class ValuesView(QWidget):
    """Draws a row for each value, with the cell of now marked."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self.setAccessibleName("Values")
        self._look = look
        self.rows: Sequence[ValueRow] = ()

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look = look
        self.updateGeometry()
        self.update()

    def show_rows(self, rows: Sequence[ValueRow]) -> None:
        """Show other values."""
        if tuple(rows) != tuple(self.rows):
            self.rows = tuple(rows)
            self.setAccessibleDescription("; ".join(f"{row.name} {self._said(row)}" for row in rows))
            self.updateGeometry()
            self.update()

    def _said(self, row: ValueRow) -> str:
        return row.cells[row.marked] if row.marked >= 0 else " ".join(row.cells)

    def sizeHint(self) -> QSize:
        return QSize(self._look.px(260), self._look.px(_ROW * max(1, len(self.rows))))

    def minimumSizeHint(self) -> QSize:
        return QSize(self._look.px(120), self._look.px(_ROW))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for place, row in enumerate(self.rows):
            self._paint_row(painter, row, self._look.px(_ROW * place))

    def _paint_row(self, painter: QPainter, row: ValueRow, top: int) -> None:
        look = self._look
        high = look.px(_CELL)
        painter.setFont(look.font(13))
        painter.setPen(look.color("grey"))
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(0, top, look.px(_NAME), high), Qt.AlignmentFlag.AlignLeft | middle, row.name)
        x = float(look.px(_NAME))
        for place, cell in enumerate(row.cells):
            marked = place == row.marked
            painter.setFont(look.font(13, bold=marked))
            wide = painter.fontMetrics().horizontalAdvance(cell) + 2 * look.px(_PAD)
            if x + wide > self.width():
                break
            box = QRectF(x + 0.5, top + 0.5, wide - 1, high - 1)
            painter.setPen(look.color("accent" if marked else "line"))
            painter.setBrush(look.wash if marked else look.color("page"))
            painter.drawRoundedRect(box, look.px(4), look.px(4))
            painter.setPen(look.color("ink"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, cell)
            x += wide + look.px(_GAP)
