"""The window: on the screen at once, and the desk in it as soon as that is made.

What is loaded here is what the first picture needs. PyQt builds the enumerations of ``Qt`` when one of them, or an
overload that takes one, is first used, which takes half as long as an empty window: so colours are a style sheet.
"""

from __future__ import annotations

import time
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEventLoop, QSize
from PyQt6.QtGui import QCloseEvent, QPaintEvent
from PyQt6.QtWidgets import QApplication, QFrame, QHBoxLayout, QStackedWidget, QVBoxLayout

from .appearance import remembered_look
from .plain_text import PlainLabel
from .settings import Settings
from .theme import Look

if TYPE_CHECKING:
    from .desk import Desk

__all__ = ["DeskWindow"]

_WIDTH = 1280
_HEIGHT = 800
_TITLE_BAR = 40
"""Pixels of the screen's height that are left to a window manager's title bar."""
_HEAD_HEIGHT = 30
_TRANSPORT_HEIGHT = 66
_PATIENCE = 0.3
"""Seconds to wait for a screen that does not show the window, because it is covered or folded away."""


class DeskWindow(QStackedWidget):
    """Holds one desk. Until that is laid in, it shows the desk's colours and the tune's name."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self._settings = Settings()
        self._desk: Desk | None = None
        self._face = _Face(name, remembered_look(self._settings))
        self.addWidget(self._face)
        self.setWindowTitle(f"{name} — Chickadee")
        self._take_place()

    def show_at_once(self) -> None:
        """Show the window, and come back when it is painted. What the user does meanwhile waits for the desk."""
        self.show()
        end = time.monotonic() + _PATIENCE
        while not self._face.seen and time.monotonic() < end:
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)

    def lay(self, desk: Desk) -> None:
        """Show a desk from now on. What was typed meanwhile is typed into it."""
        self._desk = desk
        self.addWidget(desk)
        self.setCurrentWidget(desk)
        self.removeWidget(self._face)
        self._face.deleteLater()
        desk.begin()
        if self._settings.set_aside is not None:
            desk.notice.say(f"The settings could not be read; they are kept as {self._settings.set_aside}.")

    def end(self) -> None:
        """End at once, without a question: unsaved work is kept and offered at the next start."""
        if self._desk is not None:
            self._desk.end()
            self._settings.geometry = self.saveGeometry()
        QApplication.exit()  # quitting would ask the window whether it may close

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if self._desk is None or self._desk.leave():
            self._settings.geometry = self.saveGeometry()
        else:
            event.ignore()

    def _take_place(self) -> None:
        """Be where the window was when it was last closed; the first time, as large as suits the screen."""
        screen = self.screen()
        if not self.restoreGeometry(self._settings.geometry) and screen is not None:
            room = screen.availableSize() - QSize(0, _TITLE_BAR)
            self.resize(QSize(_WIDTH, _HEIGHT).boundedTo(room))


class _Face(QFrame):
    """The desk's colours, with the name of the tune that is coming."""

    def __init__(self, name: str, look: Look) -> None:
        super().__init__()
        self.seen = False
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        head = QHBoxLayout()
        head.addStretch(1)
        name_label = PlainLabel(f"{name} — opening")
        bar = PlainLabel()
        name_label.setFixedHeight(look.px(_HEAD_HEIGHT))
        head.addWidget(name_label)
        bar.setFixedHeight(look.px(_TRANSPORT_HEIGHT))
        column.addLayout(head)
        column.addWidget(bar)
        column.addStretch(1)
        theme = look.theme
        self.setStyleSheet(
            f"_Face {{ background: {theme.paper}; }}"
            f"QLabel {{ background: transparent; color: {theme.ink}; padding: 0 {look.px(12)}px;"
            f" font-size: {look.px(13)}px; }}"
        )
        bar.setStyleSheet(f"background: {theme.transport};")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        self.seen = True
