"""Listening to a recording in the background."""

from __future__ import annotations

import time
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QObject, QThread, pyqtSignal

from ...files import FileFault
from ...hearing.cache import keep, kept
from ...hearing.overview import Overview, power_of
from ...hearing.sound_file import open_recording
from ...hearing.tempo import guessed_beats
from ...hearing.worker import Listening

__all__ = ["ListeningWork"]

_SHOWN_SECONDS = 0.3  # from one picture of the wave to the next, while it is read


class ListeningWork(QThread):
    """``seen`` carries the wave so far as an Overview, ``progressed`` the part that is listened to, ``heard`` what
    was heard and the beats it may have, ``failed`` a sentence. What was cancelled tells nothing more."""

    seen = pyqtSignal(object)
    progressed = pyqtSignal(float)
    heard = pyqtSignal(object, object)
    failed = pyqtSignal(str)
    noticed = pyqtSignal(str)
    """A sentence about the file."""

    def __init__(self, path: Path, tuning: float, parent: QObject) -> None:
        super().__init__(parent)
        self._path = path
        self._tuning = tuning
        self._listening = Listening(path, tuning)
        self._cancelled = False

    def cancel(self) -> None:
        """Stop at once."""
        self._cancelled = True
        self._listening.stop()

    def run(self) -> None:
        """Show the wave, and listen in a process of its own; what was heard before is known at once."""
        try:
            found = kept(self._path, self._tuning)
            if found is None:
                self._notice_tracks()
                self._see()
                found = None if self._cancelled else self._listening.heard(self.progressed.emit)
                if found is not None:
                    keep(self._path, self._tuning, found)
        except FileFault as fault:
            self.failed.emit(str(fault))
            return
        if found is not None and not self._cancelled:
            self.heard.emit(found, guessed_beats(found.notes))

    def _notice_tracks(self) -> None:
        more = open_recording(self._path, lambda: self._cancelled).more_tracks
        if more:
            self.noticed.emit(f"{self._path.name} has {more + 1} tracks of sound; the first is read.")

    def _see(self) -> None:
        parts = [np.zeros(0, np.float32)]
        shown = time.monotonic()
        for part in power_of(self._path, lambda: self._cancelled):
            parts.append(part)
            if self._cancelled:
                return
            if time.monotonic() - shown > _SHOWN_SECONDS:
                parts = [np.concatenate(parts)]
                shown = time.monotonic()
                self.seen.emit(Overview(parts[0]))
        self.seen.emit(Overview(np.concatenate(parts)))
