"""Engraving: notation drawn with outlines and lines at their places, in staff spaces."""

from .bar_layout import LaidOut, lay_out_bar
from .engraver import Engraver, Part, TextRow, brace_room
from .line import line_marks
from .marks import Blot, Mark, Measure, Rule, Sign, WordPlace, Words, box_of, moved
from .outlines import Box, Outline, PathStep, outline
from .prefix import clef_marks, clef_width, signature_marks, signature_width, staff_lines
from .stems import PlacedItem
from .system import EngravedSystem, engrave

__all__ = [
    "Blot",
    "Box",
    "EngravedSystem",
    "Engraver",
    "LaidOut",
    "Mark",
    "Measure",
    "Outline",
    "Part",
    "PathStep",
    "PlacedItem",
    "Rule",
    "Sign",
    "TextRow",
    "WordPlace",
    "Words",
    "box_of",
    "brace_room",
    "clef_marks",
    "clef_width",
    "engrave",
    "lay_out_bar",
    "line_marks",
    "moved",
    "outline",
    "signature_marks",
    "signature_width",
    "staff_lines",
]
