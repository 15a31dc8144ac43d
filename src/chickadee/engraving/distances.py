"""Distances of engraving, in staff spaces: the trade's usual rules for lines, stems, beams and gaps."""

from __future__ import annotations

__all__ = [
    "ACCIDENTAL_GAP", "BEAM", "BEAM_STEP", "BRACKET", "DOT_GAP", "LEDGER", "LEDGER_OUT", "LINE", "MOST_SLANT",
    "SHORTEST_STEM", "STAFF_HEIGHT", "STEM", "STEM_LENGTH", "THICK_BAR_LINE", "THIN_BAR_LINE", "TIE_GAP", "y_of",
]  # fmt: skip

LINE = 0.1
"""The width of a staff line."""
STAFF_HEIGHT = 4.0
LEDGER = 0.14
LEDGER_OUT = 0.35
"""The part of a ledger line beyond a head, on either side."""
STEM = 0.12
STEM_LENGTH = 3.5
SHORTEST_STEM = 2.5
BEAM = 0.5
BEAM_STEP = 0.75
"""From one beam to the next."""
MOST_SLANT = 1.0
"""How much higher a beam may end than it begins."""
ACCIDENTAL_GAP = 0.22
DOT_GAP = 0.45
TIE_GAP = 0.28
BRACKET = 0.12
THIN_BAR_LINE = 0.16
THICK_BAR_LINE = 0.5


def y_of(place: float) -> float:
    """Staff spaces below the top line of a place, which is counted in steps from the lowest line up."""
    return STAFF_HEIGHT - place / 2
