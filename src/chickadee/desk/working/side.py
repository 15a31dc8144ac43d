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
from .panel import Panel, PanelContext
from .spec import PanelAction, PanelGroup, PanelSize, PanelSpec

__all__ = ["WorkingSide"]

_SIZES = "panel sizes"  # in the settings: id=size
_LATEST = "panels"  # in the settings: the last panel of each group


class WorkingSide(QWidget):
    """Holds the panels and feeds the one that is seen. A panel is made when it is first shown or asked for something.

    ``size_changed`` carries the PanelSize that the panel in sight takes from now on, ``readout_wanted`` what the
    transport bar is to show for a panel.
    """

    size_changed = pyqtSignal(object)
    readout_wanted = pyqtSignal(object)

    def __init__(self, specs: Sequence[PanelSpec], context: PanelContext, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.specs = {spec.id: spec for spec in specs}
        self.made: dict[str, Panel] = {}
        """The panels that there are so far, by id."""
        self._name = ""  # of the one that is seen; empty before the first is
        self._context = context
        self._settings = context.settings
        self._stale: set[str] = set(self.specs)  # not fed since the scene changed
        self._sizes = _remembered_sizes(context.settings, self.specs)
        self._latest = self._remembered_latest()
        self.size_taken = PanelSize.BESIDE
        """The size that the panel in sight takes now."""
        self._pages = QStackedWidget()
        self._pages.setMinimumSize(320, 60)  # less than some panels would like: they scroll
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

    def panel(self, name: str) -> Panel:
        """A panel by its id; it is made where it is not there yet."""
        if name not in self.made:
            panel = self.specs[name].load()(self._context)
            panel.set_look(self._context.appearance.look)
            panel.wanted.connect(partial(self.turn_to, name))
            panel.readout_wanted.connect(self.readout_wanted)
            self._pages.addWidget(_scrolling(panel))
            self.made[name] = panel
        return self.made[name]

    def action_specs(self) -> list[ActionSpec]:
        """Showing each panel, changing its size, and the actions of the panels themselves."""
        specs = self.specs.values()
        shown = [
            ActionSpec(
                f"panel.{spec.id}", "view/panels", spec.name, spec.keys, spec.hint, partial(self.turn_to, spec.id)
            )
            for spec in specs
        ]
        size = ActionSpec(
            "panel.size",
            "view/panels",
            "Panel si&ze",
            "F12",
            "Beside the sheet, across the lower half, or over everything",
            self.next_size,
        )
        return [*shown, size, *(self._action(spec.id, action) for spec in specs for action in spec.actions)]

    def _action(self, name: str, action: PanelAction) -> ActionSpec:
        do = action.do
        switch = action.switch
        return ActionSpec(
            action.id,
            action.place,
            action.text,
            action.keys,
            action.hint,
            (lambda: do(self.panel(name))) if do is not None else None,
            switched=(lambda on: switch(self.panel(name), on)) if switch is not None else None,
            kept=switch is not None,
        )

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._row.setContentsMargins(look.px(6), look.px(3), look.px(6), 0)
        self._row.setSpacing(look.px(6))
        for panel in self.made.values():
            panel.set_look(look)

    @property
    def current(self) -> Panel:
        """The panel that is seen."""
        return self.panel(self._name)

    @property
    def spec(self) -> PanelSpec:
        """The declaration of the panel that is seen."""
        return self.specs[self._name]

    def turn_to(self, name: str) -> None:
        """Show a panel, by its id, at the size that it had last."""
        self._show(name)
        self._take_size(self._sizes[name])
        self._settings.set_words(_LATEST, list(self._latest.values()))

    def next_size(self) -> None:
        """Give the panel in sight the next of its sizes, and remember that."""
        sizes = self.spec.sizes
        place = sizes.index(self.size_taken) + 1 if self.size_taken in sizes else 0
        self.set_size(sizes[place % len(sizes)])

    def set_size(self, size: PanelSize) -> None:
        """Give the panel in sight a size, and remember that."""
        self._sizes[self._name] = size
        self._settings.set_words(_SIZES, [f"{name}={size.value}" for name, size in self._sizes.items()])
        self._take_size(size)

    def reveal_sheet(self) -> None:
        """Make the sheet seen, until the panel is chosen again."""
        self._take_size(PanelSize.BESIDE)

    def begin(self) -> None:
        """Show the panel that was seen first of all, once everything listens."""
        self.turn_to(next(iter(self._latest.values())))

    def _show(self, name: str) -> None:
        self._name = name
        spec = self.spec
        self._latest[spec.group] = name
        self.panel(name)
        self._feed()  # before it is seen, so that it shows nothing old
        self._pages.setCurrentIndex(list(self.made).index(name))
        self._groups.show_chosen(spec.group)
        mine = {each.id: each.name.replace("&", "") for each in self.specs.values() if each.group is spec.group}
        self._names.show_names(mine, name)
        self._size.setVisible(len(spec.sizes) > 1)

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
        self._stale = set(self.specs)
        self._feed()

    def _feed(self) -> None:
        """Show the panel in sight what it has not seen."""
        if not self._name:
            return
        panel = self.current
        selection = self._context.selection
        if self._name in self._stale:
            self._stale.discard(self._name)
            panel.show_scene(selection.scene)
            panel.show_selection(selection.notes)

    def _feed_selection(self) -> None:
        self._stale |= set(self.specs) - {self._name}  # they show the selection when they are seen
        if self._name and not self._context.playback.player.playing:
            self.current.show_selection(self._context.selection.notes)

    def _remembered_latest(self) -> dict[PanelGroup, str]:
        """The last panel of each group that has panels."""
        latest: dict[PanelGroup, str] = {}
        kept = [name for name in self._settings.words(_LATEST, []) if name in self.specs]
        for name in [*self.specs, *kept]:
            group = self.specs[name].group
            if group not in latest or name in kept:
                latest[group] = name
        return {group: latest[group] for group in PanelGroup if group in latest}


_SIGNS = {PanelSize.BESIDE: "◨", PanelSize.ACROSS: "⬓", PanelSize.OVER: "◼"}


def _remembered_sizes(settings: Settings, specs: dict[str, PanelSpec]) -> dict[str, PanelSize]:
    """The size of each panel."""
    sizes = {name: spec.sizes[0] for name, spec in specs.items()}
    by_value = {size.value: size for size in PanelSize}
    for word in settings.words(_SIZES, []):
        name, _, value = word.partition("=")
        if name in specs and by_value.get(value) in specs[name].sizes:
            sizes[name] = by_value[value]
    return sizes


def _scrolling(panel: QWidget) -> QScrollArea:
    """A panel that can be scrolled where there is less room than it needs."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setWidget(panel)
    return area
