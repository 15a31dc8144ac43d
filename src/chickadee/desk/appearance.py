"""The look that all views share, and the switches that change it."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from .actions import ActionSpec
from .settings import Settings
from .theme import Look, look_for

__all__ = ["Appearance", "remembered_look"]

_EVENING = "look.evening"
_PROJECTOR = "look.projector"


def remembered_look(settings: Settings) -> Look:
    """The look that was in use when the desk was last closed."""
    return look_for(settings.is_on(_EVENING, False), settings.is_on(_PROJECTOR, False))


class Appearance(QObject):
    """Holds the look in use. ``changed`` carries the new one."""

    changed = pyqtSignal(object)

    def __init__(self, settings: Settings, parent: QObject) -> None:
        super().__init__(parent)
        self.look: Look = remembered_look(settings)
        self._evening = settings.is_on(_EVENING, False)
        self._projector = settings.is_on(_PROJECTOR, False)

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """The theme and the size."""
        return (
            ActionSpec(_EVENING, "view/look", "&Evening theme", "F7", "Light letters on dark paper",
                       switched=lambda on: self._change(on, self._projector), kept=True),
            ActionSpec(_PROJECTOR, "view/look", "Pro&jector", "Ctrl+J", "Enlarge everything by half",
                       switched=lambda on: self._change(self._evening, on), kept=True),
        )  # fmt: skip

    def _change(self, evening: bool, projector: bool) -> None:
        self._evening = evening
        self._projector = projector
        look = look_for(evening, projector)
        if look != self.look:
            self.look = look
            self.changed.emit(look)
