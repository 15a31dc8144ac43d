"""The player: starts, stops, and knows where in the song the listener is."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtMultimedia import QMediaDevices

from ..song import Song
from ..sound import Renderer
from ..sound.render import DEFAULT_RATE
from .output import Output, SilentOutput, SystemOutput, playing_format

__all__ = ["Player"]

_LOOK_MILLISECONDS = 15


class Player(QObject):
    """Plays one song at a time.

    ``moved`` carries the tick that is heard, often enough to draw; ``started`` and ``stopped`` tell of the state,
    ``finished`` of a song's own end, and ``output_changed`` of a device that came or went.
    """

    started = pyqtSignal()
    moved = pyqtSignal(float)
    stopped = pyqtSignal()
    finished = pyqtSignal()
    output_changed = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._devices = QMediaDevices(self)
        self._devices.audioOutputsChanged.connect(self.output_changed)
        self._output: Output | None = None
        self._song = Song()
        self._start_seconds = 0.0
        self._end_seconds = 0.0
        self._clock = QTimer(self)
        self._clock.setInterval(_LOOK_MILLISECONDS)
        self._clock.timeout.connect(self._look)

    @property
    def has_device(self) -> bool:
        """Whether the system has somewhere for sound to go."""
        return not QMediaDevices.defaultAudioOutput().isNull()

    @property
    def output_name(self) -> str:
        """Where sound goes, as the status line says it."""
        if not self.has_device:
            return "no sound device, playing silently"
        return QMediaDevices.defaultAudioOutput().description()

    @property
    def playing(self) -> bool:
        """Whether a song is being played."""
        return self._output is not None

    @property
    def tick(self) -> float:
        """The tick that is heard now; 0 when nothing plays."""
        if self._output is None:
            return 0.0
        return self._song.tempo.tick(self._start_seconds + self._output.heard())

    def play(self, song: Song, start: int = 0, speed: float = 1.0) -> None:
        """Play a song from a tick on, ``speed`` times as fast at the same pitch; what played before stops."""
        self.stop()
        self._song = replace(song, tempo=song.tempo.at_speed(speed)) if speed != 1 else song
        self._start_seconds = float(self._song.tempo.seconds(start))
        renderer = Renderer(self._song, DEFAULT_RATE, self._start_seconds)
        self._end_seconds = renderer.frames / DEFAULT_RATE
        self._output = self._new_output()
        self._output.start(renderer)
        self._clock.start()
        self.started.emit()

    def stop(self) -> None:
        """Fall silent at once."""
        if self._output is None:
            return
        self._output.stop()
        self._output = None
        self._clock.stop()
        self.stopped.emit()

    def _new_output(self) -> Output:
        device = QMediaDevices.defaultAudioOutput()
        if device.isNull() or not device.isFormatSupported(playing_format(DEFAULT_RATE)):
            return SilentOutput()
        return SystemOutput(device, DEFAULT_RATE, self)

    def _look(self) -> None:
        if self._output is None:
            return
        if self._output.failed():
            self.stop()
            self.output_changed.emit()
        elif self._output.heard() >= self._end_seconds:
            self.stop()
            self.finished.emit()
        else:
            self.moved.emit(self.tick)
