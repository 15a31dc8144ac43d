"""The Escape key: it closes what is open in front before it stops the music."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QWidget

__all__ = ["asks_for_escape", "on_escape"]


def asks_for_escape(event: QEvent | None) -> bool:
    """Return whether Qt asks a widget if Escape is for it rather than for the window's shortcut."""
    return _is_escape(event, QEvent.Type.ShortcutOverride)


def on_escape(widget: QWidget, put_away: Callable[[], object]) -> None:
    """Call ``put_away`` at Escape, wherever the focus is in a widget."""
    widget.installEventFilter(_Watch(widget, put_away))


class _Watch(QObject):
    def __init__(self, widget: QWidget, put_away: Callable[[], object]) -> None:
        super().__init__(widget)
        self._put_away = put_away

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and asks_for_escape(event):
            event.accept()
            return True
        if _is_escape(event, QEvent.Type.KeyPress):
            self._put_away()
            return True
        return False


def _is_escape(event: QEvent | None, kind: QEvent.Type) -> bool:
    return isinstance(event, QKeyEvent) and event.type() == kind and event.key() == Qt.Key.Key_Escape
