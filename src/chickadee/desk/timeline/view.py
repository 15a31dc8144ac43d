"""The timeline's widget: scrolling, zooming, choosing notes."""

from __future__ import annotations

from fractions import Fraction

from PyQt6.QtCore import QEvent, QPoint, QRect, Qt, pyqtSignal
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
from PyQt6.QtWidgets import QAbstractScrollArea, QComboBox, QFrame, QRubberBand, QToolTip, QWidget

from ...sheet import Reading
from ...song import TICKS_PER_QUARTER
from .. import words
from ..theme import Look
from .axes import Axes
from .cell_editor import CellEditor
from .cells import Cell
from .frame import Frame
from .gestures import Drag, Grip, Proposal
from .painting import TimelinePainter
from .rows import ROWS, USUAL_ROWS, Row
from .scene import Scene

__all__ = ["TimelineView"]

_QUARTER = (4.0, 400.0)
_USUAL_QUARTER = 46.0
_LANES = (9, 26)
_GRIDS = (Fraction(1), *(Fraction(1, parts) for parts in (2, 3, 4, 6, 8)), Fraction(2))


class TimelineView(QAbstractScrollArea):
    """Draws a reading along time. ``note_chosen`` carries the index of a note that was clicked or stepped to."""

    note_chosen = pyqtSignal(int)
    notes_chosen = pyqtSignal(list)
    """Indices of several notes, by a band or one by one."""
    proposed = pyqtSignal(list, object)
    """Notes that were dragged, and the Proposal."""
    drawn = pyqtSignal(int, int, object)
    """A MIDI number, a tick and beats where a note is wanted."""
    typed = pyqtSignal(object, list, str)
    """A Row, the notes of a cell, and what was typed into it."""
    nudged = pyqtSignal(int)
    """Steps of the key by which the chosen notes are to be moved."""
    erased = pyqtSignal()
    """The chosen notes are to be taken out."""
    heard = pyqtSignal(list)
    """MIDI numbers that are to be heard."""
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
        self._rows: tuple[Row, ...] = tuple(ROWS[title] for title in USUAL_ROWS)
        self.grid = Fraction(1)
        """Beats that notes are drawn with and moved by."""
        self._hidden: frozenset[int] = frozenset()
        self._pressed: QPoint | None = None
        self._drag: Drag | None = None
        self._proposal = Proposal()
        self._band = QRubberBand(QRubberBand.Shape.Rectangle, self.viewport())
        self.cell_editor = CellEditor(self.viewport())
        self.cell_editor.given.connect(self.typed)
        self.cell_editor.moved.connect(self._edit_beside)
        self._grids = QComboBox(self)
        self._grids.setObjectName("grid")
        self._grids.setAccessibleName("Grid that notes are drawn with and moved by")
        self._grids.setToolTip("The grid: notes are drawn with this length and moved by it")
        self._grids.addItems([words.counted_beats(beats) for beats in _GRIDS])
        self._grids.currentIndexChanged.connect(self._set_grid)

    def _set_grid(self, place: int) -> None:
        self.grid = _GRIDS[place]

    def set_grid(self, beats: Fraction) -> None:
        """Draw notes with so many beats, and move them by as many."""
        self._grids.setCurrentIndex(_GRIDS.index(beats))

    def show_rows(self, titles: list[str]) -> None:
        """Show some of the reading rows, in their order from the top."""
        self._rows = tuple(row for row in ROWS.values() if row.title in titles)
        self._measure()

    @property
    def row_titles(self) -> list[str]:
        """The titles of the rows that are shown."""
        return [row.title for row in self._rows]

    def edit_cell(self, title: str) -> None:
        """Type into a row's cell of the chosen note."""
        if self._scene is None or self._column is None or not self._column.notes:
            return
        row, rect = ROWS[title], self.cell_rect(title)
        if row.edit is None or row not in self._rows:
            return
        notes = [self._scene.song.notes.index(note) for note in reversed(self._column.notes)]
        self.cell_editor.open(row, notes, row.text(self._column, self._scene.song), rect, self._look)

    def rows_as_table(self) -> str:
        """The rows that are shown, whole, one line each with tabs between: spreadsheets and documents take it."""
        if self._scene is None:
            return ""
        cells, song = self._scene.cells.between(0, self._scene.song.end), self._scene.song
        return "\n".join("\t".join([row.title, *(row.text(cell, song) for cell in cells)]) for row in self._rows)

    def cell_rect(self, title: str) -> QRect:
        """Where a row's cell of the chosen note is drawn, in the viewport."""
        assert self._column is not None
        axes, roll, high = self._axes(), self._roll(), self._look.px(22)
        left = roll.left() + round(axes.x(self._column.tick))
        wide = max(
            self._look.px(46), round(axes.x(self._column.tick + self._column.length) - axes.x(self._column.tick))
        )
        place = self.row_titles.index(title)
        return QRect(max(roll.left(), left), roll.bottom() + 1 + place * high, wide, high)

    def _edit_beside(self, row: Row, by: int) -> None:
        self.stepped.emit(by)
        self.edit_cell(row.title)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._quarter *= look.scale / self._look.scale
        self._look = look
        self._painter = TimelinePainter(look)
        self._grids.setGeometry(0, 0, look.px(74), look.px(24))
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

    def hide_voices(self, voices: frozenset[int]) -> None:
        """Leave some voices out."""
        if voices != self._hidden:
            self._hidden = voices
            self.viewport().update()

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
            left, top, self.viewport().width() - left, self.viewport().height() - top - len(self._rows) * px(22) - 1
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
            rows=QRect(roll.left(), roll.bottom() + 1, roll.width(), len(self._rows) * px(22)),
            chosen=self._chosen,
            column=self._column,
            shown=self._rows,
            hidden=self._hidden,
            playhead=self._playhead,
        )
        self._painter.paint(painter, frame)
        painter.setPen(QPen(self._look.color("accent"), 2, Qt.PenStyle.DashLine))
        painter.setClipRect(roll)
        for ghost in self._ghosts():
            painter.drawRoundedRect(ghost, 3, 3)
        painter.setClipping(False)
        if not self._scene.song.notes:
            painter.setPen(self._look.color("grey"))
            painter.setFont(self._look.font(15))
            painter.drawText(roll, Qt.AlignmentFlag.AlignCenter, "Notes typed in the sheet appear here.")
        if self.hasFocus():
            painter.setPen(QPen(self._look.color("accent"), 2))
            painter.drawRect(self.viewport().rect().adjusted(1, 1, -1, -1))

    def _keep_editor_in_place(self) -> None:
        """Whatever moves, what is being typed stays under its note."""
        title = self.cell_editor.title
        if title is not None and self._column is not None and title in self.row_titles:
            self.cell_editor.place(self.cell_rect(title))

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        super().scrollContentsBy(dx, dy)
        self._keep_editor_in_place()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._measure()
        self._keep_editor_in_place()
        if event is not None and event.oldSize().height() != event.size().height():
            self._center_pitches()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self.viewport().update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.viewport().update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._rows:
            self.edit_cell(self._rows[0].title)
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and not event.modifiers():
            self.nudged.emit(1 if event.key() == Qt.Key.Key_Up else -1)
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.erased.emit()
        elif step is None:
            super().keyPressEvent(event)
        else:
            self.stepped.emit(step)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if event.button() != Qt.MouseButton.LeftButton or self._scene is None:
            return
        at = event.position().toPoint()
        note = self._note_at(at.x(), at.y())
        if note is None:
            self._pressed = at
            return
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.notes_chosen.emit(sorted(self._chosen ^ {note}))
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier and self._chosen:
            self.notes_chosen.emit(self._from_chosen_to(note))
        else:
            if note not in self._chosen:
                self.note_chosen.emit(note)
            if self._roll().contains(at):
                self._pressed = at
                self._drag = Drag(self._scene.song, note, self._grip(note, at), self.grid)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position().toPoint()
        if self._pressed is None:
            self._show_grip(at)
        elif self._drag is not None:
            self._drag_to(at, self._drag, self._pressed)
        elif (at - self._pressed).manhattanLength() > 6:
            self._band.setGeometry(QRect(self._pressed, at).normalized())
            self._band.show()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        drag, proposal, pressed = self._drag, self._proposal, self._pressed
        self._drag, self._proposal, self._pressed = None, Proposal(), None
        if drag is not None and not proposal.is_nothing:
            notes = sorted(self._chosen) if drag.note in self._chosen else [drag.note]
            first = [drag.note, *(note for note in notes if note != drag.note)]
            self.proposed.emit(first, proposal)
        elif not self._band.isHidden():
            self.notes_chosen.emit(self._inside(self._band.geometry()))
        elif drag is None and pressed is not None:
            self.notes_chosen.emit([])
        self._band.hide()
        QToolTip.hideText()
        self.viewport().update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position().toPoint()
        if self._note_at(at.x(), at.y()) is None and self._roll().contains(at):
            number, tick = self._axes().number(at.y() - self._roll().top()), self._grid_tick(at.x())
            if 0 <= number <= 127 and tick >= 0:
                self.drawn.emit(number, tick, self.grid)
        elif self._column is not None and at.y() > self._roll().bottom():
            place = (at.y() - self._roll().bottom() - 1) // self._look.px(22)
            if 0 <= place < len(self._rows):
                self.edit_cell(self._rows[place].title)

    def _grid_tick(self, x: int) -> int:
        """The tick of the grid that a pixel lies in."""
        assert self._scene is not None
        grid, tick = self._scene.song.grid, max(0.0, self._axes().tick(x - self._roll().left()))
        bar = grid.start(grid.number_at(int(tick)))
        step = int(self.grid * grid.meter_at(int(tick)).beat_ticks)
        return bar + int((tick - bar) // step) * step

    def _grip(self, note: int, at: QPoint) -> Grip:
        rect, near = self.note_rect(note), self._look.px(6)
        if rect.right() - at.x() <= near and rect.width() > 3 * near:
            return Grip.END
        return Grip.EDGE if at.x() - rect.left() < self._look.px(4) else Grip.BODY

    def _show_grip(self, at: QPoint) -> None:
        note = self._note_at(at.x(), at.y()) if self._roll().contains(at) else None
        shapes = {
            Grip.END: Qt.CursorShape.SizeHorCursor,
            Grip.EDGE: Qt.CursorShape.SizeVerCursor,
            Grip.BODY: Qt.CursorShape.SizeAllCursor,
        }
        shape = Qt.CursorShape.ArrowCursor if note is None else shapes[self._grip(note, at)]
        self.viewport().setCursor(shape)

    def _drag_to(self, at: QPoint, drag: Drag, pressed: QPoint) -> None:
        axes, note = self._axes(), drag.song.notes[drag.note]
        beat = drag.song.grid.meter_at(note.start).beat_ticks
        moved = (axes.tick(at.x()) - axes.tick(pressed.x())) / beat
        top = self._roll().top()
        semitones = axes.number(at.y() - top) - axes.number(pressed.y() - top)
        proposal = drag.proposal(semitones, moved)
        if proposal.semitones != self._proposal.semitones:
            self.heard.emit([note.number + proposal.semitones])
        self._proposal = proposal
        QToolTip.showText(self.viewport().mapToGlobal(at + QPoint(14, 14)), drag.said(proposal), self.viewport())
        self.viewport().update()

    def _inside(self, band: QRect) -> list[int]:
        assert self._scene is not None
        axes, left = self._axes(), self._roll().left()
        seen = self._scene.notes_between(axes.tick(band.left() - left), axes.tick(band.right() - left))
        return sorted(note for note in seen if self.note_rect(note).intersects(band))

    def _from_chosen_to(self, note: int) -> list[int]:
        """The notes of one voice from the chosen ones up to another."""
        assert self._scene is not None
        notes = self._scene.song.notes
        ticks = [notes[index].start for index in (*self._chosen, note)]
        return [
            index
            for index, each in enumerate(notes)
            if each.voice == notes[note].voice and min(ticks) <= each.start <= max(ticks)
        ]

    def _ghosts(self) -> list[QRect]:
        """Where the dragged notes would be."""
        if self._drag is None or self._proposal.is_nothing:
            return []
        axes, proposal = self._axes(), self._proposal
        beat = self._drag.song.grid.meter_at(self._drag.song.notes[self._drag.note].start).beat_ticks
        per_beat = axes.x(beat) - axes.x(0)
        found = []
        for note in self._chosen | {self._drag.note}:
            rect = self.note_rect(note)
            rect.translate(round(float(proposal.beats) * per_beat), -proposal.semitones * axes.lane)
            rect.setWidth(max(3, rect.width() + round(float(proposal.longer) * per_beat)))
            thicker = round(axes.lane * 0.55 * proposal.louder / 127 / 2)
            found.append(rect.adjusted(0, -thicker, 0, thicker))
        return found

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
