"""A sentence for the user, across the window, until it is put away."""

from __future__ import annotations

from collections.abc import Callable

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
        self.offer = QPushButton("Go on")
        """A way on from what is said, where there is one."""
        self._way_on: Callable[[], object] | None = None
        self.offer.clicked.connect(self._go_on)
        close = QPushButton("Close")
        close.clicked.connect(self.hide)
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 3, 8, 3)
        row.addWidget(self._label, 1)
        row.addWidget(self.offer)
        row.addWidget(close)
        self.hide()

    @property
    def text(self) -> str:
        """The sentence that is shown, or an empty text."""
        return "" if self.isHidden() else self._label.text()

    def say(
        self, sentence: str, good: bool = False, offer: str = "", way_on: Callable[[], object] | None = None
    ) -> None:
        """Show a sentence, and a button that goes on from there where one is offered."""
        self._good, self._way_on = good, way_on
        self.offer.setText(offer or "Go on")
        self.offer.setVisible(way_on is not None)
        self._label.setText(sentence)
        self._label.setAccessibleName(sentence)
        self.setProperty("good", good)
        if (style := self.style()) is not None:
            style.polish(self)
        self.show()

    def take_offer(self) -> None:
        """Go the way on that is offered, where there is one."""
        if self.offer.isVisible():
            self._go_on()

    def _go_on(self) -> None:
        way_on = self._way_on
        self.hide()
        if way_on is not None:
            way_on()

    def fade(self) -> None:
        """Put good news away."""
        if self._good:
            self.hide()
