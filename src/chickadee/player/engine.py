"""The engine: a process of its own that makes sound while the window may be busy.

Two streams are kept open. The song's keeps seconds ready where what is ready can still be changed, and enough to ride
out a stall of some sixty milliseconds elsewhere; the one of single notes keeps as little as it can, so that a key is
heard at once. Run by :mod:`chickadee.player.link` with two
file descriptors: of the connection and of the status.
"""

from __future__ import annotations

import gc
import os
import sys
import time
from contextlib import suppress
from multiprocessing.connection import Connection

from PyQt6.QtCore import QCoreApplication, QObject, QSocketNotifier, Qt, QTimer
from PyQt6.QtMultimedia import QAudioDevice, QMediaDevices

from ..files import FileFault
from ..hearing.alignment import Backing
from ..hearing.backing import BackingSound
from ..hearing.playable import Playable
from ..sound.performance import Beside
from ..sound.render import DEFAULT_RATE
from . import messages
from .output import DeviceOutput, Output, Patience, playing_format
from .pulse import ServerOutput
from .server import SoundServer
from .status import Status, StatusBlock
from .stream import Stream

__all__ = ["Engine", "main"]

_SONG = Patience(ours=0.03, server=0.06)
_NOTES = Patience(ours=0.012, server=0.016)
_PUMP_MILLISECONDS = 3
_LOOK_MILLISECONDS = 1000
_IDLE_SECONDS = 300.0  # after which the streams are closed until something is asked for
_RETRY_SECONDS = 5.0  # between tries of a device that failed
_REOPEN_SECONDS = 8.0  # within which a stream that was opened again and fails once more counts as gone
_RESTART = 75  # exit status: the sound server came back, and Qt looks for it only at its start


class Engine(QObject):
    """Reads messages, makes sound, says what is heard."""

    def __init__(self, connection: Connection, status: StatusBlock) -> None:
        super().__init__()
        self._connection = connection
        self._status = status
        self._song = Stream(self._song_output)
        self._notes = Stream(self._notes_output)
        self._streams = (self._song, self._notes)
        self._recording: tuple[Backing, Playable] | None = None
        self._number = 0
        self._server = SoundServer()
        self._devices = QMediaDevices(self)
        self._devices.audioOutputsChanged.connect(self._follow_device)
        self._last_asked = self._failed_at = time.monotonic()
        self._reopened_at = 0.0
        self._told: object = ()
        self._notifier = QSocketNotifier(connection.fileno(), QSocketNotifier.Type.Read, self)  # type: ignore[call-overload]
        self._notifier.activated.connect(self._read_messages)
        self._timer = QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._pump)
        self._timer.start(_PUMP_MILLISECONDS)
        self._looking = QTimer(self)
        self._looking.timeout.connect(self._look)
        self._looking.start(_LOOK_MILLISECONDS)
        self._follow_device()

    # Messages

    def _read_messages(self) -> None:
        try:
            while self._connection.poll():
                self._obey(self._connection.recv())
        except (EOFError, OSError):  # the window is gone
            self._timer.stop()
            QCoreApplication.quit()
            return
        self._last_asked = time.monotonic()
        if not self._timer.isActive():
            self._timer.start(_PUMP_MILLISECONDS)
            self._follow_device()
        self._pump()

    def _obey(self, message: object) -> None:
        match message:
            case messages.Play(number, score, part, backing):
                self._number = number
                source = self._source(backing)
                self._song.soon().play(score, part, BackingSound(backing, source) if backing and source else None)
            case messages.Change(number, score, part, moments, backing):
                self._number = number
                same = backing == (self._recording and self._recording[0])
                same_until = self._song.performance.unchanged_until(score, part) if same else 0
                source = self._source(backing)
                performance = self._song.soon(same_until)
                performance.change(score, part, moments, _going_on(performance.beside, backing, source))
            case messages.Stop():
                self._song.soon().stop()
            case messages.NoteOn(name, sound, strike, seconds):
                self._notes.soon().note_on(name, sound, strike, seconds)
            case messages.NoteOff(name):
                self._notes.soon().note_off(name)
            case messages.Silence():
                for stream in self._streams:
                    stream.soon().silence()
            case messages.Level(level):
                for stream in self._streams:
                    stream.soon().set_level(level)
            case messages.Room(on):
                for stream in self._streams:
                    stream.soon().set_room(on)

    def _source(self, backing: Backing | None) -> Playable | None:
        """The recording that sounds with the song, kept open from before; None where there is none."""
        if backing is None:
            self._recording = None
            return None
        try:
            source = self._recording[1] if self._recording is not None else None
            if source is None or not source.is_of(backing.path):
                source = Playable(backing.path, DEFAULT_RATE)
        except FileFault:  # the desk, which read it before, says so
            self._recording = None
            return None
        self._recording = backing, source
        return source

    def _tell(self, message: object) -> None:
        try:
            self._connection.send(message)
        except OSError:
            QCoreApplication.quit()

    # Sound

    def _pump(self) -> None:
        for stream in self._streams:
            if stream.output.failed():
                self._replace(stream)
            stream.pump()
        self._say_what_is_heard()

    def _replace(self, failed: Stream) -> None:
        """Open the stream of single notes again at once where it alone failed; else fall silent, and try later."""
        now = time.monotonic()
        alone = failed is self._notes and self._song.device is not None and not self._song.output.failed()
        if alone and now - self._reopened_at > _REOPEN_SECONDS:
            self._reopened_at = now
            failed.open(failed.device)
            return
        self._failed_at = now
        self._play_on(None)

    def _say_what_is_heard(self) -> None:
        song = self._song.performance
        heard = self._song.heard
        second = song.song_second(heard) if self._song.output.heard() >= 0 else None
        if song.ended and heard >= song.ended and self._number:
            self._tell(messages.Finished(self._number))
            self._number = 0
        self._status.write(
            Status(
                time.monotonic(),
                self._number if second is not None else 0,
                second or 0.0,
                max(stream.peak for stream in self._streams),
                any(stream.limited for stream in self._streams),
                self._song.device is not None,
                self._song.output.gaps,
                (song.frames - heard) / DEFAULT_RATE,
            )
        )

    # Devices

    def _song_output(self, device: QAudioDevice) -> Output:
        if ServerOutput.available():
            return ServerOutput(device, DEFAULT_RATE)
        return DeviceOutput(device, DEFAULT_RATE, _SONG, self)

    def _notes_output(self, device: QAudioDevice) -> Output:
        return DeviceOutput(device, DEFAULT_RATE, _NOTES, self)

    def _follow_device(self) -> None:
        """Play on the system's chosen device, or silently where there is none."""
        device = QMediaDevices.defaultAudioOutput()
        if device.isNull() or not device.isFormatSupported(playing_format(DEFAULT_RATE)):
            self._play_on(None)
        elif self._song.device != device:
            self._play_on(device)

    def _play_on(self, device: QAudioDevice | None) -> None:
        for stream in self._streams:
            if device is not None or stream.device is not None:
                stream.open(device)
        name = device.description() if device is not None else None
        if name != self._told:
            self._told = name
            self._tell(messages.Output(name))

    def _look(self) -> None:
        """Now and then: rest when nothing was wanted for long, and see whether a sound server came back."""
        gc.collect()
        if not all(stream.performance.idle for stream in self._streams):
            self._last_asked = time.monotonic()
        elif time.monotonic() - self._last_asked > _IDLE_SECONDS:
            self._timer.stop()
            for stream in self._streams:
                stream.open(None)
        if self._song.device is None and self._timer.isActive():
            if self._server.came_back():
                QCoreApplication.exit(_RESTART)
            elif self._server.is_there() and time.monotonic() - self._failed_at > _RETRY_SECONDS:
                self._failed_at = time.monotonic()
                self._follow_device()


def _going_on(before: Beside | None, backing: Backing | None, source: Playable | None) -> BackingSound | None:
    """A recording as it is to be heard now: from where it is, where it is heard already."""
    if backing is None or source is None:
        return None
    if isinstance(before, BackingSound) and before.source is source:
        return before.changed(backing)
    return BackingSound(backing, source)


def main() -> int:
    """Run the engine until its window goes."""
    connection, descriptor = (int(argument) for argument in sys.argv[1:3])
    gc.freeze()
    gc.disable()  # a collection in the wrong moment would be heard
    with suppress(OSError):  # few users may, but where one may it helps
        os.nice(-10)
    app = QCoreApplication(sys.argv[:1])
    engine = Engine(Connection(connection), StatusBlock(descriptor))
    status = app.exec()
    del engine
    return status


if __name__ == "__main__":
    code = main()
    os._exit(code)  # Qt's audio threads need not be waited for
