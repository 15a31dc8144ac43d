"""How a recording is heard with the tune: which of the two, on which side, and how loud."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QSlider, QWidget

from ...player import Together
from ..parts import describe
from ..plain_text import PlainLabel
from ..theme import Look

__all__ = ["TogetherRow"]

_USUAL = 50  # of 100
_LOUD = 0.15  # the root mean square that a recording's louder parts are brought to where the slider is at _USUAL
_MOST = 100.0


class TogetherRow(QWidget):
    """``changed`` tells that something is to be heard otherwise."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.how = QComboBox()
        self.loud = QSlider(Qt.Orientation.Horizontal)
        for each in Together:
            self.how.addItem(each.value, each)
        self.loud.setRange(0, 100)
        self.loud.setValue(_USUAL)
        describe((self.how, "What is heard when the tune is played"), (self.loud, "How loud the recording is"))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        for widget in (PlainLabel("Hear"), self.how, PlainLabel("Recording"), self.loud):
            row.addWidget(widget)
        self.how.currentIndexChanged.connect(lambda: self.changed.emit())
        self.loud.valueChanged.connect(lambda: self.changed.emit())

    def set_look(self, look: Look) -> None:
        """Draw with another size."""
        self.loud.setFixedSize(look.px(120), look.px(26))

    @property
    def together(self) -> Together:
        """Which of the two, and where."""
        found = self.how.currentData()
        assert isinstance(found, Together)
        return found

    def level(self, usual: float) -> float:
        """The factor for the samples of a recording whose louder parts have a root mean square."""
        return min(_MOST, _LOUD / max(usual, 1e-6)) * (self.loud.value() / _USUAL) ** 2
