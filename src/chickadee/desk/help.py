"""What helps: the key card and the sheet's reference."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QWidget

from .actions import ActionSpec
from .keycard import KeyCard
from .reference import ReferenceDialog
from .theme import Look

__all__ = ["Help"]


class Help(QObject):
    """Opens the pages of help over a window."""

    def __init__(
        self, window: QWidget, look: Callable[[], Look], actions: Callable[[], dict[str, list[QAction]]]
    ) -> None:
        """``actions`` tells the actions of each menu when the key card is opened."""
        super().__init__(window)
        self._window, self._look, self._actions = window, look, actions

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """The key card and the reference."""
        return (
            ActionSpec("help.keys", "Help/help", "&Keys", QKeySequence.StandardKey.HelpContents,
                       "Every action and its keys", self.show_keys),
            ActionSpec("help.sheet", "Help/help", "The &sheet…", "Shift+F1",
                       "Everything that can be written in a sheet, to search", self.show_reference),
        )  # fmt: skip

    def show_keys(self) -> None:
        """Show the key card."""
        KeyCard(self._actions(), self._look(), self._window).show()

    def show_reference(self) -> None:
        """Show the reference of the sheet's language."""
        ReferenceDialog(self._look(), self._window).show()
