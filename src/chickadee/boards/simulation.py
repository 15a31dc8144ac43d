"""The sound of boards, read from their texts alone and counted in the beats of the tune that was sent."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from operator import attrgetter

import numpy as np
from numpy.typing import NDArray

from ..song import Song, Tempo, TempoMap
from .fitting import Fitted
from .unpacking import simulated_boards

__all__ = ["simulation"]

_PARTS = (16, 12, 8, 6, 4, 3, 2, 1)  # of a beat, the plainest last
_FINEST = 480  # parts of a beat, where no plain one is near
_NEAR_SECONDS = 0.001


def simulation(texts: Sequence[str], fit: Fitted) -> Song:
    """Simulate the boards of a fit: a voice for each line, in the meter, key and beats of its tune.

    Boards that count ticks or beats keep one tempo: that of their text, or the tune's first. Raises UnpackFault.
    """
    tune = fit.song
    target = fit.target
    steady = TempoMap([Tempo(0, tune.tempo.tempo_at(0))])
    heard = simulated_boards(texts, target, tune.tuning, 60 / tune.tempo_in_beats)
    placing = _Placing(heard, tune if target.is_in_seconds else replace(tune, tempo=steady))
    starts = placing.ticks([note.start for note in heard.notes])
    ends = placing.ticks([note.end for note in heard.notes])
    notes = [
        note._replace(start=start, length=max(1, end - start), pitch=tune.key_at(start).spell(note.number))
        for note, start, end in zip(heard.notes, starts, ends, strict=True)
    ]
    voices = [
        replace(voice, end=end)
        for voice, end in zip(heard.voices, placing.ticks([voice.end for voice in heard.voices]), strict=True)
    ]
    notes.sort(key=attrgetter("start", "voice", "number"))
    return replace(placing.tune, voices=tuple(voices), notes=tuple(notes), marks=())


class _Placing:
    """Finds the ticks of a tune at which something is heard."""

    def __init__(self, heard: Song, tune: Song) -> None:
        self.heard = heard
        self.tune = tune

    def ticks(self, heard_ticks: Sequence[int]) -> list[int]:
        """Ticks of the tune for ticks of what is heard: the plainest parts of a beat within a millisecond."""
        seconds = self.heard.tempo.seconds(heard_ticks)
        exact = np.array([self.tune.tempo.tick(each) for each in seconds.tolist()])
        found = self._on_parts(exact, _FINEST)
        for parts in _PARTS:
            near = self._on_parts(exact, parts)
            found = np.where(abs(self.tune.tempo.seconds(near) - seconds) < _NEAR_SECONDS, near, found)
        return [max(0, tick) for tick in found.tolist()]

    def _on_parts(self, ticks: NDArray[np.float64], parts: int) -> NDArray[np.int64]:
        """The nearest of so many parts of a beat, counted from the first bar line."""
        beat = self.tune.meter.beat_ticks
        origin = self.tune.grid.pickup
        return np.asarray(origin + np.rint((ticks - origin) * parts / beat) * (beat / parts), np.int64)
