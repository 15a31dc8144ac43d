"""The player: starts, stops, and knows where in the song the listener is."""

from __future__ import annotations

import time
from dataclasses import replace

from PyQt6.QtCore import QElapsedTimer, QEventLoop, QObject, QTimer, pyqtSignal

from ..signals.heard import Heard
from ..sound.score import Strike
from ..theory.frequency import frequency
from . import messages
from .link import EngineLink
from .playing import Playing

__all__ = ["Player"]

_LOOK_MILLISECONDS = 15
_LEVEL = 50.0
_JITTER = 0.2  # seconds by which the engine's clock and ours may differ


class Player(QObject):
    """Plays one song at a time, and single notes beside it.

    ``moved`` carries the tick that is heard, often enough to draw; ``started`` and ``stopped`` tell of the state,
    ``finished`` of a song's own end, ``output_changed`` of where sound goes, ``lost`` of an engine or device that
    went away while playing.
    """

    started = pyqtSignal()
    moved = pyqtSignal(float)
    stopped = pyqtSignal()
    finished = pyqtSignal()
    output_changed = pyqtSignal()
    lost = pyqtSignal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._link = EngineLink(self)
        self._link.told.connect(self._hear)
        self._link.lost.connect(self._lose)
        self._link.replaced.connect(self._resume)
        self._device: str | None = None
        self._ready = False
        self._playing: Playing | None = None
        self._heard: Heard | None = None
        self._ended: tuple[Heard, float] | None = None  # what ended by itself, and when by the machine's clock
        self._number = 0
        self._tick = self._second = 0.0
        self._level = _LEVEL
        self._room = False
        self._notes = 0
        self._clock = QTimer(self)
        self._clock.setInterval(_LOOK_MILLISECONDS)
        self._clock.timeout.connect(self._look)

    # The engine

    def open(self) -> None:
        """Start the engine, so that the first note is heard at once. Anything that sounds does so by itself."""
        if not self._link.running:
            self._link.start()
            self._greet()

    def wait_until_ready(self, seconds: float = 15.0) -> bool:
        """Wait until the engine has said where sound goes; whether it has."""
        self.open()
        waited = QElapsedTimer()
        loop = QEventLoop()
        waited.start()
        while not self._ready and waited.elapsed() < 1000 * seconds:
            loop.processEvents(
                QEventLoop.ProcessEventsFlag.WaitForMoreEvents | QEventLoop.ProcessEventsFlag.AllEvents
            )
        return self._ready

    def close(self) -> None:
        """Fall silent and end the engine."""
        self.stop()
        self._link.close()
        self._ready = False

    @property
    def has_device(self) -> bool:
        """True if the system has somewhere for sound to go."""
        return self._device is not None

    @property
    def output_name(self) -> str:
        """Where sound goes, as the status line says it."""
        if not self._ready:
            return "getting ready"
        return self._device or "no sound device, playing silently"

    @property
    def limited(self) -> bool:
        """True if the limiter has been at work just now."""
        return self._link.running and bool(self._link.status.limited)

    @property
    def level(self) -> float:
        """How loud, from 0 to 100; up to 50 never above -12 dBFS."""
        return self._level

    def set_level(self, level: float) -> None:
        """Set how loud, from 0 to 100."""
        self._level = level
        self._link.send(messages.Level(level))

    def set_room(self, on: bool) -> None:
        """Set whether a small room is heard."""
        self._room = on
        self._link.send(messages.Room(on))

    # The song

    @property
    def playing(self) -> bool:
        """True if a song is being played."""
        return self._playing is not None

    @property
    def tick(self) -> float:
        """The tick that is heard now; 0 when nothing plays. Before the start, while a bar is counted in."""
        return self._tick if self._playing else 0.0

    @property
    def heard(self) -> Heard | None:
        """The playing that is heard at this very moment; None where nothing is. It may be asked from any thread.

        When a playing has ended by itself, this says so until something else is done.
        """
        playing = self._playing
        number = self._number
        ended = self._ended
        if playing is None and ended is not None:
            last, moment = ended
            return replace(last, second=last.second + time.monotonic() - moment)
        if playing is None or not self._link.running:
            self._heard = None
        elif (status := self._link.status).playing == number:
            second = status.second + min(0.1, max(0.0, time.monotonic() - status.moment))
            self._heard = Heard(playing.song, playing.tempo, second, number, playing.start_second)
        return self._heard  # while the engine goes over to another version, what was heard before

    def play(self, playing: Playing) -> None:
        """Play; what played before stops."""
        self.open()
        was_playing = self._playing is not None
        self._playing = playing
        self._ended = self._heard = None
        self._number += 1
        self._tick = float(playing.start)
        self._second = -1.0
        self._link.send(messages.Play(self._number, playing.score, playing.part, playing.backing))
        self._clock.start()
        if not was_playing:
            self.started.emit()

    def change(self, playing: Playing) -> None:
        """Go on from where the listener is, in another version of the song, at another speed, with other voices."""
        if self._playing is None:
            return
        moments = self._playing.moments_to(playing)
        self._second = -1.0
        self._playing = playing
        self._number += 1
        self._link.send(messages.Change(self._number, playing.score, playing.part, moments, playing.backing))

    def stop(self) -> None:
        """Fall silent at once."""
        self._ended = None
        if self._playing is not None:
            self._link.send(messages.Stop())
            self._end()

    # Single notes

    def strike(
        self,
        name: str,
        sound: str,
        number: int,
        loudness: int = 80,
        tuning: float = 440.0,
        seconds: float | None = None,
    ) -> None:
        """Strike a note beside the song, for some seconds or until it is let go under its name."""
        self.open()
        strike = Strike(number, frequency(number, tuning), loudness / 127)
        self._link.send(messages.NoteOn(name, sound, strike, seconds))

    def let_go(self, name: str) -> None:
        """Let a note go."""
        self._link.send(messages.NoteOff(name))

    def silence(self) -> None:
        """Let everything go: the song and every note beside it."""
        self.stop()
        self._link.send(messages.Silence())

    # Following

    def _hear(self, message: object) -> None:
        if isinstance(message, messages.Output):
            vanished = self._device is not None and message.name is None
            self._device = message.name
            self._ready = True
            self.output_changed.emit()
            if vanished:
                self.lost.emit()
        elif isinstance(message, messages.Finished) and message.number == self._number and self._playing is not None:
            until = self._playing.end_second
            last = Heard(
                self._playing.song, self._playing.tempo, until, self._number, self._playing.start_second, until
            )
            self._ended = last, time.monotonic()
            self._end()
            self.finished.emit()

    def _lose(self) -> None:
        had_device = self._device is not None
        self._device = None
        self._ready = False
        self.output_changed.emit()
        if had_device:
            self.lost.emit()

    def _resume(self) -> None:
        """Another engine goes on where the listener was."""
        self._greet()
        if self._playing is not None:
            self._number += 1
            here = replace(self._playing, start=max(0, int(self._tick)), count_in=False)
            part = replace(self._playing.part, start=here.part.start)
            self._link.send(messages.Play(self._number, here.score, part, here.backing))

    def _greet(self) -> None:
        self._link.send(messages.Level(self._level))
        self._link.send(messages.Room(self._room))

    def _look(self) -> None:
        if self._playing is None:
            return
        status = self._link.status
        if status.playing != self._number:
            return
        second = status.second + min(0.1, max(0.0, time.monotonic() - status.moment))
        if self._playing.part.round is not None:
            second = min(second, self._playing.part.round[1])
        if 0 < self._second - second < _JITTER:  # what was heard before stays heard, though the clock was read late
            second = self._second
        self._second = second
        self._tick = max(self._playing.first_tick, self._playing.tempo.tick(max(0.0, second)))
        self.moved.emit(self._tick)

    def _end(self) -> None:
        self._playing = None
        self._clock.stop()
        self.stopped.emit()
