"""A performance on its way to a device."""

from __future__ import annotations

import time

from PyQt6.QtCore import QObject
from PyQt6.QtMultimedia import QAudioDevice

from ..sound.performance import Performance
from ..sound.render import DEFAULT_RATE
from .output import DeviceOutput, Output, Patience, SilentOutput

__all__ = ["Stream"]

_LEAST_FRAMES, _MOST_FRAMES = 96, 2048  # made in one go
_LIT_SECONDS = 0.4  # how long the limiter's light stays on


class Stream(QObject):
    """Makes a performance's sound as an output wants it, and knows which frame of it is heard."""

    def __init__(self, patience: Patience, parent: QObject) -> None:
        super().__init__(parent)
        self.performance = Performance(DEFAULT_RATE)
        self.output: Output = SilentOutput(DEFAULT_RATE)
        self._patience = patience
        self._opened_at = 0  # the performance's frame at which the output was opened
        self._lit_until = 0.0

    @property
    def device(self) -> QAudioDevice | None:
        """The device it plays on; None for the silent clock."""
        return self.output.device if isinstance(self.output, DeviceOutput) else None

    @property
    def heard(self) -> int:
        """The performance's frame that is heard."""
        return self._opened_at + self.output.heard()

    @property
    def limited(self) -> bool:
        """Whether the limiter was at work just now."""
        return time.monotonic() < self._lit_until

    def open(self, device: QAudioDevice | None) -> None:
        """Go on playing on a device, or on the silent clock."""
        self.output.close()
        self._opened_at = self.performance.frames
        self.output = SilentOutput(DEFAULT_RATE)
        if device is not None:
            self.output = DeviceOutput(device, DEFAULT_RATE, self._patience, self)

    def pump(self) -> None:
        """Make what is wanted now."""
        wanted = self.output.wanted()
        while wanted >= _LEAST_FRAMES:
            frames = min(wanted, _MOST_FRAMES)
            self.output.write(self.performance.read(frames))
            wanted -= frames
        self.performance.prepare(0.001)
        if self.performance.limited:
            self._lit_until = time.monotonic() + _LIT_SECONDS
