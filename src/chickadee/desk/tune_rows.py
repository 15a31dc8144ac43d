"""The reading rows that a tune asks for, shown while it is open."""

from __future__ import annotations

from collections.abc import Mapping

from PyQt6.QtGui import QAction

from .document import Document
from .timeline.actions import row_id

__all__ = ["TuneRows"]


class TuneRows:
    """Switches rows on when a tune is opened that names them, and off again with the next tune."""

    def __init__(self, document: Document, actions: Mapping[str, QAction]) -> None:
        self._document = document
        self._actions = actions
        self._switched: list[QAction] = []
        document.begun.connect(self._show)

    def _show(self) -> None:
        for action in self._switched:
            action.setChecked(False)
        wanted = [self._actions[row_id(title)] for title in self._document.reading.sheet.settings.rows or ()]
        self._switched = [action for action in wanted if not action.isChecked()]
        for action in self._switched:
            action.setChecked(True)
