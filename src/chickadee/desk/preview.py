"""The tune as it would be after a change that is being considered."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from ..song import Song

__all__ = ["Preview"]


class Preview(QObject):
    """Shown over the tune on the timeline. ``changed`` carries the song, or None, and the indices of those of its
    notes that cannot be played."""

    changed = pyqtSignal(object, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.song: Song | None = None

    def show(self, song: Song | None, outside: frozenset[int] = frozenset()) -> None:
        """Show a song, or none any longer."""
        if song is not self.song:
            self.song = song
            self.changed.emit(song, outside)
