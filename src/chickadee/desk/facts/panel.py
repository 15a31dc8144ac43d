"""The Facts panel: what a tune, a voice or a phrase comes to, and its pitches as lists to copy."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QBoxLayout, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout

from ...display.fact_lines import lines_of
from ...display.scene import Scene
from ...reshape.part import Part, notes_of
from ...sheet import Reading, read
from ...song.facts import Facts, facts_of
from ..clipboard import copy_text
from ..part_box import PartBox
from ..pauses import after_pause
from ..plain_text import PlainLabel
from ..theme import Look
from ..working.panel import Panel, PanelContext

__all__ = ["FactsPanel"]

# pixels of the panel at scale 1
_NARROW = 430
_WIDE = 860
_MOST_LINES = 10
_PAUSE_MILLISECONDS = 80  # counts need not keep up with every key


class FactsPanel(Panel):
    """Counts the tune, or a part of it."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__(context)
        self._reading: Reading = read("")
        self._shown: tuple[Reading, Part] | None = None
        self._due = after_pause(self, _PAUSE_MILLISECONDS, self._count)
        self.what = PartBox("What is counted")
        self.what.currentTextChanged.connect(self._count)
        self.names = QPushButton("Copy names")
        self.numbers = QPushButton("Copy numbers")
        self.names.setToolTip("The pitches as a plain list of names")
        self.numbers.setToolTip("The pitches as a plain list of MIDI numbers, for a program")
        self.names.clicked.connect(lambda: self._copy("names", " ".join(self.facts.names)))
        self.numbers.clicked.connect(lambda: self._copy("numbers", ", ".join(map(str, self.facts.numbers))))
        self._table = QGridLayout()
        self._across = 1  # pairs of a name and a value in a line
        self._asked = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        copies = QHBoxLayout()
        self._asked.addWidget(self.what, 1)
        copies.addWidget(self.names)
        copies.addWidget(self.numbers)
        copies.addStretch()
        self._asked.addLayout(copies, 1)
        self._column = QVBoxLayout(self)
        self._column.addLayout(self._asked)
        self._column.addLayout(self._table)
        self._column.addStretch(1)
        self.facts: Facts = facts_of(self._reading.song)
        """The content that is shown."""
        self.lines: list[tuple[PlainLabel, PlainLabel]] = []
        """The labels that show it: names and values."""

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._column.setContentsMargins(*(look.px(side) for side in (12, 8, 12, 8)))
        self._column.setSpacing(look.px(8))
        self._table.setHorizontalSpacing(look.px(14))
        self._table.setVerticalSpacing(look.px(5))

    def show_scene(self, scene: Scene) -> None:
        """Follow the tune."""
        self._reading = scene.reading
        self.what.show_reading(scene.reading)
        if self._shown is None:
            self._count()
        else:
            self._due.start()

    def _count(self) -> None:
        part = self.what.part
        if self._shown is None or self._shown[0] is not self._reading or self._shown[1] != part:
            self._shown = self._reading, part
            notes = None if part.is_song else notes_of(self._reading, part, drums=True)
            self.facts = facts_of(self._reading.song, notes)
            self._show()

    def _show(self) -> None:
        lines = lines_of(self.facts, self._reading.song.naming)
        while len(self.lines) < len(lines):
            self.lines.append((_label("factName"), _label("factValue")))
            self._place(len(self.lines) - 1)
        for place, (name, value) in enumerate(self.lines):
            shown = lines[place] if place < len(lines) else ("", "")
            name.setText(shown[0])
            value.setText(shown[1])
            name.setVisible(place < len(lines))
            value.setVisible(place < len(lines))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Two facts in a line where there is room for them; the buttons below the box where there is little."""
        narrow = self.width() < self.look.px(_NARROW)
        directions = QBoxLayout.Direction
        self._asked.setDirection(directions.TopToBottom if narrow else directions.LeftToRight)
        across = 2 if self.width() > self.look.px(_WIDE) else 1
        if across != self._across:
            self._across = across
            for place in range(len(self.lines)):
                self._place(place)
        self._table.setColumnStretch(1, 1)
        self._table.setColumnStretch(3, 1 if across > 1 else 0)

    def _place(self, place: int) -> None:
        """Put a line of facts where it stands; with two in a line, the second half beside the first."""
        half = -(-_MOST_LINES // self._across)
        for column, label in enumerate(self.lines[place]):
            self._table.addWidget(label, place % half, 2 * (place // half) + column, Qt.AlignmentFlag.AlignTop)

    def _copy(self, what: str, text: str) -> None:
        copy_text(text)
        self.context.notice.say(f"The {what} are on the clipboard.", good=True)


def _label(kind: str) -> PlainLabel:
    label = PlainLabel()
    label.setObjectName(kind)
    label.setWordWrap(kind == "factValue")
    label.setTextInteractionFlags(
        Qt.TextInteractionFlag.TextSelectableByMouse | Qt.TextInteractionFlag.TextSelectableByKeyboard
    )
    return label
