"""A song to be played, and how."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from enum import Enum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..hearing.alignment import Alignment, Backing
from ..song import TICKS_PER_QUARTER, Song, TempoMap
from ..song.drums import DRUM_SOUND, DRUMS
from ..song.sounds import SOUNDS
from ..sound import Score
from ..sound.score import Part

__all__ = ["Playing", "Recorded", "Together"]

_FIRST_BEAT = (DRUMS["claves"], 0.75)
_OTHER_BEATS = (DRUMS["wood-block"], 0.5)


class Together(Enum):
    """How a recording and a tune are heard."""

    BOTH = "Both"
    APART = "Recording left, tune right"
    IN_TURN = "In turn"
    RECORDING = "Recording alone"
    TUNE = "Tune alone"


@dataclass(frozen=True)
class Recorded:
    """A recording that lies under a song."""

    path: str
    first: float
    """The second of it at which bar 1 begins."""
    anchors: tuple[tuple[int, float], ...] = ()
    """(bar, second) of further bars."""
    level: float = 1.0
    """The factor that its samples are heard with."""
    together: Together = Together.BOTH


@dataclass(frozen=True)
class Playing:
    """A song, or part of it, as the listener wants it.

    >>> from chickadee import read
    >>> playing = Playing(read("tempo: 60\\nC4 D4").song, speed=0.5, click=True)
    >>> playing.score.start.tolist(), playing.part.end
    ([0.0, 0.0, 2.0, 2.0, 4.0, 6.0], None)
    """

    song: Song
    start: int = 0
    """The tick to begin at."""
    end: int | None = None
    """The tick to end at; None for the song's end."""
    round: bool = False
    """True if it is played round and round."""
    speed: float = 1.0
    """How many times as fast as written; the pitch stays."""
    click: bool = False
    """True if every beat clicks."""
    count_in: bool = False
    """True if a bar of clicks comes first."""
    silent: frozenset[int] = field(default_factory=frozenset)
    """Voices that are not heard."""
    recorded: Recorded | None = None
    """The recording that is heard with it."""

    @cached_property
    def tempo(self) -> TempoMap:
        """Ticks to the seconds of this playing."""
        return self.song.tempo if self.speed == 1 else self.song.tempo.at_speed(self.speed)

    @cached_property
    def part(self) -> Part:
        """The stretch that is played, in seconds."""
        start = self._second(self.start)
        end = None if self.end is None else self.end_second
        around = (start, self.end_second) if self.round else None
        if around is not None and around[1] <= around[0]:
            around = None
        return Part(start - self._count_seconds, end, around, joining=not self.count_in)

    @cached_property
    def score(self) -> Score:
        """Everything that sounds, clicks too."""
        song = replace(self.song, tempo=self.tempo) if self.speed != 1 else self.song
        score = Score.of(song)
        together = self.recorded.together if self.recorded is not None else Together.TUNE
        if together is Together.APART:
            none = np.zeros_like(score.left)
            score = replace(score, left=none, right=none + 1)
        heard = ~np.isin(self.song.arrays.voice, list(self.silent))
        if self.count_in:
            heard &= self.song.arrays.start >= self.start
        heard &= together is not Together.RECORDING
        if not heard.all():
            score = score.chosen(heard)
        clicks = self._clicks()
        return score.with_notes(clicks) if len(clicks) else score

    @cached_property
    def backing(self) -> Backing | None:
        """The recording in the seconds of this playing; None where none is heard."""
        recorded = self.recorded
        if recorded is None or recorded.together is Together.TUNE:
            return None
        alignment = Alignment(self.song, recorded.first, recorded.anchors)
        one_side = recorded.together is Together.APART
        return Backing(
            recorded.path,
            tuple(alignment.known(self.tempo).tolist()),
            tuple(alignment.seconds.tolist()),
            self.speed,
            recorded.level * (1.0 if one_side else 0.7071),
            recorded.level * (0.0 if one_side else 0.7071),
            self._second(self.start) if self.count_in else -1e9,
        )

    @property
    def start_second(self) -> float:
        """The second at which it begins, after what is counted in."""
        return self._second(self.start)

    @property
    def end_second(self) -> float:
        """The second at which it ends."""
        return self._second(self.song.end if self.end is None else self.end)

    @property
    def first_tick(self) -> int:
        """The tick that is heard at first; while a bar is counted in the music waits there."""
        return self.start if self.count_in else 0

    def moments_to(self, other: Playing) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Seconds of this playing and of another that belong together, quarter by quarter."""
        last = max(self.song.end, other.song.end) + TICKS_PER_QUARTER
        ticks = np.arange(0, last, max(TICKS_PER_QUARTER, last // 4000))
        return self.tempo.seconds(ticks), other.tempo.seconds(ticks)

    def _second(self, tick: int) -> float:
        return float(self.tempo.seconds(tick))

    @cached_property
    def _beat_seconds(self) -> float:
        """The length of the beat that begins at the start."""
        beat = self.song.grid.meter_at(self.start).beat_ticks
        return self._second(self.start + beat) - self._second(self.start)

    @property
    def _count_seconds(self) -> float:
        return self._beat_seconds * self.song.grid.meter_at(self.start).upper if self.count_in else 0.0

    def _clicks(self) -> Score:
        """A click at every beat of the song, and a bar of them before the start."""
        grid = self.song.grid
        found: list[tuple[float, tuple[int, float]]] = []
        if self.count_in:
            begins = self._second(self.start) - self._count_seconds
            for beat in range(grid.meter_at(self.start).upper):
                found.append((begins + beat * self._beat_seconds, _OTHER_BEATS if beat else _FIRST_BEAT))
        number = grid.number_at(0)
        while self.click and (start := grid.start(number)) < self.song.end:
            for tick in range(start, grid.end(number), grid.meter_at(start).beat_ticks):
                if tick >= self.start or not self.count_in:
                    found.append((self._second(tick), _OTHER_BEATS if tick > start else _FIRST_BEAT))
            number += 1
        count = len(found)
        return Score(
            identity=-1 - np.arange(count),
            start=np.array([second for second, _ in found], np.float64),
            held=np.full(count, 0.05),
            number=np.array([drum for _, (drum, _) in found], np.int16),
            hertz=np.full(count, 440.0),
            strength=np.array([strength for _, (_, strength) in found], np.float32),
            sound=np.full(count, list(SOUNDS).index(DRUM_SOUND), np.int16),
            left=np.full(count, 0.7071, np.float32),
            right=np.full(count, 0.7071, np.float32),
        )
