"""The wishes for a page."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from ..faults import InputFault
from ..sheet.properties import read_pitch_number
from .program_sheet import ProgramSheet
from .shapes import Paper

__all__ = [
    "EMPTY",
    "EMPTY_IN_PROGRAMS",
    "MOST_FALSE_STEPS",
    "MOST_IN_LINE",
    "Gaps",
    "HandoutFault",
    "Request",
    "read_gaps",
    "read_reach",
]

MOST_FALSE_STEPS = 12
"""Steps of a puzzle that may be none of the tune's."""
MOST_IN_LINE = 16
"""Bars that may stand in a line of a page."""
EMPTY = ("every-3", "numbers", "names", "beats", "bars")
"""The rules by which cells of a worksheet are left empty; ``every-`` takes any number from 2."""
EMPTY_IN_PROGRAMS = ("pitches", "lengths", "counts")
"""The rules by which values of a program are left out, besides ``every-``."""


class HandoutFault(InputFault):
    """A page cannot be made; the text says why in one sentence."""


@dataclass(frozen=True, slots=True)
class Gaps:
    """Which cells of a worksheet are left empty."""

    kind: str = "every"
    """``every`` so many notes, all ``numbers``, ``names`` or ``beats``, whole ``bars``, or ``chosen`` cells; of a
    program all ``pitches``, ``lengths`` or ``counts``."""
    every: int = 3
    seed: int | None = None
    """Chooses which, where there is a choice; None for those that a count gives."""
    cells: frozenset[tuple[str, int]] = frozenset()
    """The chosen cells, by the titles of their rows and their indices in the tune."""


@dataclass(frozen=True, slots=True)
class Request:
    """The choices for a page."""

    paper: Paper = field(default_factory=Paper)
    title: str | None = None
    """None for the tune's own."""
    group: str = ""
    """The text before the lines for name and date, such as the class."""
    gaps: Gaps = field(default_factory=Gaps)
    answers: bool = False
    """True if what is left empty is filled in."""
    code: str = ""
    """A small code in the corner that gives back the answers."""
    voice: int | None = None
    """The voice that is read; None for the first that has notes."""
    voices: tuple[int, ...] = ()
    """The voices that stand on staves, one under the other; none for that which is read."""
    beside: int | None = None
    """The voice that stands on the staff of the one that is read; None for none."""
    bars: tuple[int, int] | None = None
    """The numbers of the first and the last bar that stand on staves; None for all."""
    for_pupils: bool = True
    """True if there are lines for a name and a date."""
    labels: str = "none"
    """The names and numbers at the heads, by the name of one of :class:`HeadLabels`."""
    task: str = "names"
    """The task of a worksheet on the staff, by the name of one of :class:`StaffTask`."""
    reach: tuple[int, int] | None = None
    """The lowest and the highest MIDI number of a chart or of flash cards; None for those of the tune."""
    clef: str | None = None
    """The clef of a staff; None chooses by the notes."""
    bars_in_line: int | None = None
    """As many bars as are to stand in a line, or fewer where what is in them needs more room; None for the usual."""
    scale: float = 1.0
    """How large everything is set, from 1 to 1.5."""
    program: ProgramSheet | None = None
    """The tune as a program, for the pages of programs."""
    false_steps: int = 0
    """Steps of a puzzle that are none of the tune's."""
    key_sets: tuple[tuple[str, tuple[tuple[str, str], ...]], ...] = ()
    """Sets of own keys: their names, and each key with what it plays."""


def read_gaps(text: str, seed: int | None = None) -> Gaps:
    """The rule that the command line names. Raises HandoutFault.

    >>> read_gaps("every-4").every, read_gaps("bars").kind
    (4, 'bars')
    """
    if found := re.fullmatch(r"every-([2-9]|[1-9][0-9])", text):
        return Gaps("every", int(found[1]), seed)
    if text in EMPTY[1:] or text in EMPTY_IN_PROGRAMS:
        return Gaps(text, seed=seed)
    raise HandoutFault(
        f"{text} is no rule of what is left empty; there are {', '.join((*EMPTY, *EMPTY_IN_PROGRAMS))}."
    )


def read_reach(text: str) -> tuple[int, int]:
    """The lowest and the highest MIDI number of a range. Raises HandoutFault.

    >>> read_reach("C3-C6"), read_reach("60 - 72")
    ((48, 84), (60, 72))
    """
    found = re.fullmatch(r"\s*([^-–\s]+)\s*[-–]\s*([^-–\s]+)\s*", text)
    low, high = (read_pitch_number(end) for end in found.groups()) if found is not None else (None, None)
    if low is None or high is None:
        raise HandoutFault(f"{text} is no range of pitches; ranges are like C3-C6 or 48-84.")
    if high < low:
        raise HandoutFault(f"{text} ends below where it begins; the lower pitch of a range comes first.")
    return low, high
