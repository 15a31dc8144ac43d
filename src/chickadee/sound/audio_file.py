"""Audio files: WAV, FLAC, OGG and MP3, written block by block."""

from __future__ import annotations

import threading
from collections.abc import Callable, Mapping
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO

import numpy as np
import soundfile
from numpy.typing import NDArray

from ..files import FileFault, replacing
from ..song import Song
from .render import DEFAULT_RATE, Renderer
from .samples import Samples

__all__ = ["BITS", "RATES", "AudioSettings", "Cancelled", "audio_size", "write_audio"]

BITS = {"16": "PCM_16", "24": "PCM_24", "32f": "FLOAT"}
"""Sample formats by the name the command line gives them."""
RATES = (8_000, 96_000)
"""The lowest and highest sample rate, in Hz."""

_CODINGS = {".wav": None, ".flac": None, ".ogg": "VORBIS", ".mp3": "MPEG_LAYER_III"}
_BLOCK = 16_384
_FRAME_BYTES = {"16": 4, "24": 6, "32f": 8}  # by the names of BITS
_FLAC_PART = 0.4  # of what a WAV takes
_SMALL_BYTES = 14_000  # a second
_LARGEST_WAV = (1 << 32) - (1 << 16)
"""Bytes of sound beyond which the lengths in a WAV file would wrap; the file is an RF64 then (EBU Tech 3306)."""
_MP3_RATES = (8_000, 11_025, 12_000, 16_000, 22_050, 24_000, 32_000, 44_100, 48_000)


class Cancelled(Exception):  # noqa: N818 - it was asked for, it is no error
    """The caller cancelled the writing of a file."""


@dataclass(frozen=True, slots=True)
class AudioSettings:
    """How a song becomes a sound file."""

    rate: int = DEFAULT_RATE
    """Frames a second."""
    bits: str = "16"
    """One of BITS; only WAV and FLAC have a choice."""
    room: bool = False
    """True if a small room is heard around it."""
    fade: float = 0.0
    """How many seconds before the end the sound begins to fade away."""
    loop: bool = False
    """True if the end goes on at the start: what rings on after the last bar is heard at the first."""


def audio_size(suffix: str, seconds: float, settings: AudioSettings) -> float:
    """About how many bytes so many seconds of sound take, without what rings on."""
    frames = seconds * settings.rate
    if suffix == ".wav":
        return frames * _FRAME_BYTES[settings.bits]
    if suffix == ".flac":
        return frames * _FRAME_BYTES[settings.bits] * _FLAC_PART
    return seconds * _SMALL_BYTES


def write_audio(
    path: Path | str,
    song: Song,
    settings: AudioSettings = AudioSettings(),
    progress: Callable[[float], bool] = lambda done: True,
) -> None:
    """Render a song into a file; the suffix names the format.

    ``progress`` is told the part done, 0 to 1, after each block, and stops the work by answering False, which
    raises Cancelled. Raises FileFault when the file cannot be written. In both cases no half file is left and an
    old one is as it was.
    """
    path = Path(path)
    suffix = path.suffix.lower()
    rate = settings.rate
    bits = settings.bits
    if suffix not in _CODINGS:
        raise FileFault(path, f"sound files end in {', '.join(_CODINGS)}")
    coding = _CODINGS[suffix] or BITS[bits]
    container = suffix[1:].upper()
    if not soundfile.check_format(container, coding):
        raise FileFault(path, f"{container} files cannot hold {bits} bits")
    if container == "MP3" and rate not in _MP3_RATES:
        raise FileFault(path, f"MP3 files cannot have {rate} samples a second; 44100 and 48000 are usual")
    renderer = Renderer(song, rate, settings.room, settings.fade, settings.loop)
    if container == "WAV" and renderer.frames * _FRAME_BYTES[bits] > _LARGEST_WAV:
        container = "RF64"
    with replacing(path) as new:
        tags = {"title": song.title, "artist": song.composer}
        _away_from_signals(
            lambda wanted: _write(
                path, new, renderer, container, coding, tags, lambda done: wanted() and progress(done)
            )
        )


def _away_from_signals(work: Callable[[Callable[[], bool]], None]) -> None:
    """Do work in a thread of its own, where no signal raises; what a signal raises here ends the work first.

    ``work`` is given a function that says whether it is still wanted.
    """
    if threading.current_thread() is not threading.main_thread():
        work(lambda: True)
        return
    ended = threading.Event()
    with ThreadPoolExecutor(1) as pool:
        future = pool.submit(work, lambda: not ended.is_set())
        try:
            future.result()
        except BaseException:
            ended.set()
            with suppress(BaseException):
                future.result()
            raise


def _write(
    path: Path,
    new: Path,
    renderer: Renderer,
    container: str,
    coding: str,
    tags: Mapping[str, str],
    progress: Callable[[float], bool],
) -> None:
    """Write all samples. No exception gets into libsndfile's callbacks, which would swallow it."""
    chance = np.random.default_rng(16)
    with new.open("w+b") as raw:
        goal = _Goal(raw)
        try:
            with soundfile.SoundFile(goal, "w", renderer.rate, 2, coding, format=container) as file:
                for name, text in tags.items():
                    if text:
                        setattr(file, name, text)
                while len(block := renderer.read(_BLOCK)):
                    file.write(_dithered(block, chance) if coding == "PCM_16" else block)
                    if goal.fault is not None:
                        break
                    if not progress(renderer.position / renderer.frames):
                        raise Cancelled
        except soundfile.LibsndfileError:
            if goal.fault is None:
                raise FileFault(path, "the sound could not be written") from None
        if goal.fault is not None:
            raise goal.fault


class _Goal:
    """A file for libsndfile to write, which remembers the first fault.

    libsndfile says nothing of a fault that comes while it closes a file, and leaves one that is cut off.
    """

    def __init__(self, raw: BinaryIO) -> None:
        self._raw = raw
        self.fault: OSError | None = None

    def write(self, data: bytes) -> int:
        self._try(lambda: self._raw.write(data))
        return len(data)  # after a fault nothing is wanted any more

    def read(self, count: int) -> bytes:
        return self._raw.read(count)

    def seek(self, place: int, whence: int = 0) -> int:
        self._try(lambda: self._raw.seek(place, whence))
        return self._raw.tell()

    def _try(self, work: Callable[[], object]) -> None:
        try:
            work()
        except OSError as error:
            self.fault = self.fault or error

    def tell(self) -> int:
        return self._raw.tell()


def _dithered(block: Samples, chance: np.random.Generator) -> NDArray[np.int16]:
    """16-bit samples with triangular dither of one step to either side; silence stays silence.

    Dither turns the error of rounding into faint noise that does not follow the music (S. Lipshitz and others,
    "Quantization and dither: a theoretical survey", 1992).
    """
    noise = chance.random(block.shape, np.float32) - chance.random(block.shape, np.float32)
    steps = np.rint(block * np.float32(32767) + np.where(block == 0, np.float32(0), noise))
    return np.asarray(np.clip(steps, -32768, 32767), dtype=np.int16)
