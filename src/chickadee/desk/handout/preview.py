"""A page as it will print: zoomed, fitted, its cells to be clicked."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QFrame

from ...handout.shapes import Page
from ..scrolled_view import ScrolledView
from ..theme import Look
from .painter import paint_page

__all__ = ["PagePreview"]

_MARGIN = 14  # pixels around the page at scale 1
_ZOOMS = (0.25, 6.0)


class PagePreview(ScrolledView):
    """Shows one page. ``clicked`` carries the millimetres of a click on it, ``turned`` how many pages on."""

    clicked = pyqtSignal(float, float)
    turned = pyqtSignal(int)

    def __init__(self, look: Look) -> None:
        super().__init__()
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The page as it will print")
        self._look = look
        self._page: Page | None = None
        self._zoom = 1.0  # against what fits

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look = look
        self._measure()

    def show_page(self, page: Page | None) -> None:
        """Show another page, at the same zoom."""
        self._page = page
        self._measure()

    def zoom(self, factor: float) -> None:
        """Show the page larger or smaller."""
        self._zoom = min(_ZOOMS[1], max(_ZOOMS[0], self._zoom * factor))
        self._measure()

    def fit(self) -> None:
        """Show the whole page."""
        self._zoom = 1.0
        self._measure()

    @property
    def _per_millimetre(self) -> float:
        """Pixels to a millimetre."""
        if self._page is None:
            return 1.0
        paper = self._page.paper
        surface = self.viewport()
        margin = 2 * self._look.px(_MARGIN)
        fit = min((surface.width() - margin) / paper.width, (surface.height() - margin) / paper.height)
        return max(0.1, fit) * self._zoom

    def _place(self) -> QRectF:
        """Where the page lies in the viewport."""
        if self._page is None:
            return QRectF()
        scale = self._per_millimetre
        surface = self.viewport()
        wide = self._page.paper.width * scale
        high = self._page.paper.height * scale
        across = self.horizontalScrollBar()
        down = self.verticalScrollBar()
        assert across is not None
        assert down is not None
        margin = self._look.px(_MARGIN)
        left = max(margin, (surface.width() - wide) / 2) - across.value()
        return QRectF(left, max(margin, (surface.height() - high) / 2) - down.value(), wide, high)

    def _measure(self) -> None:
        across = self.horizontalScrollBar()
        down = self.verticalScrollBar()
        assert across is not None
        assert down is not None
        if self._page is not None:
            scale = self._per_millimetre
            surface = self.viewport()
            margin = 2 * self._look.px(_MARGIN)
            across.setRange(0, max(0, round(self._page.paper.width * scale + margin - surface.width())))
            down.setRange(0, max(0, round(self._page.paper.height * scale + margin - surface.height())))
            across.setPageStep(surface.width())
            down.setPageStep(surface.height())
        self.viewport().update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport())
        look = self._look
        painter.fillRect(self.viewport().rect(), look.color("shade"))
        if self._page is None:
            return
        place = self._place()
        painter.fillRect(place.translated(2, 3), look.color("line"))
        painter.fillRect(place, Qt.GlobalColor.white)
        painter.setClipRect(place)
        painter.translate(place.topLeft())
        paint_page(painter, self._page, self._per_millimetre)
        painter.resetTransform()
        painter.setClipping(False)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(look.color("accent"), 2))
            painter.drawRect(self.viewport().rect().adjusted(1, 1, -1, -1))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._measure()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self.viewport().update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.viewport().update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        at = self._on_page(event.pos())
        if at is not None:
            self.clicked.emit(at.x(), at.y())

    def _on_page(self, at: QPoint) -> QPointF | None:
        place = self._place()
        if self._page is None or not place.contains(QPointF(at)):
            return None
        return (QPointF(at) - place.topLeft()) / self._per_millimetre

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom(1.0015 ** event.angleDelta().y())
        else:
            super().wheelEvent(event)
