"""Lists and tables that are pasted into a sheet."""

from __future__ import annotations

from . import anything, lists
from .arranging import arranged
from .imported import Form, ImportFault

__all__ = ["pasted"]

_LONGEST = 200_000  # characters of a paste that is looked at


def pasted(text: str, alone: bool) -> str | None:
    """How a list, or a table that is ``alone`` in a sheet, is written as one; None for any other text.

    >>> pasted("notes = [60, 62]\\nbeats = [1, 2]", alone=False)
    'C4 D4=2'
    """
    if len(text) > _LONGEST:
        return None
    try:
        found = anything.read_text(text)
        if found.form is Form.LIST:
            return lists.sheet_of(text)
    except ImportFault:
        return None
    return arranged(found, snap=None).text if found.form is Form.TABLE and alone else None
