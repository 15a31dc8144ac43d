"""The sheet's editor."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QEvent, QMimeData, QRect, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QAction,
    QColor,
    QContextMenuEvent,
    QFocusEvent,
    QHelpEvent,
    QKeyEvent,
    QKeySequence,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QTextCharFormat,
    QTextCursor,
)
from PyQt6.QtWidgets import QMenu, QPlainTextEdit, QTextEdit, QWidget

from ...display.bar_marks import BarMark, bar_marks
from ...display.hints import Completion, completions, sign_hint
from ...files import storable
from ...sheet import Severity
from ...sheet.lines import commented, line_moved
from ..actions import ActionSpec
from ..clicks import add_line
from ..document import Document
from ..escape import asks_for_escape
from ..plain_text import show_hint
from ..theme import Look, mixed
from .colours import SheetColours
from .completion import CompletionList

__all__ = ["SheetEditor"]

_MARK = {Severity.ERROR: "wrong", Severity.WARNING: "doubtful", Severity.HINT: "right"}


class SheetEditor(QPlainTextEdit):
    """The document's text, with squiggles under findings, a wash under the chosen notes, and a margin of bars.

    ``caret_moved`` carries the span of the text that is selected, in characters; empty at a caret.
    """

    caret_moved = pyqtSignal(int, int)
    typed = pyqtSignal(int)
    """Something was typed and drawn; carries the offset of the caret."""
    sound_tried = pyqtSignal(str)
    """A sound looked at in the completions is to be heard."""
    list_pasted = pyqtSignal(int, int, str)
    """A list from elsewhere was pasted between two offsets; the text is the sheet it means."""

    def __init__(self, document: Document, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Sheet")
        self._document = document
        self._look = look
        self.setDocument(document.text_document)
        self._colours = SheetColours(document.text_document, look)
        self._margin = _Margin(self)
        self.completions = CompletionList(self)
        self.completions.accepted.connect(self._complete)
        self.completions.tried.connect(self.sound_tried)
        self._marks: dict[int, BarMark] = {}
        self._typing = False  # whether the text changes because a key was pressed here
        self._marked_spans: list[tuple[int, int]] = []
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.setTabChangesFocus(True)
        self.setPlaceholderText("Type notes here: C4 D4 E4=2 | or numbers: 60 62 64=2 |")
        self.updateRequest.connect(self._scrolled)
        self.cursorPositionChanged.connect(self._caret_changed)
        self.selectionChanged.connect(self._caret_changed)
        self._caret_span = (0, 0)
        document.reading_changed.connect(self.show_reading)
        document.text_document.contentsChanged.connect(self._caret_changed)  # the document has read it by then
        self.set_look(look)
        self.show_reading()

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Return the actions on the text at the caret."""
        keys = QKeySequence.StandardKey
        return (
            ActionSpec("sheet.select-all", "edit/clipboard", "Select &all", keys.SelectAll, "Select the whole sheet",
                       self.selectAll),
            ActionSpec("sheet.complete", "edit/findings", "Complete &here", "Ctrl+Space",
                       "Offer what could stand at the caret", self.complete),
            ActionSpec("sheet.fixes", "edit/findings", "Fi&xes here", "F2", "The fixes of the findings at the caret",
                       self.show_fixes),
            ActionSpec("sheet.comment", "edit/lines", "Toggle co&mment", "Ctrl+K",
                       "Make the lines comments, or no longer", self.toggle_comment),
            ActionSpec("sheet.up", "edit/lines", "Move lines u&p", "Alt+Up", "Move the lines up by one",
                       partial(self.move_lines, False)),
            ActionSpec("sheet.down", "edit/lines", "Move lines &down", "Alt+Down", "Move the lines down by one",
                       partial(self.move_lines, True)),
        )  # fmt: skip

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look = look
        self.setFont(look.fixed_font(14))
        self._use_font(look)
        self._colours.set_look(look)
        self.setViewportMargins(self.margin_width(), 0, 0, 0)
        self._mark_text()

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.FontChange:
            self._use_font(self._look)  # Qt has just given the text the widget's font

    def _use_font(self, look: Look) -> None:
        """The text's own font, which a style sheet does not reach."""
        self._document.text_document.setDefaultFont(look.fixed_font(14))
        self._document.text_document.setDocumentMargin(look.px(8))

    def margin_width(self) -> int:
        """Pixels of the margin of bars."""
        return self._look.px(64)

    def show_reading(self) -> None:
        """Mark the text as the document now reads."""
        self._marks = bar_marks(self._document.reading)
        # the marked spans, counted in the text before
        self._marked_spans = []
        self._caret_span = self._selection()
        self._colours.set_phrases(frozenset(self._document.reading.sheet.phrases))
        self._mark_text()
        self._margin.update()
        self.caret_moved.emit(*self._caret_span)
        if self._typing and self.hasFocus():
            QTimer.singleShot(0, lambda: self.typed.emit(self.caret))

    def show_ink(self, spans: list[tuple[int, int]]) -> None:
        """Lay a wash under the text of the notes that are chosen or sound."""
        if spans != self._marked_spans:
            self._marked_spans = spans
            self._mark_text()

    def write_at(self, start: int, end: int) -> None:
        """Select characters, to write there."""
        self.select(start, end)
        self.setFocus()

    def select(self, start: int, end: int) -> None:
        """Select characters and bring them into view."""
        cursor = self.textCursor()
        last = len(self._document.text)
        cursor.setPosition(self._document.to_qt(min(start, last)))
        cursor.setPosition(self._document.to_qt(min(end, last)), QTextCursor.MoveMode.KeepAnchor)
        self.setTextCursor(cursor)
        self.ensureCursorVisible()

    @property
    def caret(self) -> int:
        """The offset of the caret in characters."""
        return self._document.from_qt(self.textCursor().position())

    def complete(self) -> None:
        """Offer what could stand at the caret."""
        found = completions(self._document.reading, self.caret)
        self.completions.offer(found, self.cursorRect().bottomLeft())

    def toggle_comment(self) -> None:
        """Make the selected lines comments, or no longer."""
        self._document.apply(commented(self._document.reading.text, *self._selection()))

    def move_lines(self, down: bool) -> None:
        """Move the selected lines down or up by one."""
        start, end = self._selection()
        edit, by = line_moved(self._document.reading.text, start, end, down)
        if edit is not None:
            self._document.apply([edit])
            self.select(start + by, end + by)

    def fixes_menu(self) -> QMenu:
        """The fixes of the findings at the caret."""
        menu = QMenu(self)
        at = self.caret
        for finding in self._document.reading.findings:
            if finding.start <= at <= finding.end:
                for fix in finding.fixes:
                    add_line(menu, fix.title, self._document.apply, fix.edits)
        if menu.isEmpty():
            nothing = QAction("Nothing to fix here", menu)
            nothing.setEnabled(False)
            menu.addAction(nothing)
        return menu

    def show_fixes(self) -> None:
        """Open the menu of fixes below the caret."""
        self.fixes_menu().popup(self.viewport().mapToGlobal(self.cursorRect().bottomLeft()))

    def _selection(self) -> tuple[int, int]:
        cursor = self.textCursor()
        return self._document.from_qt(cursor.selectionStart()), self._document.from_qt(cursor.selectionEnd())

    def _complete(self, completion: Completion) -> None:
        cursor = self.textCursor()
        cursor.movePosition(QTextCursor.MoveOperation.Left, QTextCursor.MoveMode.KeepAnchor, completion.replaces)
        cursor.insertText(completion.text)
        self.completions.hide()

    def _caret_changed(self) -> None:
        if not self._document.is_read or (span := self._selection()) == self._caret_span:
            return  # Qt tells of one move twice: as the caret's and as the selection's
        before = self._marked_spans
        self._caret_span = span
        self.caret_moved.emit(*span)
        if self._marked_spans is before:  # otherwise showing the new spans has marked the text already
            self._mark_text()

    def _mark_text(self) -> None:
        text = self._document.reading.text
        marks = []
        for start, end in self._marked_spans:
            style = QTextCharFormat()
            style.setBackground(self._look.wash)
            marks.append(self._extra(start, end, style))
        for finding in self._document.reading.findings[:500]:
            style = QTextCharFormat()
            style.setUnderlineStyle(QTextCharFormat.UnderlineStyle.WaveUnderline)
            style.setUnderlineColor(self._look.color(_MARK[finding.severity]))
            end = finding.end if finding.end > finding.start else min(len(text), finding.start + 1)
            marks.append(self._extra(finding.start, end, style))
        self.setExtraSelections(marks + self._bracket_marks())

    def _bracket_marks(self) -> list[QTextEdit.ExtraSelection]:
        """A box around the bracket before the caret, or after it, and its partner."""
        text = self._document.reading.text
        at = self.caret
        for place in (at - 1, at):
            partner = bracket_partner(text, place)
            if partner is not None:
                style = QTextCharFormat()
                style.setBackground(self._look.wash)
                style.setFontWeight(700)
                return [self._extra(each, each + 1, style) for each in (place, partner)]
        return []

    def _extra(self, start: int, end: int, style: QTextCharFormat) -> QTextEdit.ExtraSelection:
        mark = QTextEdit.ExtraSelection()
        cursor = QTextCursor(self._document.text_document)
        cursor.setPosition(self._document.to_qt(start))
        cursor.setPosition(self._document.to_qt(end), QTextCursor.MoveMode.KeepAnchor)
        mark.cursor = cursor
        mark.format = style
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

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if self.completions.take_key(event):
            return
        self._typing = True
        super().keyPressEvent(event)
        self._typing = False
        typed = event.text()
        if typed and (typed.isalpha() or typed in "[{:") and self._asks_for_completion():
            self.complete()
        elif not self.completions.isHidden():
            self.completions.hide()

    def insertFromMimeData(self, source: QMimeData | None) -> None:
        if source is None:
            return
        start = self._selection()[0]
        plain = QMimeData()
        plain.setText(storable(source.text()))
        super().insertFromMimeData(plain)
        alone = self.toPlainText().strip() == plain.text().strip()
        from ...incoming import pasted

        sheet = pasted(plain.text(), alone)
        if sheet is not None:
            self.list_pasted.emit(start, self.caret, sheet)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.completions.hide()
        super().focusOutEvent(event)

    def viewport(self) -> QWidget:
        """The widget inside the scroll bars, which is always there."""
        found = super().viewport()
        assert found is not None
        return found

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        assert event is not None
        self.setTextCursor(self.cursorForPosition(event.pos()))
        menu = self.createStandardContextMenu()
        assert menu is not None
        fixes = self.fixes_menu()
        fixes.setTitle("Fixes")
        menu.insertMenu(menu.actions()[0], fixes)
        menu.exec(event.globalPos())

    def _asks_for_completion(self) -> bool:
        """Return whether enough is typed for completions to help rather than bother."""
        before = self.textCursor().block().text()[: self.textCursor().positionInBlock()]
        word = before.split()[-1] if before.split() else ""
        return "[" in word or "{" in word or ":" in before or (len(word) >= 2 and word.isalpha())

    def focusNextPrevChild(self, next: bool) -> bool:
        if next and self.completions.take_tab():
            return True
        return super().focusNextPrevChild(next)

    def event(self, event: QEvent | None) -> bool:
        if event is not None and asks_for_escape(event) and not self.completions.isHidden():
            event.accept()
            return True
        if event is not None and event.type() == QEvent.Type.ToolTip:
            assert isinstance(event, QHelpEvent)
            place = self.viewport().mapFromGlobal(event.globalPos())
            at = self._document.from_qt(self.cursorForPosition(place).position())
            said = [
                finding.message for finding in self._document.reading.findings if finding.start <= at <= finding.end
            ]
            hint = sign_hint(self._document.reading, at, at)
            show_hint(event.globalPos(), "\n".join([*said, *([hint] if hint else [])]))
            return True
        return super().event(event)

    def paint_margin(self, event: QPaintEvent) -> None:
        """Draw the margin: for each line its bars, ticked where they are full."""
        painter = QPainter(self._margin)
        look = self._look
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


def bracket_partner(text: str, place: int) -> int | None:
    """Where the partner of the bracket at an offset stands; None where there is no bracket or no partner."""
    pairs = {"(": ")", "[": "]", "{": "}"}
    sign = text[place : place + 1] if place >= 0 else ""
    if sign in pairs:
        opening = sign
        closing = pairs[sign]
        step = 1
    elif sign in pairs.values():
        opening = sign
        closing = next(first for first, last in pairs.items() if last == sign)
        step = -1
    else:
        return None
    depth = 0
    while 0 <= place < len(text):
        depth += (text[place] == opening) - (text[place] == closing)
        if depth == 0:
            return place
        place += step
    return None


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
