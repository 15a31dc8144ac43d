"""A program's text with line numbers, its faults and differences marked."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QHelpEvent, QPainter, QPaintEvent, QResizeEvent, QTextCharFormat, QTextCursor
from PyQt6.QtWidgets import QPlainTextEdit, QTextEdit, QWidget

from ...display.program_view import Mark
from ..plain_text import show_hint
from ..theme import Look, mixed
from ..utf16 import to_qt

__all__ = ["CodeView"]


class CodeView(QPlainTextEdit):
    """Shows a text that is never changed. ``line_chosen`` carries the line of the caret, from 1."""

    line_chosen = pyqtSignal(int)

    def __init__(self, look: Look) -> None:
        super().__init__()
        self.setReadOnly(True)
        self.setTextInteractionFlags(
            Qt.TextInteractionFlag.TextSelectableByMouse | Qt.TextInteractionFlag.TextSelectableByKeyboard
        )
        self.setAccessibleName("The program")
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self._look = look
        self._marks: Sequence[Mark] = ()
        self._margin = _LineNumbers(self)
        self.updateRequest.connect(self._scrolled)
        self.cursorPositionChanged.connect(self._caret_moved)
        self.set_look(look)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look = look
        self.setFont(look.fixed_font(13))
        self.setTabStopDistance(4 * self.fontMetrics().horizontalAdvance(" "))
        document = self.document()
        assert document is not None
        document.setDefaultFont(look.fixed_font(13))
        document.setDocumentMargin(look.px(6))
        self._make_room()
        self._mark_text()

    def show_text(self, text: str, marks: Sequence[Mark]) -> bool:
        """Show a program; returns whether it is another text than before."""
        self._marks = marks
        is_other = self.toPlainText() != text
        if is_other:
            self.setPlainText(text)
        self._make_room()
        self._mark_text()
        return is_other

    def reveal(self, mark: Mark) -> None:
        """Bring a mark into view and put the caret there."""
        cursor = self.textCursor()
        cursor.setPosition(to_qt(mark.start, self.toPlainText()))
        self.setTextCursor(cursor)
        self.centerCursor()

    def go_to(self, mark: Mark) -> None:
        """Bring a mark into view and let it be read by the keys."""
        self.reveal(mark)
        self.setFocus()

    @property
    def line(self) -> int:
        """The caret's line, from 1."""
        return self.textCursor().blockNumber() + 1

    def _caret_moved(self) -> None:
        self._margin.update()
        self.line_chosen.emit(self.line)

    def _mark_text(self) -> None:
        """Squiggles under what is marked, and a wash over its lines."""
        found = []
        text = self.toPlainText()
        for mark in self._marks:
            start = to_qt(mark.start, text)
            colour = self._look.color("wrong" if mark.is_fault else "doubtful")
            line = QTextEdit.ExtraSelection()
            line.cursor = QTextCursor(self.document())
            line.cursor.setPosition(start)
            line.format.setProperty(QTextCharFormat.Property.FullWidthSelection, True)
            line.format.setBackground(mixed(colour.name(), self._look.theme.page, 0.12))
            found.append(line)
            under = QTextEdit.ExtraSelection()
            under.cursor = QTextCursor(self.document())
            under.cursor.setPosition(start)
            under.cursor.setPosition(to_qt(mark.end, text), QTextCursor.MoveMode.KeepAnchor)
            under.format.setUnderlineStyle(QTextCharFormat.UnderlineStyle.WaveUnderline)
            under.format.setUnderlineColor(colour)
            found.append(under)
        self.setExtraSelections(found)
        self._margin.update()

    # The margin

    @property
    def margin_width(self) -> int:
        """Pixels of the line numbers."""
        return self.fontMetrics().horizontalAdvance("0" * max(2, len(str(self.blockCount())))) + self._look.px(22)

    def _make_room(self) -> None:
        self.setViewportMargins(self.margin_width, 0, 0, 0)
        self._place_margin()

    def _place_margin(self) -> None:
        inner = self.contentsRect()
        self._margin.setGeometry(inner.left(), inner.top(), self.margin_width, inner.height())

    def _scrolled(self) -> None:
        self._margin.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._place_margin()

    def paint_margin(self, event: QPaintEvent) -> None:
        """Draw the numbers of the lines, with a dot where something is said."""
        painter = QPainter(self._margin)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look = self._look
        painter.fillRect(event.rect(), mixed(look.theme.shade, look.theme.paper, 0.8))
        painter.setFont(look.fixed_font(11))
        wide = self._margin.width()
        marked = {mark.line: mark.is_fault for mark in self._marks}
        block = self.firstVisibleBlock()
        offset = self.contentOffset()
        while block.isValid():
            box = self.blockBoundingGeometry(block).translated(offset)
            if box.top() > event.rect().bottom():
                break
            number = block.blockNumber() + 1
            painter.setPen(QColor(look.color("ink" if number == self.line else "grey")))
            room = QRectF(0, box.top(), wide - look.px(8), box.height())
            painter.drawText(room, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, str(number))
            if number in marked:
                size = look.px(6)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(look.color("wrong" if marked[number] else "doubtful"))
                painter.drawEllipse(QRectF(look.px(4), box.top() + (box.height() - size) / 2, size, size))
            block = block.next()
        painter.setPen(look.color("line"))
        painter.drawLine(wide - 1, 0, wide - 1, self._margin.height())

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ToolTip:
            assert isinstance(event, QHelpEvent)
            surface = self.viewport()
            assert surface is not None
            at = self.cursorForPosition(surface.mapFromGlobal(event.globalPos())).blockNumber() + 1
            show_hint(event.globalPos(), "\n".join(mark.sentence for mark in self._marks if mark.line == at))
            return True
        return super().event(event)


class _LineNumbers(QWidget):
    def __init__(self, view: CodeView) -> None:
        super().__init__(view)
        self._view = view

    def sizeHint(self) -> QSize:
        return QSize(self._view.margin_width, 0)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if event is not None:
            self._view.paint_margin(event)
