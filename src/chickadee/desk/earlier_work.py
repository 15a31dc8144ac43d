"""Earlier work: what was not saved, was offered and was not wanted then."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QListWidget, QPlainTextEdit, QWidget

from .journal import LeftBehind
from .parts import answers
from .plain_text import PlainLabel
from .theme import Look

__all__ = ["EarlierWorkDialog"]

_LONGEST = 20_000  # characters of a tune that are shown


class EarlierWorkDialog(QDialog):
    """Lists earlier work, the newest first, shows what is chosen, and is accepted where it is to be brought back."""

    def __init__(self, kept: Sequence[tuple[Path, LeftBehind]], look: Look, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Earlier work")
        self.resize(look.px(820), look.px(500))
        self._kept = list(kept)
        self.list = QListWidget()
        self.list.setAccessibleName("Earlier work, the newest first")
        self.list.addItems(f"{what.name} — {what.date}" for _, what in self._kept)
        self.text = QPlainTextEdit()
        self.text.setReadOnly(True)
        self.text.setAccessibleName("The tune as it was")
        self.text.setFont(look.fixed_font(13))
        said = PlainLabel(
            "These tunes were not saved, and were not brought back when they were offered. They are kept for a year."
            if self._kept
            else "There is no earlier work: every tune was saved, or was brought back when it was offered."
        )
        said.setWordWrap(True)
        buttons, self.bring_back = answers(self, "Bring it back")
        grid = QGridLayout(self)
        grid.addWidget(said, 0, 0, 1, 2)
        grid.addWidget(self.list, 1, 0)
        grid.addWidget(self.text, 1, 1)
        grid.addWidget(buttons, 2, 0, 1, 2, Qt.AlignmentFlag.AlignRight)
        grid.setColumnStretch(0, 2)
        grid.setColumnStretch(1, 3)
        self.list.currentRowChanged.connect(self._show)
        self.list.itemActivated.connect(lambda: self.accept())
        self.list.setCurrentRow(0)
        self._show()

    @property
    def chosen(self) -> tuple[Path, LeftBehind] | None:
        """The file and the work that is chosen; None where there is none."""
        row = self.list.currentRow()
        return self._kept[row] if 0 <= row < len(self._kept) else None

    def _show(self) -> None:
        chosen = self.chosen
        self.text.setPlainText(chosen[1].text[:_LONGEST] if chosen is not None else "")
        self.bring_back.setEnabled(chosen is not None)
