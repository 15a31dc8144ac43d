"""Exporting: a render in a thread of its own, with progress and cancel."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QThread, pyqtSignal
from PyQt6.QtWidgets import QWidget

from ..files import FileFault
from ..song import Song
from ..sound.audio_file import Cancelled, write_audio

__all__ = ["SoundExport"]


class SoundExport(QThread):
    """Renders a song into a file. ``progressed`` carries hundredths; ``ended`` a sentence for the user and whether
    it is good news, or an empty sentence after a cancel."""

    progressed = pyqtSignal(int)
    ended = pyqtSignal(str, bool)

    def __init__(self, path: Path, song: Song, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._path, self._song = path, song
        self._wanted = True

    def cancel(self) -> None:
        """Stop after the present block; no file is left."""
        self._wanted = False

    def run(self) -> None:
        try:
            write_audio(self._path, self._song, progress=self._progress)
        except Cancelled:
            self.ended.emit("", True)
        except FileFault as fault:
            self.ended.emit(str(fault), False)
        else:
            self.ended.emit(f"The sound is in {self._path}.", True)

    def _progress(self, done: float) -> bool:
        self.progressed.emit(round(100 * done))
        return self._wanted
