"""Listening to a recording in the background."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, QThread, pyqtSignal

from ...files import FileFault
from ...hearing.apart import Listening

__all__ = ["ListeningWork"]


class ListeningWork(QThread):
    """``progressed`` carries the part done, ``heard`` what was heard, ``failed`` a sentence. What was cancelled tells
    nothing more."""

    progressed = pyqtSignal(float)
    heard = pyqtSignal(object)
    failed = pyqtSignal(str)

    def __init__(self, path: Path, tuning: float, parent: QObject) -> None:
        super().__init__(parent)
        self._listening = Listening(path, tuning)

    def cancel(self) -> None:
        """Stop at once."""
        self._listening.stop()

    def run(self) -> None:
        """Listen, in a process of its own."""
        try:
            found = self._listening.heard(self.progressed.emit)
        except FileFault as fault:
            self.failed.emit(str(fault))
            return
        if found is not None:
            self.heard.emit(found)
