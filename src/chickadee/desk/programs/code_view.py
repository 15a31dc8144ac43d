"""A program's text with line numbers: what is lit, what is repeated, where there are faults and differences."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import QEvent, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFont,
    QHelpEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QSyntaxHighlighter,
    QTextBlock,
    QTextCharFormat,
    QTextCursor,
    QTextDocument,
)
from PyQt6.QtWidgets import QPlainTextEdit, QTextEdit, QWidget

from ...display.program_view import Mark
from ..plain_text import show_hint
from ..theme import Look, mixed
from ..utf16 import to_qt

__all__ = ["CodeView"]

_INDENT_COLUMNS = 2  # of the bar beside what is repeated, left of the text
_SHOWN_ABOVE = 0.3  # of the height, over a line that is brought into view


class CodeView(QPlainTextEdit):
    """Shows a program. ``line_chosen`` carries the line that was clicked or reached with the keys, from 1."""

    line_chosen = pyqtSignal(int)

    def __init__(self, look: Look) -> None:
        super().__init__()
        self.setAccessibleName("The program")
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self._look = look
        self._marks: Sequence[Mark] = ()
        self._lit: Mapping[int, str] = {}
        self._repeats: Sequence[tuple[int, int, int]] = ()
        self._items: Sequence[tuple[int, int, int]] = ()
        document = self.document()
        assert document is not None
        self._emphasis = _Emphasis(document)
        self._margin = _LineNumbers(self)
        self.updateRequest.connect(self._margin.update)
        self.blockCountChanged.connect(self._make_room)
        self.cursorPositionChanged.connect(self._margin.update)
        self.set_editable(False)
        self.set_look(look)

    def set_editable(self, on: bool) -> None:
        """Let the text be written in, or only be read and copied."""
        self.setReadOnly(not on)
        if not on:
            by = Qt.TextInteractionFlag
            self.setTextInteractionFlags(by.TextSelectableByMouse | by.TextSelectableByKeyboard)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look = look
        self.setFont(look.fixed_font(13))
        self.setTabStopDistance(4 * self.fontMetrics().horizontalAdvance(" "))
        document = self.document()
        assert document is not None
        document.setDefaultFont(look.fixed_font(13))
        document.setDocumentMargin(look.px(6))
        self._emphasis.set_grey(look.color("grey"))
        self._make_room()
        self._mark_text()

    def show_text(self, text: str, marks: Sequence[Mark] = ()) -> bool:
        """Show a program; returns whether it is another text than before."""
        self._marks = marks
        is_other = self.toPlainText() != text
        if is_other:
            self._emphasis.show_lines(frozenset(), frozenset())
            self._lit = {}
            self._items = ()
            self._repeats = ()
            self.setPlainText(text)
        self._make_room()
        self._mark_text()
        return is_other

    def show_structure(
        self, repeats: Sequence[tuple[int, int, int]], heads: frozenset[int], frame: frozenset[int]
    ) -> None:
        """Draw bars beside what is repeated (first and last line, depth), heads bold, what does nothing grey."""
        self._repeats = repeats
        self._emphasis.show_lines(heads, frame)
        self._update_surface()

    def light(self, lines: Mapping[int, str], items: Sequence[tuple[int, int, int]] = ()) -> None:
        """Light some lines, with what is said at the right of each, and some items (line, columns from and to)."""
        if dict(lines) != self._lit or tuple(items) != self._items:
            self._lit = dict(lines)
            self._items = tuple(items)
            self._mark_text()

    @property
    def lit(self) -> Mapping[int, str]:
        """The lines that are lit, with what is said beside them."""
        return self._lit

    def show_line(self, line: int) -> None:
        """Bring a line into view, if it is not."""
        height = self._viewport.height()
        first = self.firstVisibleBlock().blockNumber()
        shown = max(1, int(height / max(1, self.fontMetrics().lineSpacing())) - 1)
        bar = self.verticalScrollBar()
        if bar is not None and not first <= line - 1 < first + shown:
            bar.setValue(line - 1 - int(shown * _SHOWN_ABOVE))

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

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        self.line_chosen.emit(self.line)

    def keyReleaseEvent(self, event: object) -> None:
        super().keyReleaseEvent(event)  # type: ignore[arg-type]
        keys = (
            Qt.Key.Key_Up,
            Qt.Key.Key_Down,
            Qt.Key.Key_PageUp,
            Qt.Key.Key_PageDown,
            Qt.Key.Key_Home,
            Qt.Key.Key_End,
        )
        if event.key() in keys:  # type: ignore[attr-defined]
            self.line_chosen.emit(self.line)

    @property
    def _viewport(self) -> QWidget:
        surface = self.viewport()
        assert surface is not None
        return surface

    def _update_surface(self) -> None:
        self._viewport.update()
        self._margin.update()

    # What is marked and lit

    def _mark_text(self) -> None:
        """Lit lines, squiggles under what is marked, and a wash over its lines."""
        found = [self._washed(self._line_cursor(line), self._look.wash) for line in self._lit]
        for line, start, end in self._items:
            cursor = self._line_cursor(line)
            first = cursor.position()
            cursor.setPosition(first + start)
            cursor.setPosition(first + end, QTextCursor.MoveMode.KeepAnchor)
            item = QTextEdit.ExtraSelection()
            item.cursor = cursor
            item.format.setBackground(mixed(self._look.theme.accent, self._look.theme.page, 0.45))
            found.append(item)
        text = self.toPlainText() if self._marks else ""
        for mark in self._marks:
            start = to_qt(mark.start, text)
            colour = self._look.color("wrong" if mark.is_fault else "doubtful")
            cursor = QTextCursor(self.document())
            cursor.setPosition(start)
            found.append(self._washed(cursor, mixed(colour.name(), self._look.theme.page, 0.12)))
            under = QTextEdit.ExtraSelection()
            under.cursor = QTextCursor(self.document())
            under.cursor.setPosition(start)
            under.cursor.setPosition(to_qt(mark.end, text), QTextCursor.MoveMode.KeepAnchor)
            under.format.setUnderlineStyle(QTextCharFormat.UnderlineStyle.WaveUnderline)
            under.format.setUnderlineColor(colour)
            found.append(under)
        self.setExtraSelections(found)
        self._update_surface()

    def _line_cursor(self, line: int) -> QTextCursor:
        document = self.document()
        assert document is not None
        return QTextCursor(document.findBlockByNumber(line - 1))

    def _washed(self, cursor: QTextCursor, colour: QColor) -> QTextEdit.ExtraSelection:
        """A colour over the whole of a line."""
        line = QTextEdit.ExtraSelection()
        line.cursor = cursor
        line.format.setProperty(QTextCharFormat.Property.FullWidthSelection, True)
        line.format.setBackground(colour)
        return line

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw the text, the bars beside what is repeated, and what is said at the right of lit lines."""
        super().paintEvent(event)
        if event is None or not (self._repeats or any(self._lit.values())):
            return
        painter = QPainter(self._viewport)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look = self._look
        bars = self._bars()
        right = self._viewport.width() - look.px(14)
        painter.setFont(look.font(12))
        for block, box in self._visible_blocks(event.rect().bottom()):
            number = block.blockNumber() + 1
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(look.color("accent_text"))
            for x in bars.get(number, ()):
                painter.drawRect(QRectF(x, box.top(), look.px(3), box.height()))
            said = self._lit.get(number)
            if said:
                painter.setPen(look.color("accent_text"))
                room = QRectF(0, box.top(), right, box.height())
                painter.drawText(room, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, said)

    def _bars(self) -> dict[int, list[float]]:
        """For each line the places of the bars beside it."""
        document = self.document()
        assert document is not None
        wide = self.fontMetrics().horizontalAdvance(" ")
        left = self.contentOffset().x() + document.documentMargin()
        first_seen = self.firstVisibleBlock().blockNumber() + 1
        last_seen = first_seen + self._viewport.height() // max(1, self.fontMetrics().lineSpacing()) + 1
        found: dict[int, list[float]] = {}
        for first, last, _ in self._repeats:
            if last < first_seen or first > last_seen:
                continue
            text = document.findBlockByNumber(first - 1).text()
            indent = len(text) - len(text.lstrip())
            x = left + max(0, indent - _INDENT_COLUMNS) * wide
            for line in range(max(first, first_seen), min(last, last_seen) + 1):
                found.setdefault(line, []).append(x)
        return found

    def _visible_blocks(self, bottom: int) -> list[tuple[QTextBlock, QRectF]]:
        """The blocks in view down to a height, and where they stand."""
        found = []
        block = self.firstVisibleBlock()
        offset = self.contentOffset()
        while block.isValid():
            box = self.blockBoundingGeometry(block).translated(offset)
            if box.top() > bottom:
                break
            found.append((block, box))
            block = block.next()
        return found

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
        for block, box in self._visible_blocks(event.rect().bottom()):
            number = block.blockNumber() + 1
            if number in self._lit:
                painter.fillRect(QRectF(0, box.top(), wide, box.height()), look.wash)
            painter.setPen(QColor(look.color("ink" if number == self.line or number in self._lit else "grey")))
            room = QRectF(0, box.top(), wide - look.px(8), box.height())
            painter.drawText(room, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, str(number))
            if number in marked:
                size = look.px(6)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(look.color("wrong" if marked[number] else "doubtful"))
                painter.drawEllipse(QRectF(look.px(4), box.top() + (box.height() - size) / 2, size, size))
        painter.setPen(look.color("line"))
        painter.drawLine(wide - 1, 0, wide - 1, self._margin.height())

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ToolTip:
            assert isinstance(event, QHelpEvent)
            at = self.cursorForPosition(self._viewport.mapFromGlobal(event.globalPos())).blockNumber() + 1
            show_hint(event.globalPos(), "\n".join(mark.sentence for mark in self._marks if mark.line == at))
            return True
        return super().event(event)


class _Emphasis(QSyntaxHighlighter):
    """Draws the heads of repeats and parts bold, and lines that do nothing grey."""

    def __init__(self, document: QTextDocument) -> None:
        super().__init__(document)
        self._heads: frozenset[int] = frozenset()
        self._frame: frozenset[int] = frozenset()
        self._bold = QTextCharFormat()
        self._bold.setFontWeight(QFont.Weight.Bold)
        self._grey = QTextCharFormat()

    def set_grey(self, colour: QColor) -> None:
        """Take another colour for what does nothing."""
        self._grey.setForeground(colour)
        if self._frame:
            self.rehighlight()

    def show_lines(self, heads: frozenset[int], frame: frozenset[int]) -> None:
        """Take other lines, from 1."""
        if (heads, frame) != (self._heads, self._frame):
            self._heads = heads
            self._frame = frame
            self.rehighlight()

    def highlightBlock(self, text: str | None) -> None:
        number = self.currentBlock().blockNumber() + 1
        if number in self._heads:
            self.setFormat(0, len(text or ""), self._bold)
        elif number in self._frame:
            self.setFormat(0, len(text or ""), self._grey)


class _LineNumbers(QWidget):
    def __init__(self, view: CodeView) -> None:
        super().__init__(view)
        self._view = view

    def sizeHint(self) -> QSize:
        return QSize(self._view.margin_width, 0)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if event is not None:
            self._view.paint_margin(event)
