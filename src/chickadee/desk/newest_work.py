"""The newest of some pieces of work, done in a process that waits for the next."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QSocketNotifier, pyqtSignal

from ..workers import LOST, Newest
from .pauses import after_pause

__all__ = ["NewestWork"]

# milliseconds
_LONGEST = 30_000  # after which a piece is given up
_REST = 120_000  # after which the process is ended where nothing is asked for


class NewestWork(QObject):
    """``done`` carries the result of the newest piece, or LOST; what was asked for before it is never told."""

    done = pyqtSignal(object)

    def __init__(self, do: Callable[[Any], object], parent: QObject) -> None:
        super().__init__(parent)
        self._newest: Newest[Any, object] = Newest(do)
        self._asked = 0
        self._notifier: QSocketNotifier | None = None
        self._limit = after_pause(self, _LONGEST, self._give_up)
        self._rest = after_pause(self, _REST, self.stop)

    @property
    def is_busy(self) -> bool:
        """True until the newest piece is done."""
        return self._asked > 0

    def ask(self, piece: object) -> None:
        """Have a piece done."""
        self._rest.stop()
        self._asked = min(2, self._asked + 1)  # the one in between is forgotten
        try:
            self._newest.ask(piece)
        except OSError:
            self._asked = 0
            self.done.emit(LOST)
            return
        if self._notifier is None:
            self._notifier = QSocketNotifier(self._newest.descriptor, QSocketNotifier.Type.Read, self)  # type: ignore[call-overload]
            self._notifier.activated.connect(self._receive)
        self._limit.start()

    def stop(self) -> None:
        """End the process; nothing more is told."""
        self._limit.stop()
        self._rest.stop()
        self._asked = 0
        if self._notifier is not None:
            self._notifier.setEnabled(False)
            self._notifier.deleteLater()
            self._notifier = None
        self._newest.stop()

    def _receive(self) -> None:
        result = self._newest.result()
        self._asked -= 1
        if result is LOST:
            self.stop()
        if self._asked <= 0 or result is LOST:
            self._asked = 0
            self._limit.stop()
            self._rest.start()
            self.done.emit(result)

    def _give_up(self) -> None:
        self.stop()
        self.done.emit(LOST)
