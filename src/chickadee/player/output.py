"""Where the engine's sound goes: the system's device, or a silent clock where there is none."""

from __future__ import annotations

import os
import time
from typing import NamedTuple, Protocol

from PyQt6.QtCore import QObject
from PyQt6.QtMultimedia import QAudio, QAudioDevice, QAudioFormat, QAudioSink

from ..sound.samples import Samples

__all__ = ["DeviceOutput", "Output", "Patience", "SilentOutput", "playing_format"]

_FRAME_BYTES = 8  # two floats
_RING = 0.15  # seconds that fit into our own buffer
_MOST = 0.12  # seconds kept in it at most
# seconds without taking anything after which a device counts as gone
_STUCK = 2.5
_SLOW_TO_START = 4.0
_SILENT_AHEAD = 0.012  # seconds the silent clock keeps ready


class Patience(NamedTuple):
    """How many seconds of sound are kept ready between us and the ear."""

    ours: float
    """In our own buffer, to begin with."""
    server: float
    """In the sound server's."""


class Output(Protocol):
    """Takes frames and says how many of them have been heard."""

    gaps: int
    """How often it had to wait for us."""

    @property
    def device(self) -> QAudioDevice | None:
        """Where it plays; None for the silent clock."""

    def wanted(self) -> int:
        """Frames it should be given now."""

    def write(self, sound: Samples) -> None:
        """Give it frames, shape (frames, 2)."""

    def heard(self) -> int:
        """Frames heard since it was opened; below 0 while nothing is heard yet."""

    def settled(self) -> int:
        """How many frames there are, of those written, that can no longer be taken back."""

    def take_back(self, frames: int) -> None:
        """Forget the last so many frames: what is written next takes their place."""

    def failed(self) -> bool:
        """Return whether the device went away."""

    def close(self) -> None:
        """Fall silent at once."""


def playing_format(rate: int) -> QAudioFormat:
    """Stereo floats."""
    wanted = QAudioFormat()
    wanted.setSampleRate(rate)
    wanted.setChannelCount(2)
    wanted.setSampleFormat(QAudioFormat.SampleFormat.Float)
    return wanted


class DeviceOutput(QObject):
    """A sound device, through Qt Multimedia.

    ``patience`` says how much is kept ready, so that what is asked for is heard soon and yet nothing stumbles. Each
    time the device finds nothing ready half as much again is kept from then on.
    """

    def __init__(self, device: QAudioDevice, rate: int, patience: Patience, parent: QObject) -> None:
        super().__init__(parent)
        self.device = device
        self.gaps = 0
        self._rate = rate
        self._kept = patience.ours
        self._beyond = round(patience.server * rate)
        self._written = 0
        # frames the device took, and when it last did
        self._taken = 0
        self._taken_at = time.monotonic()
        self._sink = QAudioSink(device, playing_format(rate), self)
        self._sink.setBufferSize(round(_RING * rate) * _FRAME_BYTES)
        os.environ["PULSE_LATENCY_MSEC"] = str(round(1000 * patience.server))  # read as the stream is made
        self._stream = self._sink.start()

    def wanted(self) -> int:
        waiting = self._waiting()
        if waiting == 0 and self._written:
            self.gaps += 1
            self._kept = min(_MOST, self._kept * 1.5)
        return max(0, round(self._kept * self._rate) - waiting)

    def write(self, sound: Samples) -> None:
        if self._stream is not None:
            self._written += max(0, self._stream.write(sound.tobytes())) // _FRAME_BYTES

    def heard(self) -> int:
        return max(0, self._written - self._waiting() - self._beyond)

    def settled(self) -> int:
        return self._written

    def take_back(self, frames: int) -> None:
        pass  # nothing ever can be

    def failed(self) -> bool:
        """A device whose server died says nothing: it only takes no more."""
        now = time.monotonic()
        taken = self._written - self._waiting()
        if taken != self._taken or taken == self._written:
            self._taken = taken
            self._taken_at = now
        patience = _STUCK if taken else _SLOW_TO_START
        error = self._stream is None or self._sink.error() not in (QAudio.Error.NoError, QAudio.Error.UnderrunError)
        return error or now - self._taken_at > patience

    def close(self) -> None:
        self._sink.reset()
        self._sink.deleteLater()
        self._stream = None

    def _waiting(self) -> int:
        """Frames in our own buffer that the device has not yet taken."""
        return (self._sink.bufferSize() - self._sink.bytesFree()) // _FRAME_BYTES


class SilentOutput:
    """A clock that runs as sound would, where there is no device."""

    device = None
    gaps = 0

    def __init__(self, rate: int) -> None:
        self._rate = rate
        self._begun = time.monotonic()
        self._written = 0

    def wanted(self) -> int:
        return max(0, self._due() + round(_SILENT_AHEAD * self._rate) - self._written)

    def write(self, sound: Samples) -> None:
        self._written += len(sound)

    def heard(self) -> int:
        return min(self._written, self._due())

    def settled(self) -> int:
        return self._written

    def take_back(self, frames: int) -> None:
        pass  # nothing ever can be

    def failed(self) -> bool:
        return False

    def close(self) -> None:
        pass

    def _due(self) -> int:
        """Frames that would have been heard by now."""
        return round((time.monotonic() - self._begun) * self._rate)
