"""How the window's views lie: time across the whole width, the sheet and the working side below, the shelf beside."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QSplitter, QVBoxLayout, QWidget

from .theme import Look

__all__ = ["Arrangement"]

_SHELF_WIDTH, _PANEL_HEIGHT = 186, 170
_HEIGHTS = {1.0: [380, 340], 1.5: [560, 160]}
_WIDTHS = [635, 375]


class Arrangement(QWidget):
    """The middle of the window, with handles between what shares it."""

    def __init__(
        self, above: list[QWidget], shelf: QWidget, timeline: QWidget, sheet: list[QWidget], working: QWidget,
        keyboard: QWidget,
    ) -> None:  # fmt: skip
        super().__init__()
        written = QWidget()
        _stack(written, sheet, sheet[0])
        self._below = _splitter(Qt.Orientation.Horizontal, written, working)
        self._right = _splitter(Qt.Orientation.Vertical, timeline, self._below)
        self._across = _splitter(Qt.Orientation.Horizontal, shelf, self._right)
        _stack(self, [*above, self._across, keyboard], self._across)

    def set_look(self, look: Look, width: int) -> None:
        """Share a width out as suits a look."""
        self._look = look
        self._across.setSizes([look.px(_SHELF_WIDTH), width - look.px(_SHELF_WIDTH)])
        self._right.setSizes(_HEIGHTS[look.scale])
        self._below.setSizes(_WIDTHS)

    def make_room(self) -> None:
        """Let the timeline lend the working side room, where that has too little to be of use."""
        above, below = self._right.sizes()
        wanted = self._look.px(_PANEL_HEIGHT)
        if below < wanted:
            self._right.setSizes([above + below - wanted, wanted])


def _stack(parent: QWidget, widgets: list[QWidget], stretched: QWidget) -> None:
    column = QVBoxLayout(parent)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(0)
    for widget in widgets:
        column.addWidget(widget, 1 if widget is stretched else 0)


def _splitter(orientation: Qt.Orientation, first: QWidget, second: QWidget) -> QSplitter:
    splitter = QSplitter(orientation)
    splitter.addWidget(first)
    splitter.addWidget(second)
    splitter.setHandleWidth(1)
    splitter.setChildrenCollapsible(False)
    splitter.setStretchFactor(1, 1)
    return splitter
