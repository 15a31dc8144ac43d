"""The menu bar: every action, in its menu and by its text."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu, QMenuBar

from .actions import ActionSpec, new_action
from .menus import Group, Submenu
from .settings import Settings
from .timeline.rows import ROWS, USUAL_ROWS

__all__ = ["Menus"]

_REMEMBERED = {
    "Shelf": True,
    "Keyboard": True,
    "Evening theme": False,
    "Projector": False,
    "Hear notes as they are typed": True,
}
"""Switches that are kept from one day to the next, and how they are at first."""


class Menus(QObject):
    """Fills a menu bar, with a line between groups, and keeps what is switched on."""

    def __init__(
        self, bar: QMenuBar, menus: dict[str, tuple[Group, ...]], settings: Settings, parent: QObject
    ) -> None:
        super().__init__(parent)
        self._settings = settings
        self.menus: dict[str, QMenu] = {}
        self.by_menu: dict[str, list[QAction]] = {}
        self.by_text: dict[str, QAction] = {}
        for name, groups in menus.items():
            menu = bar.addMenu(f"&{name}")
            assert menu is not None
            self.menus[name], self.by_menu[name] = menu, []
            for group in groups:
                if not menu.isEmpty():
                    menu.addSeparator()
                self._fill(name, menu, group)
        self.recent = QMenu("Recent &folders", bar)
        self._recall()

    def is_on(self, text: str) -> bool:
        """Whether a switch is on."""
        return self.by_text[text].isChecked()

    @property
    def rows(self) -> list[str]:
        """The titles of the reading rows that are switched on."""
        return [title for title in ROWS if self.is_on(f"Row: {title}")]

    def show_recent(self, opened: Callable[[Path], object]) -> None:
        """Offer the folders worked in, newest first."""
        self.recent.clear()
        for folder in self._settings.recent_folders:
            self.recent.addAction(str(folder)).triggered.connect(lambda _, folder=folder: opened(folder))
        self.recent.setEnabled(not self.recent.isEmpty())

    def _fill(self, name: str, menu: QMenu, group: Group) -> None:
        for each in group:
            if isinstance(each, Submenu):
                beside = menu.addMenu(each.text)
                assert beside is not None
                self._fill(name, beside, each.specs)
            else:
                menu.addAction(self._made(name, each))

    def _made(self, name: str, spec: ActionSpec) -> QAction:
        action = new_action(spec, self)
        self.by_menu[name].append(action)
        self.by_text[spec.name] = action
        return action

    def _recall(self) -> None:
        for name, usual in _REMEMBERED.items():
            action = self.by_text[name]
            action.setChecked(self._settings.is_on(name, usual))
            action.toggled.connect(lambda on, name=name: self._settings.set_on(name, on))
        shown = self._settings.words("rows", list(USUAL_ROWS))
        for title in ROWS:
            self.by_text[f"Row: {title}"].setChecked(title in shown)
