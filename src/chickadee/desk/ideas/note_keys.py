"""A little keyboard on which the notes that a tune may use are switched on and off."""

from __future__ import annotations

from collections.abc import Collection

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ..keyboard.view import KeyboardView
from ..theme import Look

__all__ = ["NoteKeys"]

_SPAN = (55, 84)  # G3 to C6
_HEIGHT = 52  # pixels at scale 1


class NoteKeys(KeyboardView):
    """``toggled`` carries the MIDI number of a key that was clicked, or chosen by arrows and space."""

    toggled = pyqtSignal(int)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        self._at = 60  # the key that the arrows have come to
        super().__init__(look, parent)
        self.setAccessibleName("Notes that may be used")
        self.setToolTip("Click the keys that may be used; by keyboard, arrows and space")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.set_labels("Names")
        self.pressed.connect(lambda number, _: self.toggled.emit(number))

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        super().set_look(look)
        self.setFixedHeight(look.px(_HEIGHT))

    @property
    def span(self) -> tuple[int, int]:
        """The lowest and the highest key."""
        return _SPAN

    def show_notes(self, numbers: Collection[int]) -> None:
        """Light the notes that may be used."""
        self.show_held(set(numbers))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows go from key to key, space switches one."""
        assert event is not None
        steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        if (step := steps.get(Qt.Key(event.key()))) is not None:
            self._at = max(_SPAN[0], min(_SPAN[1], self._at + step))
            self.update()
        elif event.key() == Qt.Key.Key_Space:
            self.toggled.emit(self._at)
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if self.hasFocus():
            painter = QPainter(self)
            painter.setPen(QPen(self._look.color("ink"), 2, Qt.PenStyle.DashLine))
            painter.drawRect(self.key_rect(self._at).adjusted(2, 2, -2, -3))
