"""The sound of files that need a decoder, such as telephones' and screens' recordings: decoded once, and kept.

A process of its own decodes, so that a broken file ends nothing but it. It opens containers of known kinds in plain
files alone: no list of addresses that looks like a recording is ever followed.
"""

from __future__ import annotations

import hashlib
import os
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from multiprocessing import Pipe
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

from ..files import FileFault
from ..own_process import started

__all__ = ["LONGEST_SECONDS", "decoded", "second_tracks"]

LONGEST_SECONDS = 4 * 3600.0
"""The longest sound that is read."""
_MOST_BYTES = 2 << 30  # of the sounds that are kept together
_CONTAINERS = "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,ogg,aac,amr,amrnb,amrwb,mp3,flac,wav,w64,aiff,caf,asf,avi,mpegts"
_UNREADABLE = "this is no sound file that can be read"
_POLL_SECONDS = 0.05
_VERSION = 1
_TRACKS = "tracks="
_MOST_BROKEN = 1000  # packets of sound that may be broken


def decoded(path: Path, is_stopped: Callable[[], bool] = lambda: False) -> Path:
    """Return a FLAC file with the sound of a file, made once for each version of it.

    ``is_stopped`` ends the work. Raises FileFault, also where it was stopped.
    """
    for folder in _folders():
        with suppress(OSError):
            goal = folder / f"{_name(path)}.flac"
            if goal.exists():
                os.utime(goal)
                return goal
            folder.mkdir(parents=True, exist_ok=True)
            unfinished = goal.with_suffix(f".{os.getpid()}.{time.monotonic_ns()}")
            try:
                _decode_elsewhere(path, unfinished, is_stopped)
                unfinished.replace(goal)
            finally:
                unfinished.unlink(missing_ok=True)
            _tidy(folder, goal)
            return goal
    raise FileFault(path, "its sound cannot be unpacked: there is no folder for temporary files that can be written")


def second_tracks(comment: str) -> int:
    """How many tracks of sound a file had beside the first, by the comment of what :func:`decoded` made of it."""
    number = comment.removeprefix(_TRACKS)
    return int(number) - 1 if comment.startswith(_TRACKS) and number.isdigit() else 0


def _folders() -> list[Path]:
    cache = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache")
    return [cache / "chickadee" / "decoded", Path(tempfile.gettempdir()) / f"chickadee-decoded-{os.getuid()}"]


def _name(path: Path) -> str:
    """A name for a file as it is now. Raises OSError where it is not there."""
    state = path.stat()
    told = f"{_VERSION} {path.resolve()} {state.st_size} {state.st_mtime_ns}"
    return hashlib.sha256(told.encode("utf-8", "surrogateescape")).hexdigest()[:32]


def _tidy(folder: Path, newest: Path) -> None:
    """Take away what was used longest ago where there is much."""
    total = 0
    for file in sorted(folder.glob("*.flac"), key=lambda file: file.stat().st_mtime, reverse=True):
        total += file.stat().st_size
        if total > _MOST_BYTES and file != newest:
            file.unlink()


def _decode_elsewhere(path: Path, goal: Path, is_stopped: Callable[[], bool]) -> None:
    """Decode in a process of its own. Raises FileFault."""
    ours, theirs = Pipe()
    with theirs:
        process = started("chickadee.hearing.decoding", theirs.fileno())
    answer: object = "unpacking its sound took more than this computer has"
    try:
        with ours, suppress(EOFError, OSError):
            ours.send((str(path.resolve()), str(goal)))
            while not ours.poll(_POLL_SECONDS):
                if is_stopped():
                    raise FileFault(path, "listening was stopped")
            answer = ours.recv()
    finally:
        process.kill()
        process.wait()
    if answer is not None:
        raise FileFault(path, str(answer))


# In the other process


def _decode_for(descriptor: int) -> None:
    """Decode what is asked for, and answer with None or with what is wrong."""
    with Connection(descriptor) as connection, suppress(EOFError, OSError):
        path, goal = connection.recv()
        try:
            _decode(path, goal)
            answer = None
        except FileFault as fault:
            answer = fault.reason
        connection.send(answer)


def _decode(path: str, goal: str) -> None:
    """Write the first track of sound as FLAC, with one or two channels. Raises FileFault."""
    import av
    import soundfile

    options = {"protocol_whitelist": "file", "format_whitelist": _CONTAINERS}
    if path.lower().endswith(".wav"):
        options["ignore_length"] = "1"  # a recorder that was interrupted has written none
    try:
        with av.open(f"file:{path}", options=options, metadata_errors="ignore") as container:
            if not container.streams.audio:
                raise FileFault(path, "there is no sound in it")
            stream = container.streams.audio[0]
            rate = stream.codec_context.sample_rate
            channels = min(2, max(1, stream.codec_context.channels))
            if not rate:
                raise FileFault(path, _UNREADABLE)
            resampler = av.AudioResampler(format="s16", layout="mono" if channels == 1 else "stereo", rate=rate)
            frames = 0
            with soundfile.SoundFile(goal, "w", rate, channels, "PCM_16", format="FLAC") as sound:
                sound.comment = f"{_TRACKS}{len(container.streams.audio)}"
                for frame in _frames(container, stream):
                    for part in resampler.resample(frame):
                        samples = part.to_ndarray().reshape(-1, channels)
                        sound.write(samples)
                        frames += len(samples)
                    if frames > LONGEST_SECONDS * rate:
                        raise FileFault(path, "it lasts longer than four hours")
            if not frames:
                raise FileFault(path, "there is no sound in it")
    except (av.FFmpegError, soundfile.LibsndfileError, ValueError, OSError):
        raise FileFault(path, _UNREADABLE) from None


def _frames(container: Any, stream: Any) -> Iterator[Any]:
    """The decoded frames of a track, and None after the last; a few broken packets are left out."""
    import av

    broken = 0
    for packet in container.demux(stream):
        try:
            yield from packet.decode()
        except av.FFmpegError:
            broken += 1
            if broken > _MOST_BROKEN:
                raise
    yield None


if __name__ == "__main__":
    import sys

    _decode_for(int(sys.argv[1]))
