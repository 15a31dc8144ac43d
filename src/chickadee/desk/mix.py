"""Which voices are heard and drawn."""

from __future__ import annotations

from enum import Enum

from PyQt6.QtCore import QObject, pyqtSignal

from .selection import Selection

__all__ = ["Mark", "Mix"]


class Mark(Enum):
    """The marks of a voice: mute, solo, hidden."""

    MUTE = "Mute"
    SOLO = "Solo"
    HIDE = "Hide"


class Mix(QObject):
    """Marks voices by their names, so that a mark stays with its voice while the tune is edited.

    ``changed`` tells that :attr:`silent` or :attr:`hidden` may have changed.
    """

    changed = pyqtSignal()

    def __init__(self, selection: Selection, parent: QObject) -> None:
        super().__init__(parent)
        self._selection = selection
        self._marked: dict[Mark, set[str]] = {mark: set() for mark in Mark}
        selection.scene_changed.connect(self._follow)

    def is_marked(self, voice: str, mark: Mark) -> bool:
        """Return whether a voice, by its name, has a mark."""
        return voice in self._marked[mark]

    def mark(self, voice: str, mark: Mark, on: bool) -> None:
        """Give a voice a mark, or take it away."""
        (self._marked[mark].add if on else self._marked[mark].discard)(voice)
        self.changed.emit()

    @property
    def silent(self) -> frozenset[int]:
        """Indices of the voices that are not heard: the muted ones, and all but those that are soloed."""
        muted = self._marked[Mark.MUTE]
        solo = self._marked[Mark.SOLO]
        return frozenset(
            index for index, name in enumerate(self._names()) if name in muted or (solo and name not in solo)
        )

    @property
    def hidden(self) -> frozenset[int]:
        """Indices of the voices that are not drawn; the one that is edited always is."""
        hidden = self._marked[Mark.HIDE]
        front = self._selection.front
        return frozenset(index for index, name in enumerate(self._names()) if name in hidden and index != front)

    def _names(self) -> list[str]:
        return [voice.name for voice in self._selection.scene.song.voices]

    def _follow(self) -> None:
        """Forget voices that are gone."""
        names = set(self._names())
        for marked in self._marked.values():
            marked &= names
        self.changed.emit()
