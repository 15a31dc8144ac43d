"""Typing into a cell of the reading rows."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from ...display.rows import Row
from ..escape import on_escape
from ..theme import Look

__all__ = ["CellEditor"]


class CellEditor(QLineEdit):
    """A field over a cell. Return gives what was typed, Escape leaves the note as it was, Tab gives it and goes on.

    ``given`` carries the row, the notes and the text; ``moved`` the row, and -1 or 1 for the note before or after.
    """

    given = pyqtSignal(object, list, str)
    moved = pyqtSignal(object, int)

    def __init__(self, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setObjectName("cellEditor")
        self._row: Row | None = None
        self._notes: list[int] = []
        self._was = ""
        on_escape(self, self.give_up)
        self.hide()

    def open(self, row: Row, notes: list[int], text: str, rect: QRect, look: Look) -> None:
        """Begin over a cell, its text selected."""
        self._row = row
        self._notes = notes
        self._was = text
        self.setAccessibleName(f"{row.title} of the selected note")
        self.setFont(look.font(12.5, bold=True))
        self.setText(text)
        self.selectAll()
        self.place(rect)
        self.show()
        self.setFocus()

    @property
    def title(self) -> str | None:
        """The row's title; None where nothing is typed."""
        return self._row.title if self._row is not None and not self.isHidden() else None

    def place(self, rect: QRect) -> None:
        """Stand over a cell."""
        self.setGeometry(rect.adjusted(-1, -1, 1, 1))

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {Qt.Key.Key_Tab: 1, Qt.Key.Key_Backtab: -1}.get(Qt.Key(event.key()))
            if step is not None:
                self._give(step)
                return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._give(0)
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if not self.isHidden() and self._row is not None:
            self._give(0)

    def give_up(self) -> None:
        """Leave the note as it was."""
        if self._row is not None:
            self._row = None
            self._leave()

    def _give(self, step: int) -> None:
        row, self._row = self._row, None
        if row is None:
            return
        text = self.text().strip()
        self._leave()
        if text and text != self._was:
            self.given.emit(row, self._notes, text)
        if step:
            self.moved.emit(row, step)

    def _leave(self) -> None:
        self.hide()
        timeline = self.parentWidget()
        if timeline is not None and (parent := timeline.parentWidget()) is not None:
            parent.setFocus()
