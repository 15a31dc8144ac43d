"""A song as samples, in blocks of any size."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..song import Song
from .limiter import Limiter
from .mix import Mix, Tone, tones_between
from .room import Room
from .samples import Samples
from .score import Score
from .stock import Stock

__all__ = ["DEFAULT_RATE", "Renderer", "rendered"]

DEFAULT_RATE = 48_000
_CHUNK = 4096
_ECHOES = 2  # times the room's fall by 60 dB after which nothing of it is left
_SILENCE = 0.02  # seconds after the last tone


class Renderer:
    """Renders a song as it is read.

    >>> from chickadee import read
    >>> renderer = Renderer(read("A4").song, rate=8000)
    >>> renderer.frames, renderer.read(100).shape
    (4640, (100, 2))

    Work is done in chunks that begin at fixed places, so the samples are the same to the last bit whatever sizes
    are read. Memory does not grow with the song's length, only with the number of its notes.
    """

    def __init__(
        self, song: Song, rate: int = DEFAULT_RATE, room: bool = False, fade: float = 0.0, loop: bool = False
    ) -> None:
        """``room`` adds a small room; ``fade`` is how many seconds before the end the sound begins to fade away.

        A ``loop`` is exactly as long as the song's bars: what rings on after them is heard at the start, as if the
        song had been played before, so that the end goes on at the start without a seam.
        """
        self.rate = rate
        self._score = Score.of(song)
        self._room = Room(rate) if room else None
        ring = self._length(song)
        self._round = round(song.seconds * rate) if loop else 0  # frames after which it begins anew
        self.frames = self._round if loop else ring
        """How many frames there are."""
        self.position = 0
        """Frames read so far."""
        self._fade = min(self.frames, round(fade * rate))
        self._mix = Mix(Stock(rate))
        self._limiter = Limiter(rate)
        self._at = 0  # the next frame to mix
        self._before = 0  # frames that are mixed and not heard, so that a loop begins as it goes on
        self._ready: Samples = np.zeros((0, 2), np.float32)
        self._late = self._limiter.delay
        if self._round:
            before = self._limiter.memory + (round(_ECHOES * self._room.seconds * rate) if self._room else 0)
            self._before = before
            self._late = self._late + before
            self._mix.tones = [tone for tone in self._struck(-ring, 0) if tone.end > 0]

    def read(self, frames: int) -> Samples:
        """The next frames, shape (frames, 2); fewer at the end of the song, and none after it."""
        frames = min(frames, self.frames - self.position)
        parts = [self._ready]
        have = len(self._ready)
        while have < frames:
            parts.append(self._chunk())
            have += len(parts[-1])
        together = np.concatenate(parts) if len(parts) > 1 else parts[0]
        self._ready = together[frames:]
        sound = self._faded(together[:frames])
        self.position += frames
        return sound

    def _length(self, song: Song) -> int:
        ends = (tone.end for tone in tones_between(self._score, 0, 1 << 62, self.rate))
        echo = self._room.seconds if self._room else 0.0
        last = max(ends, default=0) + round((_SILENCE + echo) * self.rate)
        return max(last, round(song.seconds * self.rate))

    def _chunk(self) -> Samples:
        self._mix.tones += self._struck(self._at, self._at + _CHUNK)
        block = self._mix.block(self._at, _CHUNK)
        self._at += _CHUNK
        if self._room is not None:
            block = self._room.process(block)
        limited = self._limiter.process(block)
        skipped = min(self._late, _CHUNK)
        self._late = max(0, self._late - _CHUNK)
        return np.ascontiguousarray(limited[:, skipped:].T)

    def _struck(self, first: int, last: int) -> list[Tone]:
        """The tones struck from one frame up to another; of a loop those of every time round."""
        if not self._round:
            return tones_between(self._score, first, last, self.rate)
        found = []
        length = self._round
        for begin in range((first - self._before) // length * length + self._before, last, length):
            for tone in tones_between(self._score, max(0, first - begin), min(length, last - begin), self.rate):
                tone.start += begin
                tone.end += begin
                found.append(tone)
        return found

    def _faded(self, sound: Samples) -> Samples:
        """The sound with its part of the fade at the end: half a cosine."""
        begins = self.frames - self._fade
        if self.position + len(sound) <= begins:
            return sound
        into = np.clip((np.arange(self.position, self.position + len(sound)) - begins) / max(1, self._fade), 0, 1)
        return np.asarray(sound * (0.5 + 0.5 * np.cos(np.pi * into)).astype(np.float32)[:, None])


def rendered(song: Song, rate: int = DEFAULT_RATE, block: int = 16_384) -> Iterator[Samples]:
    """The whole song in blocks of shape (frames, 2), each sample from -1 to 1."""
    renderer = Renderer(song, rate)
    while len(frames := renderer.read(block)):
        yield frames
