"""The list of what could stand at the caret."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QListWidget, QListWidgetItem, QPlainTextEdit

from ...display.hints import Completion

__all__ = ["CompletionList"]

_MOST_ROWS = 8
_COMPLETION = Qt.ItemDataRole.UserRole


class CompletionList(QListWidget):
    """Floats below the caret. Nothing is chosen until an arrow key chooses it, so that Return stays Return.

    ``accepted`` carries the Completion taken; ``tried`` a sound that is being looked at.
    """

    accepted = pyqtSignal(object)
    tried = pyqtSignal(str)

    def __init__(self, editor: QPlainTextEdit) -> None:
        super().__init__(editor.viewport())
        self.setObjectName("completions")
        self.setAccessibleName("Completions")
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.itemClicked.connect(lambda item: self.accepted.emit(item.data(_COMPLETION)))
        self.currentItemChanged.connect(self._current_changed)
        self.hide()

    def offer(self, found: list[Completion], below: QPoint) -> None:
        """Show completions with a line on each, or nothing where there are none."""
        self.clear()
        widest = max((len(completion.text) for completion in found), default=0)
        for completion in found:
            item = QListWidgetItem(f"{completion.text:<{widest}}   {completion.about}".rstrip())
            item.setData(_COMPLETION, completion)
            self.addItem(item)
        self.setCurrentRow(-1)
        if not found:
            self.hide()
            return
        rows = min(_MOST_ROWS, len(found))
        parent = self.parentWidget()
        assert parent is not None
        height = rows * self.sizeHintForRow(0) + 2 * self.frameWidth()
        width = min(parent.width() - 8, self.sizeHintForColumn(0) + 28)
        top = (
            below.y()
            if below.y() + height <= parent.height()
            else max(0, below.y() - height - self.fontMetrics().height() - 6)
        )
        self.setGeometry(max(0, min(below.x(), parent.width() - width - 4)), top, width, height)
        self.show()
        self.raise_()

    def take_key(self, event: QKeyEvent) -> bool:
        """Use a key that was pressed in the editor, if it is for the list."""
        if self.isHidden():
            return False
        key = event.key()
        row = self.currentRow()
        if key == Qt.Key.Key_Escape:
            self.hide()
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            step = 1 if key == Qt.Key.Key_Down else -1
            first = 0 if step > 0 else self.count() - 1
            self.setCurrentRow((row + step) % self.count() if row >= 0 else first)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and row >= 0:
            self.take_tab()
        else:
            return False
        return True

    def take_tab(self) -> bool:
        """Take the completion that is chosen, or else the first; whether there is one."""
        if self.isHidden():
            return False
        item = self.item(max(self.currentRow(), 0))
        if item is not None:
            self.accepted.emit(item.data(_COMPLETION))
        return item is not None

    def _current_changed(self, item: QListWidgetItem | None) -> None:
        if item is not None and item.data(_COMPLETION) is not None and item.data(_COMPLETION).sound:
            self.tried.emit(item.data(_COMPLETION).sound)
