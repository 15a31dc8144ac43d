"""The chords that fit a tune, bar by bar: two or three to choose from for each."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QGridLayout, QVBoxLayout, QWidget

from ...ideas.chords import chord_symbol, with_triads
from ...ideas.harmony import fitting_chords, progression
from ...sheet import Reading
from ..parts import plain_box
from ..plain_text import PlainLabel, hint_of

__all__ = ["ChordChoices"]

_MOST_BARS = 64
_COLUMNS = 3


class ChordChoices(QWidget):
    """``changed`` tells that another chord was chosen."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.boxes: list[QComboBox] = []
        self._steps: list[list[int]] = []
        self._for: tuple[Reading, int] | None = None
        self._note = PlainLabel("The first idea has the chords chosen here, a bar each; the others vary them.")
        self._note.setWordWrap(True)
        self._note.setObjectName("factName")
        self._grid = QGridLayout()
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 4, 8, 4)
        column.addWidget(self._note)
        column.addLayout(self._grid)
        column.addStretch(1)

    @property
    def steps(self) -> tuple[int, ...]:
        """The step of the key that each bar's chord stands on."""
        return tuple(steps[box.currentIndex()] for steps, box in zip(self._steps, self.boxes, strict=True))

    def is_for(self, reading: Reading, voice: int) -> bool:
        """Return whether the choices are those of a voice of a tune."""
        return self._for is not None and self._for[0] is reading and self._for[1] == voice

    def offer(self, reading: Reading, voice: int) -> None:
        """Offer what fits a voice; the best that follow one another are chosen."""
        self._for = reading, voice
        while (item := self._grid.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        self.boxes = []
        self._steps = []
        song = reading.song
        fits = fitting_chords(song, voice) if voice < len(song.voices) else []
        if len(fits) > _MOST_BARS:
            return
        key = with_triads(song.key)
        for place, (choices, best) in enumerate(zip(fits, progression(fits, 0), strict=True)):
            steps = list(choices)
            box = plain_box(QComboBox())
            box.setMinimumContentsLength(3)
            box.addItems([(chord_symbol(key, step) or "").replace("b", "♭").replace("#", "♯") for step in steps])
            box.setCurrentIndex(steps.index(best))
            box.setAccessibleName(f"Chord of bar {song.first_bar + place}")
            box.setToolTip(hint_of(f"Chord of bar {song.first_bar + place}"))
            box.currentIndexChanged.connect(self.changed)
            self.boxes.append(box)
            self._steps.append(steps)
            row, column = divmod(place, _COLUMNS)
            label = PlainLabel(str(song.first_bar + place))
            label.setObjectName("factName")
            self._grid.addWidget(label, row, 2 * column)
            self._grid.addWidget(box, row, 2 * column + 1)
            self._grid.setColumnStretch(2 * column + 1, 1)
