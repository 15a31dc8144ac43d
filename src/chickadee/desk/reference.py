"""The reference of the sheet's language, to read and to search."""

from __future__ import annotations

from importlib.resources import files

from PyQt6.QtGui import QTextCursor, QTextDocument
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from .plain_text import PlainLabel
from .theme import Look

__all__ = ["ReferenceDialog"]


class ReferenceDialog(QDialog):
    """Shows the page that docs/sheet.md is. Typing finds the first place, Enter the next."""

    def __init__(self, look: Look, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("The sheet")
        self.resize(look.px(860), look.px(640))
        self.page = QTextBrowser()
        self.page.setAccessibleName("Reference of the sheet")
        self.page.setOpenLinks(False)
        self.page.setMarkdown((files("chickadee.desk") / "sheet.md").read_text("utf-8"))
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search: a word or a sign")
        self.search.setAccessibleName("Search the reference")
        self.search.textChanged.connect(self._find_first)
        self.search.returnPressed.connect(self.find_next)
        self.said = PlainLabel()
        following = QPushButton("Next")
        following.setAutoDefault(False)
        following.clicked.connect(self.find_next)
        row = QHBoxLayout()
        row.addWidget(self.search, 1)
        row.addWidget(following)
        row.addWidget(self.said)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close, self)
        buttons.rejected.connect(self.reject)
        if (close := buttons.button(QDialogButtonBox.StandardButton.Close)) is not None:
            close.setAutoDefault(False)
        column = QVBoxLayout(self)
        column.addLayout(row)
        column.addWidget(self.page)
        column.addWidget(buttons)

    def find_next(self) -> None:
        """Go to the next place, or from the last to the first."""
        wanted = self.search.text()
        if wanted and not self.page.find(wanted):
            self.page.moveCursor(QTextCursor.MoveOperation.Start)
            self.page.find(wanted)

    def _find_first(self, wanted: str) -> None:
        self.page.moveCursor(QTextCursor.MoveOperation.Start)
        found = bool(wanted) and self.page.find(wanted, QTextDocument.FindFlag(0))
        self.said.setText("" if found or not wanted else "Not in the reference")
