"""A recording that sounds with a song, frame by frame: together with it at any speed, in rounds and through edits."""

from __future__ import annotations

from copy import copy

import numpy as np
from numpy.typing import NDArray

from ..sound.samples import Samples
from .alignment import Backing, between
from .playable import Source
from .stretching import Stretcher

__all__ = ["BackingSound"]

_RISE = 0.001  # seconds in which it sets in


class BackingSound:
    """Gives the recording's sound as a song goes on. A copy goes on by itself."""

    def __init__(self, backing: Backing, source: Source) -> None:
        self.source = source
        self._backing = backing
        self._rate = source.rate
        self._stretcher: Stretcher | None = None
        self._fading = np.zeros((2, 0), np.float32)  # what is still heard of where it was before
        self._risen = 0  # frames since it set in
        self._sides = self._sides_of(backing)

    def copy(self) -> BackingSound:
        """Another that goes on from here."""
        other = copy(self)
        other._stretcher = self._stretcher.copy() if self._stretcher is not None else None
        return other

    def changed(self, backing: Backing) -> BackingSound:
        """This one, as it goes on at other places, another speed or another loudness."""
        other = self.copy()
        other._backing = backing
        return other

    @property
    def end(self) -> float:
        """The second of the song at which the recording ends."""
        return self._backing.ends + self.source.seconds / self._backing.speed

    @property
    def over(self) -> bool:
        """True if it has fallen silent after it was left."""
        return self._fading.shape[1] == 0

    def block(self, at: int, frames: int) -> Samples:
        """The sound while a song goes from one of its frames on, shape (2, frames)."""
        found = np.zeros((2, frames), np.float32)
        sounding = frames - min(frames, max(0, round(self._backing.begins * self._rate) - at))
        if sounding:
            found[:, frames - sounding :] = self._sound(at + frames - sounding, sounding)
        return self._with_fading(found)

    def leave(self, at: int, frames: int) -> None:
        """Fall silent within so many frames."""
        rest = self._sound(at, frames) * np.linspace(1, 0, frames, dtype=np.float32)
        self._fading = self._with_fading(rest)
        self._stretcher = None
        self._risen = 0

    def fading(self, frames: int) -> Samples:
        """Return the frames that fade out after it was left, shape (2, frames)."""
        return self._with_fading(np.zeros((2, frames), np.float32))

    def _sound(self, at: int, frames: int) -> Samples:
        if self._stretcher is None:
            self._stretcher = Stretcher(self.source)
        backing = self._backing
        rate = self._rate
        song = np.array(backing.song)
        recording = np.array(backing.recording)

        def place(samples: NDArray[np.float64]) -> NDArray[np.float64]:
            return between((at + samples) / rate, song, recording, backing.speed)

        sound = self._stretcher.read(frames, place)
        rise = round(_RISE * rate)
        if self._risen < rise:
            sound = sound * np.minimum(1, (self._risen + np.arange(frames, dtype=np.float32)) / rise)
            self._risen += frames
        old, self._sides = self._sides, self._sides_of(backing)
        return np.stack(
            [
                sound * np.linspace(was, now, frames, dtype=np.float32)
                for was, now in zip(old, self._sides, strict=True)
            ]
        )

    def _with_fading(self, sound: Samples) -> Samples:
        """Sound, with what is still heard of before on top; what is longer than it is kept."""
        count = min(sound.shape[1], self._fading.shape[1])
        if count:
            sound = sound.copy()
            sound[:, :count] += self._fading[:, :count]
            self._fading = self._fading[:, count:]
        return sound

    @staticmethod
    def _sides_of(backing: Backing) -> tuple[float, float]:
        return backing.left, backing.right
