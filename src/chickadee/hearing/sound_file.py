"""Sound files read block by block, as one channel at about 22 kHz."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import soundfile
from numpy.typing import NDArray

from ..files import FileFault, is_file, is_there

__all__ = ["Recording", "Signal", "Thinning", "open_recording", "read_blocks"]

Signal = NDArray[np.float32]
"""Samples of one channel; shape (samples,)."""
_BLOCK_SECONDS = 2.0
_RATE = 22_050  # Hz, about: whole parts of the file's rate
_TAPS = 5  # of the low-pass filter, for each side and each part that is taken away
_CUT = 0.7  # of what the lower rate can hold; only what would be folded below 4 kHz must be gone
_LONGEST = 4 * 3600.0  # seconds
_RATES = (8_000, 192_000)  # Hz


@dataclass(frozen=True, slots=True)
class Recording:
    """A sound file, not yet read."""

    path: Path
    rate: int
    """Frames a second in the file."""
    frames: int
    """How many the file says it has."""
    channels: int

    @property
    def seconds(self) -> float:
        """How long it lasts."""
        return self.frames / self.rate

    @property
    def part(self) -> int:
        """How many of the file's frames come to one sample here."""
        return max(1, round(self.rate / _RATE))

    @property
    def sample_rate(self) -> float:
        """Samples a second, as it is read here."""
        return self.rate / self.part


def open_recording(path: Path | str) -> Recording:
    """Open a WAV, FLAC, OGG or MP3 file. Raises FileFault."""
    path = Path(path)
    if not is_there(path):
        raise FileFault(path, "there is no such file")
    if not is_file(path):
        raise FileFault(path, "this is no sound file")
    try:
        with soundfile.SoundFile(path) as sound:
            found = Recording(path, sound.samplerate, sound.frames, sound.channels)
    except (soundfile.LibsndfileError, OSError, RuntimeError):
        raise FileFault(path, "this is no sound file that can be read (WAV, FLAC, OGG or MP3)") from None
    if not _RATES[0] <= found.rate <= _RATES[1]:
        raise FileFault(path, f"it has {found.rate:,} samples a second; {_RATES[0]:,} to {_RATES[1]:,} can be read")
    if found.seconds > _LONGEST:
        raise FileFault(path, "it says that it lasts longer than four hours")
    return found


def read_blocks(recording: Recording) -> Iterator[Signal]:
    """The samples in blocks of about two seconds, the channels mixed into one. Raises FileFault.

    What is too high for the lower rate is filtered away with a windowed sinc (Hann); the filter's delay is taken out.
    """
    part = recording.part
    thinning = Thinning(part) if part > 1 else None
    count = int(_BLOCK_SECONDS * recording.rate) // part * part
    try:
        with soundfile.SoundFile(recording.path) as sound:
            while len(block := sound.read(count, dtype="float32", always_2d=True)):
                mono = np.nan_to_num(block.mean(axis=1), nan=0.0, posinf=0.0, neginf=0.0)
                yield thinning.thinned(mono) if thinning is not None else mono
            if thinning is not None:
                yield thinning.rest()
    except (soundfile.LibsndfileError, OSError, RuntimeError):
        raise FileFault(recording.path, "the file is damaged; it cannot be read to its end") from None


class Thinning:
    """Takes every so manieth sample of a signal that comes in blocks, after a low-pass filter."""

    def __init__(self, part: int) -> None:
        self._part = part
        self._side = _TAPS * part
        place = np.arange(-self._side, self._side + 1)
        window = 0.5 + 0.5 * np.cos(np.pi * place / (self._side + 1))
        taps = np.sinc(place * _CUT / part) * window
        self._taps = (taps / taps.sum()).astype(np.float32)
        self._before = np.zeros(self._side, np.float32)  # what is still needed of earlier blocks

    def thinned(self, block: Signal) -> Signal:
        """Return the samples that are ready: they are behind by half the filter."""
        known = np.concatenate((self._before, block))
        whole = (len(known) - 2 * self._side) // self._part
        if whole <= 0:
            self._before = known
            return np.zeros(0, np.float32)
        needed = known[: (whole - 1) * self._part + 2 * self._side + 1]
        self._before = known[whole * self._part :]
        found = np.zeros(whole, np.float32)
        for place in range(self._part):  # only what is kept is worked out
            taps = self._taps[place :: self._part]
            found += np.correlate(needed[place :: self._part][: whole + len(taps) - 1], taps, mode="valid")
        return found

    def rest(self) -> Signal:
        """Return the samples that are left when no more blocks come."""
        return self.thinned(np.zeros(self._side + self._part, np.float32))
