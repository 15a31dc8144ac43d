"""A song as the notes that sound, in seconds: what rendering and playing start from."""

from __future__ import annotations

from dataclasses import dataclass, replace
from operator import itemgetter
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..song import Song, Voice
from ..song.sounds import DEFAULT_SOUND, SOUNDS

__all__ = ["Part", "Score", "Strike"]

_SOUND_NAMES = tuple(SOUNDS)
_MOST_VOICES = 1 << 12
_COLUMNS = ("identity", "start", "held", "number", "hertz", "strength", "sound", "left", "right")


class Strike(NamedTuple):
    """The facts that an instrument is told about a note."""

    number: int
    """The MIDI number: which drum of a kit."""
    hertz: float
    strength: float
    """From 0 to 1, the loudness over 127."""


@dataclass(frozen=True, slots=True)
class Part:
    """A part of a score to be played, in its seconds."""

    start: float = 0.0
    end: float | None = None
    """None plays until everything has faded."""
    round: tuple[float, float] | None = None
    """The stretch that is played round and round, once its end is reached."""
    joining: bool = True
    """True if notes struck before the start and held over it are joined in their middle."""


@dataclass(frozen=True, slots=True)
class Score:
    """Columns of shape (notes,), in order of start.

    >>> from chickadee import read
    >>> score = Score.of(read("tempo: 60\\ngap: 0\\nA4 A4=2").song)
    >>> score.start.tolist(), score.held.tolist(), score.hertz.tolist()
    ([0.0, 1.0], [1.0, 2.0], [440.0, 440.0])
    """

    identity: NDArray[np.int64]
    """Tells a song's notes apart by their tick and voice, so that a note can be known again in the song's next
    version; below 0 for what is no note of the song."""
    start: NDArray[np.float64]
    """Seconds from the song's start."""
    held: NDArray[np.float64]
    """Seconds until a note is let go: gaps, short marks and the pedal are in them."""
    number: NDArray[np.int16]
    hertz: NDArray[np.float64]
    strength: NDArray[np.float32]
    """From 0 to 1, the loudness over 127."""
    sound: NDArray[np.int16]
    """Which of :attr:`sounds`."""
    left: NDArray[np.float32]
    """How much of a note goes to either side."""
    right: NDArray[np.float32]
    seconds: float = 0.0
    """The song's length, rests included."""

    def sound_of(self, note: int) -> str:
        """The name of a note's sound."""
        return _SOUND_NAMES[int(self.sound[note])]

    def __len__(self) -> int:
        return len(self.start)

    def chosen(self, notes: NDArray[np.bool_] | NDArray[np.intp]) -> Score:
        """Some of the notes, by a mask or by their places."""
        return replace(self, **{name: getattr(self, name)[notes] for name in _COLUMNS})

    def with_notes(self, other: Score) -> Score:
        """This score and another's notes together."""
        both: dict[str, Any] = {
            name: np.concatenate([getattr(self, name), getattr(other, name)]) for name in _COLUMNS
        }
        return replace(self, **both).chosen(np.argsort(both["start"], kind="stable"))

    def agrees_until(self, other: Score) -> float:
        """The second from which on another score sounds different; infinite where it is the same."""
        count = min(len(self), len(other))
        same = np.ones(count, np.bool_)
        for name in _COLUMNS:
            same &= getattr(self, name)[:count] == getattr(other, name)[:count]
        agreeing = count if same.all() else int(same.argmin())
        differing = [float(score.start[agreeing]) for score in (self, other) if agreeing < len(score)]
        ends = [self.seconds, other.seconds] if self.seconds != other.seconds else []
        return min([*differing, *ends], default=float("inf"))

    @staticmethod
    def of(song: Song) -> Score:
        """The notes of a song."""
        arrays = song.arrays
        count = len(song.notes)
        short = np.fromiter((note.short for note in song.notes), np.bool_, count)
        ends = arrays.start + np.where(short, arrays.length // 2, arrays.length)
        sound = np.zeros(count, np.int16)
        gap = np.zeros(count)
        pan = np.zeros(count)
        for index, voice in enumerate(song.voices):
            mine = np.flatnonzero(arrays.voice == index)
            sound[mine] = _sounds(voice, arrays.start[mine])
            gap[mine] = voice.gap
            pan[mine] = voice.pan
            ends[mine] = _released(voice, ends[mine])
        start = song.tempo.seconds(arrays.start)
        written = song.tempo.seconds(ends) - start
        return Score(
            arrays.start * _MOST_VOICES + arrays.voice,
            start,
            np.maximum(written - gap, written / 2),
            arrays.number,
            song.tuning * 2.0 ** ((arrays.number - 69) / 12),
            (arrays.loudness / 127).astype(np.float32),
            sound,
            np.sqrt((1 - pan) / 2).astype(np.float32),  # equal power
            np.sqrt((1 + pan) / 2).astype(np.float32),
            song.seconds,
        )


def _sounds(voice: Voice, starts: NDArray[np.int64]) -> NDArray[np.int16]:
    """Which sound each note of a voice is struck with."""
    changes = sorted([(-1, voice.sound), *voice.sounds], key=itemgetter(0))
    names = [name if name in SOUNDS else DEFAULT_SOUND for _, name in changes]
    places = np.searchsorted([tick for tick, _ in changes], starts, side="right") - 1
    return np.array([_SOUND_NAMES.index(name) for name in names], np.int16)[places]


def _released(voice: Voice, ends: NDArray[np.int64]) -> NDArray[np.int64]:
    """When notes that end at some ticks are let go: at once, or when the pedal that is down then is lifted."""
    found = ends.copy()
    for down, up in voice.pedals:
        found[(ends >= down) & (ends < up)] = up
    return found
