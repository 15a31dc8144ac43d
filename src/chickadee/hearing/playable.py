"""A recording as a player needs it: any stretch of it, at the player's rate, and where something is struck in it."""

from __future__ import annotations

from functools import lru_cache
from math import ceil, gcd
from pathlib import Path
from typing import Protocol

import numpy as np
import soundfile
from numpy.typing import NDArray

from .sound_file import Signal, open_recording

__all__ = ["InMemory", "Playable", "Source", "attacks_in"]

_BLOCK_SECONDS = 1.0
_MOST_KEPT = 12  # blocks
_CONTEXT = 0.1  # seconds before and after a block that are needed to find its attacks
_SIDE = 16  # zero crossings of the resampling filter on either side
# milliseconds whose power is compared
_BEFORE = 25
_AFTER = 12
_RISE = 3.0  # times as much power, from which on it is an attack
_QUIET = 1e-4  # of the most there is nearby, below which power does not count
_APART = 40  # milliseconds between attacks at least


class Source(Protocol):
    """Samples of one channel that are asked for by their place."""

    rate: int
    """Samples a second."""
    seconds: float
    """How long it lasts."""

    def samples(self, start: int, count: int) -> Signal:
        """So many samples from one on; silence where there are none."""

    def attacks(self, first: float, last: float) -> NDArray[np.float64]:
        """The seconds between two at which something is struck, in order."""


class InMemory:
    """Samples that lie in memory, as one channel."""

    def __init__(self, samples: Signal, rate: int) -> None:
        self.rate = rate
        self.seconds = len(samples) / rate
        self._samples = samples
        self._attacks: NDArray[np.float64] | None = None

    def samples(self, start: int, count: int) -> Signal:
        """So many samples from one on; silence where there are none."""
        found = np.zeros(count, np.float32)
        first = max(0, start)
        last = min(len(self._samples), start + count)
        if first < last:
            found[first - start : last - start] = self._samples[first:last]
        return found

    def attacks(self, first: float, last: float) -> NDArray[np.float64]:
        """The seconds between two at which something is struck, in order."""
        if self._attacks is None:
            self._attacks = attacks_in(self._samples, self.rate)
        return self._attacks[slice(*np.searchsorted(self._attacks, [first, last]))]


class Playable:
    """A sound file, of which a few seconds are kept in memory."""

    def __init__(self, path: Path | str, rate: int) -> None:
        """``rate`` is the player's, in samples a second. Raises FileFault."""
        self._path = Path(path)
        self._version = _version(Path(path))
        recording = open_recording(path)
        self.rate = rate
        self.seconds = recording.seconds
        common = gcd(rate, recording.rate)
        self._up = rate // common
        self._down = recording.rate // common
        parts = max(1, round(_BLOCK_SECONDS * recording.rate / self._down))
        # frames of a block, in the file and here
        self._theirs = parts * self._down
        self._ours = parts * self._up
        self._taps = _taps(self._up, self._down)
        self._margin = ceil(self._taps.shape[1] / 2 / self._down)  # parts read more on either side
        self._recording = recording
        self._file = soundfile.SoundFile(recording.sound)
        self._block = lru_cache(_MOST_KEPT)(self._read)
        self._attacks_of = lru_cache(_MOST_KEPT)(self._find_attacks)

    def is_of(self, path: Path | str) -> bool:
        """Return whether it is what is in a file now. A file that is gone is read on as it was opened."""
        return Path(path) == self._path and _version(self._path) in (self._version, None)

    def samples(self, start: int, count: int) -> Signal:
        """So many samples from one on; silence where there are none, or where the file cannot be read."""
        blocks = range(start // self._ours, (start + count - 1) // self._ours + 1)
        joined = np.concatenate([self._block(block) for block in blocks])
        begin = start - blocks.start * self._ours
        return joined[begin : begin + count]

    def attacks(self, first: float, last: float) -> NDArray[np.float64]:
        """The seconds between two at which something is struck, in order."""
        blocks = range(int(first * self.rate) // self._ours, int(last * self.rate) // self._ours + 1)
        found = np.concatenate([self._attacks_of(block) for block in blocks])
        return found[slice(*np.searchsorted(found, [first, last]))]

    def _read(self, block: int) -> Signal:
        extra = self._margin * self._down
        first = block * self._theirs - extra
        theirs = np.zeros(self._theirs + 2 * extra, np.float32)
        at = max(0, first)
        last = first + len(theirs)
        try:
            if at < min(last, self._file.frames):
                self._file.seek(at)
                found = self._recording.mixed(self._file.read(last - at, dtype="float32", always_2d=True))
                theirs[at - first : at - first + len(found)] = found
        except (soundfile.LibsndfileError, OSError, RuntimeError):
            pass  # what cannot be read is silent; who laid it under the tune was told
        if self._up == self._down:
            return theirs[extra : extra + self._ours]
        place, phase = np.divmod(np.arange(self._ours) * self._down, self._up)
        around = np.lib.stride_tricks.sliding_window_view(theirs, self._taps.shape[1])
        first = extra - self._taps.shape[1] // 2 + 1
        return np.asarray(np.einsum("st,st->s", around[first + place], self._taps[phase]), np.float32)

    def _find_attacks(self, block: int) -> NDArray[np.float64]:
        context = round(_CONTEXT * self.rate)
        begin = block * self._ours
        around = self.samples(begin - context, self._ours + 2 * context)
        found = attacks_in(around, self.rate) + (begin - context) / self.rate
        return found[(found >= begin / self.rate) & (found < (begin + self._ours) / self.rate)]


def _taps(up: int, down: int) -> NDArray[np.float32]:
    """The weights of the samples about each of ``up`` places between two of them; shape (up, samples).

    A windowed sinc (Hann) that passes what both rates can hold.
    """
    cut = min(1.0, up / down)
    side = ceil(_SIDE / cut)
    away = np.arange(1 - side, side + 1)[None, :] - np.arange(up)[:, None] / up
    taps = np.sinc(away * cut) * np.cos(np.pi * away / (2 * side + 2)) ** 2
    return np.asarray(taps / taps.sum(axis=1, keepdims=True), np.float32)


def attacks_in(samples: Signal, rate: int) -> NDArray[np.float64]:
    """The seconds at which something is struck: where there is suddenly more power.

    The power within 12 ms is compared with that of the 25 ms before: of the samples, and of the differences between
    them, in which high partials count more.
    """
    hop = max(1, rate // 1000)
    exact = samples[: len(samples) // hop * hop].astype(np.float64)
    if len(exact) <= (_BEFORE + _AFTER) * hop:
        return np.zeros(0)
    rise = np.maximum(_rise(exact, hop), _rise(np.diff(exact, prepend=0.0), hop))
    padded = np.pad(rise, _APART)
    highest = np.lib.stride_tricks.sliding_window_view(padded, 2 * _APART + 1).max(axis=1)
    found: NDArray[np.float64] = np.flatnonzero((rise >= highest) & (rise > _RISE)) * hop / rate
    return found


def _rise(samples: NDArray[np.float64], hop: int) -> NDArray[np.float64]:
    """How many times as much power there is after each hop as before it."""
    power = (samples**2).reshape(-1, hop).sum(axis=1)
    nearest = np.arange(_AFTER, 0, -1) * 2 / (_AFTER * (_AFTER + 1))  # what comes first counts most
    after = np.correlate(np.pad(power, (0, _AFTER - 1)), nearest, mode="valid")
    before = np.correlate(np.pad(power[:-1], (_BEFORE, 0)), np.ones(_BEFORE) / _BEFORE, mode="valid")
    return np.asarray(after / (before + _QUIET * after.max() + 1e-12))


def _version(path: Path) -> tuple[int, int] | None:
    """Return the version of a file, which another writing changes; None where it is not there."""
    try:
        state = path.stat()
    except OSError:
        return None
    return state.st_mtime_ns, state.st_size
