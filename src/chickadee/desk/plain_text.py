"""Labels, hints and questions that show text as it is, whatever it holds.

Qt takes a text that looks like HTML for HTML, and then opens the pictures that it names: a title from a file could
stop the window. All words that may come from outside are shown by what stands here; ``make lint`` forbids the rest.
"""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import (
    QFormLayout,
    QInputDialog,
    QLabel,
    QLayout,
    QMessageBox,
    QProgressDialog,
    QToolTip,
    QWidget,
)

__all__ = [
    "Answer", "PlainForm", "PlainLabel", "PlainProgress", "RichLabel", "ask_for_number", "ask_for_text",
    "hide_hint", "hint_of", "plain_question", "show_hint",
]  # fmt: skip

Answer = QMessageBox.StandardButton
"""The buttons of a question."""

_LONGEST_HINT = 2_000  # characters of a tooltip
_LONGEST_QUESTION = 2_000  # characters of a message


class PlainLabel(QLabel):
    """A label whose text is never taken for HTML.

    >>> from chickadee.desk.app import application
    >>> app = application()
    >>> PlainLabel("<b>Gull</b>").textFormat().name
    'PlainText'
    """

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


class RichLabel(QLabel):
    """A label that is given HTML of ours, in which everything from outside is escaped."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.RichText)


def hint_of(text: str) -> str:
    """Return a text as a tooltip is given it: shown as it is, its lines kept.

    >>> hint_of("Night Boat"), hint_of("a < b")
    ('Night Boat', '<span style="white-space: pre-wrap">a &lt; b</span>')
    """
    short = text if len(text) <= _LONGEST_HINT else f"{text[:_LONGEST_HINT]}…"
    if "<" not in short and "&" not in short:
        return short
    return f'<span style="white-space: pre-wrap">{escape(short)}</span>'


def show_hint(at: QPoint, text: str, widget: QWidget | None = None) -> None:
    """Show a tooltip at a place on the screen; an empty text hides it."""
    QToolTip.showText(at, hint_of(text), widget)


def hide_hint() -> None:
    """Hide the tooltip, where one is shown."""
    QToolTip.hideText()


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
