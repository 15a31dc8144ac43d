"""What is brought in from elsewhere, read and written as a sheet: the work of a process of its own."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from ..faults import InputFault
from ..files import FileFault, read_bytes
from . import anything
from .arranging import Arranged, arranged
from .imported import Form, Imported

__all__ = ["SMALL", "Brought", "brought", "is_a_sheet", "is_small"]

SMALL = 16_000
"""Bytes or characters that are read in a moment, however odd they are."""


@dataclass(frozen=True, slots=True)
class Brought:
    """A tune from elsewhere."""

    found: Imported
    made: Arranged
    """Its sheet, snapped and in phrases."""


def brought(form: Form | None, source: Path | str) -> Brought | str:
    """Read a file or a text of any form; a sentence where it cannot be read."""
    try:
        found = anything.read(source, form) if isinstance(source, Path) else anything.read_text(source, form)
        return Brought(found, arranged(found))
    except InputFault as fault:
        return str(fault)


def is_a_sheet(path: Path) -> bool:
    """Whether a file's name says that it is a sheet."""
    return anything.SUFFIXES.get(path.suffix.lower()) is Form.SHEET


def is_small(source: Path | str) -> bool:
    """Whether a file or text is read in a moment, whatever it holds: it is short, and not compressed."""
    if isinstance(source, str):
        return len(source) <= SMALL
    try:
        head = read_bytes(source, SMALL)
    except FileFault:
        return True  # which is refused at once
    return len(head) <= SMALL and not head.startswith(b"PK")
