"""A WAV file that is recorded into, and is whole at every moment: what is lost with the power is a second at most."""

from __future__ import annotations

import os
import struct
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..files import fault_of

__all__ = ["GrowingFile"]

_HEADER = struct.Struct("<4sI4s4sIHHIIHH4sI")
_SET_SECONDS = 1.0  # from one time that the lengths in the header are set right to the next
_LARGEST = (1 << 32) - (1 << 16)  # bytes, beyond which the lengths would wrap


class GrowingFile:
    """One channel of 16 bits."""

    def __init__(self, path: Path, rate: int) -> None:
        """A file that must not be there yet. Raises FileFault."""
        self.path = path
        self.rate = rate
        self.frames = 0
        """How many have been written."""
        self._set_at = 0
        try:
            self._file = path.open("xb")
            self._set_lengths()
        except OSError as error:
            raise fault_of(error, path) from None

    @property
    def seconds(self) -> float:
        """How long it is."""
        return self.frames / self.rate

    def write(self, samples: NDArray[np.float32]) -> None:
        """Add samples between -1 and 1. Raises FileFault, and is as it was before."""
        steps = np.clip(np.rint(samples * np.float32(32767)), -32768, 32767).astype("<i2")
        try:
            if 2 * (self.frames + len(steps)) > _LARGEST:
                raise OSError("it is as long as such a file can be")
            self._file.write(steps.tobytes())
            self.frames += len(steps)
            if self.frames - self._set_at > _SET_SECONDS * self.rate:
                self._set_lengths()
        except OSError as error:
            raise fault_of(error, self.path) from None

    def close(self) -> None:
        """Nothing more comes. Raises FileFault."""
        try:
            self._set_lengths()
            os.fsync(self._file.fileno())
        except OSError as error:
            raise fault_of(error, self.path) from None
        finally:
            self._file.close()

    def _set_lengths(self) -> None:
        size = 2 * self.frames
        form = 1, 1, self.rate, 2 * self.rate, 2, 16  # samples, one channel, so many bytes a second and a frame, bits
        head = _HEADER.pack(b"RIFF", size + 36, b"WAVE", b"fmt ", 16, *form, b"data", size)
        self._file.seek(0)
        self._file.write(head)
        self._file.seek(0, os.SEEK_END)
        self._file.flush()
        self._set_at = self.frames
