"""The timeline's time axis, for what stands under it: where a tick is on the screen."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from ..display.axes import Axes

__all__ = ["TimeAxis"]


class TimeAxis(QObject):
    """Told by the timeline whenever it is drawn otherwise. All pixels are of the screen."""

    moved = pyqtSignal()
    """Time lies elsewhere now."""
    wanted = pyqtSignal(int)
    """At least so many pixels are to be free left of the notes; the timeline makes room."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._axes = Axes(1.0, 0.0, 1, 127)
        self._wanted = 0
        self.left = 0
        """The pixel from which on notes are drawn."""
        self.right = 0
        """The pixel up to which they are."""

    def x(self, tick: float) -> float:
        """The pixel of a tick; it may be out of sight."""
        return self.left + self._axes.x(tick)

    def tick(self, x: float) -> float:
        """The tick at a pixel; the inverse of :meth:`x`."""
        return self._axes.tick(x - self.left)

    def show(self, axes: Axes, left: int, right: int) -> None:
        """Time is drawn with other axes, or between other pixels."""
        if (axes.quarter, axes.scroll, left, right) != (self._axes.quarter, self._axes.scroll, self.left, self.right):
            self._axes = axes
            self.left = left
            self.right = right
            self.moved.emit()

    def want(self, pixels: int) -> None:
        """Ask for room left of the notes; 0 for no more than usual."""
        if pixels != self._wanted:
            self._wanted = pixels
            self.wanted.emit(pixels)
