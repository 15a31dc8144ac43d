"""Emitters of signals: they send what is due by the clock of the sound, in a thread of their own."""

from __future__ import annotations

import threading
import time
from bisect import bisect_left
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from operator import attrgetter

from ..song import Song, TempoMap
from .heard import Heard
from .messages import MidiMessage, OscMessage, midi_messages, osc_messages
from .outlets import MidiOutlet, Outlet

__all__ = ["Emitter", "EmitterThread"]

_STEP = 0.001  # seconds from one look at the clock to the next
_JUST = 1e-6  # seconds
_LATE = 0.02  # by how much a jump may be seen late
_BACK = 0.25  # seconds by which the clock goes back where a part is played round and round


@dataclass
class Emitter:
    """Sends to one outlet what is due; it never waits. ``delay`` is by how many seconds everything is sent later."""

    outlet: Outlet
    delay: float = 0.0
    _song: Song | None = field(default=None, init=False)
    _tempo: TempoMap | None = field(default=None, init=False)
    _messages: Sequence[OscMessage | MidiMessage] = field(default=(), init=False)
    _next: int = field(default=0, init=False)
    _number: int = field(default=0, init=False)
    _second: float | None = field(default=None, init=False)  # None while nothing is heard
    _waited: bool = field(default=False, init=False)  # whether nothing was heard at some time

    def emit(self, heard: Heard | None) -> None:
        """Send what is due by now; None where nothing is heard, which ends what sounds at once."""
        if heard is None or self._is_over(heard):
            self._end()
            self._waited = True
            self._number = self._number if heard is None else heard.number
            return
        second = heard.second - self.delay
        begins = self._second is None
        if heard.song is not self._song or heard.tempo is not self._tempo:
            self._learn(heard)
            self._next = self._place(second if not begins else heard.second)
            if not begins:
                self.outlet.silence()  # the song was changed while it plays: what is held may be gone
        elif self._second is not None and (heard.number != self._number or second < self._second - _BACK):
            self.outlet.silence()
            self._next = self._place(second)
        if begins:
            here = heard.since if self._waited else max(heard.since, heard.second)  # it may be seen a little late
            tick = max(0.0, float(heard.tempo.tick(max(0.0, here))))
            self.outlet.start(heard.song.title, float(heard.tempo.seconds(heard.song.end)), here, tick)
            self._next = self._place(here)
        self._second = second
        self._number = heard.number
        due = second
        if heard.until is not None and heard.until < float(heard.tempo.seconds(heard.song.end)):
            due = min(second, heard.until - _JUST)  # what begins where the part ends is not part of it
        while self._next < len(self._messages) and self._messages[self._next].second <= due:
            self.outlet.send(self._messages[self._next])
            self._next += 1
        if heard.until is not None and second >= heard.until:
            self._end()

    def _is_over(self, heard: Heard) -> bool:
        """Return whether a playing ended and was sent, or ended before anybody listened."""
        sent = heard.number == self._number or not self._waited
        return heard.until is not None and self._second is None and sent

    @property
    def due(self) -> float:
        """Seconds until the next message is due, by what was sent last; infinite where there is none."""
        if self._second is None or self._next >= len(self._messages):
            return float("inf")
        return self._messages[self._next].second - self._second

    def close(self) -> None:
        """End what sounds, and the outlet."""
        self._end()
        self.outlet.close()

    def _learn(self, heard: Heard) -> None:
        make = midi_messages if isinstance(self.outlet, MidiOutlet) else osc_messages
        self._song = heard.song
        self._tempo = heard.tempo
        self._messages = make(heard.song, heard.tempo)

    def _place(self, second: float) -> int:
        return bisect_left(self._messages, max(0.0, second) - _LATE, key=attrgetter("second"))

    def _end(self) -> None:
        if self._second is not None:
            self.outlet.silence()
            last = float(self._tempo.seconds(self._song.end)) if self._tempo and self._song else self._second
            self.outlet.end(max(0.0, min(self._second, last)))
            self._second = None


class EmitterThread(threading.Thread):
    """Looks at the clock of the sound again and again, and has emitters send what is due."""

    def __init__(self, clock: Callable[[], Heard | None], emitters: Sequence[Emitter]) -> None:
        """``clock`` says what is heard now; it is asked from this thread."""
        super().__init__(daemon=True, name="signals")
        self._clock = clock
        self._emitters = emitters
        self._stop_wanted = threading.Event()
        if clock() is None:  # whatever is played after this is sent from its start, however late the thread begins
            self._emit_all(None)

    def run(self) -> None:
        """Send until it is stopped."""
        while not self._stop_wanted.is_set():
            self._emit_all(self._clock())
            due = min((emitter.due for emitter in self._emitters), default=_STEP)
            time.sleep(min(_STEP, max(0.0002, due)))
        self._emit_all(self._clock())
        for emitter in self._emitters:
            emitter.close()

    def _emit_all(self, heard: Heard | None) -> None:
        for emitter in self._emitters:
            emitter.emit(heard)

    def stop(self) -> None:
        """Let everything that sounds end, and the thread."""
        self._stop_wanted.set()
        if self.is_alive():
            self.join(2.0)
