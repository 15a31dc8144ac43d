"""Work in a process of its own that the window waits for: with progress, a button that cancels, and no standstill."""

from __future__ import annotations

from typing import TypeVar

from PyQt6.QtCore import QEventLoop, QObject, Qt, QThread, QTimer, pyqtSignal
from PyQt6.QtWidgets import QWidget

from ..workers import Lost, Work
from .plain_dialogs import PlainProgress

__all__ = ["WorkThread", "waited_for"]

_SOON = 300  # milliseconds after which progress is shown

Shared = TypeVar("Shared")
Piece = TypeVar("Piece")
Result = TypeVar("Result")


class WorkThread(QThread):
    """Does pieces of work in processes of their own. ``done`` carries the index and the result of each."""

    done = pyqtSignal(int, object)

    def __init__(self, work: Work[Shared, Piece, Result], parent: QObject) -> None:
        super().__init__(parent)
        self._work = work

    def stop(self) -> None:
        """End the work at once, and wait until it has ended; nothing more is told."""
        self.blockSignals(True)
        self._work.stop()
        self.wait()

    def run(self) -> None:
        for index, result in self._work.results():
            self.done.emit(index, result)


def waited_for(window: QWidget, words: str, work: Work[Shared, Piece, Result]) -> Result | Lost | None:
    """Return the result of work of one piece; None where the user cancelled it.

    What is typed while the window waits goes to what is there afterwards. ``words`` say what is being done where it
    takes long.
    """
    found: list[Result | Lost] = []
    thread = WorkThread(work, window)
    loop = QEventLoop()
    thread.done.connect(lambda _, result: found.append(result))
    thread.finished.connect(loop.quit)
    thread.start()
    QTimer.singleShot(_SOON, loop.quit)
    loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
    if thread.isRunning():
        progress = PlainProgress(words, 0, window)
        progress.setWindowModality(Qt.WindowModality.WindowModal)
        progress.setMinimumDuration(0)
        progress.canceled.connect(loop.quit)
        progress.show()
        loop.exec()
        progress.close()
        progress.deleteLater()
    thread.stop()
    thread.deleteLater()
    return found[0] if found else None
