"""Find and replace, in a bar under the sheet."""

from __future__ import annotations

from PyQt6.QtCore import QRegularExpression, pyqtSignal
from PyQt6.QtGui import QKeySequence, QTextCursor, QTextDocument
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QPushButton

from ...display import words
from ...sheet import TextEdit
from ..actions import ActionSpec
from ..document import Document
from ..escape import on_escape
from ..plain_text import PlainLabel
from .editor import SheetEditor

__all__ = ["FindBar"]


class FindBar(QFrame):
    """Finds text in the sheet, case aside, and replaces it; replacing all is one step of the undo.

    ``opened`` tells that the user wants to see the sheet.
    """

    opened = pyqtSignal()

    def __init__(self, editor: SheetEditor, document: Document) -> None:
        super().__init__()
        self._editor = editor
        self._document = document
        self.find_field = QLineEdit()
        self.replace_field = QLineEdit()
        self.find_field.setPlaceholderText("Find")
        self.replace_field.setPlaceholderText("Replace with")
        self.find_field.setAccessibleName("Find")
        self.replace_field.setAccessibleName("Replace with")
        self.said = PlainLabel()
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 4, 8, 4)
        row.addWidget(self.find_field, 2)
        row.addWidget(self.replace_field, 2)
        for text, slot in (
            ("Next", self.find_next),
            ("Before", self.find_before),
            ("Replace", self.replace),
            ("All", self.replace_all),
            ("Close", self.put_away),
        ):
            button = QPushButton(text)
            button.clicked.connect(slot)
            row.addWidget(button)
        row.addWidget(self.said, 1)
        self.find_field.returnPressed.connect(self.find_next)
        self.replace_field.returnPressed.connect(self.replace)
        self.find_field.textChanged.connect(self._count)
        on_escape(self, self.put_away)
        self.hide()

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Opening the bar."""
        return (
            ActionSpec(
                "find.open",
                "edit/find",
                "&Find and replace…",
                QKeySequence.StandardKey.Find,
                "Find text in the sheet, and replace it",
                self.open,
            ),
        )

    def open(self) -> None:
        """Show the bar, with the selected text to be found."""
        selected = self._editor.textCursor().selectedText()
        if selected and "\u2029" not in selected:
            self.find_field.setText(selected)
        self.opened.emit()
        self.show()
        self.find_field.setFocus()
        self.find_field.selectAll()
        self._count()

    def put_away(self) -> None:
        """Hide the bar and go back to the text."""
        self.hide()
        self._editor.setFocus()

    def find_next(self) -> bool:
        """Select the next place, beginning again at the top; whether there is one."""
        return self._find(QTextDocument.FindFlag(0), QTextCursor.MoveOperation.Start)

    def find_before(self) -> bool:
        """Select the place before."""
        return self._find(QTextDocument.FindFlag.FindBackward, QTextCursor.MoveOperation.End)

    def replace(self) -> None:
        """Replace the place that is selected and go to the next."""
        cursor = self._editor.textCursor()
        if cursor.selectedText().lower() == self.find_field.text().lower() != "":
            cursor.insertText(self.replace_field.text())
        self.find_next()

    def replace_all(self) -> None:
        """Replace every place, as one step of the undo."""
        text = self._document.reading.text
        wanted = self.find_field.text()
        if wanted:
            self._document.apply(
                [TextEdit(at, at + len(wanted), self.replace_field.text()) for at in self._places(text)]
            )
            self._count()

    def _find(self, flags: QTextDocument.FindFlag, wrap: QTextCursor.MoveOperation) -> bool:
        wanted = QRegularExpression(
            QRegularExpression.escape(self.find_field.text()), QRegularExpression.PatternOption.CaseInsensitiveOption
        )
        if not self.find_field.text():
            return False
        if self._editor.find(wanted, flags):
            return True
        before = self._editor.textCursor()
        self._editor.moveCursor(wrap)
        if self._editor.find(wanted, flags):
            return True
        self._editor.setTextCursor(before)
        return False

    def _places(self, text: str) -> list[int]:
        text = text.lower()
        wanted = self.find_field.text().lower()
        places = []
        at = text.find(wanted) if wanted else -1
        while at >= 0:
            places.append(at)
            at = text.find(wanted, at + len(wanted))
        return places

    def _count(self) -> None:
        found = len(self._places(self._document.reading.text))
        self.said.setText(words.counted(found, "place") if self.find_field.text() else "")
