"""Help: the key card, the sheet's reference, and a report of faults."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QWidget

from ..fault_log import report
from .actions import ActionSpec
from .clipboard import copy_text
from .theme import Look

__all__ = ["Help"]


class Help(QObject):
    """Opens the pages of help over a window."""

    def __init__(
        self,
        window: QWidget,
        look: Callable[[], Look],
        actions: Callable[[], dict[str, list[QAction]]],
        say: Callable[[str], None],
    ) -> None:
        """``actions`` tells the actions of each menu when the key card is opened; ``say`` shows a good message."""
        super().__init__(window)
        self._window = window
        self._look = look
        self._actions = actions
        self._say = say

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """The key card, the reference, and what is sent where something fails."""
        return (
            ActionSpec("help.keys", "help/help", "&Keys", QKeySequence.StandardKey.HelpContents,
                       "Every action and its keys", self.show_keys),
            ActionSpec("help.sheet", "help/help", "The &sheet…", "Shift+F1",
                       "Everything that can be written in a sheet, to search", self.show_reference),
            ActionSpec("help.report", "help/report", "&Report a fault", None,
                       "Copy the version, the system and the log of internal errors, to be sent", self.copy_report),
        )  # fmt: skip

    def show_keys(self) -> None:
        """Show the key card."""
        from .keycard import KeyCard

        KeyCard(self._actions(), self._look(), self._window).show()

    def show_reference(self) -> None:
        """Show the reference of the sheet's language."""
        from .reference import ReferenceDialog

        ReferenceDialog(self._look(), self._window).show()

    def copy_report(self) -> None:
        """Copy what whoever mends a fault needs to know; it holds nothing of any tune."""
        copy_text(report())
        self._say("The version, the system and the log are in the clipboard; paste them into a message.")
