"""Memory that is not used: collected while nothing is going on, and given back to the system."""

from __future__ import annotations

import ctypes
import gc

from PyQt6.QtCore import QObject, QTimer

from ..caching import drop_caches

__all__ = ["IdleCollector", "collect"]

_LIBRARY = ctypes.CDLL(None)  # the C library that this process runs on
_QUIET = 1500  # milliseconds without a change
_AT_LEAST = 60_000


class IdleCollector(QObject):
    """Collects cycles when nothing has changed for a while, and once a minute in any case.

    A collection that comes between a key press and its picture costs as long as the rest of the work together.
    """

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.freeze()  # what starting up made stays
        gc.disable()
        self._quiet = QTimer(self)
        self._quiet.setSingleShot(True)
        self._quiet.setInterval(_QUIET)
        self._quiet.timeout.connect(collect)
        self._regular = QTimer(self)
        self._regular.timeout.connect(collect)
        self._regular.start(_AT_LEAST)

    def note_change(self) -> None:
        """Something changed: wait for quiet."""
        self._quiet.start()


def collect() -> None:
    """Collect cycles, give up what is kept of sounds, and give back what the allocator keeps for later, where it can
    be asked to."""
    drop_caches()
    gc.collect()
    trim = getattr(_LIBRARY, "malloc_trim", None)
    if trim is not None:
        trim(0)
