"""Where a recording lies under a tune: which of its seconds belong to which ticks."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from ..song import Song, TempoMap

__all__ = ["Alignment", "Backing", "between"]


class Alignment:
    """Bars of a tune and the seconds of a recording at which they sound.

    Between them time passes as the tune's tempo says, only faster or slower where it must; before the first and after
    the last of them it passes as the tempo says.

    >>> from chickadee import read
    >>> alignment = Alignment(read("tempo: 60\\n" + "C4 D4 E4 F4 | " * 4).song, 1.5, [(3, 13.5)])
    >>> alignment.second([0, 4 * 8_064_000, 16 * 8_064_000]).tolist()
    [1.5, 7.5, 21.5]
    """

    def __init__(self, song: Song, first: float, anchors: Sequence[tuple[int, float]] = ()) -> None:
        """Bar 1 begins at the second ``first`` of the recording; ``anchors`` are (bar, second). One that would have
        time go back is left out."""
        self._song = song
        ticks = [song.grid.start(1)]
        seconds = [first]
        for bar, second in sorted(anchors):
            tick = song.grid.start(bar)
            if tick > ticks[-1] and second > seconds[-1]:
                ticks.append(tick)
                seconds.append(second)
        self.ticks = np.array(ticks, np.int64)
        self.seconds = np.array(seconds)
        """Of the recording, at these ticks."""

    def second(self, ticks: ArrayLike) -> NDArray[np.float64]:
        """The seconds of the recording at which some ticks sound."""
        return between(self._song.tempo.seconds(ticks), self._known, self.seconds)

    def tick(self, seconds: ArrayLike) -> NDArray[np.float64]:
        """The ticks that sound at some seconds of the recording; 0 for what is before the tune."""
        at = between(np.asarray(seconds, np.float64), self.seconds, self._known)
        return np.array([float(self._song.tempo.tick(max(0.0, each))) for each in np.ravel(at)]).reshape(at.shape)

    def known(self, tempo: TempoMap) -> NDArray[np.float64]:
        """The seconds of the tune, by another tempo of it, at the bars that are known."""
        return np.asarray(tempo.seconds(self.ticks), np.float64)

    def tempos(self) -> dict[int, float]:
        """By the ticks where they begin, the tempos in beats a minute that bring each known bar where it sounds.

        >>> from chickadee import read
        >>> alignment = Alignment(read("C4 D4 E4 F4 | " * 4).song, 1.0, [(2, 5.0), (3, 7.0)])
        >>> list(alignment.tempos().values())
        [60.0, 120.0]
        """
        grid = self._song.grid
        found = {}
        for (tick, second), (next_tick, next_second) in pairwise(
            zip(self.ticks.tolist(), self.seconds.tolist(), strict=True)
        ):
            beats = (next_tick - tick) / grid.meter_at(tick).beat_ticks
            found[tick] = 60 * beats / (next_second - second)
        return found

    @property
    def _known(self) -> NDArray[np.float64]:
        return self.known(self._song.tempo)


class Backing(NamedTuple):
    """A recording laid under a song: which frames are heard when."""

    path: str
    song: tuple[float, ...]
    """Seconds of the song as it is played."""
    recording: tuple[float, ...]
    """The seconds of the recording that belong to them."""
    speed: float
    """Seconds of the recording to one of the song, before the first of those and after the last."""
    left: float
    """How much of it goes to either side."""
    right: float
    begins: float = -1e9
    """The second of the song before which it is silent."""

    @property
    def ends(self) -> float:
        """How many seconds of the song go by until a second of the recording, as a line beyond the last one known."""
        return self.song[-1] - self.recording[-1] / self.speed


def between(
    values: NDArray[np.float64], xs: NDArray[np.float64], ys: NDArray[np.float64], slope: float = 1.0
) -> NDArray[np.float64]:
    """Straight lines through points, which go on outside them at a slope."""
    outside = np.minimum(values - xs[0], 0) + np.maximum(values - xs[-1], 0)
    return np.asarray(np.interp(values, xs, ys) + slope * outside, np.float64)
