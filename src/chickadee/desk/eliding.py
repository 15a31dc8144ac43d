"""A label that shortens its text where there is little room."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QWidget

from .plain_text import PlainLabel, hint_of

__all__ = ["ElidedLabel"]


class ElidedLabel(PlainLabel):
    """A label of any width; text that does not fit is shortened, and shown in full in the tooltip."""

    def __init__(self, words: str, parent: QWidget | None = None) -> None:
        super().__init__(words, parent)
        self.words = words

    def show_words(self, words: str) -> None:
        """Say something else."""
        self.words = words
        self._fit()

    def minimumSizeHint(self) -> QSize:
        return QSize(0, super().minimumSizeHint().height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        metrics = self.fontMetrics()
        margins = super().sizeHint().width() - metrics.horizontalAdvance(self.text())
        shown = metrics.elidedText(self.words, Qt.TextElideMode.ElideRight, self.width() - margins)
        self.setText(shown)
        self.setToolTip("" if shown == self.words else hint_of(self.words))
