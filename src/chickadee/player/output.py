"""Where sound goes: the system's device, or a silent clock where there is none."""

from __future__ import annotations

from typing import Protocol

import numpy as np
from PyQt6.QtCore import QElapsedTimer, QIODevice, QObject
from PyQt6.QtMultimedia import QAudio, QAudioDevice, QAudioFormat, QAudioSink

from ..sound import Renderer

__all__ = ["Output", "SilentOutput", "SystemOutput", "playing_format"]

_BUFFER_SECONDS = 0.25
_FRAME_BYTES = 8  # two floats


class Output(Protocol):
    """Takes a renderer's sound and says how much of it has been heard."""

    def start(self, renderer: Renderer) -> None:
        """Begin with the renderer's first frame."""

    def stop(self) -> None:
        """Fall silent at once."""

    def heard(self) -> float:
        """Seconds heard since the start."""

    def failed(self) -> bool:
        """Whether the device went away."""


def playing_format(rate: int) -> QAudioFormat:
    """Stereo floats."""
    wanted = QAudioFormat()
    wanted.setSampleRate(rate)
    wanted.setChannelCount(2)
    wanted.setSampleFormat(QAudioFormat.SampleFormat.Float)
    return wanted


class _Source(QIODevice):
    """A renderer as the stream that Qt Multimedia reads; after the song it gives silence."""

    def __init__(self, renderer: Renderer, parent: QObject) -> None:
        super().__init__(parent)
        self.renderer = renderer
        self.open(QIODevice.OpenModeFlag.ReadOnly)

    def readData(self, maxlen: int) -> bytes:
        frames = min(maxlen // _FRAME_BYTES, 4096)
        sound = self.renderer.read(frames)
        data = sound.astype(np.float32).tobytes()
        return data + bytes((frames - len(sound)) * _FRAME_BYTES)

    def isSequential(self) -> bool:
        return True

    def bytesAvailable(self) -> int:
        return 1 << 20


class SystemOutput(QObject):
    """The system's sound device, through Qt Multimedia."""

    def __init__(self, device: QAudioDevice, rate: int, parent: QObject) -> None:
        super().__init__(parent)
        self._sink = QAudioSink(device, playing_format(rate), self)
        self._sink.setBufferSize(round(_BUFFER_SECONDS * rate) * _FRAME_BYTES)
        self._source: _Source | None = None

    def start(self, renderer: Renderer) -> None:
        self._source = _Source(renderer, self)
        self._sink.start(self._source)

    def stop(self) -> None:
        self._sink.reset()
        if self._source is not None:
            self._source.close()
            self._source.deleteLater()
            self._source = None

    def heard(self) -> float:
        waiting = self._sink.bufferSize() - self._sink.bytesFree()
        seconds = self._sink.processedUSecs() / 1e6 - waiting / (_FRAME_BYTES * self._sink.format().sampleRate())
        return max(0.0, seconds)

    def failed(self) -> bool:
        return self._sink.error() not in (QAudio.Error.NoError, QAudio.Error.UnderrunError)


class SilentOutput:
    """A clock that runs as sound would, where there is no device."""

    def __init__(self) -> None:
        self._timer = QElapsedTimer()

    def start(self, renderer: Renderer) -> None:
        self._timer.start()

    def stop(self) -> None:
        self._timer.invalidate()

    def heard(self) -> float:
        return self._timer.elapsed() / 1000 if self._timer.isValid() else 0.0

    def failed(self) -> bool:
        return False
