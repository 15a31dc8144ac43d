"""Tunes as pupils' programs and papers keep them: numbers, names, pairs, parallel lists, records, frequencies."""

from __future__ import annotations

from ..theory import Naming
from .flat_lists import ListFault
from .imported import Imported
from .line_lists import from_lines
from .program_lists import RunningFault, from_program

__all__ = ["ListFault", "RunningFault", "from_lines", "from_program", "read"]


def read(text: str, naming: Naming = Naming.LETTERS) -> Imported:
    """The tune that the data of a program, or lines of values, mean. Raises ListFault.

    Values in the place of a pitch that name none are silent, and listed.
    """
    try:
        return from_program(text, naming)
    except RunningFault:
        raise
    except ListFault:
        return from_lines(text, naming)
