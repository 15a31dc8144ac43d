"""The table of the notes that were heard and are not in the tune yet."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtWidgets import QTableWidget, QTableWidgetItem

from ...display.heard_notes import AlignedNotes
from ...display.words import beats
from ...song import Note, Song
from ..parts import describe, plain_table
from ..theme import Look

__all__ = ["HeardTable"]

_MOST_ROWS = 2_000
_MOST_PARTS = 48  # of a beat, up to which a place is said exactly


class HeardTable:
    """A table, and which note each of its rows is."""

    def __init__(self) -> None:
        self.widget: QTableWidget = plain_table(
            ["Place", "Name", "Number", "Off by", "Heard at", "Sure"], rows_marked=True
        )
        self._notes: list[Note] = []
        describe((self.widget, "Notes heard"))

    @property
    def marked(self) -> Note | None:
        """The note of the marked row, or of the first; None where there are none."""
        row = max(0, self.widget.currentRow())
        return self._notes[row] if row < len(self._notes) else None

    def set_look(self, look: Look) -> None:
        """Draw with another size."""
        header = self.widget.verticalHeader()
        assert header is not None
        header.setDefaultSectionSize(look.px(22))
        self.widget.setMinimumHeight(look.px(70))

    def fill(self, laid: AlignedNotes, places: Sequence[int], song: Song) -> None:
        """Show some of the notes that lie under a song."""
        shown = list(places)[:_MOST_ROWS]
        self._notes = [laid.notes[place] for place in shown]
        self.widget.blockSignals(True)
        self.widget.setRowCount(len(shown))
        for row, place in enumerate(shown):
            note = laid.notes[place]
            heard = laid.heard[place]
            where = song.grid.place(note.start)
            beat = beats(where.beat) if where.beat.denominator <= _MOST_PARTS else f"{float(where.beat):.2f}"
            values = (
                f"bar {where.bar}, beat {beat}",
                song.naming.pitch_pretty(note.pitch),
                str(note.number),
                f"{_rounded(heard.cents)} cents",
                f"{heard.start:.3f} s",
                f"{100 * heard.confidence:.0f}%",
            )
            for column, value in enumerate(values):
                self.widget.setItem(row, column, QTableWidgetItem(value))
        self.widget.blockSignals(False)


def _rounded(cents: float) -> str:
    return f"{round(cents):+d}" if round(cents) else "0"
