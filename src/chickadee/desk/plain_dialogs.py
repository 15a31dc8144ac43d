"""Questions, forms and progress that show text as it is, whatever it holds: see ``plain_text``."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFormLayout, QInputDialog, QLabel, QLayout, QMessageBox, QProgressDialog, QWidget

from .plain_text import PlainLabel

__all__ = ["Answer", "PlainForm", "PlainProgress", "ask_for_number", "ask_for_text", "plain_question"]

Answer = QMessageBox.StandardButton
"""The buttons of a question."""

_LONGEST_QUESTION = 2_000  # characters of a message


def plain_question(window: QWidget, text: str, more: str = "") -> QMessageBox:
    """Return a message over a window, to which buttons can be added; ``more`` explains it."""
    question = QMessageBox(window)
    question.setTextFormat(Qt.TextFormat.PlainText)
    question.setText(_cut(text))
    if more:
        question.setInformativeText(_cut(more))
    _make_plain(question)
    return question


class PlainForm(QFormLayout):
    """Rows of a name and a field, whose names are never taken for HTML."""

    def addRow(self, *given: str | QWidget | QLayout) -> None:  # type: ignore[override]
        """Add a row of a name and a field, or of one widget across both columns."""
        name, *field = given
        if isinstance(name, str) and len(field) == 1:
            label = PlainLabel(name)
            label.setBuddy(field[0] if isinstance(field[0], QWidget) else None)
            super().addRow(label, field[0])  # type: ignore[arg-type]
        else:
            super().addRow(*given)  # type: ignore[arg-type]


class PlainProgress(QProgressDialog):
    """A window of progress with so many steps, and a button that cancels."""

    def __init__(self, words: str, steps: int, window: QWidget) -> None:
        super().__init__("", "Cancel", 0, steps, window)
        self.setLabel(PlainLabel())
        self.setLabelText(words)


def ask_for_text(window: QWidget, title: str, label: str, text: str = "") -> str | None:
    """Ask for a line of text; None where the user does not go on."""
    dialog = _input_dialog(window, title, label)
    dialog.setTextValue(text)
    accepted = dialog.exec()
    dialog.deleteLater()
    return dialog.textValue() if accepted else None


def ask_for_number(window: QWidget, title: str, label: str, number: int, low: int, high: int) -> int | None:
    """Ask for a whole number of a range; None where the user does not go on."""
    dialog = _input_dialog(window, title, label)
    dialog.setInputMode(QInputDialog.InputMode.IntInput)
    dialog.setIntRange(low, high)
    dialog.setIntValue(number)
    accepted = dialog.exec()
    dialog.deleteLater()
    return dialog.intValue() if accepted else None


def _input_dialog(window: QWidget, title: str, label: str) -> QInputDialog:
    dialog = QInputDialog(window)
    dialog.setWindowTitle(title)
    dialog.setLabelText("")
    _make_plain(dialog)
    dialog.setLabelText(_cut(label))
    return dialog


def _make_plain(dialog: QWidget) -> None:
    for label in dialog.findChildren(QLabel):
        label.setTextFormat(Qt.TextFormat.PlainText)


def _cut(text: str) -> str:
    return text if len(text) <= _LONGEST_QUESTION else f"{text[:_LONGEST_QUESTION]}…"
