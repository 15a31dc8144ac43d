"""Actions: their names, their places in the menus, and their slots. Whoever does the thing declares its actions."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Protocol

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtGui import QAction, QKeySequence

from .clicks import on_click
from .plain_text import hint_of

__all__ = ["ActionSource", "ActionSpec", "new_action"]


@dataclass(frozen=True, slots=True)
class ActionSpec:
    """One action, or a switch where it has :attr:`switched`.

    >>> spec = ActionSpec("tune.save", "song/save", "&Save…", "Ctrl+S", "Save the tune in its file", print)
    >>> spec.menu, spec.section, spec.name
    ('song', 'save', 'Save')
    """

    id: str
    """The name in code, settings and tests. It is never shown."""
    place: str
    """Its menu and the section of the menu, with a slash between."""
    text: str
    """The text in the menu, with ``&`` before its mnemonic and ``…`` where a dialog follows."""
    keys: str | QKeySequence.StandardKey | None
    hint: str
    """One line, shown in the status line and on the key card."""
    slot: Callable[[], object] | None = None
    """Called each time it is triggered."""
    switched: Callable[[bool], object] | None = None
    """Makes it a switch: called with whether it is on now."""
    on: bool = False
    """True if a switch is on the first time the desk is opened."""
    kept: bool = False
    """True if the state of a switch is remembered."""
    short: str = ""
    """The text on a button, where that differs."""
    submenu: str = ""
    """The submenu it stands in, if any."""

    @property
    def menu(self) -> str:
        """The id of its menu."""
        return self.place.split("/")[0]

    @property
    def section(self) -> str:
        """The section of its menu; a line separates sections."""
        return self.place.split("/")[1]

    @property
    def name(self) -> str:
        """The text without the marks of a mnemonic and of a dialog to come."""
        return self.text.replace("&", "").rstrip("…")


class ActionSource(Protocol):
    """A part of the desk that has actions."""

    def action_specs(self) -> Sequence[ActionSpec]:
        """Its actions, in the order in which they stand in the menus."""


def new_action(spec: ActionSpec, parent: QObject) -> QAction:
    """The action of a spec."""
    action = QAction(spec.text, parent)
    action.setObjectName(spec.id)
    if isinstance(spec.keys, str):
        action.setShortcut(QKeySequence(spec.keys))
    elif spec.keys is not None:
        action.setShortcuts(spec.keys)
    action.setShortcutContext(Qt.ShortcutContext.WindowShortcut)
    action.setIconText(spec.short or spec.name)
    action.setStatusTip(spec.hint)
    action.setToolTip(hint_of(spec.hint))
    if (slot := spec.slot) is not None:
        on_click(action, slot)
    if (switched := spec.switched) is not None:
        action.setCheckable(True)
        action.setChecked(spec.on)
        action.toggled.connect(switched)
    return action
