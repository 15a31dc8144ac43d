"""Somebody's attempt, laid over the tune on the timeline."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from ..display.attempt_overlay import AttemptOverlay

if TYPE_CHECKING:  # the comparison is loaded with the first attempt
    from ..comparison.beside import Beside
    from ..comparison.differences import Difference

__all__ = ["Overlay"]


class Overlay(QObject):
    """``changed`` carries the AttemptOverlay, or None."""

    changed = pyqtSignal(object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.laid: AttemptOverlay | None = None

    def lay(self, name: str, moments: Sequence[Beside], differences: Sequence[Difference]) -> None:
        """Lay an attempt over the tune."""
        if self.laid is None or self.laid.moments is not moments:
            self.laid = AttemptOverlay.of(name, moments, differences)
            self.changed.emit(self.laid)

    def clear(self) -> None:
        """Take it away."""
        if self.laid is not None:
            self.laid = None
            self.changed.emit(None)
