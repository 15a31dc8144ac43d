"""Two versions of a tune side by side."""

from __future__ import annotations

from difflib import SequenceMatcher
from typing import NamedTuple

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QTextCursor, QTextFormat
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QGridLayout, QPlainTextEdit, QTextEdit, QWidget

from .clicks import on_click
from .plain_text import PlainLabel
from .theme import Look

__all__ = ["VersionsDialog", "Wording", "differing"]


class Wording(NamedTuple):
    """The names of the two versions, and of the buttons that choose one of them."""

    mine: str = "Here, on the screen"
    there: str = "In the file"
    keep: str = "Keep the one here"
    take: str = "Take the file's"


_TWO_FILES = Wording()


class VersionsDialog(QDialog):
    """Shows what differs, and asks which version is to stay."""

    MINE = 2
    FILE = 3

    def __init__(
        self, mine: str, there: str, name: str, look: Look, parent: QWidget, wording: Wording = _TWO_FILES
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Two versions of {name}")
        self.resize(look.px(900), look.px(560))
        grid = QGridLayout(self)
        lines = differing(mine.split("\n"), there.split("\n"))
        for column, (title, text) in enumerate(((wording.mine, mine), (wording.there, there))):
            view = QPlainTextEdit(text)
            view.setReadOnly(True)
            view.setAccessibleName(title)
            view.setFont(look.fixed_font(13))
            grid.addWidget(PlainLabel(title), 0, column)
            grid.addWidget(view, 1, column)
            _mark(view, lines[column], look)
        buttons = QDialogButtonBox(self)
        for text, role in ((wording.keep, self.MINE), (wording.take, self.FILE), ("Decide later", 0)):
            button = buttons.addButton(text, QDialogButtonBox.ButtonRole.ActionRole)
            assert button is not None
            on_click(button, self.done, role)
            button.setDefault(role == self.MINE)
        grid.addWidget(buttons, 2, 0, 1, 2, Qt.AlignmentFlag.AlignRight)


def differing(mine: list[str], other: list[str]) -> tuple[list[int], list[int]]:
    """The places of the lines that only one of two texts has; what is left of both is the same.

    >>> differing(["C4", "D4", "E4"], ["C4", "E4", "F4"])
    ([1], [2])
    """
    found: tuple[list[int], list[int]] = ([], [])
    for what, start, end, other_start, other_end in SequenceMatcher(None, mine, other).get_opcodes():
        if what != "equal":
            found[0].extend(range(start, end))
            found[1].extend(range(other_start, other_end))
    return found


def _mark(view: QPlainTextEdit, lines: list[int], look: Look) -> None:
    """Lay a wash over some lines, and bring the first of them into view."""
    document = view.document()
    marks = []
    assert document is not None
    for line in lines:
        mark = QTextEdit.ExtraSelection()
        mark.cursor = QTextCursor(document.findBlockByNumber(line))
        mark.format.setBackground(look.wash)
        mark.format.setProperty(QTextFormat.Property.FullWidthSelection, True)
        marks.append(mark)
    view.setExtraSelections(marks)
    if marks:
        view.setTextCursor(marks[0].cursor)
        view.centerCursor()
