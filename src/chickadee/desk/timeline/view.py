"""The timeline's widget: scrolling, zooming, choosing notes."""

from __future__ import annotations

from fractions import Fraction
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QPoint, QRect, Qt, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QNativeGestureEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QComboBox, QFrame, QWidget

from ...csv_text import cell as table_cell
from ...display import words
from ...display.attempt_overlay import AttemptOverlay
from ...display.cells import Cell
from ...display.rows import ROWS, STAFF_TITLE, USUAL_ROWS, Row
from ...display.scene import Scene
from ...sheet import read
from ...song import Song
from ..actions import ActionSpec
from ..escape import asks_for_escape
from ..plain_text import show_hint
from ..scrolled_view import ScrolledView
from ..theme import Look
from ..time_axis import TimeAxis
from .actions import timeline_actions
from .cell_editor import CellEditor
from .frame import Frame
from .geometry import Geometry, staff_space
from .painting import TimelinePainter
from .pointer import Pointer
from .visible_area import VisibleArea

if TYPE_CHECKING:
    from ...display.staff_row import StaffRow

__all__ = ["TimelineView"]

_DESCRIPTION = "The notes of the tune, pitch upwards and time along. Arrow keys go from note to note."
# pixels that a reading row is high, and the keys are wide
_ROW = 22
_KEYS = 74
_LEAST_ROLL = 172  # pixels of the roll and the usual rows, where the staff is shown
_GRIDS = (Fraction(1), *(Fraction(1, parts) for parts in (2, 3, 4, 6, 8)), Fraction(2))


class TimelineView(ScrolledView):
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
    menu_wanted = pyqtSignal(QPoint)
    """The menu of the chosen notes is wanted, at a place of the screen."""
    grid_changed = pyqtSignal(object)
    """Beats that notes are drawn with and moved by from now on."""
    heard = pyqtSignal(list)
    """MIDI numbers that are to be heard."""
    stepped = pyqtSignal(int)
    """The user asks for the note before (-1) or after (1)."""
    row_wanted = pyqtSignal(str)
    """Carries the title of a row that is to be shown, since something is to be typed into it."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Timeline")
        self.setAccessibleDescription(_DESCRIPTION)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.viewport().setMouseTracking(True)
        self._look = look
        self._painter = TimelinePainter(look)
        self._scene = Scene(read(""))
        across = self.horizontalScrollBar()
        down = self.verticalScrollBar()
        assert across is not None
        assert down is not None
        self._area = VisibleArea(across, down, look)
        self._meant: int | None = None  # of the chosen notes, the one the caret stands on
        self._column: Cell | None = None
        self._playhead: float | None = None
        self._rows: tuple[Row, ...] = tuple(ROWS[title] for title in USUAL_ROWS)
        self._staff_shown = False
        self._staff_shared = False
        self._staff_row: StaffRow | None = None
        self._hidden: frozenset[int] = frozenset()
        self._preview: Song | None = None
        self._outside: frozenset[int] = frozenset()
        self._attempt: AttemptOverlay | None = None
        # pixels left of the notes, and those of them beside the keys
        self._wanted_room = 0
        self._room = 0
        self.time_axis = TimeAxis(self)
        """Where time lies, for what stands below."""
        self.time_axis.wanted.connect(self._make_room)
        surface = self.viewport()
        assert surface is not None
        self.pointer = Pointer(surface, lambda: self.shown_geometry)
        self.pointer.note_chosen.connect(self.note_chosen)
        self.pointer.notes_chosen.connect(self.notes_chosen)
        self.pointer.proposed.connect(self.proposed)
        self.pointer.heard.connect(self.heard)
        self.pointer.drawn.connect(lambda number, tick: self.drawn.emit(number, tick, self.grid))
        self.pointer.cell_opened.connect(self._open_cell)
        self.pointer.moved.connect(self.viewport().update)
        self.cell_editor = CellEditor(self.viewport())
        self.cell_editor.given.connect(self.typed)
        self.cell_editor.moved.connect(self._edit_beside)
        self._grids = QComboBox(self)
        self._grids.setObjectName("grid")
        self._grids.setAccessibleName("Grid that notes are drawn with and moved by")
        self._grids.setToolTip("The grid: notes are drawn with this length and moved by it")
        self._grids.addItems([words.counted_beats(beats) for beats in _GRIDS])
        self._grids.currentIndexChanged.connect(self._set_grid)

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Return the actions of the view, of its reading rows, and of typing into them."""
        return timeline_actions(self)

    def _set_grid(self, place: int) -> None:
        self.pointer.grid = _GRIDS[place]
        self.grid_changed.emit(_GRIDS[place])

    @property
    def grid(self) -> Fraction:
        """Beats that notes are drawn with and moved by."""
        return self.pointer.grid

    def set_grid(self, beats: Fraction) -> None:
        """Draw notes with so many beats, and move them by as many."""
        self._grids.setCurrentIndex(_GRIDS.index(beats))

    def show_rows(self, titles: list[str]) -> None:
        """Show some of the reading rows, in their order from the top."""
        self._rows = tuple(row for row in ROWS.values() if row.title in titles)
        self._measure()

    def show_row(self, title: str, on: bool) -> None:
        """Show a reading row, or no longer."""
        if title == STAFF_TITLE:
            self._staff_shown = on
            self._make_staff()
            self._measure()
            return
        titles = [each for each in self.row_titles if each != title]
        self.show_rows([*titles, title] if on else titles)

    def share_staff(self, on: bool) -> None:
        """Have the next voice stand on the staff of the one in front, or no longer."""
        self._staff_shared = on
        self._make_staff()
        self._measure()

    def _make_staff(self) -> None:
        """Have the notation of the scene at hand while it is shown."""
        self._staff_row = None
        if self._staff_shown:
            from ...display.staff_row import StaffRow, voice_beside  # loaded with the first staff

            beside = voice_beside(self._scene.song, self._scene.front) if self._staff_shared else None
            self._staff_row = StaffRow(self._scene, beside)

    @property
    def row_titles(self) -> list[str]:
        """The titles of the rows that are shown."""
        return [row.title for row in self._rows]

    def edit_cell(self, title: str) -> None:
        """Type into a row's cell of the chosen note."""
        row = ROWS[title]
        if self._column is None or not self._column.notes or row.edit is None:
            return
        if row not in self._rows:
            self.row_wanted.emit(title)
        rect = self.cell_rect(title)
        notes = [self._scene.song.notes.index(note) for note in reversed(self._column.notes)]
        self.cell_editor.open(row, notes, row.text(self._column, self._scene.song), rect, self._look)

    def rows_as_table(self) -> str:
        """The rows that are shown, whole, one line each with tabs between: spreadsheets and documents take it."""
        cells = self._scene.cells.between(0, self._scene.song.end)
        song = self._scene.song
        lines = ([row.title, *((row.plain or row.text)(cell, song) for cell in cells)] for row in self._rows)
        return "\n".join("\t".join(str(table_cell(text)) for text in line) for line in lines)

    def cell_rect(self, title: str) -> QRect:
        """Where a row's cell of the chosen note is drawn, in the viewport."""
        assert self._column is not None
        axes = self._area.axes
        roll = self._roll()
        high = self._look.px(_ROW)
        left = roll.left() + round(axes.x(self._column.tick))
        wide = max(
            self._look.px(46), round(axes.x(self._column.tick + self._column.length) - axes.x(self._column.tick))
        )
        place = self.row_titles.index(title)
        top = roll.bottom() + 1 + self._staff_height + place * high
        return QRect(max(roll.left(), left), top, wide, high)

    def _edit_beside(self, row: Row, by: int) -> None:
        self.stepped.emit(by)
        self.edit_cell(row.title)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._area.set_look(look)
        self._look = look
        self._painter = TimelinePainter(look)
        self._grids.setGeometry(0, 0, look.px(74), look.px(24))
        self._measure()

    def show_scene(self, scene: Scene) -> None:
        """Show a reading with one voice in front."""
        if scene is not self._scene:
            before = self._pitches()
            self._scene = scene
            self.pointer.let_go()
            self.cell_editor.give_up()
            # of another reading
            self.pointer.chosen = frozenset()
            self._meant = None
            self._column = None
            self._make_staff()
            self._measure()
            self._follow_pitches(before)

    def show_preview(self, song: Song | None, outside: frozenset[int] = frozenset()) -> None:
        """Draw a tune as it would be over the tune as it is; ``outside`` are its notes that cannot be played."""
        if song is not self._preview:
            before = self._pitches()
            self._preview = song
            self._outside = outside
            self._measure()
            self._follow_pitches(before)

    def show_attempt(self, attempt: AttemptOverlay | None) -> None:
        """Lay somebody's attempt over the tune, with a reading row of its own."""
        if attempt is not self._attempt:
            before = self._pitches()
            self._attempt = attempt
            self._measure()
            self._follow_pitches(before)

    def _make_room(self, pixels: int) -> None:
        """Keep pixels of the window free left of the notes, beside what the keys take."""
        self._wanted_room = pixels
        here = self.mapToGlobal(QPoint(0, 0)).x()
        window = self.window()
        outer = window.mapToGlobal(QPoint(0, 0)).x() if window is not None else here
        self._room = max(0, pixels - self._look.px(_KEYS) - (here - outer)) if pixels else 0
        self._measure()

    def hide_voices(self, voices: frozenset[int]) -> None:
        """Leave some voices out."""
        if voices != self._hidden:
            self._hidden = voices
            self.viewport().update()

    def show_tune_from_start(self) -> None:
        """Scroll to the start of a tune just opened, its pitches in the middle."""
        self._area.show_start()
        self._area.show_pitches(*self._pitches())

    def choose(self, notes: list[int]) -> None:
        """Mark the chosen notes, the reading column at the first of them."""
        self.pointer.chosen = frozenset(notes)
        self._meant = notes[0] if notes else None
        if notes and self._playhead is None:
            self._column = self._scene.cell_at(self._scene.song.notes[notes[0]].start)
            self._reveal_meant()
        elif self._playhead is None:
            self._column = None
        self._describe(notes)
        self.viewport().update()

    def _describe(self, notes: list[int]) -> None:
        """Tell those who hear the window what is chosen."""
        described = f"{words.counted(len(notes), 'note')} selected: {self._hint(notes[0])}" if notes else _DESCRIPTION
        if described != self.accessibleDescription():
            self.setAccessibleDescription(described)

    def show_playhead(self, tick: float | None) -> None:
        """Move the reading column and its hairline to a tick; None takes them away."""
        self._playhead = tick
        self._column = None if tick is None else self._scene.cell_at(tick)
        self.pointer.chosen = frozenset() if tick is None else frozenset(self._scene.sounding(tick))
        if tick is not None:
            self._area.follow(tick)
        self.viewport().update()

    # What is seen

    def zoom(self, factor: float, at: float | None = None) -> None:
        """Make time wider or narrower, keeping the pixel ``at`` of the roll in its place."""
        self._area.zoom(factor, at)
        self.viewport().update()

    def zoom_pitch(self, factor: float, at: float | None = None) -> None:
        """Make lanes higher or lower, keeping the pitch at the pixel ``at`` of the roll in its place."""
        self._area.zoom_pitch(factor, at)
        self.viewport().update()

    def zoom_to_usual(self) -> None:
        """Back to the usual width of time and height of lanes."""
        self._area.zoom_to_usual()
        self.viewport().update()

    def fit_song(self) -> None:
        """Show the whole tune."""
        self._area.fit_time(0, self._scene.song.end)
        self._area.fit_pitches(*self._pitches())
        self.viewport().update()

    def fit_chosen(self) -> None:
        """Show the chosen notes as large as they can be."""
        notes = [self._scene.song.notes[index] for index in self.pointer.chosen]
        if notes:
            first = min(note.start for note in notes)
            last = max(note.end for note in notes)
            numbers = [note.number for note in notes]
            self._area.fit_time(first, last)
            self._area.reveal(first, (min(numbers) + max(numbers)) // 2)
            self.viewport().update()

    def note_rect(self, index: int) -> QRect:
        """Where a note is drawn, in the viewport."""
        return self.shown_geometry.note_rect(index)

    # Geometry

    def _roll(self) -> QRect:
        px = self._look.px
        left, top = px(_KEYS) + self._room, px(24)
        high = self.viewport().height() - top - self._row_count * px(_ROW) - self._staff_height - 1
        return QRect(left, top, max(0, self.viewport().width() - left), max(0, high))

    @property
    def _staff_height(self) -> int:
        """Pixels of the row Staff."""
        return round(self._staff_row.height * staff_space(self._look.scale)) if self._staff_row is not None else 0

    @property
    def _row_count(self) -> int:
        return len(self._rows) + (self._attempt is not None)

    @property
    def shown_geometry(self) -> Geometry:
        """Where everything lies at this moment."""
        return Geometry(
            self._scene,
            self._area.axes,
            self._roll(),
            self._look.px(_ROW),
            self._staff_height,
            self._staff_row,
            staff_space(self._look.scale),
        )

    def _measure(self) -> None:
        px = self._look.px
        self.setMinimumHeight(px(_LEAST_ROLL) + self._staff_height if self._staff_height else 0)
        roll = self._roll()
        self._area.measure(roll.width(), roll.height(), self._scene.song.end)
        self.viewport().update()

    def _follow_pitches(self, before: tuple[int, int]) -> None:
        """Go where there are pitches now; but nothing moves under the hand while all of them are seen."""
        now = self._pitches()
        if now != before and not self._area.sees(*now):
            self._area.show_pitches(*now)

    def _reveal_meant(self) -> None:
        if self._meant is not None:
            note = self._scene.song.notes[self._meant]
            self._area.reveal(note.start, note.number)

    def _pitches(self) -> tuple[int, int]:
        """The lowest and highest MIDI number of the tune, as it is, as it would be, and as somebody tried it."""
        songs = (self._scene.song, self._preview)
        numbers = [song.arrays.number for song in songs if song is not None and song.notes]
        ends = [int(end) for each in numbers for end in (each.min(), each.max())]
        if self._attempt is not None:
            ends += self._attempt.reach
        return min(ends, default=60), max(ends, default=72)

    # Events

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport())
        px = self._look.px
        roll = self._roll()
        frame = Frame(
            self._scene,
            self._look,
            self._area.axes,
            keys=QRect(self._room, roll.top(), roll.left() - self._room, roll.height()),
            ruler=QRect(roll.left(), 0, roll.width(), roll.top()),
            roll=roll,
            rows=QRect(roll.left(), roll.bottom() + 1 + self._staff_height, roll.width(), self._row_count * px(_ROW)),
            chosen=self.pointer.chosen,
            column=self._column,
            shown=self._rows,
            hidden=self._hidden,
            playhead=self._playhead,
            preview=self._preview,
            outside=self._outside,
            staff=QRect(roll.left(), roll.bottom() + 1, roll.width(), self._staff_height),
            staff_row=self._staff_row,
            attempt=self._attempt,
        )
        self._painter.paint(painter, frame)
        left = self.viewport().mapToGlobal(roll.topLeft()).x()
        self.time_axis.show(frame.axes, left, left + roll.width())
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self._look.color("accent"), 2, Qt.PenStyle.DashLine))
        painter.setClipRect(roll)
        for ghost in self.pointer.ghosts():
            painter.drawRoundedRect(ghost, 3, 3)
        painter.setClipping(False)
        if not self._scene.song.notes and self._preview is None:
            painter.setPen(self._look.color("grey"))
            painter.setFont(self._look.font(15))
            painter.drawText(
                roll, Qt.AlignmentFlag.AlignCenter, "Type notes in the sheet below, or double-click here to draw one."
            )
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
        self._make_room(self._wanted_room)
        self._keep_editor_in_place()
        if event is not None and event.oldSize().height() != event.size().height():
            self._area.show_pitches(*self._pitches())
            self._reveal_meant()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self.viewport().update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.viewport().update()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Offer what can be done: with the note under the pointer, or by the menu key with the chosen one."""
        assert event is not None
        surface = self.viewport()
        at = event.pos()
        assert surface is not None
        if event.reason() == QContextMenuEvent.Reason.Keyboard:
            at = self._roll().center() if self._meant is None else self.note_rect(self._meant).bottomLeft()
        elif (note := self.shown_geometry.note_at(at.x(), at.y())) is not None and note not in self.pointer.chosen:
            self.note_chosen.emit(note)
        self.menu_wanted.emit(surface.mapToGlobal(at))

    def event(self, event: QEvent | None) -> bool:
        if event is not None and asks_for_escape(event) and self.pointer.holds:
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._rows:
            self.edit_cell(self._rows[0].title)
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and not event.modifiers():
            self.nudged.emit(1 if event.key() == Qt.Key.Key_Up else -1)
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.erased.emit()
        elif event.key() == Qt.Key.Key_Escape and self.pointer.holds:
            self.pointer.let_go()
        elif step is None:
            super().keyPressEvent(event)
        else:
            self.stepped.emit(step)

    def _open_cell(self, place: int) -> None:
        if self._column is not None and 0 <= place < len(self._rows):
            self.edit_cell(self._rows[place].title)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.pointer.press(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.pointer.move(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self.pointer.release()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.pointer.double_click(event)

    def viewportEvent(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ToolTip:
            note = self.shown_geometry.note_at(event.pos().x(), event.pos().y())  # type: ignore[attr-defined]
            hint = self._hint(note) if note is not None else ""
            show_hint(event.globalPos(), hint)  # type: ignore[attr-defined]
            return True
        if isinstance(event, QNativeGestureEvent) and event.gestureType() == Qt.NativeGestureType.ZoomNativeGesture:
            self.zoom(1 + event.value(), event.position().x() - self._roll().left())
            return True
        return super().viewportEvent(event)

    def _hint(self, index: int) -> str:
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
        turned = 1.0015 ** (event.angleDelta().y() or event.angleDelta().x())
        if not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            super().wheelEvent(event)
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.zoom_pitch(turned, event.position().y() - self._roll().top())
        else:
            self.zoom(turned, event.position().x() - self._roll().left())
