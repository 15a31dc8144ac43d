"""The menu bar: every action in its menu, and by its id."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QMenu, QMenuBar

from .actions import ActionSpec, new_action
from .clicks import add_line
from .settings import Settings

__all__ = ["MENUS", "Menus"]


class MenuPlace(NamedTuple):
    """A menu of the bar."""

    title: str
    sections: tuple[str, ...]
    """In their order; sections that are not named here follow those that are."""


MENUS = {
    "song": MenuPlace("Song", ("open", "save", "export", "ideas", "window")),
    "edit": MenuPlace("Edit", ("undo", "clipboard", "find", "findings", "compare", "lines", "sheet")),
    "notes": MenuPlace("Notes", ("pitch", "time", "loudness", "split", "delete", "select", "type", "keep")),
    "listen": MenuPlace("Listen", ("play", "compare", "step", "keys", "switches")),
    "view": MenuPlace("View", ("zoom", "show", "panels", "parts", "look")),
    "help": MenuPlace("Help", ("help", "report")),
}
"""The menus by id, in their order."""


class Menus(QObject):
    """Fills a menu bar from specs, and keeps the state of switches that are to be remembered."""

    def __init__(self, bar: QMenuBar, specs: Iterable[ActionSpec], settings: Settings, parent: QObject) -> None:
        super().__init__(parent)
        self._settings = settings
        self._specs = list(specs)
        self.menus: dict[str, QMenu] = {}
        self.by_menu: dict[str, list[QAction]] = {}
        """The actions of each menu, by its id."""
        self.actions: dict[str, QAction] = {}
        """Every action by its id."""
        specs_of: dict[str, list[ActionSpec]] = {name: [] for name in MENUS}
        for spec in self._specs:
            specs_of[spec.menu].append(spec)
        for name, place in MENUS.items():
            menu = bar.addMenu(f"&{place.title}")
            assert menu is not None
            self.menus[name] = menu
            self.by_menu[name] = []
            mine = specs_of[name]
            for section in dict.fromkeys([*place.sections, *(spec.section for spec in mine)]):
                self._fill(menu, [spec for spec in mine if spec.section == section])
        self.recent = QMenu("Recent &folders", bar)

    def restore(self) -> None:
        """Put the switches that are remembered as they were, and remember them from now on."""
        for spec in self._specs:
            if spec.kept and spec.switched is not None:
                action = self.actions[spec.id]
                on = self._settings.is_on(spec.id, spec.on)
                if on == action.isChecked():
                    spec.switched(on)
                action.setChecked(on)
                action.toggled.connect(lambda on, name=spec.id: self._settings.set_on(name, on))

    def show_recent(self, folders: Sequence[Path], opened: Callable[[Path], object]) -> None:
        """Offer the folders worked in, newest first."""
        self.recent.clear()
        for folder in folders:
            shown = str(folder).replace("&", "&&")
            add_line(self.recent, shown, opened, folder)
        self.recent.setEnabled(not self.recent.isEmpty())

    def _fill(self, menu: QMenu, specs: list[ActionSpec]) -> None:
        """One section of a menu, with a line before it."""
        if specs and not menu.isEmpty():
            menu.addSeparator()
        submenus: dict[str, QMenu] = {}
        for spec in specs:
            goal = menu
            if spec.submenu:
                if spec.submenu not in submenus and (made := menu.addMenu(spec.submenu)) is not None:
                    submenus[spec.submenu] = made
                goal = submenus[spec.submenu]
            if spec.id in self.actions:
                raise ValueError(f"two actions have the id {spec.id}")
            action = self.actions[spec.id] = new_action(spec, self)
            self.by_menu[spec.menu].append(action)
            goal.addAction(action)
