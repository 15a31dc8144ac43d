"""Time stretching: sound that goes slower or faster at its own pitch, in blocks, its attacks as sharp as they were.

A phase vocoder with identity phase locking, as in Laroche and Dolson, Improved phase vocoder time-scale modification
of audio (1999). Around each attack the sound goes at its own speed and in its own phases, as in Röbel, A new approach
to transient processing in the phase vocoder (2003); what that takes or leaves of the time is made up for in between.
"""

from __future__ import annotations

from collections.abc import Callable
from copy import copy

import numpy as np
from numpy.typing import NDArray

from .playable import Source
from .sound_file import Signal

__all__ = ["FASTEST", "SLOWEST", "Stretcher", "stretched"]

Spectrum = NDArray[np.complex64]

SLOWEST = 0.25
"""The least speed at which a recording is heard well, as a part of its own."""
FASTEST = 2.0
"""The greatest speed."""
_WINDOW_SECONDS = 0.085
_OVERLAP = 4
# seconds about an attack that go at their own speed
_BEFORE = 0.035
_AFTER = 0.03
_SHARE = 0.45  # of the time to the next attack that this takes at most
_FAR = 1.0  # seconds from an attack from which on it makes no difference
_PEAK = 2  # bins on either side than which a peak is larger


class Stretcher:
    """Gives a source's sound in blocks, each at a place and speed of its own. A copy goes on by itself."""

    def __init__(self, source: Source) -> None:
        self._source = source
        self._hop = round(_WINDOW_SECONDS * source.rate / _OVERLAP)
        self._length = _OVERLAP * self._hop
        self._window = (0.5 - 0.5 * np.cos(2 * np.pi * np.arange(self._length) / self._length)).astype(np.float32)
        self._sum = np.zeros(self._length, np.float32)  # what is known of the sound to come
        self._middle = self._hop - self._length // 2  # of the next frame, from the first sample to come
        self._before: tuple[int, Spectrum] | None = None  # the last frame's place and spectrum in the source
        self._turned: Spectrum | None = None  # the last frame as it was given; None where that is its spectrum
        self._attack: float | None = None  # the attack that the last frame lay about

    def copy(self) -> Stretcher:
        """Another that goes on from here. Arrays are never changed once they are kept."""
        return copy(self)

    def read(self, count: int, place: Callable[[NDArray[np.float64]], NDArray[np.float64]]) -> Signal:
        """The next so many samples; ``place`` says which seconds of the source belong to samples, counted from the
        first of them."""
        wanted = count + self._length
        total = np.concatenate((self._sum, np.zeros(max(0, wanted - len(self._sum)), np.float32)))
        while self._middle - self._length // 2 < count:
            here, later = place(np.array([self._middle, self._middle + self._hop], np.float64)).tolist()
            frame = self._frame(here, max(1e-6, (later - here) * self._source.rate / self._hop))
            first = self._middle - self._length // 2
            cut = max(0, -first)
            total[first + cut : first + self._length] += frame[cut:]
            self._middle += self._hop
        self._middle -= count
        self._sum = total[count:]
        return total[:count]

    def _frame(self, second: float, speed: float) -> Signal:
        """One frame of the sound about a second of the source that is passed at some speed."""
        second, attack = self._kept_sharp(second, speed)
        at = round(second * self._source.rate)
        spectrum = self._spectrum(at)
        begins = attack is not None and attack != self._attack
        if self._before is None or begins:
            turned = None
        else:
            turned = self._in_phase(at, spectrum)
        self._before = (at, spectrum)
        self._turned = turned
        self._attack = attack
        frame = np.fft.irfft(spectrum if turned is None else turned, self._length).astype(np.float32)
        return frame * self._window * np.float32(8 / (3 * _OVERLAP))

    def _spectrum(self, at: int) -> Spectrum:
        samples = self._source.samples(at - self._length // 2, self._length)
        return np.fft.rfft(samples * self._window).astype(np.complex64)

    def _in_phase(self, at: int, spectrum: Spectrum) -> Spectrum | None:
        """A spectrum turned so that it goes on where the last frame was; None where it does so by itself.

        Each peak has turned by as much as it does in the source within a hop; what is around it turns with it.
        """
        assert self._before is not None
        before, old = self._before
        goes_on = before == at - self._hop
        if goes_on and self._turned is None:
            return None
        source = old if goes_on else self._spectrum(at - self._hop)
        last = old if self._turned is None else self._turned
        peaks = _peaks(np.abs(spectrum))
        turn = last[peaks] * np.conj(source[peaks])
        turn /= np.maximum(np.abs(turn), 1e-20)
        edges = np.concatenate(([0], (peaks[1:] + peaks[:-1] + 1) // 2, [len(spectrum)]))
        return spectrum * np.repeat(turn, np.diff(edges)).astype(np.complex64)

    def _kept_sharp(self, second: float, speed: float) -> tuple[float, float | None]:
        """Where a frame is taken from, so that attacks go at their own speed, and the attack that it lies about."""
        if abs(speed - 1) < 1e-9:
            return second, None
        near = self._source.attacks(second - _FAR, second + _FAR)
        place = int(np.searchsorted(near, second, "right"))
        before = float(near[place - 1]) if place else second - _FAR
        after = float(near[place]) if place < len(near) else second + _FAR
        room = _SHARE * (after - before) * min(1.0, 1 / speed)
        # seconds as they are heard
        since = (second - before) / speed
        until = (after - second) / speed
        held = min(_AFTER, room) if place else 0.0
        led = min(_BEFORE, room) if place < len(near) else 0.0
        if since < held:
            return before + since, before
        if until < led:
            return after - until, after
        part = (since - held) / max(1e-9, since + until - held - led)
        return before + held + part * (after - before - held - led), None


def _peaks(sizes: NDArray[np.float32]) -> NDArray[np.intp]:
    """The bins that are larger than those around them; the first where there are none."""
    padded = np.pad(sizes, _PEAK)
    around = np.lib.stride_tricks.sliding_window_view(padded, 2 * _PEAK + 1)
    found = np.flatnonzero((sizes >= around.max(axis=1)) & (sizes > 0))
    return found if len(found) else np.zeros(1, np.intp)


def stretched(source: Source, speed: float, block: int = 2048) -> Signal:
    """All of a source at a speed, from its first sample on.

    >>> from chickadee.hearing.playable import InMemory
    >>> tone = InMemory(np.sin(np.arange(8000) * 0.3).astype(np.float32), 8000)
    >>> len(stretched(tone, 0.5))
    16000
    """
    stretcher = Stretcher(source)
    count = round(source.seconds * source.rate / speed)

    def place(start: int) -> Callable[[NDArray[np.float64]], NDArray[np.float64]]:
        return lambda samples: (start + samples) * speed / source.rate

    blocks = [stretcher.read(min(block, count - start), place(start)) for start in range(0, count, block)]
    return np.concatenate(blocks) if blocks else np.zeros(0, np.float32)
