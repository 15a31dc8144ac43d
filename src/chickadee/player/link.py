"""The way to the engine: its process, started, spoken to, and started again if it dies."""

from __future__ import annotations

import subprocess
from contextlib import suppress
from multiprocessing import Pipe
from multiprocessing.connection import Connection
from queue import SimpleQueue
from threading import Thread

from PyQt6.QtCore import QObject, QSocketNotifier, QTimer, pyqtSignal

from ..own_process import started
from .status import Status, StatusBlock

__all__ = ["EngineLink"]

_PAUSE_MILLISECONDS = 700
"""Between the end of one engine and the start of the next."""


class EngineLink(QObject):
    """One engine after the other. ``told`` carries what it says, ``lost`` that it is gone, ``replaced`` that there is
    another."""

    told = pyqtSignal(object)
    lost = pyqtSignal()
    replaced = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._status = StatusBlock()
        self._process: subprocess.Popen[bytes] | None = None
        self._connection: Connection | None = None
        self._notifier: QSocketNotifier | None = None
        self._queue: SimpleQueue[object] = SimpleQueue()
        self._again = QTimer(self)
        self._again.setSingleShot(True)
        self._again.setInterval(_PAUSE_MILLISECONDS)
        self._again.timeout.connect(self._replace)

    @property
    def running(self) -> bool:
        """True if there is an engine."""
        return self._process is not None

    @property
    def process_id(self) -> int:
        """The engine's process; 0 for none."""
        return self._process.pid if self._process else 0

    @property
    def status(self) -> Status:
        """The newest status of the engine."""
        return self._status.read()

    def start(self) -> None:
        """Start an engine, unless there is one."""
        if self._process is not None:
            return
        self._connection, theirs = Pipe()
        try:
            self._process = started("chickadee.player.engine", theirs.fileno(), self._status.descriptor)
        except OSError:  # the system starts no more processes: perhaps it does later
            theirs.close()
            self._connection.close()
            self._connection = None
            self._again.start()
            return
        theirs.close()
        self._queue = SimpleQueue()
        Thread(target=_send_all, args=(self._queue, self._connection), daemon=True).start()
        self._notifier = QSocketNotifier(  # type: ignore[call-overload]
            self._connection.fileno(), QSocketNotifier.Type.Read, self
        )
        self._notifier.activated.connect(self._receive)

    def send(self, message: object) -> None:
        """Ask something of the engine. Never waits; what is asked of no engine is lost."""
        self._queue.put(message)

    def close(self) -> None:
        """End the engine, and wait until it has gone."""
        self._again.stop()
        self._drop()

    def _replace(self) -> None:
        self.start()
        self.replaced.emit()

    def _receive(self) -> None:
        assert self._connection is not None
        try:
            while self._connection is not None and self._connection.poll():
                self.told.emit(self._connection.recv())
        except (EOFError, OSError):
            self._drop()
            self._again.start()
            self.lost.emit()

    def _drop(self) -> None:
        """Let go of the engine: it ends when its connection does, which the sending thread closes."""
        if self._notifier is not None:
            self._notifier.setEnabled(False)
            self._notifier.deleteLater()
            self._notifier = None
        self._queue.put(None)
        process, self._process = self._process, None
        if process is None:
            return
        try:
            process.wait(0.5)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()


def _send_all(queue: SimpleQueue[object], connection: Connection) -> None:
    """Send what is put into the queue, in a thread of its own so that nobody waits for a busy engine."""
    with connection:  # closed only when it is let go of: until then the window waits at it
        while (message := queue.get()) is not None:
            with suppress(OSError):
                connection.send(message)
