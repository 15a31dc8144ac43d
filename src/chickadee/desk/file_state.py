"""The state of the tune's file: its name, and whether its changes are saved."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QWidget

from .document import Document
from .plain_text import PlainLabel
from .recovery import Recovery
from .theme import Look

__all__ = ["FileState"]


class FileState(PlainLabel):
    """The label at the end of the menu bar; it writes the window's title too."""

    def __init__(self, document: Document, recovery: Recovery, look: Look, parent: QWidget) -> None:
        super().__init__("", parent)
        self._document = document
        self._recovery = recovery
        self._look = look
        self.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        document.file_changed.connect(self.show_file)
        recovery.fault_changed.connect(self.show_file)
        self.set_look(look)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look = look
        self.setFixedSize(look.px(380), look.px(26))
        self.clear()  # a label remembers its size; the menu bar asks for it when the style sheet changes
        self.show_file()

    def show_file(self) -> None:
        """Say how the file stands."""
        document = self._document
        window = self.window()
        room = self._look.px(220)
        name = self.fontMetrics().elidedText(document.name, Qt.TextElideMode.ElideMiddle, room)
        self.setText(f"{name} — {self._said()}  ")
        if window is not None:
            window.setWindowTitle(f"{document.name}[*] — Chickadee")
            window.setWindowModified(document.modified)

    def _said(self) -> str:
        if self._recovery.fault:
            return "not saved, and no safety copy"
        if self._document.modified:
            return "not saved"
        return "saved" if self._document.path else "empty"
