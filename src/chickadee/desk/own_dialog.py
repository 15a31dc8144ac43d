"""A dialog for a teacher's own description: fields to fill in, with the tune written by them beside."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLayout,
    QLineEdit,
    QPlainTextEdit,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from ..faults import InputFault
from .plain_dialogs import PlainForm
from .plain_text import PlainLabel

__all__ = ["OwnDialog"]


class OwnDialog(QDialog):
    """Subclasses say how the sample is shown and how it is kept. ``saved`` is the name of what was kept."""

    def __init__(self, title: str, name: str, fields: Iterable[str], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.saved: str | None = None
        self.name = QLineEdit(name)
        self.name.setAccessibleName("Name of its file")
        self.tabs = QTabWidget()
        self.sample = QPlainTextEdit()
        self.sample.setReadOnly(True)
        self.sample.setAccessibleName("The tune as it is described")
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        self._known = PlainLabel(
            f"In braces: {', '.join(fields)}. \\n is a new line; a brace itself is written twice."
        )
        self._known.setWordWrap(True)
        self.name.textChanged.connect(self.show_sample)
        self.resize(980, 640)

    def lay_out(self, under_tabs: QLayout | None = None, over_sample: QWidget | None = None) -> None:
        """Lay out all, with what a subclass has under the tabs and over the sample."""
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Save | QDialogButtonBox.StandardButton.Cancel, self
        )
        buttons.accepted.connect(self.save)
        buttons.rejected.connect(self.reject)
        named = PlainForm()
        named.addRow("Name of its file", self.name)
        left = QVBoxLayout()
        left.addLayout(named)
        left.addWidget(self.tabs, 1)
        if under_tabs is not None:
            left.addLayout(under_tabs)
        right = QVBoxLayout()
        if over_sample is not None:
            right.addWidget(over_sample)
        right.addWidget(self.sample, 1)
        right.addWidget(self.said)
        row = QHBoxLayout()
        row.addLayout(left, 1)
        row.addLayout(right, 1)
        column = QVBoxLayout(self)
        column.addLayout(row, 1)
        column.addWidget(self._known)
        column.addWidget(buttons)

    def show_sample(self) -> None:
        """Show the tune by the fields as they stand, or say what is wrong with them."""
        try:
            text, said = self.written()
            self.sample.setPlainText(text)
            self.said.setText(said)
        except InputFault as fault:
            self.said.setText(str(fault))

    def written(self) -> tuple[str, str]:
        """Return the tune by the fields, and what is said about it. Raises InputFault."""
        raise NotImplementedError

    def kept(self) -> str:
        """Keep what the fields describe, and return its name. Raises InputFault."""
        raise NotImplementedError

    def save(self) -> None:
        """Keep it and close, or say why it cannot be kept."""
        try:
            self.saved = self.kept()
        except InputFault as fault:
            self.said.setText(str(fault))
        else:
            self.accept()
