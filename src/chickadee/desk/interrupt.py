"""Signals from outside: Ctrl+C in the terminal that Chickadee was started from, the end of a session."""

from __future__ import annotations

import signal
import socket

from PyQt6.QtCore import QObject, QSocketNotifier, QTimer
from PyQt6.sip import voidptr

from .window import DeskWindow

__all__ = ["Interrupt"]


class Interrupt(QObject):
    """Closes the window at Ctrl+C as its close button does; at a signal to end, ends without a question.

    Python's own way would be to raise, whatever is being done. It looks at signals only when it runs, so a byte in a
    socket wakes it.
    """

    def __init__(self, window: DeskWindow) -> None:
        super().__init__(window)
        self._read, self._write = socket.socketpair()
        self._write.setblocking(False)
        signal.set_wakeup_fd(self._write.fileno())
        self._woken = QSocketNotifier(voidptr(self._read.fileno()), QSocketNotifier.Type.Read, self)
        self._woken.activated.connect(lambda: self._read.recv(64))
        signal.signal(signal.SIGINT, lambda *_: QTimer.singleShot(0, window.close))
        for number in (signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, lambda *_: QTimer.singleShot(0, window.end))
