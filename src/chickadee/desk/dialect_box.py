"""A box with the languages in which a tune can be written as a program."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QComboBox

from ..faults import InputFault
from ..programs.writing.catalogue import dialect_called, dialect_names

__all__ = ["fill_dialects"]


def _title(name: str, folder: Path | None) -> str:
    try:
        return dialect_called(name, folder).title
    except InputFault:
        return name  # what is wrong with it is said where it is chosen


def fill_dialects(box: QComboBox, folder: Path | None, chosen: str) -> None:
    """Offer the languages of a folder by their titles, their names as data, and choose one, silently."""
    names = dialect_names(folder)
    box.blockSignals(True)
    if names != [box.itemData(place) for place in range(box.count())]:
        box.clear()
        for name in names:
            box.addItem(_title(name, folder), name)
    box.setCurrentIndex(max(0, box.findData(chosen)))
    box.blockSignals(False)
