"""An export: the form, the part of the tune, its size; and a render of sound in a thread of its own."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

from PyQt6.QtCore import QThread, pyqtSignal
from PyQt6.QtWidgets import QWidget

from ..display import words
from ..files import FileFault
from ..formats.forms import WRITTEN
from ..formats.smf import InexactError
from ..song import Song, stretch_excerpt, voice_excerpt
from ..sound.audio_file import AudioSettings, Cancelled, audio_size, write_audio
from ..web.files import write_page

__all__ = ["ExportRequest", "SongFile", "SoundExport", "expected"]

_SAID_EVERY = 0.05  # seconds
_MOST_WRITTEN = 5_000  # notes that are written only to learn how large the file is
_KILO = 1_000
_LONGEST_NAME = 40  # characters of a voice's name in a file's


@dataclass(frozen=True, slots=True)
class SongFile:
    """One file to be written."""

    path: Path
    song: Song


@dataclass(frozen=True, slots=True)
class ExportRequest:
    """The user's choice of form and part.

    >>> from chickadee.song import Voice
    >>> song = Song(voices=(Voice("Whistle"), Voice("Bass")))
    >>> [file.path.name for file in ExportRequest(".mid", by_voice=True).jobs(Path("round.mid"), song)]
    ['round - Whistle.mid', 'round - Bass.mid']
    """

    suffix: str = ".wav"
    """One of WRITTEN."""
    settings: AudioSettings = field(default_factory=AudioSettings)
    by_voice: bool = False
    """True if each voice goes into a file of its own."""
    stretch: tuple[int, int] | None = None
    """From which tick up to which; None for all."""
    show: tuple[str, ...] = ("keyboard",)
    """The parts of a page that plays beside the timeline, by its names for them."""

    def jobs(self, path: Path, song: Song) -> list[SongFile]:
        """The files this makes of a song, the first of them at ``path`` or named after it."""
        if self.stretch is not None:
            song = stretch_excerpt(song, *self.stretch)
        if not self.by_voice or len(song.voices) < 2:
            return [SongFile(path, song)]
        jobs: dict[Path, SongFile] = {}
        for place, voice in enumerate(song.voices, 1):
            goal = path.with_stem(f"{path.stem} - {_file_name(voice.name)}")
            if goal in jobs:  # two voices whose names differ only in what no file name can hold
                goal = goal.with_stem(f"{goal.stem} {place}")
            jobs[goal] = SongFile(goal, voice_excerpt(song, voice.name))
        return list(jobs.values())


def _file_name(name: str) -> str:
    """A voice's name as part of a file's: without slashes and signs that cannot be seen, and not too long."""
    return "".join(c if c.isprintable() and c != "/" else "-" for c in name)[:_LONGEST_NAME]


def expected(request: ExportRequest, song: Song) -> str:
    """Describe the result of a request in a line: ``2 voices, 84 notes, 31.3 s; 2.1 kB in one file``."""
    jobs = request.jobs(Path(f"tune{request.suffix}"), song)
    part = song
    if len(jobs) == 1:
        part = jobs[0].song
    elif request.stretch:
        part = stretch_excerpt(song, *request.stretch)
    voices = words.counted(len(part.voices), "voice")
    notes = words.counted(len(part.notes), "note")
    size = _size(request, jobs, part)
    where = "one file" if len(jobs) == 1 else f"{len(jobs)} files"
    return f"{voices}, {notes}, {part.seconds:.1f} s; {size} in {where}"


def _size(request: ExportRequest, jobs: list[SongFile], part: Song) -> str:
    write = WRITTEN[request.suffix].write
    if WRITTEN[request.suffix].is_page:
        return "a page that asks nothing of any network"
    if write is None:
        return f"about {_bytes(len(jobs) * audio_size(request.suffix, part.seconds, request.settings))}"
    if len(part.notes) > _MOST_WRITTEN:
        return "a large file" if len(jobs) == 1 else "large files"
    try:
        return _bytes(sum(len(write(job.song)) for job in jobs))
    except InexactError as fault:
        return str(fault)


def _bytes(count: float) -> str:
    if count < _KILO:
        return f"{count:.0f} bytes"
    return f"{count / _KILO:.1f} kB" if count < _KILO**2 else f"{count / _KILO**2:.1f} MB"


class SoundExport(QThread):
    """Renders songs into sound files, or into pages that play. ``progressed`` carries hundredths and the seconds that
    are left; ``ended`` a sentence for the user and whether it is good news, or an empty sentence after a cancel."""

    progressed = pyqtSignal(int, float)
    ended = pyqtSignal(str, bool)

    def __init__(self, jobs: Sequence[SongFile], request: ExportRequest, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._jobs = jobs
        self._request = request
        self._wanted = True
        self._done = 0  # jobs
        self._begun = self._said = 0.0

    def cancel(self) -> None:
        """Stop after the present block; no half file is left."""
        self._wanted = False

    def run(self) -> None:
        self._begun = time.monotonic()
        try:
            for job in self._jobs:
                self._write(job)
                self._done += 1
        except Cancelled:
            self.ended.emit("", True)
        except FileFault as fault:
            self.ended.emit(str(fault), False)
        else:
            names = " and ".join(
                filter(None, [", ".join(job.path.name for job in self._jobs[:-1]), self._last_name()])
            )
            what = "The page" if WRITTEN[self._request.suffix].is_page else "The sound"
            self.ended.emit(f"{what} is in {names}, in {self._jobs[0].path.parent}.", True)

    def _write(self, job: SongFile) -> None:
        if WRITTEN[self._request.suffix].is_page:
            if not self._wanted:
                raise Cancelled
            write_page(job.song, job.path, self._request.show)
        else:
            write_audio(job.path, job.song, self._request.settings, self._progress)

    def _last_name(self) -> str:
        return self._jobs[-1].path.name

    def _progress(self, part: float) -> bool:
        now = time.monotonic()
        done = (self._done + part) / len(self._jobs)
        if now - self._said > _SAID_EVERY:
            self._said = now
            self.progressed.emit(round(100 * done), (now - self._begun) * (1 - done) / done)
        return self._wanted
