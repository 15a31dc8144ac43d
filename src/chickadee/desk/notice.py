"""A sentence for the user, across the window, until it is put away."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QWidget

__all__ = ["Notice"]


class Notice(QFrame):
    """Says what happened: good news goes by itself with the next edit, bad news stays until it is closed."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("notice")
        self._label = QLabel()
        self._label.setWordWrap(True)
        self._good = True
        close = QPushButton("Close")
        close.clicked.connect(self.hide)
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 3, 8, 3)
        row.addWidget(self._label, 1)
        row.addWidget(close)
        self.hide()

    @property
    def text(self) -> str:
        """The sentence that is shown, or an empty text."""
        return "" if self.isHidden() else self._label.text()

    def say(self, sentence: str, good: bool = False) -> None:
        """Show a sentence."""
        self._good = good
        self._label.setText(sentence)
        self._label.setAccessibleName(sentence)
        self.setProperty("good", good)
        if (style := self.style()) is not None:
            style.polish(self)
        self.show()

    def fade(self) -> None:
        """Put good news away."""
        if self._good:
            self.hide()
