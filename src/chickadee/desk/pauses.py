"""Work that waits until nothing has asked for it for a moment."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer

__all__ = ["after_pause"]


def after_pause(parent: QObject, milliseconds: int, work: Callable[[], object]) -> QTimer:
    """A timer that does some work once, so many milliseconds after it was last started."""
    timer = QTimer(parent)
    timer.setSingleShot(True)
    timer.setInterval(milliseconds)
    timer.timeout.connect(work)
    return timer
