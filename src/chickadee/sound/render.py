"""A song as samples, in blocks of any size."""

from __future__ import annotations

from collections.abc import Iterator
from math import sqrt
from typing import NamedTuple

import numpy as np

from ..song import Song
from ..song.sounds import DEFAULT_SOUND
from .instruments import INSTRUMENTS, Instrument, Strike
from .limiter import Limiter
from .parts import Samples

__all__ = ["DEFAULT_RATE", "Renderer", "Tone", "rendered", "tones_of"]

DEFAULT_RATE = 48_000
_CHUNK = 4096
_SILENCE = 0.02  # seconds after the last tone


class Tone(NamedTuple):
    """A note as the mix sees it."""

    start: int
    """The sample it is struck at, counted from the song's start."""
    end: int
    """The sample from which it is silent."""
    instrument: Instrument
    strike: Strike
    left: float
    """How much of it goes to either side."""
    right: float


def tones_of(song: Song, rate: int) -> list[Tone]:
    """The song's notes as tones, in order of start."""
    notes = song.notes
    starts = song.tempo.seconds([note.start for note in notes])
    released = [song.voices[note.voice].released(note.start + note.sounding) for note in notes]
    ends = song.tempo.seconds(released)
    tones = []
    for note, start, end in zip(notes, starts.tolist(), ends.tolist(), strict=True):
        voice = song.voices[note.voice]
        sound = voice.sound_at(note.start)
        instrument = INSTRUMENTS[sound if sound in INSTRUMENTS else DEFAULT_SOUND]
        seconds = max(end - start - voice.gap, (end - start) / 2)
        strike = Strike(note.number, song.frequency(note.number), note.loudness / 127, max(1, round(seconds * rate)))
        first = round(start * rate)
        end = first + instrument.length(strike, rate)
        left, right = sqrt((1 - voice.pan) / 2), sqrt((1 + voice.pan) / 2)  # equal power
        tones.append(Tone(first, end, instrument, strike, left, right))
    return tones


class Renderer:
    """Renders a song as it is read.

    >>> from chickadee import read
    >>> renderer = Renderer(read("A4").song, rate=8000)
    >>> renderer.frames, renderer.read(100).shape
    (4944, (100, 2))

    Work is done in chunks that begin at fixed places, so the samples are the same to the last bit whatever sizes
    are read. Memory does not grow with the song's length, only with the number of its notes.
    """

    def __init__(self, song: Song, rate: int = DEFAULT_RATE, start: float = 0.0) -> None:
        """``start`` is where to begin, in seconds; notes struck before it stay silent."""
        self.rate = rate
        self._first = round(start * rate)
        self._tones = [tone for tone in tones_of(song, rate) if tone.start >= self._first]
        last = max((tone.end for tone in self._tones), default=self._first)
        end = max(last + round(_SILENCE * rate), round(song.seconds * rate))
        self.frames = end - self._first
        """How many frames there are from the beginning to the last one."""
        self.position = 0
        """Frames read so far."""
        self._limiter = Limiter(rate)
        self._at = self._first  # the next frame to mix
        self._next = 0  # the next tone to be struck
        self._active: list[Tone] = []
        self._ready = np.zeros((0, 2))
        self._late = self._limiter.delay

    @property
    def limited(self) -> bool:
        """Whether the limiter is at work."""
        return self._limiter.reduced

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
        self.position += frames
        return together[:frames]

    def _chunk(self) -> Samples:
        mixed = self._limiter.process(self._mixed())
        skipped, self._late = min(self._late, len(mixed)), max(0, self._late - len(mixed))
        return mixed[skipped:]

    def _mixed(self) -> Samples:
        """The next chunk before the limiter."""
        start, end = self._at, self._at + _CHUNK
        while self._next < len(self._tones) and self._tones[self._next].start < end:
            self._active.append(self._tones[self._next])
            self._next += 1
        block = np.zeros((_CHUNK, 2))
        for tone in self._active:
            first, last = max(start, tone.start), min(end, tone.end)
            sound = tone.instrument.samples(tone.strike, first - tone.start, last - first, self.rate)
            block[first - start : last - start, 0] += tone.left * sound
            block[first - start : last - start, 1] += tone.right * sound
        self._active = [tone for tone in self._active if tone.end > end]
        self._at = end
        return block


def rendered(song: Song, rate: int = DEFAULT_RATE, block: int = 16_384) -> Iterator[Samples]:
    """The whole song in blocks of shape (frames, 2), each sample from -1 to 1."""
    renderer = Renderer(song, rate)
    while len(frames := renderer.read(block)):
        yield frames
