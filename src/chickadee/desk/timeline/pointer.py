"""The mouse on the timeline: choosing, dragging and drawing notes."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

from PyQt6.QtCore import QObject, QPoint, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QRubberBand, QWidget

from ...display.gestures import Drag, Grip, Proposal
from ..plain_text import hide_hint, show_hint
from .geometry import Geometry

__all__ = ["Pointer"]

# pixels at a note's end and first edge by which it is held there
_END = 6
_EDGE = 4
_SHAPES = {
    Grip.END: Qt.CursorShape.SizeHorCursor,
    Grip.EDGE: Qt.CursorShape.SizeVerCursor,
    Grip.BODY: Qt.CursorShape.SizeAllCursor,
}


class Pointer(QObject):
    """Turns mouse events on a surface into wishes. ``chosen`` carries the indices of notes, ``moved`` is sent
    while a note is dragged."""

    note_chosen = pyqtSignal(int)
    notes_chosen = pyqtSignal(list)
    proposed = pyqtSignal(list, object)
    drawn = pyqtSignal(int, int)
    """A MIDI number and a tick."""
    cell_opened = pyqtSignal(int)
    """Which of the reading rows is to be typed into."""
    heard = pyqtSignal(list)
    moved = pyqtSignal()

    def __init__(self, surface: QWidget, geometry: Callable[[], Geometry]) -> None:
        super().__init__(surface)
        self._surface = surface
        self._geometry = geometry
        self.grid = Fraction(1)
        """Beats that notes are drawn with and moved by."""
        self.chosen: frozenset[int] = frozenset()
        """The notes that are chosen."""
        self._pressed: QPoint | None = None
        self._drag: Drag | None = None
        self._proposal = Proposal()
        self._band = QRubberBand(QRubberBand.Shape.Rectangle, surface)

    def press(self, event: QMouseEvent) -> None:
        """A button goes down."""
        if event.button() != Qt.MouseButton.LeftButton:
            return
        at = event.position().toPoint()
        geometry = self._geometry()
        note = geometry.note_at(at.x(), at.y())
        if note is None:
            self._pressed = at
        elif event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.notes_chosen.emit(sorted(self.chosen ^ {note}))
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier and self.chosen:
            self.notes_chosen.emit(_between(geometry, self.chosen, note))
        else:
            if note not in self.chosen:
                self.note_chosen.emit(note)
            if geometry.roll.contains(at):
                self._pressed = at
                self._drag = Drag(geometry.scene.song, note, _grip(geometry.note_rect(note), at), self.grid)

    def move(self, event: QMouseEvent) -> None:
        """The mouse moves, with a button down or without."""
        at = event.position().toPoint()
        if self._pressed is None:
            self._show_grip(at)
        elif self._drag is not None:
            self._drag_to(at, self._drag, self._pressed)
        elif (at - self._pressed).manhattanLength() > 6:
            self._band.setGeometry(QRect(self._pressed, at).normalized())
            self._band.show()

    def release(self) -> None:
        """The button comes up."""
        drag = self._drag
        proposal = self._proposal
        pressed = self._pressed
        band = self._band.geometry()
        banded = not self._band.isHidden()
        self.let_go()
        if drag is not None and not proposal.is_nothing:
            others = sorted(self.chosen - {drag.note}) if drag.note in self.chosen else []
            self.proposed.emit([drag.note, *others], proposal)
        elif banded:
            self.notes_chosen.emit(self._geometry().inside(band))
        elif drag is None and pressed is not None:
            self.notes_chosen.emit([])

    @property
    def holds(self) -> bool:
        """True if a note is being dragged, or a band drawn."""
        return self._pressed is not None

    def let_go(self) -> None:
        """Drop what is held; nothing has happened."""
        self._drag = None
        self._proposal = Proposal()
        self._pressed = None
        self._band.hide()
        hide_hint()
        self.moved.emit()

    def double_click(self, event: QMouseEvent) -> None:
        """Draw where there is nothing, or type into a cell."""
        at = event.position().toPoint()
        geometry = self._geometry()
        if geometry.note_at(at.x(), at.y()) is None and geometry.roll.contains(at):
            number = geometry.number(at.y())
            tick = geometry.grid_tick(at.x(), self.grid)
            if 0 <= number <= 127 and geometry.tick(at.x()) >= 0:
                self.drawn.emit(number, tick)
        elif at.y() > geometry.roll.bottom():
            self.cell_opened.emit(geometry.row_at(at.y()))

    @property
    def said(self) -> str:
        """The dragged note as it would be, in words; nothing while none is."""
        return self._drag.said(self._proposal) if self._drag else ""

    def ghosts(self) -> list[QRect]:
        """Where the dragged notes would be."""
        if self._drag is None or self._proposal.is_nothing:
            return []
        geometry = self._geometry()
        proposal = self._proposal
        song = self._drag.song
        axes = geometry.axes
        beat = song.grid.meter_at(song.notes[self._drag.note].start).beat_ticks
        per_beat = axes.x(beat) - axes.x(0)
        found = []
        for note in self.chosen | {self._drag.note}:
            rect = geometry.note_rect(note)
            rect.translate(round(float(proposal.beats) * per_beat), -proposal.semitones * axes.lane)
            rect.setWidth(max(3, rect.width() + round(float(proposal.longer) * per_beat)))
            thicker = round(axes.lane * 0.55 * proposal.louder / 127 / 2)
            found.append(rect.adjusted(0, -thicker, 0, thicker))
        return found

    def _show_grip(self, at: QPoint) -> None:
        geometry = self._geometry()
        note = geometry.note_at(at.x(), at.y()) if geometry.roll.contains(at) else None
        shape = Qt.CursorShape.ArrowCursor if note is None else _SHAPES[_grip(geometry.note_rect(note), at)]
        self._surface.setCursor(shape)

    def _drag_to(self, at: QPoint, drag: Drag, pressed: QPoint) -> None:
        geometry = self._geometry()
        note = drag.song.notes[drag.note]
        beat = drag.song.grid.meter_at(note.start).beat_ticks
        beats = (geometry.tick(at.x()) - geometry.tick(pressed.x())) / beat
        proposal = drag.proposal(geometry.number(at.y()) - geometry.number(pressed.y()), beats)
        if proposal.semitones != self._proposal.semitones:
            self.heard.emit([note.number + proposal.semitones])
        self._proposal = proposal
        show_hint(self._surface.mapToGlobal(at + QPoint(14, 14)), self.said, self._surface)
        self.moved.emit()


def _grip(rect: QRect, at: QPoint) -> Grip:
    """The part of a note that is held at a place."""
    if rect.right() - at.x() <= _END and rect.width() > 3 * _END:
        return Grip.END
    return Grip.EDGE if at.x() - rect.left() < _EDGE else Grip.BODY


def _between(geometry: Geometry, chosen: frozenset[int], note: int) -> list[int]:
    """The notes of one voice from the chosen ones up to another."""
    notes = geometry.scene.song.notes
    ticks = [notes[index].start for index in (*chosen, note)]
    return [
        index
        for index, each in enumerate(notes)
        if each.voice == notes[note].voice and min(ticks) <= each.start <= max(ticks)
    ]
