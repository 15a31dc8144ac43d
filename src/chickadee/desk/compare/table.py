"""The class table: attempts down, bars across, on the timeline's own time axis where that is in sight."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from PyQt6.QtCore import QEvent, QPoint, QPointF, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QKeySequence, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QFrame

from ...attempts import Attempt, smallest_of
from ...comparison import Model
from ...comparison.differences import Kind
from ...comparison.points import Points
from ...comparison.summary import bars_right, judged_by_bar
from ...comparison.words import difference_in_words
from ...display.class_table import USES, Order, Shown, label_of, pretty, sentences_on, shown, words_on
from ..plain_text import show_hint
from ..scrolled_view import ScrolledView
from ..theme import Look, mixed
from ..time_axis import TimeAxis
from .shapes import LEGEND, draw_shape

__all__ = ["ClassTable"]

# pixels at scale 1
_ROW = 25
_HEAD = 26
# of the names, and of names and verdicts together
_NAME = 84
_SIDE = 252
_FEWEST_PROGRAMS = 4  # attempts for each program, where there are columns of what they use
_USE = 55  # of each count of what programs use
_LEAST_BAR = 26
_USUAL_BAR = 58
_EMPTY = (
    "Drop the class’s files or a folder of them here, or paste a pupil’s line: "
    "sheets, programs, tables, MIDI files and scores, mixed."
)
_LEFT = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft


class ClassTable(ScrolledView):
    """``chosen`` carries the Attempt that is looked at, ``opened`` one that is to be opened."""

    chosen = pyqtSignal(object)
    opened = pyqtSignal(object)
    bar_chosen = pyqtSignal(int)
    """The number of a bar that was clicked in an attempt's row."""
    pasted = pyqtSignal()
    """The user wants what is in the clipboard to be an attempt."""
    sorted_by = pyqtSignal(object)
    """The Order that is wished for."""

    def __init__(self, look: Look, axis: TimeAxis) -> None:
        super().__init__()
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Attempts of the class")
        self._look = look
        self._axis = axis
        self._attempts: Sequence[Attempt] = ()
        self._rows: list[int] = []
        self._model: Model | None = None
        self._totals: list[int] = []
        self._wish = Shown()
        self._points: Points | None = None
        self._has_programs = False
        """True if enough attempts are programs for columns of what they use."""
        self._smallest: int | None = None
        """Steps of the smallest program for the model; None until it is asked for."""
        self._current: tuple[str, str] | None = None
        self.aligned = False
        """True if bars stand under those of the timeline."""
        axis.moved.connect(self._follow_axis)

    # What is shown

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look = look
        self._measure()

    def set_aligned(self, on: bool) -> None:
        """Let bars stand under the timeline's, or share the width among them."""
        self.aligned = on
        self._measure()

    def show_attempts(
        self, attempts: Sequence[Attempt], model: Model, wish: Shown, points: Points | None = None
    ) -> None:
        """Show some attempts of these, with their points where there is a rule for them."""
        if model is not self._model:
            self._smallest = None
        self._attempts = attempts
        self._model = model
        self._wish = wish
        self._points = points
        self._rows = shown(attempts, wish)
        self._totals = bars_right([each.comparison for each in attempts], len(model.bars))
        programs = sum(each.program is not None for each in attempts)
        self._has_programs = programs > 0 and programs * _FEWEST_PROGRAMS >= len(attempts)
        if self._has_programs and self._smallest is None:
            self._smallest = smallest_of(model)
        self._measure()

    def show_chosen(self, attempt: Attempt | None) -> None:
        """Mark an attempt, and scroll to it."""
        self._current = attempt.source.key if attempt is not None else None
        place = self._place
        if place is not None:
            top = place * self._look.px(_ROW)
            bar = self.verticalScrollBar()
            assert bar is not None
            room = self.viewport().height() - self._look.px(_HEAD)
            if top < bar.value():
                bar.setValue(top)
            elif top + self._look.px(_ROW) > bar.value() + room:
                bar.setValue(top + self._look.px(_ROW) - room)
        self._describe(attempt)
        self.viewport().update()

    @property
    def shown_attempts(self) -> list[Attempt]:
        """The attempts in the order in which they are shown."""
        return [self._attempts[index] for index in self._rows]

    @property
    def _place(self) -> int | None:
        keys = [self._attempts[index].source.key for index in self._rows]
        return keys.index(self._current) if self._current in keys else None

    def _describe(self, attempt: Attempt | None) -> None:
        said = f"{label_of(attempt)}: {attempt.comparison.sentence}" if attempt is not None else ""
        self.setAccessibleDescription(said)

    # Geometry

    @property
    def _side(self) -> int:
        """Pixels of names and verdicts."""
        least = self._least_side
        if not self.aligned:
            return least
        return max(least, self._axis.left - self.viewport().mapToGlobal(QPoint(0, 0)).x())

    @property
    def _least_side(self) -> int:
        return self._look.px(_SIDE) + self._uses_width

    @property
    def _uses_width(self) -> int:
        """Pixels of the columns of what programs use."""
        return len(USES) * self._look.px(_USE) if self._has_programs else 0

    @property
    def _verdict_end(self) -> int:
        """The pixel at which the verdict's column ends."""
        return self._side - self._uses_width

    def bar_span(self, place: int) -> tuple[float, float]:
        """The left and right edge of a bar by its place, in pixels of the table."""
        assert self._model is not None
        if self.aligned:
            grid = self._model.song.grid
            number = self._model.bars[place]
            here = self.viewport().mapToGlobal(QPoint(0, 0)).x()
            return self._axis.x(grid.start(number)) - here, self._axis.x(grid.end(number)) - here
        across = self.horizontalScrollBar()
        assert across is not None
        left = self._side + place * self._bar_width - across.value()
        return left, left + self._bar_width

    @property
    def _bar_width(self) -> float:
        count = len(self._model.bars) if self._model is not None else 0
        room = (self.viewport().width() - self._least_side) / max(1, count)
        return min(self._look.px(_USUAL_BAR) * 2, max(self._look.px(_LEAST_BAR), room))

    def _measure(self) -> None:
        down = self.verticalScrollBar()
        across = self.horizontalScrollBar()
        assert down is not None
        assert across is not None
        px = self._look.px
        self._axis.want(self._least_side if self.aligned else 0)
        surface = self.viewport()
        room = surface.height() - px(_HEAD)
        down.setRange(0, max(0, len(self._rows) * px(_ROW) - room))
        down.setSingleStep(px(_ROW))
        down.setPageStep(max(1, room))
        count = len(self._model.bars) if self._model is not None else 0
        wide = 0 if self.aligned else round(count * self._bar_width) - (surface.width() - self._side)
        across.setRange(0, max(0, wide))
        across.setPageStep(max(1, surface.width() - self._side))
        self.viewport().update()

    def _follow_axis(self) -> None:
        if self.aligned and self.isVisible():
            self.viewport().update()

    def _row_at(self, y: int) -> int | None:
        down = self.verticalScrollBar()
        assert down is not None
        place = (y - self._look.px(_HEAD) + down.value()) // self._look.px(_ROW)
        return place if y >= self._look.px(_HEAD) and 0 <= place < len(self._rows) else None

    def _bar_at(self, x: int) -> int | None:
        if self._model is None or x < self._side:
            return None
        return next(
            (
                place
                for place in range(len(self._model.bars))
                if self.bar_span(place)[0] <= x < self.bar_span(place)[1]
            ),
            None,
        )

    def sizeHint(self) -> QSize:
        return QSize(self._look.px(640), self._look.px(200))

    def minimumSizeHint(self) -> QSize:
        return QSize(self._look.px(280), self._look.px(_HEAD + 2 * _ROW))

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport())
        look = self._look
        painter.fillRect(self.viewport().rect(), look.color("page"))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        down = self.verticalScrollBar()
        assert down is not None
        high = look.px(_ROW)
        head = look.px(_HEAD)
        painter.setClipRect(0, head, self.viewport().width(), self.viewport().height() - head)
        first = down.value() // high
        last = min(len(self._rows), first + self.viewport().height() // high + 2)
        for place in range(first, last):
            row = QRect(0, head + place * high - down.value(), self.viewport().width(), high)
            self._paint_row(painter, row, place, self._attempts[self._rows[place]])
        self._paint_bar_lines(painter)
        painter.setClipping(False)
        if self._attempts:
            self._paint_legend(painter)
        if self._attempts:
            self._paint_head(painter)
        else:
            self._paint_empty(painter)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(look.color("accent"), 2))
            painter.drawRect(self.viewport().rect().adjusted(1, 1, -1, -1))

    def _paint_empty(self, painter: QPainter) -> None:
        look = self._look
        painter.setPen(look.color("grey"))
        painter.setFont(look.font(14))
        room = self.viewport().rect().adjusted(look.px(24), 0, -look.px(24), 0)
        flags = int(Qt.AlignmentFlag.AlignCenter) | int(Qt.TextFlag.TextWordWrap)
        painter.drawText(room, flags, _EMPTY)

    def _paint_legend(self, painter: QPainter) -> None:
        """Draw the legend where there is room under the last row."""
        look = self._look
        top = self._look.px(_HEAD) + len(self._rows) * self._look.px(_ROW)
        high = look.px(_HEAD)
        if top + 2 * high > self.viewport().height():
            return
        painter.setFont(look.font(11.5))
        x, y = look.px(18), self.viewport().height() - high
        for text, what in LEGEND.items():
            draw_shape(painter, look, what, QPointF(x, y + high / 2))
            painter.setPen(look.color("grey"))
            wide = painter.fontMetrics().horizontalAdvance(text)
            painter.drawText(QRectF(x + look.px(12), y, wide + 2, high), _LEFT, text)
            x += wide + look.px(40)

    def _paint_head(self, painter: QPainter) -> None:
        """How many have each bar right, as a bar and as a number."""
        look = self._look
        head = QRect(0, 0, self.viewport().width(), look.px(_HEAD))
        painter.fillRect(head, look.color("shade"))
        painter.setFont(look.font(11.5))
        judged = sum(judged_by_bar(each.comparison) for each in self._attempts)
        side = self._side
        painter.setClipRect(QRect(side, 0, head.width() - side, head.height()))
        for place, count in enumerate(self._totals):
            left, right = self.bar_span(place)
            if right < side or left > head.width():
                continue
            number = f"{count}"
            wide = painter.fontMetrics().horizontalAdvance(number)
            room = right - left - wide - look.px(16)
            if room > look.px(12):
                bar = QRectF(left + look.px(4), look.px(9), room * count / max(1, judged), look.px(8))
                painter.fillRect(
                    QRectF(bar.left(), bar.top(), room, bar.height()), mixed(look.theme.line, look.theme.page, 0.6)
                )
                painter.fillRect(bar, mixed(look.theme.right, look.theme.page, 0.6))
            painter.setPen(look.color("ink"))
            painter.drawText(
                QRectF(left, 0, right - left - look.px(5), head.height()),
                Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                number,
            )
        painter.setClipping(False)
        painter.setPen(look.color("grey"))
        mark = "▾" if self._wish.order.falling else "▴"
        by = self._wish.order.by
        painter.drawText(
            QRectF(look.px(12), 0, look.px(_NAME), head.height()), _LEFT, f"Attempt {mark if by == 'name' else ''}"
        )
        end = self._verdict_end
        painter.drawText(
            QRectF(look.px(12 + _NAME), 0, end - look.px(16 + _NAME), head.height()),
            _LEFT,
            f"Verdict {mark if by == 'verdict' else ''}",
        )
        right = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
        if self._has_programs:
            for place, word in enumerate(USES):
                text = f"{word} {mark}" if by == word else word
                painter.drawText(self._use_room(place, 0, head.height()), right, text)
        else:
            painter.drawText(QRectF(0, 0, side - look.px(8), head.height()), right, "have it right")
        painter.setPen(look.color("line"))
        painter.drawLine(head.bottomLeft(), head.bottomRight())

    def _paint_row(self, painter: QPainter, row: QRect, place: int, attempt: Attempt) -> None:
        look = self._look
        comparison = attempt.comparison
        if attempt.source.key == self._current:
            painter.fillRect(row, look.wash)
        elif place % 2:
            painter.fillRect(row, mixed(look.theme.shade, look.theme.page, 0.45))
        side = self._side
        painter.setClipRect(QRect(side, row.top(), row.width() - side, row.height()), Qt.ClipOperation.IntersectClip)
        painter.setFont(look.font(11.5))
        if judged_by_bar(comparison):
            self._paint_cells(painter, row, attempt)
        painter.setClipRect(0, look.px(_HEAD), self.viewport().width(), self.viewport().height() - look.px(_HEAD))
        painter.setFont(look.font(13, bold=True))
        painter.setPen(look.color("ink"))
        self._write(painter, QRectF(look.px(12), row.top(), look.px(_NAME - 6), row.height()), label_of(attempt))
        painter.setFont(look.font(11.5))
        verdict = comparison.verdict
        judged = "right" if verdict.is_right else "wrong"
        painter.setPen(look.color("grey" if verdict.value in ("unreadable", "another-tune") else judged))
        self._write(
            painter,
            QRectF(look.px(12 + _NAME), row.top(), self._verdict_end - look.px(18 + _NAME), row.height()),
            words_on(attempt, self._points),
        )
        self._paint_uses(painter, row, attempt)

    def _use_room(self, place: int, top: float, height: float) -> QRectF:
        wide = self._look.px(_USE)
        return QRectF(self._verdict_end + place * wide, top, wide - self._look.px(8), height)

    def _paint_uses(self, painter: QPainter, row: QRect, attempt: Attempt) -> None:
        """How many steps, repeats, parts and lists a program uses; steps in colour where there are too many."""
        if attempt.program is None or not self._has_programs:
            return
        look = self._look
        uses = attempt.program.uses
        right = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
        for place, word in enumerate(USES):
            count = getattr(uses, word)
            colour = "ink" if count else "grey"
            if word == "steps" and self._smallest is not None and count > self._smallest:
                colour = "doubtful"
            painter.setPen(look.color(colour))
            painter.drawText(self._use_room(place, row.top(), row.height()), right, str(count))

    @staticmethod
    def _write(painter: QPainter, room: QRectF, text: str) -> None:
        painter.drawText(
            room, _LEFT, painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(room.width()))
        )

    def _paint_cells(self, painter: QPainter, row: QRect, attempt: Attempt) -> None:
        look = self._look
        comparison = attempt.comparison
        plain = not comparison.semitones and comparison.times == 1
        wrong: dict[int, str] = {}
        for each in comparison.differences:
            if each.kind is Kind.PITCH and each.found is not None:
                wrong.setdefault(each.bar, pretty("&".join(each.found.names)))
        for place, kind in enumerate(comparison.bars):
            left, right = self.bar_span(place)
            if right < self._side or left > row.width():
                continue
            middle = QPointF((left + right) / 2, row.top() + row.height() / 2)
            draw_shape(painter, look, plain if kind is None else kind, middle)
            text = wrong.get(self._model.bars[place], "") if self._model is not None and kind is Kind.PITCH else ""
            room = QRectF(middle.x() + look.px(10), row.top(), right - middle.x() - look.px(12), row.height())
            if text and painter.fontMetrics().horizontalAdvance(text) <= room.width():
                painter.setPen(look.color("wrong"))
                painter.drawText(room, _LEFT, text)

    def _paint_bar_lines(self, painter: QPainter) -> None:
        if self._model is None or not self._attempts:
            return
        painter.setPen(QPen(self._look.color("line"), 1))
        for place in range(len(self._model.bars)):
            x = round(self.bar_span(place)[0])
            if x >= self._side:
                painter.drawLine(x, 0, x, self.viewport().height())

    # Events

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._measure()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self.viewport().update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.viewport().update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        x, y = event.pos().x(), event.pos().y()
        place = self._row_at(y)
        bar = self._bar_at(x)
        if y < self._look.px(_HEAD):
            side = "name" if x < self._look.px(_NAME) else self._use_at(x) or "verdict"
            self._sort(side if bar is None else "bar", bar or 0)
        elif place is not None:
            self.chosen.emit(self._attempts[self._rows[place]])
            if bar is not None and self._model is not None:
                self.bar_chosen.emit(self._model.bars[bar])

    def _use_at(self, x: int) -> str | None:
        """The count of what programs use at a place; None beside them."""
        place = (x - self._verdict_end) // self._look.px(_USE)
        return USES[place] if self._has_programs and 0 <= place < len(USES) else None

    def _sort(self, by: str, bar: int) -> None:
        order = self._wish.order
        again = order.by == by and order.bar == bar
        self.sorted_by.emit(replace(order, falling=not order.falling) if again else Order(by, bar))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        place = self._row_at(event.pos().y())
        if place is not None:
            self.opened.emit(self._attempts[self._rows[place]])

    def event(self, event: QEvent | None) -> bool:
        """Take what is pasted while the table has the focus as an attempt, and not for the sheet."""
        if (
            isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.ShortcutOverride
            and event.matches(QKeySequence.StandardKey.Paste)
        ):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        last = len(self._rows) - 1
        here = self._place
        steps = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1, Qt.Key.Key_PageUp: -10, Qt.Key.Key_PageDown: 10}
        ends = {Qt.Key.Key_Home: 0, Qt.Key.Key_End: last}
        key = Qt.Key(event.key())
        if event.matches(QKeySequence.StandardKey.Paste):
            self.pasted.emit()
        elif last >= 0 and (key in steps or key in ends):
            stepped = 0 if here is None else here + steps.get(key, 0)
            goal = ends.get(key, stepped)
            self.chosen.emit(self._attempts[self._rows[max(0, min(last, goal))]])
        elif here is not None and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.opened.emit(self._attempts[self._rows[here]])
        else:
            super().keyPressEvent(event)

    def viewportEvent(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ToolTip:
            at = event.pos()  # type: ignore[attr-defined]
            show_hint(event.globalPos(), self._hint(at.x(), at.y()))  # type: ignore[attr-defined]
            return True
        return super().viewportEvent(event)

    def _hint(self, x: int, y: int) -> str:
        """Return the hint for a place."""
        place = self._row_at(y)
        bar = self._bar_at(x)
        if y < self._look.px(_HEAD) and self._use_at(x) == "steps":
            return f"Steps; the smallest program with repeats has {self._smallest}. Click to sort by this column"
        if place is None or self._model is None:
            return "Click to sort by this column" if y < self._look.px(_HEAD) else ""
        attempt = self._attempts[self._rows[place]]
        if bar is None:
            return f"{attempt.source.name}\n{sentences_on(attempt, self._points)}"
        number = self._model.bars[bar]
        here = [pretty(difference_in_words(each)) for each in attempt.comparison.differences if each.bar == number]
        return f"{label_of(attempt)}, bar {number}: {'; '.join(here) or 'as in the tune'}"
