"""The Transpose panel: what is moved, how, and what would become of it, before it is done."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
    QBoxLayout,
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSpinBox,
    QTableWidgetItem,
    QVBoxLayout,
)

from ...display import words
from ...display.outcome import Outcome, outcome_of
from ...display.scene import Scene
from ...display.ways import WAYS, Choice, Field, Number
from ...sheet import CannotEdit, Reading, read
from ..part_box import PartBox
from ..parts import fill, plain_box, plain_table
from ..pauses import after_pause
from ..plain_text import PlainLabel
from ..theme import Look
from ..working.panel import Panel, PanelContext

__all__ = ["TransposePanel"]

_PAUSE_MILLISECONDS = 60
_MOST_ROWS = 60
_BARS_IN_TURN = 4
_TEXT_WIDTH = 64
_FEW_LETTERS = 4  # that a field shows at least
_WIDE = 860  # pixels of the panel at scale 1


class TransposePanel(Panel):
    """Moves or reshapes the tune, or a part of it, and shows what would become of it first."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__(context)
        self._reading: Reading = read("")
        self._resting = False  # after it is done, until something else is asked for
        self._fields: list[QComboBox | QLineEdit | QSpinBox] = []
        self.outcome: Outcome | None = None
        """The outcome of the reshaping; None while that cannot be said, or the panel is not seen."""
        self.what = PartBox("What is moved", lambda: context.selection.notes)
        self.way = plain_box(QComboBox())
        self.way.setAccessibleName("How it is moved")
        self.way.addItems([way.title for way in WAYS])
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        self.table = plain_table(["Now", "Number", "Becomes", "Number"])
        self.table.setAccessibleName("Pitches before and after")
        self.hear = QPushButton("Hear both")
        self.hear.setToolTip("The tune as it is, then as it would be (Shift+F6)")
        self.apply = QPushButton("Apply")
        self.apply.setToolTip("Change the sheet; one undo takes it back")
        self._pause = after_pause(self, _PAUSE_MILLISECONDS, self.work_out)
        self._lay_out()
        self.what.currentTextChanged.connect(self._ask_again)
        self.way.currentIndexChanged.connect(self._make_fields)
        self.apply.clicked.connect(self._apply)
        self.hear.clicked.connect(self.hear_outcome)
        self._make_fields()

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        px = look.px
        self._parts.setContentsMargins(px(12), px(6), px(12), px(6))
        self._parts.setSpacing(px(8))
        self._column.setSpacing(px(5))
        header = self.table.verticalHeader()
        assert header is not None
        header.setDefaultSectionSize(px(20))
        self.table.setMinimumHeight(px(66))

    def show_scene(self, scene: Scene) -> None:
        """Follow the tune."""
        if scene.reading is not self._reading:
            self._reading = scene.reading
            self.what.show_reading(scene.reading)
            self._pause.start()

    def show_selection(self, notes: Sequence[int]) -> None:
        """Other notes are selected."""
        if self.what.is_selection:
            self._pause.start()

    @property
    def values(self) -> list[str]:
        """The texts of the fields."""
        return [box.currentText() if isinstance(box, QComboBox) else box.text() for box in self._fields]

    def set_values(self, way: str, *values: str) -> None:
        """Ask for a way, with a text for each of its fields."""
        self.way.setCurrentText(way)
        for box, value in zip(self._fields, values, strict=True):
            if isinstance(box, QComboBox):
                box.setCurrentText(value)
            elif isinstance(box, QSpinBox):
                box.setValue(int(value))
            else:
                box.setText(value)
        self._resting = False
        self.work_out()

    def work_out(self) -> None:
        """Find out what would happen, and show it."""
        self._pause.stop()
        way = WAYS[self.way.currentIndex()]
        part = self.what.part
        self._fill_choices()
        outcome = None
        if self.isVisible() and not self._resting:
            if way.song_only and not part.is_song:
                self.said.setText(f"“{way.title}” works on the whole song only; choose that above.")
            elif part.notes is not None and not part.notes:
                self.said.setText("Select some notes on the timeline or in the sheet.")
            else:
                outcome = self._outcome()
        self.outcome = outcome
        self._fill_table(outcome.table if outcome else [])
        self.apply.setEnabled(bool(outcome and outcome.edits))
        self.hear.setEnabled(bool(outcome and outcome.edits))
        if outcome is None or not outcome.edits:
            self.context.preview.show(None)
        else:
            self.context.preview.show(outcome.after, outcome.outside)

    def showEvent(self, event: object) -> None:
        self._pause.start()

    def hideEvent(self, event: object) -> None:
        self.outcome = None
        self.context.preview.show(None)

    def hear_outcome(self) -> None:
        """Hear some bars as they are, and then as they would be."""
        outcome = self.outcome
        if outcome is None or not outcome.edits:
            self.context.notice.say("Ask for a change in the Transpose panel first.", good=True)
            return
        grid = outcome.before.grid
        first = grid.number_at(min([old.start for old, _ in outcome.changed] or [0]))
        start = grid.start(first)
        end = grid.start(first + _BARS_IN_TURN)
        self.context.playback.play_in_turn((outcome.before, start, end), (outcome.after, start, end))

    def _outcome(self) -> Outcome | None:
        try:
            edits = WAYS[self.way.currentIndex()].edits(self._reading, self.what.part, self.values)
        except CannotEdit as fault:
            self.said.setText(str(fault))
            return None
        outcome = outcome_of(self._reading, edits)
        self.said.setText(outcome.said)
        return outcome

    def _apply(self) -> None:
        if self.outcome is not None:
            edits = list(self.outcome.edits)
            said = words.counted(len(self.outcome.changed), "note")
            self._resting = True
            self.context.document.apply(edits)
            self.work_out()
            self.said.setText(f"Done: {said} changed. Undo takes it back.")

    # Building

    def _lay_out(self) -> None:
        self._column = QVBoxLayout()
        self._parts = QBoxLayout(QBoxLayout.Direction.TopToBottom, self)
        row = QHBoxLayout()
        done = QHBoxLayout()
        row.addWidget(self.what, 1)
        row.addWidget(self.way, 1)
        self._asked = QHBoxLayout()
        done.addWidget(self.said, 1)
        done.addWidget(self.hear)
        done.addWidget(self.apply)
        self._column.addLayout(row)
        self._column.addLayout(self._asked)
        self._column.addLayout(done)
        self._column.addStretch()
        self._parts.addLayout(self._column, 1)
        self._parts.addWidget(self.table, 1)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The table stands beside what is asked for where there is room."""
        wide = self.width() > self.look.px(_WIDE)
        self._parts.setDirection(QBoxLayout.Direction.LeftToRight if wide else QBoxLayout.Direction.TopToBottom)
        self._parts.setStretch(0, 1 if wide else 0)

    def _make_fields(self) -> None:
        """A widget for each thing that the way asks for."""
        while (item := self._asked.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        self._fields = []
        for field in WAYS[self.way.currentIndex()].fields:
            box = self._field(field)
            self._fields.append(box)
            self._asked.addWidget(PlainLabel(field.label))
            self._asked.addWidget(box, 1 if isinstance(box, QComboBox) else 0)
        if not any(isinstance(box, QComboBox) for box in self._fields):
            self._asked.addStretch()
        self._fill_choices()
        self._ask_again()

    def _field(self, field: Field) -> QComboBox | QLineEdit | QSpinBox:
        if isinstance(field, Number):
            number = QSpinBox()
            number.setRange(field.low, field.high)
            number.setValue(field.usual)
            number.valueChanged.connect(self._ask_again)
            number.setAccessibleName(field.label)
            return number
        if isinstance(field, Choice):
            box = plain_box(QComboBox())
            box.setMinimumContentsLength(_FEW_LETTERS)
            box.setAccessibleName(field.label)
            box.currentTextChanged.connect(self._ask_again)
            return box
        text = QLineEdit(field.usual)
        text.setAccessibleName(field.label)
        text.setMaximumWidth(_TEXT_WIDTH)
        text.textChanged.connect(self._ask_again)
        return text

    def _fill_choices(self) -> None:
        """Offer what suits the tune as it is."""
        for field, box in zip(WAYS[self.way.currentIndex()].fields, self._fields, strict=True):
            if isinstance(field, Choice) and isinstance(box, QComboBox):
                options = field.options(self._reading, self.what.part, self.values)
                fill(box, options)

    def _ask_again(self) -> None:
        self._resting = False
        self._pause.start()

    def _fill_table(self, rows: list[tuple[str, int, str, int]]) -> None:
        self.table.setRowCount(min(len(rows), _MOST_ROWS))
        self.table.setVisible(bool(rows))
        for line, row in enumerate(rows[:_MOST_ROWS]):
            for column, value in enumerate(row):
                self.table.setItem(line, column, QTableWidgetItem(str(value)))
