"""The sheet's editor."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent, QTextCharFormat, QTextCursor
from PyQt6.QtWidgets import QPlainTextEdit, QTextEdit, QToolTip, QWidget

from ...sheet import Severity
from ..document import Document
from ..theme import Look, mixed
from .bar_marks import BarMark, bar_marks
from .colours import SheetColours

__all__ = ["SheetEditor"]

_MARK = {Severity.ERROR: "wrong", Severity.WARNING: "doubtful", Severity.HINT: "right"}


class SheetEditor(QPlainTextEdit):
    """The document's text, with squiggles under findings, a wash under the chosen notes, and a margin of bars.

    ``caret_moved`` carries the span of the text that is selected, in characters; empty at a caret.
    """

    caret_moved = pyqtSignal(int, int)

    def __init__(self, document: Document, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Sheet")
        self._document = document
        self._look = look
        self.setDocument(document.text_document)
        self._colours = SheetColours(document.text_document, look)
        self._margin = _Margin(self)
        self._marks: dict[int, BarMark] = {}
        self._ink: list[tuple[int, int]] = []
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.setTabChangesFocus(True)
        self.setPlaceholderText("Type notes here: C4 D4 E4=2 | or numbers: 60 62 64=2 |")
        self.updateRequest.connect(self._scrolled)
        self.cursorPositionChanged.connect(self._caret_changed)
        self.selectionChanged.connect(self._caret_changed)
        document.reading_changed.connect(self.show_reading)
        self.set_look(look)
        self.show_reading()

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look = look
        self.setFont(look.fixed_font(14))
        self.document_font(look)
        self._colours.set_look(look)
        self.setViewportMargins(self.margin_width(), 0, 0, 0)
        self._mark_text()

    def document_font(self, look: Look) -> None:
        """The text's own font, which a style sheet does not reach."""
        self._document.text_document.setDefaultFont(look.fixed_font(14))
        self._document.text_document.setDocumentMargin(look.px(8))

    def margin_width(self) -> int:
        """Pixels of the margin of bars."""
        return self._look.px(64)

    def show_reading(self) -> None:
        """Mark the text as the document now reads."""
        self._marks = bar_marks(self._document.reading)
        self._ink = []  # it counted in the text before
        self._mark_text()
        self._margin.update()

    def show_ink(self, spans: list[tuple[int, int]]) -> None:
        """Lay a wash under the text of the notes that are chosen or sound."""
        if spans != self._ink:
            self._ink = spans
            self._mark_text()

    def select(self, start: int, end: int) -> None:
        """Select characters and bring them into view."""
        cursor = self.textCursor()
        cursor.setPosition(self._document.to_qt(start))
        cursor.setPosition(self._document.to_qt(end), QTextCursor.MoveMode.KeepAnchor)
        self.setTextCursor(cursor)
        self.ensureCursorVisible()

    def _caret_changed(self) -> None:
        cursor = self.textCursor()
        self.caret_moved.emit(
            self._document.from_qt(cursor.selectionStart()), self._document.from_qt(cursor.selectionEnd())
        )

    def _mark_text(self) -> None:
        text = self._document.reading.text
        marks = []
        for start, end in self._ink:
            style = QTextCharFormat()
            style.setBackground(self._look.wash)
            marks.append(self._extra(start, end, style))
        for finding in self._document.reading.findings[:500]:
            style = QTextCharFormat()
            style.setUnderlineStyle(QTextCharFormat.UnderlineStyle.WaveUnderline)
            style.setUnderlineColor(self._look.color(_MARK[finding.severity]))
            end = finding.end if finding.end > finding.start else min(len(text), finding.start + 1)
            marks.append(self._extra(finding.start, end, style))
        self.setExtraSelections(marks)

    def _extra(self, start: int, end: int, style: QTextCharFormat) -> QTextEdit.ExtraSelection:
        mark = QTextEdit.ExtraSelection()
        cursor = QTextCursor(self._document.text_document)
        cursor.setPosition(self._document.to_qt(start))
        cursor.setPosition(self._document.to_qt(end), QTextCursor.MoveMode.KeepAnchor)
        mark.cursor, mark.format = cursor, style  # type: ignore[misc]
        return mark

    def _scrolled(self, rect: QRect, dy: int) -> None:
        if dy:
            self._margin.scroll(0, dy)
        else:
            self._margin.update(0, rect.y(), self._margin.width(), rect.height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        inside = self.contentsRect()
        self._margin.setGeometry(inside.left(), inside.top(), self.margin_width(), inside.height())

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ToolTip:
            place = self.viewport().mapFromGlobal(event.globalPos())  # type: ignore[attr-defined]
            at = self._document.from_qt(self.cursorForPosition(place).position())
            said = [
                finding.message for finding in self._document.reading.findings if finding.start <= at <= finding.end
            ]
            QToolTip.showText(event.globalPos(), "\n".join(said))  # type: ignore[attr-defined]
            return True
        return super().event(event)

    def paint_margin(self, event: QPaintEvent) -> None:
        """Draw the margin: for each line its bars, ticked where they are full."""
        painter, look = QPainter(self._margin), self._look
        painter.fillRect(event.rect(), mixed(look.theme.shade, look.theme.paper, 0.8))
        painter.setFont(look.font(11))
        block = self.firstVisibleBlock()
        offset = self.contentOffset()
        while block.isValid():
            box = self.blockBoundingGeometry(block).translated(offset)
            if box.top() > event.rect().bottom():
                break
            mark = self._marks.get(block.blockNumber() + 1)
            if mark is not None:
                painter.setPen(QColor(look.color("right" if mark.full else "wrong")))
                painter.drawText(
                    QRectF(0, box.top(), self._margin.width() - look.px(7), box.height()),
                    Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                    mark.text,
                )
            block = block.next()
        painter.setPen(look.color("line"))
        painter.drawLine(self._margin.width() - 1, 0, self._margin.width() - 1, self._margin.height())


class _Margin(QWidget):
    def __init__(self, editor: SheetEditor) -> None:
        super().__init__(editor)
        self._editor = editor
        self.setToolTip("The bars each line ends; ✓ where they hold what the meter asks for")

    def sizeHint(self) -> QSize:
        return QSize(self._editor.margin_width(), 0)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if event is not None:
            self._editor.paint_margin(event)
