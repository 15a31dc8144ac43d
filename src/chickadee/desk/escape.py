"""Escape puts away what is in front before it stops the music."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QLineEdit

__all__ = ["EscapableField", "asks_for_escape"]


def asks_for_escape(event: QEvent | None) -> bool:
    """Whether Qt asks a widget if Escape is for it rather than for the window's shortcut."""
    return (
        isinstance(event, QKeyEvent)
        and event.type() == QEvent.Type.ShortcutOverride
        and event.key() == Qt.Key.Key_Escape
    )


class EscapableField(QLineEdit):
    """A field for a moment: ``escaped`` is sent where Escape says that nothing is to be given."""

    escaped = pyqtSignal()

    def event(self, event: QEvent | None) -> bool:
        if event is not None and asks_for_escape(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.escaped.emit()
        else:
            super().keyPressEvent(event)
