"""The status of the engine, in memory that both processes see."""

from __future__ import annotations

import mmap
import os
import struct
from typing import NamedTuple

__all__ = ["Status", "StatusBlock"]

_LAYOUT = struct.Struct("<Q8d")


class Status(NamedTuple):
    """One moment of the engine."""

    moment: float = 0.0
    """When this was written, by time.monotonic()."""
    playing: float = 0.0
    """The number of the performance that is heard; 0 for none."""
    second: float = 0.0
    """The second of the song that is heard at that moment."""
    peak: float = 0.0
    """The largest sample of the last block."""
    limited: float = 0.0
    """1 where the limiter was at work within the last moments."""
    device: float = 0.0
    """1 where a device plays, 0 for the silent clock."""
    gaps: float = 0.0
    """How often the device had to wait for us."""
    queued: float = 0.0
    """Seconds between what is made and what is heard."""


class StatusBlock:
    """Writes and reads a Status. A count that is odd while writing keeps a reader from taking half of one."""

    def __init__(self, descriptor: int | None = None) -> None:
        """``descriptor`` of a block that is there; a new one is made where there is none."""
        self.descriptor = os.memfd_create("chickadee-status", 0) if descriptor is None else descriptor
        if descriptor is None:
            os.ftruncate(self.descriptor, _LAYOUT.size)
        self._memory = mmap.mmap(self.descriptor, _LAYOUT.size)
        self._count = 0

    def write(self, status: Status) -> None:
        """Publish a moment."""
        self._count += 2
        struct.pack_into("<Q", self._memory, 0, self._count - 1)
        struct.pack_into("<8d", self._memory, 8, *status)
        struct.pack_into("<Q", self._memory, 0, self._count)

    def read(self) -> Status:
        """The last moment that was published whole."""
        for _ in range(100):
            before, *values = _LAYOUT.unpack_from(self._memory, 0)
            (after,) = struct.unpack_from("<Q", self._memory, 0)
            if before == after and before % 2 == 0:
                break
        return Status(*values)

    def close(self) -> None:
        """Give the memory back."""
        self._memory.close()
        os.close(self.descriptor)
