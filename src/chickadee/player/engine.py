"""The engine: a process of its own that makes sound while the window may be busy.

It keeps one stream open, so that a note struck is heard within milliseconds, and only ever waits for its device and
for messages. Run by :mod:`chickadee.player.link` with two file descriptors: of the connection and of the status.
"""

from __future__ import annotations

import os
import sys
import time
from multiprocessing.connection import Connection

from PyQt6.QtCore import QCoreApplication, QObject, QSocketNotifier, Qt, QTimer
from PyQt6.QtMultimedia import QMediaDevices

from ..sound.performance import Performance
from ..sound.render import DEFAULT_RATE
from . import messages
from .output import DeviceOutput, Output, SilentOutput, playing_format
from .server import SoundServer
from .status import Status, StatusBlock

__all__ = ["Engine", "main"]

_PUMP_MILLISECONDS = 3
_LOOK_SECONDS = 1.0
_LEAST_FRAMES, _MOST_FRAMES = 96, 2048  # made in one go
_IDLE_SECONDS = 300.0  # after which the stream is closed until something is asked for
_LIT_SECONDS = 0.4  # how long the limiter's light stays on
RESTART = 75
"""Exit status that asks for a new engine: the sound server came back, and Qt only looks for it at its start."""


class Engine(QObject):
    """Reads messages, makes sound, says what is heard."""

    def __init__(self, connection: Connection, status: StatusBlock) -> None:
        super().__init__()
        self._connection, self._status = connection, status
        self._performance = Performance(DEFAULT_RATE)
        self._number = 0
        self._server = SoundServer()
        self._devices = QMediaDevices(self)
        self._devices.audioOutputsChanged.connect(self._follow_device)
        self._output: Output = SilentOutput(DEFAULT_RATE)
        self._opened_at = 0  # the performance's frame at which the output was opened
        self._last_wanted = time.monotonic()
        self._lit_until = 0.0
        self._told: object = ()
        self._notifier = QSocketNotifier(connection.fileno(), QSocketNotifier.Type.Read, self)  # type: ignore[call-overload]
        self._notifier.activated.connect(self._read_messages)
        self._timer = QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._pump)
        self._timer.start(_PUMP_MILLISECONDS)
        self._looking = QTimer(self)
        self._looking.timeout.connect(self._look)
        self._looking.start(round(1000 * _LOOK_SECONDS))
        self._follow_device()

    # Messages

    def _read_messages(self) -> None:
        try:
            while self._connection.poll():
                self._obey(self._connection.recv())
        except (EOFError, OSError):  # the window is gone
            self._output.close()
            QCoreApplication.quit()
            self._timer.stop()
            return
        self._last_wanted = time.monotonic()
        if not self._timer.isActive():
            self._timer.start(_PUMP_MILLISECONDS)
            self._follow_device()
        self._pump()

    def _obey(self, message: object) -> None:
        performance = self._performance
        match message:
            case messages.Play(number, score, part):
                self._number = number
                performance.play(score, part)
            case messages.Change(score, part, moments):
                performance.change(score, part, moments)
            case messages.Stop():
                performance.stop()
            case messages.NoteOn(name, sound, strike, seconds):
                performance.note_on(name, sound, strike, seconds)
            case messages.NoteOff(name):
                performance.note_off(name)
            case messages.Silence():
                performance.silence()
            case messages.Level(level):
                performance.set_level(level)
            case messages.Room(on):
                performance.set_room(on)

    def _tell(self, message: object) -> None:
        try:
            self._connection.send(message)
        except OSError:
            QCoreApplication.quit()

    # Sound

    def _pump(self) -> None:
        if self._output.failed():
            self._open_silence()
        wanted = self._output.wanted()
        while wanted >= _LEAST_FRAMES:
            frames = min(wanted, _MOST_FRAMES)
            self._output.write(self._performance.read(frames))
            wanted -= frames
        now = time.monotonic()
        if not self._performance.idle:
            self._last_wanted = now
            self._performance.prepare(0.001)
        if self._performance.limited:
            self._lit_until = now + _LIT_SECONDS
        self._say_what_is_heard(now)

    def _say_what_is_heard(self, now: float) -> None:
        heard = self._opened_at + self._output.heard()
        performance, second = self._performance, self._performance.song_second(heard)
        if performance.ended and heard >= performance.ended and self._number:
            self._tell(messages.Finished(self._number))
            self._number = 0
        self._status.write(
            Status(
                now,
                self._number if second is not None else 0,
                second or 0.0,
                performance.peak,
                now < self._lit_until,
                isinstance(self._output, DeviceOutput),
                self._output.gaps,
                (performance.frames - heard) / performance.rate,
            )
        )

    # Devices

    def _follow_device(self) -> None:
        """Play on the system's chosen device, or silently where there is none."""
        device = QMediaDevices.defaultAudioOutput()
        if device.isNull() or not device.isFormatSupported(playing_format(DEFAULT_RATE)):
            if not isinstance(self._output, SilentOutput) or self._told == ():
                self._open_silence()
        elif not isinstance(self._output, DeviceOutput) or self._output.device != device:
            self._open(DeviceOutput(device, DEFAULT_RATE, self), device.description())

    def _open_silence(self) -> None:
        self._open(SilentOutput(DEFAULT_RATE), None)

    def _open(self, output: Output, name: str | None) -> None:
        self._output.close()
        self._output, self._opened_at = output, self._performance.frames
        if name != self._told:
            self._told = name
            self._tell(messages.Output(name))

    def _look(self) -> None:
        """Now and then: rest when nothing was wanted for long, and see whether a sound server came back."""
        if self._performance.idle and time.monotonic() - self._last_wanted > _IDLE_SECONDS:
            self._timer.stop()
            self._output.close()
            self._output = SilentOutput(DEFAULT_RATE)
        elif isinstance(self._output, SilentOutput) and self._timer.isActive() and self._server.came_back():
            QCoreApplication.exit(RESTART)


def main() -> int:
    """Run the engine until its window goes."""
    connection, descriptor = (int(argument) for argument in sys.argv[1:3])
    os.set_inheritable(descriptor, False)
    app = QCoreApplication(sys.argv[:1])
    engine = Engine(Connection(connection), StatusBlock(descriptor))
    status = app.exec()
    del engine
    return status


if __name__ == "__main__":
    code = main()
    sys.stdout.flush()
    os._exit(code)  # Qt's audio threads need not be waited for
