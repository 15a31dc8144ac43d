"""A box with the languages in which a tune can be written as a program."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QComboBox

from ..programs.writing.catalogue import dialect_names, shipped

__all__ = ["fill_dialects"]


def fill_dialects(box: QComboBox, folder: Path | None, chosen: str) -> None:
    """Offer the languages of a folder by their titles, their names as data, and choose one, silently."""
    names = dialect_names(folder)
    box.blockSignals(True)
    if names != [box.itemData(place) for place in range(box.count())]:
        box.clear()
        for name in names:
            box.addItem(shipped()[name].title if name in shipped() else name, name)
    box.setCurrentIndex(max(0, box.findData(chosen)))
    box.blockSignals(False)
