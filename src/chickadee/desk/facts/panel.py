"""The Facts panel: what a tune, a voice or a phrase comes to, and its pitches as lists to copy."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...reshape.part import Part, notes_of
from ...sheet import Reading, read
from ...song.facts import Facts, facts_of
from .. import words
from ..parts import PartBox
from ..theme import Look

__all__ = ["FactsPanel", "lines_of"]


class FactsPanel(QWidget):
    """Counts. ``copied`` carries a word for what was put on the clipboard."""

    copied = pyqtSignal(str)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._reading: Reading = read("")
        self._shown: tuple[Reading, Part] | None = None
        self.what = PartBox("What is counted")
        self.what.currentTextChanged.connect(self._count)
        self.names, self.numbers = QPushButton("Copy names"), QPushButton("Copy numbers")
        self.names.setToolTip("The pitches as a plain list of names")
        self.numbers.setToolTip("The pitches as a plain list of MIDI numbers, for a program")
        self.names.clicked.connect(lambda: self._copy("names", " ".join(self.facts.names)))
        self.numbers.clicked.connect(lambda: self._copy("numbers", ", ".join(map(str, self.facts.numbers))))
        self.text = QLabel()
        self.text.setWordWrap(True)
        self.text.setTextFormat(Qt.TextFormat.RichText)
        self.text.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.text.setTextInteractionFlags(
            Qt.TextInteractionFlag.TextSelectableByMouse | Qt.TextInteractionFlag.TextSelectableByKeyboard
        )
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(self.text)
        row = QHBoxLayout()
        row.addWidget(self.what, 1)
        row.addWidget(self.names)
        row.addWidget(self.numbers)
        self._column = QVBoxLayout(self)
        self._column.addLayout(row)
        self._column.addWidget(area, 1)
        self.facts: Facts = facts_of(self._reading.song)
        """What is shown."""
        self.set_look(look)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._column.setContentsMargins(*(look.px(side) for side in (12, 8, 12, 8)))
        self._column.setSpacing(look.px(6))

    def show_reading(self, reading: Reading) -> None:
        """Follow the tune; it is counted when the panel is seen."""
        self._reading = reading
        self.what.show_reading(reading)
        if self.isVisible():
            self._count()

    def showEvent(self, event: object) -> None:
        self._count()

    def _count(self) -> None:
        part = self.what.part
        if self._shown is None or self._shown[0] is not self._reading or self._shown[1] != part:
            self._shown = self._reading, part
            notes = None if part.is_song else notes_of(self._reading, part, drums=True)
            self.facts = facts_of(self._reading.song, notes)
            self._show()

    def _show(self) -> None:
        rows = "".join(
            f"<tr><td><b>{name}</b>&nbsp;&nbsp;</td><td>{value}</td></tr>" for name, value in lines_of(self.facts)
        )
        self.text.setText(f"<table cellspacing='3'>{rows}</table>")

    def _copy(self, what: str, text: str) -> None:
        QGuiApplication.clipboard().setText(text)
        self.copied.emit(what)


def lines_of(facts: Facts) -> list[tuple[str, str]]:
    """The facts as names and values, in the order they are shown."""
    if not facts.notes:
        return [("Notes", "none yet")]
    lines = [
        ("Notes", f"{facts.notes:,}"),
        ("Length", f"{words.counted_beats(facts.beats)}, {facts.seconds:.1f} seconds"),
    ]
    if facts.range is not None:
        low, high = facts.range
        wide = high.number - low.number
        lines.append(
            (
                "Range",
                f"{low.pretty} ({low.number}) to {high.pretty} ({high.number}), {words.counted(wide, 'semitone')}",
            )
        )
        lines.append(("Different pitches", str(len(facts.pitches))))
        lines.append(
            ("Pitches", _counted((f"{pitch.pretty}&nbsp;({pitch.number})", count) for pitch, count in facts.pitches))
        )
        lines.append(("Intervals", _counted(facts.intervals) or "none"))
    lines.append(("Lengths in quarters", _counted((words.beats(length), count) for length, count in facts.lengths)))
    lines.append(
        ("Smallest tick", f"{words.counted_beats(facts.tick)}, which every start and length is a multiple of")
    )
    lines.append(("Shared ink", f"{_percent(facts.shared)} of the notes come from text that is used again"))
    return lines


def _counted(pairs: Iterable[tuple[str, int]]) -> str:
    return ", ".join(f"{name}&nbsp;×&nbsp;{count}" for name, count in pairs)


def _percent(part: Fraction) -> str:
    return f"{round(100 * part)} %"
