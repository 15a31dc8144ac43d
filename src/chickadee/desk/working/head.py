"""The head of the working side: the names of the groups, and of the panels of one of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QMenu, QPushButton, QWidget

from ..clicks import add_line, on_click
from .spec import PanelGroup

__all__ = ["GroupNames", "PanelNames"]


class GroupNames(QWidget):
    """One button for each group. ``chosen`` carries the PanelGroup that was clicked."""

    chosen = pyqtSignal(object)

    def __init__(self, groups: Sequence[PanelGroup]) -> None:
        super().__init__()
        self._buttons: dict[PanelGroup, QPushButton] = {}
        self._choice = QButtonGroup(self)
        row = _row(self)
        for group in groups:
            button = _name_button(group.value, f"{group.value} panels", "groupName")
            on_click(button, self.chosen.emit, group)
            self._choice.addButton(button)
            self._buttons[group] = button
            row.addWidget(button)

    def show_chosen(self, group: PanelGroup) -> None:
        """Mark the group whose panels are named beside."""
        self._buttons[group].setChecked(True)


class PanelNames(QWidget):
    """One button for each panel of a group, or one with a menu where there is too little room for all.

    ``chosen`` carries the id of the panel that was clicked.
    """

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._names: dict[str, str] = {}
        self._current = ""
        self._choice = QButtonGroup(self)
        self._buttons: list[QPushButton] = []
        self._several = _name_button("", "Panels of this group", "panelName")
        self._several.clicked.connect(self._offer)
        self._row = _row(self)
        self._row.addWidget(self._several)
        self._row.addStretch()

    def show_names(self, names: Mapping[str, str], current: str) -> None:
        """Offer panels by their ids and names, one of which is seen."""
        if dict(names) != self._names:
            self._names = dict(names)
            self._make_buttons()
        self._current = current
        for name, button in zip(self._names, self._buttons, strict=True):
            button.setChecked(name == current)
        self._several.setText(f"{names[current]} ▾")
        self._several.setChecked(True)
        self._make_room()

    def minimumSizeHint(self) -> QSize:
        return QSize(self._several.sizeHint().width(), super().minimumSizeHint().height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._make_room()

    def _make_buttons(self) -> None:
        for button in self._buttons:
            self._choice.removeButton(button)
            self._row.removeWidget(button)
            button.deleteLater()
        self._buttons = []
        for place, (name, text) in enumerate(self._names.items()):
            button = _name_button(text, f"{text} panel", "panelName")
            on_click(button, self.chosen.emit, name)
            self._choice.addButton(button)
            self._row.insertWidget(place, button)
            self._buttons.append(button)

    def _make_room(self) -> None:
        wanted = sum(button.sizeHint().width() for button in self._buttons)
        fits = wanted <= self.width() or len(self._buttons) < 2
        for button in self._buttons:
            button.setVisible(fits)
        self._several.setVisible(not fits)

    def _offer(self) -> None:
        self._several.setChecked(True)
        menu = QMenu(self)
        for name, text in self._names.items():
            add_line(menu, text, self.chosen.emit, name)
        menu.popup(self._several.mapToGlobal(self._several.rect().bottomLeft()))


def _row(parent: QWidget) -> QHBoxLayout:
    row = QHBoxLayout(parent)
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(0)
    return row


def _name_button(text: str, said: str, kind: str) -> QPushButton:
    button = QPushButton(text)
    button.setObjectName(kind)
    button.setCheckable(True)
    button.setAccessibleName(said)
    return button
