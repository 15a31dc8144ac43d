"""The system's microphone, through the same sound server as what is played."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QIODevice, QLoggingCategory, QObject, pyqtSignal

from ..sound.render import DEFAULT_RATE

if TYPE_CHECKING:
    from PyQt6.QtMultimedia import QAudioSource

__all__ = ["Microphone"]

_BUFFER_SECONDS = 4.0  # that the window may be busy for without anything being lost
_FRAME_BYTES = 4  # a float


class Microphone(QObject):
    """``came`` carries samples of one channel, ``ended`` tells that the microphone is gone."""

    came = pyqtSignal(object)
    ended = pyqtSignal()

    rate = DEFAULT_RATE
    """Samples a second."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._source: QAudioSource | None = None
        self._stream: QIODevice | None = None
        self._rest = b""
        self.name = ""
        """The system's name for it."""

    @property
    def on(self) -> bool:
        """True if it is listened to."""
        return self._source is not None

    def start(self) -> bool:
        """Listen to the microphone that the system has chosen; whether there is one."""
        from PyQt6.QtMultimedia import QAudio, QAudioFormat, QAudioSource, QMediaDevices  # takes a while to load

        self.stop()
        QLoggingCategory.setFilterRules("qt.multimedia.*=false")
        device = QMediaDevices.defaultAudioInput()
        form = QAudioFormat()
        form.setSampleRate(self.rate)
        form.setChannelCount(1)
        form.setSampleFormat(QAudioFormat.SampleFormat.Float)
        if device.isNull() or not device.isFormatSupported(form):
            return False
        source = QAudioSource(device, form, self)
        source.setBufferSize(round(_BUFFER_SECONDS * self.rate) * _FRAME_BYTES)
        stream = source.start()
        if stream is None or source.error() is not QAudio.Error.NoError:
            source.deleteLater()
            return False
        self._source = source
        self._stream = stream
        self.name = device.description()
        stream.readyRead.connect(self._read)
        source.stateChanged.connect(self._look)
        return True

    def stop(self) -> None:
        """Listen no longer."""
        if self._source is not None:
            source, self._source, self._stream, self._rest = self._source, None, None, b""
            source.blockSignals(True)
            source.stop()
            source.deleteLater()

    def _read(self) -> None:
        if self._stream is None:
            return
        data = self._rest + self._stream.readAll().data()
        whole = len(data) // _FRAME_BYTES * _FRAME_BYTES
        self._rest = data[whole:]
        if whole:
            self.came.emit(np.nan_to_num(np.frombuffer(data[:whole], np.float32)))

    def _look(self) -> None:
        from PyQt6.QtMultimedia import QAudio

        source = self._source
        if source is not None and source.state() is QAudio.State.StoppedState:
            self.stop()
            self.ended.emit()
