"""Exporting sound: what is asked for, and the render in a thread of its own, with progress and cancel."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path

from PyQt6.QtCore import QThread, pyqtSignal
from PyQt6.QtWidgets import QWidget

from ..files import FileFault
from ..song import Song, bars_excerpt, voice_excerpt
from ..sound.audio_file import AudioSettings, Cancelled, write_audio

__all__ = ["SoundExport", "SoundJob", "SoundRequest"]

_SAID_EVERY = 0.05  # seconds
_LONGEST_NAME = 40  # characters of a voice's name in a file's


@dataclass(frozen=True, slots=True)
class SoundJob:
    """One file to be written."""

    path: Path
    song: Song


@dataclass(frozen=True, slots=True)
class SoundRequest:
    """What the user wants rendered."""

    settings: AudioSettings = field(default_factory=AudioSettings)
    by_voice: bool = False
    """Whether each voice goes into a file of its own."""
    bars: tuple[int, int] | None = None
    """The first and last bar; None for all."""

    def jobs(self, path: Path, song: Song) -> list[SoundJob]:
        """The files this makes of a song, the first of them at ``path`` or named after it."""
        if self.bars is not None:
            song = bars_excerpt(song, *self.bars)
        if not self.by_voice or len(song.voices) < 2:
            return [SoundJob(path, song)]
        jobs: dict[Path, SoundJob] = {}
        for place, voice in enumerate(song.voices, 1):
            goal = path.with_stem(f"{path.stem} - {_file_name(voice.name)}")
            if goal in jobs:  # two voices whose names differ only in what no file name can hold
                goal = goal.with_stem(f"{goal.stem} {place}")
            jobs[goal] = SoundJob(goal, voice_excerpt(song, voice.name))
        return list(jobs.values())


def _file_name(name: str) -> str:
    """A voice's name as part of a file's: without slashes and signs that cannot be seen, and not too long."""
    return "".join(c if c.isprintable() and c != "/" else "-" for c in name)[:_LONGEST_NAME]


class SoundExport(QThread):
    """Renders songs into files. ``progressed`` carries hundredths and the seconds that are left; ``ended`` a sentence
    for the user and whether it is good news, or an empty sentence after a cancel."""

    progressed = pyqtSignal(int, float)
    ended = pyqtSignal(str, bool)

    def __init__(self, jobs: Sequence[SoundJob], settings: AudioSettings, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._jobs, self._settings = jobs, settings
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
                write_audio(job.path, job.song, self._settings, self._progress)
                self._done += 1
        except Cancelled:
            self.ended.emit("", True)
        except FileFault as fault:
            self.ended.emit(str(fault), False)
        else:
            names = " and ".join(
                filter(None, [", ".join(job.path.name for job in self._jobs[:-1]), self._last_name()])
            )
            self.ended.emit(f"The sound is in {names}, in {self._jobs[0].path.parent}.", True)

    def _last_name(self) -> str:
        return self._jobs[-1].path.name

    def _progress(self, part: float) -> bool:
        now = time.monotonic()
        done = (self._done + part) / len(self._jobs)
        if now - self._said > _SAID_EVERY:
            self._said = now
            self.progressed.emit(round(100 * done), (now - self._begun) * (1 - done) / done)
        return self._wanted
