"""The working side: a row of names, and the panel that is chosen."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from ..theme import Look

__all__ = ["WorkingSide"]


class WorkingSide(QWidget):
    """Holds the panels below at the right, of which one is seen. ``turned`` tells that the user chose another."""

    turned = pyqtSignal()

    def __init__(self, look: Look, panels: dict[str, QWidget], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._names = list(panels)
        self._pages = QStackedWidget()
        self._pages.setMinimumSize(320, 60)  # less than some panels would like: they scroll
        self._group = QButtonGroup(self)
        self._row = QHBoxLayout()
        for place, (name, panel) in enumerate(panels.items()):
            button = QPushButton(name)
            button.setObjectName("panelName")
            button.setCheckable(True)
            button.setAccessibleName(f"{name} panel")
            self._group.addButton(button, place)
            self._row.addWidget(button)
            self._pages.addWidget(panel if isinstance(panel, QScrollArea) else _scrolling(panel))
        self._row.addStretch()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(self._row)
        column.addWidget(self._pages, 1)
        self._group.idClicked.connect(lambda place: self.turn_to(self._names[place]))
        self._group.button(0).setChecked(True)
        self.set_look(look)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._row.setContentsMargins(look.px(8), look.px(5), look.px(8), 0)
        self._row.setSpacing(look.px(2))

    @property
    def current(self) -> str:
        """The name of the panel that is seen."""
        return self._names[self._pages.currentIndex()]

    def turn_to(self, name: str) -> None:
        """Show a panel by its name."""
        place = self._names.index(name)
        self._pages.setCurrentIndex(place)
        self._group.button(place).setChecked(True)
        self.turned.emit()


def _scrolling(panel: QWidget) -> QScrollArea:
    """A panel that can be scrolled where there is less room than it needs."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setWidget(panel)
    return area
