"""A row of widgets that goes on in another line where it is too narrow."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget

__all__ = ["FlowingRow"]


class FlowingRow(QLayout):
    """Lays widgets out from left to right, and then below."""

    def __init__(self, *widgets: QWidget) -> None:
        super().__init__()
        self._items: list[QLayoutItem] = []
        self._high = 0  # at the width it has now
        self.setContentsMargins(0, 0, 0, 0)
        for widget in widgets:
            self.addWidget(widget)

    def addItem(self, item: QLayoutItem | None) -> None:
        assert item is not None
        self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._laid_out(QRect(0, 0, width, 0), move=False)

    def sizeHint(self) -> QSize:
        seen = [item.sizeHint() for item in self._seen()]
        return QSize(sum(size.width() for size in seen), max((size.height() for size in seen), default=0))

    def minimumSize(self) -> QSize:
        """The widest of them, and as high as it is at its width now."""
        seen = [item.minimumSize() for item in self._seen()]
        high = max((size.height() for size in seen), default=0)
        return QSize(max((size.width() for size in seen), default=0), max(high, self._high))

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        high = self._laid_out(rect, move=True)
        if high != self._high:
            self._high = high
            self.invalidate()

    def _seen(self) -> list[QLayoutItem]:
        return [item for item in self._items if not item.isEmpty()]

    def _lines(self, width: int) -> list[list[QLayoutItem]]:
        lines: list[list[QLayoutItem]] = []
        here = width + 1
        for item in self._seen():
            size = item.sizeHint().width()
            if here + size > width:
                lines.append([])
                here = 0
            lines[-1].append(item)
            here += size + self.spacing()
        return lines

    def _laid_out(self, rect: QRect, move: bool) -> int:
        """Lay out the widgets, or only find how high they are together."""
        y = rect.y()
        for line in self._lines(rect.width()):
            tall = max(item.sizeHint().height() for item in line)
            x = rect.x()
            for item in line:
                width, height = min(item.sizeHint().width(), rect.width()), item.sizeHint().height()
                if move:
                    item.setGeometry(QRect(QPoint(x, y + (tall - height) // 2), QSize(width, height)))
                x += width + self.spacing()
            y += tall + self.spacing()
        return max(0, y - self.spacing() - rect.y())
