"""Escape puts away what is in front before it stops the music."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent

__all__ = ["asks_for_escape"]


def asks_for_escape(event: QEvent | None) -> bool:
    """Whether Qt asks a widget if Escape is for it rather than for the window's shortcut."""
    return (
        isinstance(event, QKeyEvent)
        and event.type() == QEvent.Type.ShortcutOverride
        and event.key() == Qt.Key.Key_Escape
    )
