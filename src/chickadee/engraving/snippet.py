"""A single note on a short staff, for cards and charts."""

from __future__ import annotations

from collections.abc import Iterator

from ..notation import CLEFS, Clef, DrawnAccidental, NotatedItem, NoteHead, WrittenLength
from ..song import TICKS_PER_QUARTER, Note
from ..theory import Pitch
from .chord import layout_of
from .distances import y_of
from .line import line_marks
from .marks import Mark
from .prefix import clef_marks, clef_width, staff_lines
from .stems import PlacedItem

__all__ = ["SNIPPET_WIDTH", "pitch_marks", "pitch_reach"]

SNIPPET_WIDTH = 11.5
"""Staff spaces of a staff with a clef and one note."""
_MIDDLE_C = 60
_MARGIN = 0.6
_NOTE = 7.6
# staff spaces from the middle of a head to the edge of it, and of an accidental; and of the clefs, from the top line
_HEAD = 0.8
_ACCIDENTAL = 2.0
_CLEF_TOP = -1.4
_CLEF_BOTTOM = 5.6


def _clef_of(pitch: Pitch) -> Clef:
    """The clef that a single pitch is read in: bass below middle C, treble from there on."""
    return CLEFS["bass" if pitch.number < _MIDDLE_C else "treble"]


def pitch_marks(pitch: Pitch) -> Iterator[Mark]:
    """A whole note on a staff :data:`SNIPPET_WIDTH` long, whose top line is at 0."""
    clef = _clef_of(pitch)
    note = Note(0, 0, 4 * TICKS_PER_QUARTER, pitch, pitch.number, 80, False, ())
    drawn = DrawnAccidental(pitch.accidental, courtesy=False) if pitch.accidental else None
    head = NoteHead(note, pitch, clef.place(pitch), drawn, tied=False)
    item = NotatedItem(0, note.length, WrittenLength("whole"), (head,))
    yield from staff_lines(0, SNIPPET_WIDTH, 0)
    yield from clef_marks(clef, _MARGIN, 0)
    placed = PlacedItem(item, layout_of(item), max(_NOTE, clef_width(clef) + 3.5), 0.0, 0, 0)
    yield from line_marks([placed], frozenset(), None, SNIPPET_WIDTH, {})


def pitch_reach(pitch: Pitch) -> tuple[float, float]:
    """Staff spaces from the top line to the upper and lower edge of all that a pitch is drawn with."""
    y = y_of(_clef_of(pitch).place(pitch))
    reach = _ACCIDENTAL if pitch.accidental else _HEAD
    return min(_CLEF_TOP, y - reach), max(_CLEF_BOTTOM, y + reach)
