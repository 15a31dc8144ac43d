"""Where things of a scene lie in the timeline, and what lies at a place."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import TYPE_CHECKING

from PyQt6.QtCore import QRect

from ...display.axes import Axes
from ...display.scene import Scene

if TYPE_CHECKING:
    from ...display.staff_row import StaffRow

__all__ = ["Geometry", "staff_space"]

_SPACE = 7.5  # pixels of a staff space at scale 1


def staff_space(scale: float) -> float:
    """Pixels of a staff space."""
    return _SPACE * scale


@dataclass(frozen=True, slots=True)
class Geometry:
    """A scene as it lies in the viewport at one moment; all pixels count from the viewport's corner."""

    scene: Scene
    axes: Axes
    roll: QRect
    """Where the notes are; the reading rows lie right under it."""
    row: int
    """Pixels that a reading row is high."""
    staff_height: int = 0
    """Pixels of the row Staff, right under the roll."""
    staff: StaffRow | None = None
    staff_space: float = 1.0
    """Pixels of a staff space."""

    def note_rect(self, index: int) -> QRect:
        """Where a note is drawn."""
        axes = self.axes
        note = self.scene.song.notes[index]
        left = self.roll.left() + axes.x(note.start)
        width = round(axes.x(note.end) - axes.x(note.start))
        return QRect(round(left), self.roll.top() + axes.y(note.number), width, axes.lane)

    def note_at(self, x: int, y: int) -> int | None:
        """The note that is drawn at a place, or whose cell is."""
        tick = self.tick(x)
        notes = self.scene.song.notes
        if self.roll.contains(x, y):
            number = self.number(y)
            under = [index for index in self.scene.notes_between(tick, tick + 1) if notes[index].number == number]
            return under[-1] if under else None
        if self.roll.bottom() < y <= self.roll.bottom() + self.staff_height:
            return self._note_on_staff(tick, y)
        cell = self.scene.cell_at(tick) if y >= self.roll.bottom() else None
        if cell is None or not cell.notes:
            return None
        here = self.scene.notes_between(cell.tick, cell.tick + 1)
        return next(index for index in here if notes[index] is cell.notes[0])

    def _note_on_staff(self, tick: float, y: int) -> int | None:
        """The note of the front voice that sounds at a tick and whose head is nearest to a pixel."""
        notes = self.scene.song.notes
        if self.staff is None:
            return None
        voices = (self.scene.front, self.staff.beside)
        here = [index for index in self.scene.notes_between(tick, tick + 1) if notes[index].voice in voices]
        if not here:
            return None
        staff = self.staff
        at = (y - self.roll.bottom() - 1) / self.staff_space
        return min(here, key=lambda index: abs(staff.y_of_note(notes[index]) - at))

    def inside(self, band: QRect) -> list[int]:
        """The notes that a rectangle touches."""
        seen = self.scene.notes_between(self.tick(band.left()), self.tick(band.right()))
        return sorted(note for note in seen if self.note_rect(note).intersects(band))

    def tick(self, x: int) -> float:
        """The tick at a pixel."""
        return self.axes.tick(x - self.roll.left())

    def grid_tick(self, x: int, beats: Fraction) -> int:
        """The last tick, of those so many beats apart within their bar, at or before a pixel."""
        grid = self.scene.song.grid
        tick = max(0.0, self.tick(x))
        bar = grid.start(grid.number_at(int(tick)))
        step = int(beats * grid.meter_at(int(tick)).beat_ticks)
        return bar + int((tick - bar) // step) * step

    def number(self, y: int) -> int:
        """The MIDI number whose lane a pixel lies in."""
        return self.axes.number(y - self.roll.top())

    def row_at(self, y: int) -> int:
        """Which of the reading rows a pixel lies in, from 0; below zero above them."""
        return (y - self.roll.bottom() - 1 - self.staff_height) // self.row
