"""The data that one picture of the timeline is drawn from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QRect

from ...display.attempt_overlay import AttemptOverlay
from ...display.axes import Axes
from ...display.cells import Cell
from ...display.rows import Row
from ...display.scene import Scene
from ...song import Song
from ..theme import Look

if TYPE_CHECKING:
    from ...display.staff_row import StaffRow

__all__ = ["Frame"]


@dataclass(frozen=True, slots=True)
class Frame:
    """Everything one picture of the timeline needs."""

    scene: Scene
    look: Look
    axes: Axes
    keys: QRect
    """The parts of the viewport: the keys at the left, the ruler, the roll, the reading rows."""
    ruler: QRect
    roll: QRect
    rows: QRect
    chosen: frozenset[int]
    """Indices of the chosen notes."""
    column: Cell | None
    """The moment that the reading column marks."""
    shown: tuple[Row, ...]
    """The reading rows, from the top."""
    hidden: frozenset[int]
    """Voices that are left out."""
    playhead: float | None
    """The tick that is heard, while playing."""
    preview: Song | None
    """The tune as it would be, drawn over the tune as it is."""
    outside: frozenset[int]
    """Indices of the notes of the preview that its voices cannot play."""

    staff: QRect
    """The reading row Staff, between roll and rows; without height where it is not shown."""
    staff_row: StaffRow | None = None
    attempt: AttemptOverlay | None = None
    """Somebody's attempt, laid over the tune; its reading row is the last."""

    @property
    def row_count(self) -> int:
        """How many reading rows there are, the attempt's too."""
        return len(self.shown) + (self.attempt is not None)

    @property
    def row_height(self) -> int:
        """Pixels of one reading row."""
        return self.rows.height() // max(1, self.row_count)

    def ticks(self) -> tuple[float, float]:
        """The ticks at the roll's left and right edge."""
        return self.axes.tick(0), self.axes.tick(self.roll.width())

    def column_span(self) -> tuple[float, float] | None:
        """The reading column's edges in pixels of the viewport."""
        if self.column is None:
            return None
        left = self.roll.left() + self.axes.x(self.column.tick)
        return left, self.roll.left() + self.axes.x(self.column.tick + self.column.length)
