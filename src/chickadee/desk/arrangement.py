"""How the window's views lie: time across the whole width, the sheet and the working side below, the shelf beside."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QSplitter, QVBoxLayout, QWidget

from .theme import Look
from .working.spec import PanelSize

__all__ = ["Arrangement"]

# pixels at scale 1
_SHELF_WIDTH = 186
_LEAST_BELOW = 170
_MOST_BELOW = 0.4  # of the height, that this may take
_TIMELINE_PART = {1.0: 0.63, 1.5: 0.7}  # of the height, by the look's scale
_TALL_PART = 0.46  # of the height, under which lies a panel that needs height
_SHEET_PART = 0.56  # of the width


class Arrangement(QWidget):
    """The middle of the window, with handles between what shares it.

    A handle that the user moves stays there: the parts keep their shares of the window through every change of its
    size, of the look and of a panel's size.
    """

    def __init__(
        self,
        above: list[QWidget],
        shelf: QWidget,
        timeline: QWidget,
        sheet: list[QWidget],
        working: QWidget,
        keyboard: QWidget,
    ) -> None:
        super().__init__()
        self._sheet = QWidget()
        self._shelf = shelf
        self._keyboard = keyboard
        self._wanted = {shelf: True, keyboard: True}
        self._size = PanelSize.BESIDE
        self._tall = False  # the panel needs height, so across it the keyboard makes room for it
        self._look = Look()
        self._shelf_width = float(_SHELF_WIDTH)  # at scale 1
        self._timeline_part = dict(_TIMELINE_PART)
        self._tall_part = _TALL_PART
        self._sheet_part = _SHEET_PART
        _stack(self._sheet, sheet, sheet[0])
        self._below = _splitter(Qt.Orientation.Horizontal, self._sheet, working)
        self._right = _splitter(Qt.Orientation.Vertical, timeline, self._below)
        self._across = _splitter(Qt.Orientation.Horizontal, shelf, self._right)
        self._halves = _splitter(Qt.Orientation.Vertical, self._across)
        self._working = working
        for splitter in (self._halves, self._across, self._right, self._below):
            splitter.resized.connect(self._share_out)
        self._across.splitterMoved.connect(self._move_shelf)
        self._right.splitterMoved.connect(lambda: self._move_timeline(self._right))
        self._halves.splitterMoved.connect(lambda: self._move_timeline(self._halves))
        self._below.splitterMoved.connect(self._move_sheet)
        _stack(self, [*above, self._halves, keyboard], self._halves)

    def set_look(self, look: Look) -> None:
        """Draw at another scale."""
        self._look = look
        self._share_out()

    def show_shelf(self, on: bool) -> None:
        """Show or fold away the shelf."""
        self._wanted[self._shelf] = on
        self._show_parts()

    def show_keyboard(self, on: bool) -> None:
        """Show or fold away the keyboard."""
        self._wanted[self._keyboard] = on
        self._show_parts()

    def show_size(self, size: PanelSize, tall: bool = False) -> None:
        """Give the working side a size; what it covered before comes back as it was.

        A ``tall`` panel across takes half the height, and the keyboard's place.
        """
        tall = tall and size is PanelSize.ACROSS
        if (size, tall) != (self._size, self._tall):
            self._size = size
            self._tall = tall
            self._show_parts()

    def _show_parts(self) -> None:
        beside = self._size is PanelSize.BESIDE
        over = self._size is PanelSize.OVER
        goal = self._below if beside else self._halves
        if goal.indexOf(self._working) < 0:
            goal.addWidget(self._working)
        self._sheet.setVisible(beside)
        self._below.setVisible(beside)
        self._across.setVisible(not over)
        for part, wanted in self._wanted.items():
            part.setVisible(wanted and not over and not (self._tall and part is self._keyboard))
        self._share_out()

    def _share_out(self) -> None:
        """Give each part its share of the present size."""
        px = self._look.px
        wide = self._halves.width()
        high = self._halves.height()
        least = min(px(_LEAST_BELOW), round(high * _MOST_BELOW))
        above = min(round(high * self._part), high - least)
        shelf = px(self._shelf_width)
        room = wide - (shelf if self._shelf.isVisibleTo(self) else 0)
        sheet = round(room * self._sheet_part)
        self._halves.setSizes([above, high - above])
        self._across.setSizes([shelf, max(0, wide - shelf)])
        self._right.setSizes([above, high - above])
        self._below.setSizes([sheet, room - sheet])

    def _move_shelf(self) -> None:
        self._shelf_width = self._across.sizes()[0] / self._look.scale

    def _move_timeline(self, splitter: QSplitter) -> None:
        above, below = splitter.sizes()
        part = above / max(1, above + below)
        if self._tall:
            self._tall_part = part
        else:
            self._timeline_part[self._look.scale] = part

    @property
    def _part(self) -> float:
        """The timeline's share of the height."""
        return self._tall_part if self._tall else self._timeline_part[self._look.scale]

    def _move_sheet(self) -> None:
        sheet, working = self._below.sizes()
        self._sheet_part = sheet / max(1, sheet + working)


def _stack(parent: QWidget, widgets: list[QWidget], stretched: QWidget) -> None:
    column = QVBoxLayout(parent)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(0)
    for widget in widgets:
        column.addWidget(widget, 1 if widget is stretched else 0)


def _splitter(orientation: Qt.Orientation, *parts: QWidget) -> _Splitter:
    splitter = _Splitter(orientation)
    for part in parts:
        splitter.addWidget(part)
    splitter.setHandleWidth(1)
    splitter.setChildrenCollapsible(False)
    return splitter


class _Splitter(QSplitter):
    """``resized`` tells that there is another size to share out."""

    resized = pyqtSignal()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.resized.emit()
