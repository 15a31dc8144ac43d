"""Every action of the desk: its words, its keys and its menu."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtGui import QAction, QKeySequence

__all__ = ["ActionSpec", "new_action"]


@dataclass(frozen=True, slots=True)
class ActionSpec:
    """What an action is called and does."""

    text: str
    keys: str | QKeySequence.StandardKey | None
    hint: str
    """One line, shown in the status line and on the key card."""
    slot: Callable[[], object]
    short: str = ""
    """What a button calls it, where that differs."""
    checkable: bool = False

    @property
    def name(self) -> str:
        """The text without the marks of a mnemonic and of a dialog to come."""
        return self.text.replace("&", "").rstrip("…")


def new_action(spec: ActionSpec, parent: QObject) -> QAction:
    """The action of a spec."""
    action = QAction(spec.text, parent)
    if isinstance(spec.keys, str):
        action.setShortcut(QKeySequence(spec.keys))
    elif spec.keys is not None:
        action.setShortcuts(spec.keys)
    action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
    action.setIconText(spec.short or spec.name)
    action.setStatusTip(spec.hint)
    action.setToolTip(spec.hint)
    action.setCheckable(spec.checkable)
    action.triggered.connect(lambda: spec.slot())
    return action
