"""A tune that came from elsewhere: what was found in it, and how it is to be written as a sheet."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ..formats.imported import AUTOMATIC, Imported
from ..sheet import TextEdit
from .document import Document

if TYPE_CHECKING:
    from ..formats.arranging import Arranged
    from ..incoming import Brought

__all__ = ["Arrivals", "Wishes"]


@dataclass(frozen=True, slots=True)
class Wishes:
    """How the sheet is wanted."""

    snap: str | Fraction | None = AUTOMATIC
    phrases: bool = True
    voices: frozenset[int] | None = None
    """Those to take, counted from 1; None for all."""


class Arrivals(QObject):
    """Keeps the newest arrival. Every change of the wishes is one step of the undo."""

    brought = pyqtSignal()
    """Something came; it is a new tune now, which no file holds."""
    changed = pyqtSignal()
    """It is written otherwise now."""
    taken = pyqtSignal()
    """It is to be gone on with as it is."""

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self._document = document
        self.found: Imported | None = None
        """The imported music; None once another tune is open."""
        self.name = ""
        """The name of its file."""
        self.wishes = Wishes()
        self.made: Arranged | None = None
        document.left.connect(self._forget)

    @property
    def is_untouched(self) -> bool:
        """True if the sheet is as it was written for the wishes."""
        return self.made is not None and self._document.text == self.made.text

    def bring(self, brought: Brought, name: str) -> None:
        """Begin a new tune with what came."""
        self._document.recover(brought.made.text, None)
        self.found = brought.found
        self.made = brought.made
        self.name = name
        self.wishes = Wishes()
        self.brought.emit()

    def wish(self, **wishes: object) -> None:
        """Write the sheet otherwise: ``snap``, ``phrases`` or ``voices`` as in Wishes."""
        new = replace(self.wishes, **wishes)  # type: ignore[arg-type]
        if self.found is None or new == self.wishes:
            return
        from ..formats.arranging import arranged

        made = arranged(self.found, new.snap, new.phrases, new.voices)
        text = self._document.reading.text
        self.wishes = new
        self.made = made
        self._document.apply([TextEdit(0, len(text), made.text)])
        self.changed.emit()

    def take(self) -> None:
        """Go on with the tune as it is."""
        self.taken.emit()

    def _forget(self) -> None:
        self.found = self.made = None
        self.changed.emit()
