"""Clefs, and where notes and drums stand on the five lines of a staff."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum

from ..theory import Pitch
from ..theory.pitch import LETTERS

__all__ = ["CLEFS", "PERCUSSION", "Clef", "DrumHead", "clef_for", "drum_place", "step_of"]

_TREBLE_BOTTOM = 4 * 7 + 2  # E4
_WHITE_BELOW = (0, 0, 1, 1, 2, 3, 3, 4, 4, 5, 5, 6)
_LAST_PLACE = 8  # the top line, counted from the bottom line in steps
_COSTS = {"treble": 0.0, "bass": 0.1, "treble-8": 0.9, "treble+8": 1.4}
"""Ledger lines a note that a clef must save against the usual one to be chosen."""


def step_of(pitch: Pitch) -> int:
    """Steps of the scale of C from C0 to a pitch's letter: 28 for C4, whatever its accidental."""
    return 7 * pitch.octave + LETTERS.index(pitch.letter)


@dataclass(frozen=True, slots=True)
class Clef:
    """A clef.

    >>> clef = CLEFS["bass"]
    >>> clef.place(Pitch("G", 0, 2)), clef.sign, clef.line
    (0, 'F', 4)
    """

    name: str
    sign: str
    """Of MusicXML: ``G``, ``F``, ``C`` or ``percussion``."""
    line: int
    """The line that it names, 1 the lowest."""
    bottom: int
    """The step that stands on the lowest line, from C0."""
    octaves: int = 0
    """Octaves that notes sound higher than the sign alone says."""

    def place(self, pitch: Pitch) -> int:
        """Steps from the lowest line up to a pitch."""
        return step_of(pitch) - self.bottom

    def letter_and_octave(self, place: int) -> tuple[str, int]:
        """The letter and octave of a place on the staff, the inverse of :meth:`place`."""
        octave, letter = divmod(self.bottom + place, 7)
        return LETTERS[letter], octave

    def ledger_lines(self, place: int) -> int:
        """Ledger lines that a head needs at a place."""
        return max(0, -place // 2, (place - _LAST_PLACE) // 2)


PERCUSSION = Clef("percussion", "percussion", 3, _TREBLE_BOTTOM)
CLEFS = {
    clef.name: clef
    for clef in (
        Clef("treble", "G", 2, _TREBLE_BOTTOM),
        Clef("treble-8", "G", 2, _TREBLE_BOTTOM - 7, -1),
        Clef("treble+8", "G", 2, _TREBLE_BOTTOM + 7, 1),
        Clef("bass", "F", 4, _TREBLE_BOTTOM - 12),
        Clef("alto", "C", 3, _TREBLE_BOTTOM - 6),
        PERCUSSION,
    )
}
"""By name."""


def clef_for(counts: Sequence[int]) -> Clef:
    """The clef that some notes need fewest ledger lines in; an alto clef is never chosen, only asked for.

    ``counts`` has the number of notes of each MIDI number, from 0.
    """
    notes = max(1, sum(counts))

    def ledger_lines(name: str) -> float:
        clef = CLEFS[name]
        lines = (
            count * clef.ledger_lines(_step_of_number(number) - clef.bottom) for number, count in enumerate(counts)
        )
        return sum(lines) / notes + _COSTS[name]

    return CLEFS[min(_COSTS, key=ledger_lines)]


def _step_of_number(number: int) -> int:
    """Steps from C0 to a MIDI number, a black key as the white one below it."""
    return 7 * (number // 12 - 1) + _WHITE_BELOW[number % 12]


class DrumHead(Enum):
    """The shape of a drum's head."""

    PLAIN = "plain"
    CROSS = "cross"
    OPEN = "open"
    """A cross in a circle."""
    TRIANGLE = "triangle"


_CROSS = DrumHead.CROSS
_DRUM_PLACES: dict[int, tuple[int, DrumHead]] = {
    35: (0, DrumHead.PLAIN), 36: (1, DrumHead.PLAIN), 37: (5, _CROSS), 38: (5, DrumHead.PLAIN), 39: (6, _CROSS),
    40: (5, DrumHead.PLAIN), 41: (2, DrumHead.PLAIN), 42: (9, _CROSS), 43: (2, DrumHead.PLAIN), 44: (-1, _CROSS),
    45: (3, DrumHead.PLAIN), 46: (9, DrumHead.OPEN), 47: (4, DrumHead.PLAIN), 48: (6, DrumHead.PLAIN),
    49: (10, _CROSS), 50: (7, DrumHead.PLAIN), 51: (8, _CROSS), 52: (11, _CROSS), 53: (8, DrumHead.OPEN),
    54: (7, _CROSS), 55: (11, _CROSS), 56: (7, DrumHead.TRIANGLE), 57: (10, _CROSS), 59: (8, _CROSS),
    60: (6, DrumHead.PLAIN), 61: (4, DrumHead.PLAIN), 63: (3, DrumHead.PLAIN), 70: (2, _CROSS), 75: (7, _CROSS),
    76: (6, DrumHead.TRIANGLE), 81: (11, DrumHead.TRIANGLE),
}  # fmt: skip
"""Steps from the lowest line and the head of each General MIDI percussion key: feet low, drums inside, metal high."""
_OTHER_DRUM = (4, DrumHead.TRIANGLE)


def drum_place(number: int) -> tuple[int, DrumHead]:
    """Where a General MIDI percussion key stands, and its head."""
    return _DRUM_PLACES.get(number, _OTHER_DRUM)
