"""Comma-separated values that no spreadsheet takes for formulas, and that are read back as they were.

A cell that begins with ``=``, ``+``, ``-`` or ``@`` is a formula to a spreadsheet, and a formula can start programs
and send data away. An apostrophe before it makes it text there, as the trade does.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence

__all__ = ["cell", "plain_cell", "written"]

_FORMULA = re.compile(r"'*[=+\-@\t\r]")
_NUMBER = re.compile(r"[-+]?(?:[0-9]+(?:\.[0-9]*)?|\.[0-9]+)(?:[eE][-+]?[0-9]+)?(?:/[0-9]+)?")


def cell(value: object) -> object:
    """Return a value as a cell holds it: a text that a spreadsheet would take for a formula is marked as text.

    >>> cell("=1+1"), cell(-12), cell("-12"), cell("Gull Point")
    ("'=1+1", -12, '-12', 'Gull Point')
    """
    if isinstance(value, str) and _FORMULA.match(value) and not _NUMBER.fullmatch(value):
        return f"'{value}"
    return value


def plain_cell(text: str) -> str:
    """Return what a cell meant, without the mark that :func:`cell` made.

    >>> plain_cell("'=1+1"), plain_cell("'tis")
    ('=1+1', "'tis")
    """
    return text[1:] if text[:1] == "'" and _FORMULA.match(text, 1) else text


def written(rows: Iterable[Sequence[object]]) -> str:
    """Return rows as comma-separated values, each line ended by a line feed."""
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerows([cell(value) for value in row] for row in rows)
    return text.getvalue()
