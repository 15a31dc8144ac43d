"""The wave of a recording at a glance: how loud it is every 5 ms, read quickly, and drawn at any width."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

import numpy as np
import soundfile
from numpy.typing import NDArray

from ..files import FileFault
from .pitch import HOP
from .sound_file import open_recording

__all__ = ["Overview", "power_of"]

_BLOCK_FRAMES = 400  # of 5 ms, read in one go


@dataclass(frozen=True)
class Overview:
    """How loud a recording is.

    >>> Overview(np.array([0, 1, 4, 4], np.float32)).levels(np.array([0, 0.01, 0.02, 0.5])).tolist()
    [0.25, 1.0, 0.0]
    """

    power: NDArray[np.float32]
    """The mean square of every 5 ms."""

    @cached_property
    def _total(self) -> NDArray[np.float64]:
        return np.concatenate(([0.0], np.cumsum(np.sqrt(self.power.astype(np.float64)))))

    @cached_property
    def _most(self) -> float:
        return float(np.sqrt(self.power.max(initial=0.0))) or 1.0

    @cached_property
    def usual(self) -> float:
        """How loud its louder parts are: the root mean square that one part in twenty is above."""
        return float(np.sqrt(np.quantile(self.power, 0.95))) if len(self.power) else 0.0

    def levels(self, edges: NDArray[np.float64]) -> NDArray[np.float64]:
        """How loud it is from each of some seconds to the next, from 0 to 1; 0 outside of it."""
        count = len(self.power)
        places = np.clip(np.rint(edges / HOP), -1, count + 1).astype(np.int64)
        first = np.clip(places[:-1], 0, count)
        last = np.clip(np.maximum(places[1:], places[:-1] + 1), 0, count)
        mean = (self._total[last] - self._total[first]) / np.maximum(1, last - first)
        return np.asarray(mean / self._most)


def power_of(path: Path | str, is_stopped: Callable[[], bool] = lambda: False) -> Iterator[NDArray[np.float32]]:
    """The mean squares of every 5 ms of a sound file, a few seconds at a time.

    ``is_stopped`` ends the unpacking of a file that needs it. Raises FileFault.
    """
    recording = open_recording(path, is_stopped)
    done = 0
    try:
        with soundfile.SoundFile(recording.sound) as sound:
            while True:
                edges = np.rint(np.arange(done, done + _BLOCK_FRAMES + 1) * HOP * recording.rate).astype(np.int64)
                block = recording.mixed(sound.read(int(edges[-1] - edges[0]), dtype="float32", always_2d=True))
                if not len(block):
                    return
                starts = edges[:-1][edges[:-1] - edges[0] < len(block)] - edges[0]
                sizes = np.diff(np.append(starts, len(block)))
                squares = block**2
                yield (np.add.reduceat(squares, starts) / sizes).astype(np.float32)
                done += _BLOCK_FRAMES
    except (soundfile.LibsndfileError, OSError, RuntimeError):
        raise FileFault(recording.path, "the file is damaged; it cannot be read to its end") from None
