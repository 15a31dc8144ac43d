"""A song performed in real time: what sounds next, while the song is changed, moved about in and played round."""

from __future__ import annotations

import time
from copy import copy
from typing import Protocol, Self

import numpy as np
from numpy.typing import NDArray

from ..song.drums import DRUM_SOUND
from .limiter import CEILING, Limiter
from .mix import Mix, Tone, new_tone, tone_of, tones_between
from .room import Room
from .samples import Samples
from .score import Part, Score, Strike
from .stock import Stock

__all__ = ["SAFE_CEILING", "Beside", "Performance", "gain_of_level"]

SAFE_CEILING = 0.25
"""No sample is larger until the listener raises the level: -12 dBFS, so no power is above -12 dBFS RMS either."""
SAFE_LEVEL = 50
"""The level, from 0 to 100, up to which that holds."""

# seconds in which a tone that is taken away falls silent
_CUT = 0.008
_STOP = 0.03
_AHEAD = 1.5  # seconds of notes that are made ready before they are due
_FOREVER = 1 << 50


def gain_of_level(level: float) -> float:
    """The factor that a level from 0 to 100 stands for: about 1 at 70, and even to the ear."""
    return float((level / 70) ** 2)


def ceiling_of_level(level: float) -> float:
    """The largest sample at a level: safe up to SAFE_LEVEL, and from there up to the limiter's own ceiling."""
    raised = min(1.0, max(0.0, (level - SAFE_LEVEL) / 25))
    return SAFE_CEILING + (CEILING - SAFE_CEILING) * raised


class Beside(Protocol):
    """Something else that sounds with a song, such as a recording of it."""

    @property
    def source(self) -> object:
        """The score that it plays from: the same for one that goes on from another."""

    @property
    def end(self) -> float:
        """The second of the song at which it ends."""

    @property
    def over(self) -> bool:
        """True if it has fallen silent after it was left."""

    def copy(self) -> Self:
        """Another that goes on from here by itself."""

    def block(self, at: int, frames: int) -> Samples:
        """Its sound while the song goes from one of its frames on, shape (2, frames)."""

    def leave(self, at: int, frames: int) -> None:
        """Fall silent within so many frames; where it is asked for a block again, it sets in anew."""

    def fading(self, frames: int) -> Samples:
        """Return the frames that fade out after it was left, shape (2, frames)."""


class Performance:
    """Gives a stream of frames, one block after the other.

    >>> from chickadee import read
    >>> performance = Performance(8000)
    >>> performance.play(Score.of(read("A4").song), Part())
    >>> performance.read(64).shape, performance.song_second(64) == 64 / 8000 - performance.delay
    ((64, 2), True)

    Frames are counted from the stream's beginning; where in the song each of them was is remembered, so that what
    a listener hears can be placed however long it was on its way.
    """

    def __init__(self, rate: int) -> None:
        self.rate = rate
        self.frames = 0
        """Frames given so far."""
        self.peak = 0.0
        """The largest sample of the last block."""
        self._mix = Mix(Stock(rate))
        self._limiter = Limiter(rate, SAFE_CEILING)
        self._room: Room | None = None
        self._leaving: Beside | None = None
        self.beside: Beside | None = None
        """The recording that sounds with the song."""
        self._gain = self._wanted_gain = gain_of_level(SAFE_LEVEL)
        self._score: Score | None = None
        self._part = Part()
        self._at = 0  # the song's next frame to be mixed
        self._anchors: list[tuple[int, float]] = []  # (frame of the stream, second of the song)
        self.ended = 0
        """The frame of the stream at which the song had wholly faded; 0 while it plays."""

    def copy(self) -> Performance:
        """Another that goes on from here by itself, in the same way; the notes that were made ready are shared."""
        other = copy(self)
        other._mix = self._mix.copy()
        other._limiter = copy(self._limiter)
        other._room = copy(self._room)
        other.beside = self.beside.copy() if self.beside is not None else None
        other._leaving = self._leaving.copy() if self._leaving is not None else None
        return other

    @property
    def delay(self) -> float:
        """Seconds by which a struck note leaves later than it was asked for."""
        return self._limiter.delay / self.rate

    @property
    def playing(self) -> bool:
        """True if a song is being played, or fades."""
        return self._score is not None

    @property
    def limited(self) -> bool:
        """True if the limiter is at work."""
        return self._limiter.reduced

    @property
    def idle(self) -> bool:
        """True if nothing sounds or will."""
        return self._score is None and not self._mix.tones and self._leaving is None

    # What is asked for

    def play(self, score: Score, part: Part, beside: Beside | None = None) -> None:
        """Begin a song at the next frame; what played before is taken away."""
        self.stop(_CUT)
        self.beside = beside
        self._score = score
        self._part = part
        self.ended = 0
        self._anchors = []
        self._jump(part.start)
        if part.joining:
            self._join(self._sounding())

    def stop(self, within: float = _STOP) -> None:
        """Take the song to silence."""
        for tone in self._own():
            tone.cut(self.frames, round(within * self.rate))
            tone.key = ()
        self._leave_beside(within)
        self._score = None
        self._anchors = []

    def change(
        self,
        score: Score,
        part: Part,
        moments: tuple[NDArray[np.float64], NDArray[np.float64]],
        beside: Beside | None = None,
    ) -> None:
        """Go on in another version of the song: notes that are in both sound on, others come and go.

        ``moments`` are seconds of the old version and of the new one that belong together, both rising.
        """
        if self._score is None:
            return
        if self.beside is not None and (beside is None or beside.source is not self.beside.source):
            self._leave_beside(_CUT)
        self._score = score
        self._part = part
        self.beside = beside
        self._anchors = [(frame, _moved(second, *moments)) for frame, second in self._anchors]
        second = _moved(self._at / self.rate, *moments)
        if round(second * self.rate) != self._at:
            self._jump(second)
        self.ended = 0
        wanted = {tone.key: tone for tone in self._sounding()}
        for tone in self._own():
            same = wanted.pop(tone.key, None)
            if same is None:
                if tone.start + tone.held > self.frames:  # one that is let go already fades as it would
                    tone.cut(self.frames, round(_CUT * self.rate))
                tone.key = ("gone",)
            else:
                tone.hold_until(same.start + same.held)
        self._join(list(wanted.values()))

    def unchanged_until(self, score: Score, part: Part) -> int:
        """The frame up to which another version would sound the same; 0 where that is not to be told."""
        if self._score is None or part.round or part.end != self._part.end:
            return 0
        frame = self.frames + self._score.agrees_until(score) * self.rate - self._at
        return round(min(frame, _FOREVER)) if frame > self._anchors[-1][0] else 0

    def note_on(self, name: object, sound: str, strike: Strike, seconds: float | None = None) -> None:
        """Strike a note beside the song, for some seconds or until it is let go under its name."""
        held = _FOREVER if seconds is None else round(seconds * self.rate)
        self.note_off(name)
        tone = new_tone(self.frames, held, sound, strike, (0.7071, 0.7071), self.rate)
        tone.key = ("live", name)
        self._mix.tones.append(tone)

    def note_off(self, name: object) -> None:
        """Let a note go that was struck under a name."""
        for tone in self._mix.tones:
            if tone.key == ("live", name):
                tone.hold_until(min(self.frames, tone.start + tone.held))
                tone.key = ("live",)

    def silence(self) -> None:
        """Let everything go at once, the song and the notes beside it."""
        self.stop()
        for tone in self._mix.tones:
            tone.cut(self.frames, round(_STOP * self.rate))
            tone.key = ()

    def set_level(self, level: float) -> None:
        """How loud, from 0 to 100."""
        self._wanted_gain = gain_of_level(level)
        self._limiter.ceiling = ceiling_of_level(level)

    def set_room(self, on: bool) -> None:
        """Put a small room around the sound, or take it away."""
        if on != (self._room is not None):
            self._room = Room(self.rate) if on else None

    # What comes of it

    def read(self, frames: int) -> Samples:
        """The next frames, shape (frames, 2)."""
        parts = []
        left = frames
        while left:
            step = self._step(left)
            parts.append(self._block(step))
            self.frames += step
            self._at += step
            left -= step
            self._turn()
        block = parts[0] if len(parts) == 1 else np.concatenate(parts, axis=1)
        if self._room is not None:
            block = self._room.process(block)
        if self._gain == self._wanted_gain:
            block *= np.float32(self._gain)
        else:
            block *= np.linspace(self._gain, self._wanted_gain, frames, dtype=np.float32)
            self._gain = self._wanted_gain
        sound = self._limiter.process(block)
        self.peak = float(np.abs(sound).max(initial=0.0))
        return np.ascontiguousarray(sound.T)

    def _block(self, frames: int) -> Samples:
        """The next frames of all that sounds, shape (2, frames)."""
        block = self._mix.block(self.frames, frames)
        if self.beside is not None:
            block += self.beside.block(self._at, frames)
        if self._leaving is not None:
            block += self._leaving.fading(frames)
            self._leaving = None if self._leaving.over else self._leaving
        return block

    def _leave_beside(self, within: float) -> None:
        if self.beside is not None:
            self.beside.leave(self._at, round(within * self.rate))
            self._leaving, self.beside = self.beside, None

    def song_second(self, frame: float) -> float | None:
        """Where in the song a frame of the stream was, in seconds; None where none was playing."""
        frame -= self._limiter.delay
        found = None
        for begun, second in self._anchors:
            if begun <= frame:
                found = second + (frame - begun) / self.rate
        if found is None and self._anchors:
            found = self._anchors[0][1]
        return found

    def prepare(self, seconds: float) -> None:
        """Make the notes ready that are due soon, for no longer than some seconds."""
        until = time.perf_counter() + seconds
        score = self._score
        if score is None:
            return
        here = self._at / self.rate
        for note in range(*np.searchsorted(score.start, [here, here + _AHEAD]).tolist()):
            strike = Strike(int(score.number[note]), float(score.hertz[note]), float(score.strength[note]))
            if self._mix.stock.prepare(score.sound_of(note), strike) and time.perf_counter() > until:
                return

    def _own(self) -> list[Tone]:
        """The song's tones."""
        return [tone for tone in self._mix.tones if tone.key and tone.key[0] not in ("live", "gone")]

    def _jump(self, second: float) -> None:
        self._at = round(second * self.rate)
        self._anchors = [*self._anchors[-64:], (self.frames, second)]

    def _step(self, most: int) -> int:
        """Strike what is due, and say how many frames can be mixed in one go."""
        if self._score is None:
            return most
        edge = self._part.round[1] if self._part.round else self._part.end
        if edge is not None:
            most = max(1, min(most, round(edge * self.rate) - self._at))
        for tone in tones_between(self._score, self._at, self._at + most, self.rate):
            self._strike(tone)
        return most

    def _strike(self, tone: Tone) -> None:
        by = self.frames - self._at
        tone.start = tone.start + by
        tone.end = tone.end + by
        self._mix.tones.append(tone)

    def _turn(self) -> None:
        """At the end of a round go back to its beginning; at the end of the part, end."""
        if self._score is None:
            return
        here = self._at
        if self._part.round is not None and here >= round(self._part.round[1] * self.rate):
            self._let_own_go()
            if self.beside is not None:
                self.beside.leave(self._at, round(_CUT * self.rate))
            self._jump(self._part.round[0])
        elif self._part.end is not None and here >= round(self._part.end * self.rate):
            self._let_own_go()
            self._end()
        elif self._part.end is None and here >= self._last * self.rate and not self._own():
            self._end()

    @property
    def _last(self) -> float:
        """The second of the song at which it is over, and what sounds with it."""
        song = self._score.seconds if self._score is not None else 0.0
        return song if self.beside is None else max(song, self.beside.end)

    def _let_own_go(self) -> None:
        for tone in self._own():
            if tone.start + tone.held > self.frames:
                tone.hold_until(self.frames)
            tone.key = ("gone",)

    def _end(self) -> None:
        self._leave_beside(_STOP)
        self._score = None
        self.ended = self.frames

    def _sounding(self) -> list[Tone]:
        """The tones that are held over the present moment, as they stand in the stream."""
        score = self._score
        assert score is not None
        here = self._at / self.rate
        found = []
        for note in np.flatnonzero((score.start < here - 0.5 / self.rate) & (score.start + score.held > here)):
            tone = tone_of(score, int(note), self.rate)
            by = self.frames - self._at
            tone.start = tone.start + by
            tone.end = tone.end + by
            found.append(tone)
        return found

    def _join(self, tones: list[Tone]) -> None:
        for tone in tones:
            if tone.end - tone.release > self.frames and tone.sound != DRUM_SOUND:
                tone.entered = self.frames
                self._mix.tones.append(tone)


def _moved(second: float, old: NDArray[np.float64], new: NDArray[np.float64]) -> float:
    """Where a second of the old version is in the new one; before and after them all it keeps its distance."""
    if second < old[0] or second > old[-1]:
        end = 0 if second < old[0] else -1
        return float(second - old[end] + new[end])
    return float(np.interp(second, old, new))
