"""Sound files read block by block, as one channel at about 22 kHz."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import soundfile
from numpy.typing import NDArray

from ..files import FileFault, is_file, is_there
from .decoding import LONGEST_SECONDS, decoded, second_tracks

__all__ = ["Recording", "Signal", "Thinning", "open_recording", "read_blocks"]

Signal = NDArray[np.float32]
"""Samples of one channel; shape (samples,)."""
_BLOCK_SECONDS = 2.0
_RATE = 22_050  # Hz, about: whole parts of the file's rate
_TAPS = 5  # of the low-pass filter, for each side and each part that is taken away
_CUT = 0.7  # of what the lower rate can hold; only what would be folded below 4 kHz must be gone
_HEADER = 100  # bytes; a file that is larger and says that it has no samples was interrupted
_LOOKED_AT = 24  # blocks of a file in which it is seen whether its sides cancel
_CANCELLED = 0.02  # of the power of the sides, below which their sum has lost them
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
    sound: Path
    """The file with its samples: itself, or one that its sound was unpacked to."""
    side: int | None = None
    """The channel that is read alone, since the sides cancel where they are mixed; None for all."""
    more_tracks: int = 0
    """Tracks of sound that are not read."""

    def mixed(self, block: NDArray[np.float32]) -> Signal:
        """Frames of all channels as one, with what is no number as silence."""
        one = block.mean(axis=1) if self.side is None else block[:, self.side]
        return np.asarray(np.nan_to_num(one, nan=0.0, posinf=0.0, neginf=0.0), np.float32)

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


def open_recording(path: Path | str, is_stopped: Callable[[], bool] = lambda: False) -> Recording:
    """Open a file with sound: WAV, FLAC, OGG, MP3, or what a telephone or a screen records.

    The latter takes a while at first, which ``is_stopped`` ends. Raises FileFault.
    """
    path = Path(path)
    if not is_there(path):
        raise FileFault(path, "there is no such file")
    if not is_file(path):
        raise FileFault(path, "this is no sound file")
    found = _opened(path, path)
    if found is None or (not found.frames and path.stat().st_size > _HEADER):
        found = _opened(path, decoded(path, is_stopped))
    if found is None:
        raise FileFault(path, "this is no sound file that can be read")
    if not _RATES[0] <= found.rate <= _RATES[1]:
        raise FileFault(path, f"it has {found.rate:,} samples a second; {_RATES[0]:,} to {_RATES[1]:,} can be read")
    if found.seconds > LONGEST_SECONDS:
        raise FileFault(path, "it says that it lasts longer than four hours")
    return found


def _opened(path: Path, sound: Path) -> Recording | None:
    """A file whose samples are in another, or in itself; None where those cannot be read."""
    try:
        with soundfile.SoundFile(sound) as file:
            more = second_tracks(file.comment) if sound != path else 0
            return Recording(path, file.samplerate, file.frames, file.channels, sound, _side(file), more)
    except (soundfile.LibsndfileError, OSError, RuntimeError):
        return None


def _side(file: soundfile.SoundFile) -> int | None:
    """The louder channel of a file whose channels cancel one another; None where they do not."""
    if file.channels < 2 or not file.seekable():
        return None
    power = np.zeros(file.channels)
    together = 0.0
    count = min(file.frames, file.samplerate // 10)
    for start in np.linspace(0, max(0, file.frames - count), _LOOKED_AT).astype(int).tolist():
        file.seek(start)
        block = np.nan_to_num(file.read(count, dtype="float32", always_2d=True), posinf=0.0, neginf=0.0)
        power += (block.astype(np.float64) ** 2).sum(axis=0)
        together += float((block.mean(axis=1, dtype=np.float64) ** 2).sum())
    file.seek(0)
    return int(power.argmax()) if together < _CANCELLED * power.mean() else None


def read_blocks(recording: Recording) -> Iterator[Signal]:
    """The samples in blocks of about two seconds, the channels mixed into one. Raises FileFault.

    What is too high for the lower rate is filtered away with a windowed sinc (Hann); the filter's delay is taken out.
    """
    part = recording.part
    thinning = Thinning(part) if part > 1 else None
    count = int(_BLOCK_SECONDS * recording.rate) // part * part
    try:
        with soundfile.SoundFile(recording.sound) as sound:
            while len(block := sound.read(count, dtype="float32", always_2d=True)):
                mono = recording.mixed(block)
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
