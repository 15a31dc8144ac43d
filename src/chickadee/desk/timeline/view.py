"""The timeline's widget: scrolling, zooming, choosing notes."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QRect, Qt, pyqtSignal
from PyQt6.QtGui import (
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QAbstractScrollArea, QFrame, QToolTip, QWidget

from ...sheet import Reading
from ...song import TICKS_PER_QUARTER
from .. import words
from ..theme import Look
from .axes import Axes
from .cells import ROWS, Cell
from .frame import Frame
from .painting import TimelinePainter
from .scene import Scene

__all__ = ["TimelineView"]

_QUARTER = (4.0, 400.0)
_USUAL_QUARTER = 46.0
_LANES = (9, 26)


class TimelineView(QAbstractScrollArea):
    """Draws a reading along time. ``note_chosen`` carries the index of a note that was clicked or stepped to."""

    note_chosen = pyqtSignal(int)
    stepped = pyqtSignal(int)
    """The user asks for the note before (-1) or after (1)."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Timeline")
        self.setAccessibleDescription(
            "The notes of the tune, pitch upwards and time along. Arrow keys go from note to note."
        )
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.viewport().setMouseTracking(True)
        self._look = look
        self._painter = TimelinePainter(look)
        self._scene: Scene | None = None
        self._quarter = _USUAL_QUARTER
        self._chosen: frozenset[int] = frozenset()
        self._column: Cell | None = None
        self._playhead: float | None = None

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._quarter *= look.scale / self._look.scale
        self._look = look
        self._painter = TimelinePainter(look)
        self._measure()

    def show_reading(self, reading: Reading, front: int) -> None:
        """Show a reading with one voice in front."""
        if self._scene is None or self._scene.reading is not reading or self._scene.front != front:
            first = self._scene is None or not self._scene.song.notes
            self._scene = Scene(reading, front)
            self._chosen, self._column = frozenset(), None  # they counted in the reading before
            self._measure()
            if first:
                self._center_pitches()

    def show_tune_from_start(self) -> None:
        """Scroll to the start of a tune just opened, its pitches in the middle."""
        self.horizontalScrollBar().setValue(0)
        self._center_pitches()

    def choose(self, notes: list[int]) -> None:
        """Mark the chosen notes, the reading column at the first of them."""
        if self._scene is None:
            return
        self._chosen = frozenset(notes)
        if notes and self._playhead is None:
            self._column = self._scene.cell_at(self._scene.song.notes[notes[0]].start)
            self._reveal(self._scene.song.notes[notes[0]].start, self._scene.song.notes[notes[0]].number)
        elif self._playhead is None:
            self._column = None
        self.viewport().update()

    def show_playhead(self, tick: float | None) -> None:
        """Move the reading column and its hairline to a tick; None takes them away."""
        self._playhead = tick
        if self._scene is not None:
            self._column = None if tick is None else self._scene.cell_at(tick)
            self._chosen = frozenset() if tick is None else frozenset(self._scene.sounding(tick))
            if tick is not None:
                self._follow(tick)
        self.viewport().update()

    def zoom(self, factor: float, at: float | None = None) -> None:
        """Make time wider or narrower, keeping the pixel ``at`` of the roll in its place."""
        axes = self._axes()
        at = self._roll().width() / 2 if at is None else at
        tick = axes.tick(at)
        self._quarter = min(_QUARTER[1], max(_QUARTER[0], self._quarter * factor))
        self._measure()
        self.horizontalScrollBar().setValue(round(tick * self._quarter / TICKS_PER_QUARTER - at))
        self.viewport().update()

    def zoom_to_usual(self) -> None:
        """Back to the usual width of time."""
        self.zoom(_USUAL_QUARTER * self._look.scale / self._quarter)

    def note_rect(self, index: int) -> QRect:
        """Where a note is drawn, in the viewport."""
        assert self._scene is not None
        axes, roll, note = self._axes(), self._roll(), self._scene.song.notes[index]
        left = roll.left() + axes.x(note.start)
        return QRect(
            round(left), roll.top() + axes.y(note.number), round(axes.x(note.end) - axes.x(note.start)), axes.lane
        )

    # Geometry

    def _roll(self) -> QRect:
        px = self._look.px
        left, top = px(74), px(24)
        return QRect(
            left, top, self.viewport().width() - left, self.viewport().height() - top - len(ROWS) * px(22) - 1
        )

    def _axes(self) -> Axes:
        low, high = self._scene.pitch_span if self._scene else (58, 74)
        room = self._roll().height() // (high - low + 1)
        lane = min(self._look.px(_LANES[1]), max(self._look.px(12), room))
        return Axes(self._quarter, self.horizontalScrollBar().value(), lane, 127 - self.verticalScrollBar().value())

    def _measure(self) -> None:
        song = self._scene.song if self._scene else None
        roll, axes = self._roll(), self._axes()
        width = (song.end if song else 0) * self._quarter / TICKS_PER_QUARTER + 0.2 * roll.width()
        self.horizontalScrollBar().setRange(0, max(0, round(width - roll.width())))
        self.horizontalScrollBar().setPageStep(max(1, roll.width()))
        self.horizontalScrollBar().setSingleStep(round(self._quarter))
        lanes = max(1, roll.height() // axes.lane)
        self.verticalScrollBar().setRange(0, max(0, 128 - lanes))
        self.verticalScrollBar().setPageStep(lanes)
        self.viewport().update()

    def _center_pitches(self) -> None:
        low, high = self._scene.pitch_span if self._scene else (58, 74)
        lanes = max(1, self._roll().height() // self._axes().lane)
        top = min(127, max(high, round((low + high + lanes - 1) / 2)))
        self.verticalScrollBar().setValue(127 - top)

    def _reveal(self, tick: float, number: int) -> None:
        axes, lanes = self._axes(), self._roll().height() // self._axes().lane
        if not axes.top - lanes < number <= axes.top:
            self.verticalScrollBar().setValue(127 - number - lanes // 2)
        x, width = self._axes().x(tick), self._roll().width()
        if not 0 <= x <= width - self._look.px(30):
            bar = self.horizontalScrollBar()
            bar.setValue(round(bar.value() + x - width * 0.3))

    def _follow(self, tick: float) -> None:
        x, width = self._axes().x(tick), self._roll().width()
        if not 0 <= x <= width * 0.85:
            bar = self.horizontalScrollBar()
            bar.setValue(round(bar.value() + x - width * 0.12))

    def _note_at(self, x: float, y: float) -> int | None:
        if self._scene is None:
            return None
        axes, roll = self._axes(), self._roll()
        tick = axes.tick(x - roll.left())
        if roll.contains(round(x), round(y)):
            number = axes.number(y - roll.top())
            under = [
                index
                for index in self._scene.notes_between(tick, tick + 1)
                if self._scene.song.notes[index].number == number
            ]
            return under[-1] if under else None
        if y >= roll.bottom() and (cell := self._scene.cell_at(tick)) and cell.notes:
            return next(
                index
                for index in self._scene.notes_between(cell.tick, cell.tick + 1)
                if self._scene.song.notes[index] is cell.notes[0]
            )
        return None

    # Events

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport())
        if self._scene is None:
            return
        px, roll = self._look.px, self._roll()
        frame = Frame(
            self._scene,
            self._look,
            self._axes(),
            keys=QRect(0, roll.top(), roll.left(), roll.height()),
            ruler=QRect(roll.left(), 0, roll.width(), roll.top()),
            roll=roll,
            rows=QRect(roll.left(), roll.bottom() + 1, roll.width(), len(ROWS) * px(22)),
            chosen=self._chosen,
            column=self._column,
            playhead=self._playhead,
        )
        self._painter.paint(painter, frame)
        if not self._scene.song.notes:
            painter.setPen(self._look.color("grey"))
            painter.setFont(self._look.font(15))
            painter.drawText(roll, Qt.AlignmentFlag.AlignCenter, "Notes typed in the sheet appear here.")
        if self.hasFocus():
            painter.setPen(QPen(self._look.color("accent"), 2))
            painter.drawRect(self.viewport().rect().adjusted(1, 1, -1, -1))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._measure()
        if event is not None and event.oldSize().height() != event.size().height():
            self._center_pitches()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self.viewport().update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.viewport().update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self.stepped.emit(step)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        note = self._note_at(event.position().x(), event.position().y())
        if note is not None and event.button() == Qt.MouseButton.LeftButton:
            self.note_chosen.emit(note)

    def viewportEvent(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ToolTip:
            note = self._note_at(event.pos().x(), event.pos().y())  # type: ignore[attr-defined]
            hint = self._hint(note) if note is not None else ""
            QToolTip.showText(event.globalPos(), hint)  # type: ignore[attr-defined]
            return True
        return super().viewportEvent(event)

    def _hint(self, index: int) -> str:
        assert self._scene is not None
        song = self._scene.song
        note = song.notes[index]
        place = song.grid.place(note.start)
        return (
            f"{words.both_names(song, note)}, {note.number}, {song.frequency(note.number):.2f} Hz\n"
            f"{song.voices[note.voice].name}, bar {place.bar} beat {words.beats(place.beat)}, "
            f"loudness {note.loudness}"
        )

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom(1.0015 ** event.angleDelta().y(), event.position().x() - self._roll().left())
        else:
            super().wheelEvent(event)
