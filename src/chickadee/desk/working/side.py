"""The working side: groups of panels, of which one is seen, at one of three sizes."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from ..actions import ActionSpec
from ..plain_text import hint_of
from ..settings import Settings
from ..theme import Look
from .head import GroupNames, PanelNames
from .panel import Panel, PanelContext, PanelGroup, PanelSize

__all__ = ["WorkingSide"]

_SIZES = "panel sizes"  # in the settings: id=size
_LATEST = "panels"  # in the settings: the last panel of each group


class WorkingSide(QWidget):
    """Holds the panels and feeds the one that is seen.

    ``size_changed`` carries the PanelSize that the panel in sight takes from now on.
    """

    size_changed = pyqtSignal(object)

    def __init__(self, panels: Sequence[Panel], context: PanelContext, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.panels = {panel.id: panel for panel in panels}
        self._context = context
        self._settings = context.settings
        self._stale: set[str] = set(self.panels)  # not fed since the scene changed
        self._sizes = _remembered_sizes(context.settings, self.panels)
        self._latest = self._remembered_latest()
        self.size_taken = PanelSize.BESIDE
        """The size that the panel in sight takes now."""
        self._pages = QStackedWidget()
        self._pages.setMinimumSize(320, 60)  # less than some panels would like: they scroll
        for panel in panels:
            self._pages.addWidget(_scrolling(panel))
            panel.wanted.connect(lambda name=panel.id: self.turn_to(name))
        self._groups = GroupNames([group for group in PanelGroup if group in self._latest])
        self._names = PanelNames()
        self._size = QPushButton()
        self._size.setObjectName("panelSize")
        self._row = QHBoxLayout()
        self._row.addWidget(self._groups)
        self._row.addWidget(self._names, 1)
        self._row.addWidget(self._size)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(self._row)
        column.addWidget(self._pages, 1)
        self._groups.chosen.connect(lambda group: self.turn_to(self._latest[group]))
        self._names.chosen.connect(self.turn_to)
        self._size.clicked.connect(self.next_size)
        context.selection.scene_changed.connect(self._note_scene)
        context.selection.changed.connect(self._feed_selection)
        self.set_look(context.appearance.look)

    def action_specs(self) -> list[ActionSpec]:
        """Showing each panel, changing its size, and what the panels themselves bring."""
        shown = [
            ActionSpec(
                f"panel.{panel.id}",
                "view/panels",
                panel.name,
                panel.keys,
                panel.hint,
                partial(self.turn_to, panel.id),
            )
            for panel in self.panels.values()
        ]
        size = ActionSpec(
            "panel.size",
            "view/panels",
            "Panel si&ze",
            "F12",
            "Beside the sheet, across the lower half, or over everything",
            self.next_size,
        )
        return [*shown, size, *(spec for panel in self.panels.values() for spec in panel.action_specs())]

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._row.setContentsMargins(look.px(6), look.px(3), look.px(6), 0)
        self._row.setSpacing(look.px(6))
        for panel in self.panels.values():
            panel.set_look(look)

    @property
    def current(self) -> Panel:
        """The panel that is seen."""
        return list(self.panels.values())[self._pages.currentIndex()]

    def turn_to(self, name: str) -> None:
        """Show a panel, by its id, at the size that it had last."""
        self._show(name)
        self._take_size(self._sizes[name])
        self._settings.set_words(_LATEST, list(self._latest.values()))

    def next_size(self) -> None:
        """Give the panel in sight the next of its sizes, and remember that."""
        sizes = self.current.sizes
        place = sizes.index(self.size_taken) + 1 if self.size_taken in sizes else 0
        self.set_size(sizes[place % len(sizes)])

    def set_size(self, size: PanelSize) -> None:
        """Give the panel in sight a size, and remember that."""
        self._sizes[self.current.id] = size
        self._settings.set_words(_SIZES, [f"{name}={size.value}" for name, size in self._sizes.items()])
        self._take_size(size)

    def reveal_sheet(self) -> None:
        """Make the sheet seen, until the panel is chosen again."""
        self._take_size(PanelSize.BESIDE)

    def begin(self) -> None:
        """Show the panel that was seen first of all, once everything listens."""
        self.turn_to(next(iter(self._latest.values())))

    def _show(self, name: str) -> None:
        panel = self.panels[name]
        self._latest[panel.group] = name
        self._pages.setCurrentIndex(list(self.panels).index(name))
        self._groups.show_chosen(panel.group)
        mine = {each.id: each.name.replace("&", "") for each in self.panels.values() if each.group is panel.group}
        self._names.show_names(mine, name)
        self._size.setVisible(len(panel.sizes) > 1)
        self._feed()

    def _take_size(self, size: PanelSize) -> None:
        self.size_taken = size
        self._size.setText(_SIGNS[size])
        said = f"The panel is {size.value}; change its size (F12)"
        self._size.setToolTip(hint_of(said))
        self._size.setAccessibleName(said)
        self.size_changed.emit(size)
        self.current.show_size(size)

    # Feeding

    def _note_scene(self) -> None:
        self._stale = set(self.panels)
        self._feed()

    def _feed(self) -> None:
        """Show the panel in sight what it has not seen."""
        panel = self.current
        selection = self._context.selection
        if panel.id in self._stale:
            self._stale.discard(panel.id)
            panel.show_scene(selection.scene)
            panel.show_selection(selection.notes)

    def _feed_selection(self) -> None:
        self._stale |= set(self.panels) - {self.current.id}  # they show the selection when they are seen
        if not self._context.playback.player.playing:
            self.current.show_selection(self._context.selection.notes)

    def _remembered_latest(self) -> dict[PanelGroup, str]:
        """The last panel of each group that has panels."""
        latest: dict[PanelGroup, str] = {}
        kept = [name for name in self._settings.words(_LATEST, []) if name in self.panels]
        for name in [*self.panels, *kept]:
            group = self.panels[name].group
            if group not in latest or name in kept:
                latest[group] = name
        return {group: latest[group] for group in PanelGroup if group in latest}


_SIGNS = {PanelSize.BESIDE: "◨", PanelSize.ACROSS: "⬓", PanelSize.OVER: "◼"}


def _remembered_sizes(settings: Settings, panels: dict[str, Panel]) -> dict[str, PanelSize]:
    """The size of each panel."""
    sizes = {name: panel.sizes[0] for name, panel in panels.items()}
    by_value = {size.value: size for size in PanelSize}
    for word in settings.words(_SIZES, []):
        name, _, value = word.partition("=")
        if name in panels and by_value.get(value) in panels[name].sizes:
            sizes[name] = by_value[value]
    return sizes


def _scrolling(panel: QWidget) -> QScrollArea:
    """A panel that can be scrolled where there is less room than it needs."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setWidget(panel)
    return area
