"""A teacher's own dialect: every spelling of it to fill in, with the tune written in it beside them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from ...display.written_view import LEVEL_NAMES
from ...faults import InputFault
from ...programs.writing.catalogue import save_own
from ...programs.writing.dialect import FIELDS, Dialect, Level, read_dialect, written_dialect
from ...programs.writing.written import Writing
from ...sheet import Reading, read
from ..field_form import Field, FieldForm, template_field
from ..parts import plain_box
from ..plain_dialogs import PlainForm
from ..plain_text import PlainLabel

__all__ = ["OwnDialectDialog"]

_SAMPLE = "(C4 E4) x2 rest=1/2 G4=3/2 C4&E4&G4=2 (C4 E4) x2 up 2 |"
_MOST_NOTES = 300  # of a tune that is written at every key press

_NOTES = (
    template_field("play", "A note"),
    template_field("chord", "A chord"),
    template_field("rest", "A rest"),
    template_field("ring", "A note that rings on"),
    template_field("ring_chord", "A chord that rings on"),
    template_field("wait", "Time while it rings"),
    template_field("pitch", "A pitch"),
    template_field("between", "Between pitches"),
    Field("decimals", "Parts of a beat", after="as decimals where that is exact"),
    template_field("fraction", "Other parts of a beat"),
    template_field("tempo", "The tempo"),
)
_SHAPES = (
    template_field("repeat", "Head of a repeat"),
    template_field("repeat_end", "End of a repeat"),
    template_field("part", "Head of a part"),
    template_field("part_end", "End of a part"),
    template_field("call", "Call of a part"),
    template_field("moved_part", "Head of a part that is moved"),
    template_field("moved_call", "Its call"),
    template_field("lowered_call", "Its call, moved down"),
    template_field("moved_pitch", "A pitch in it"),
    template_field("indent", "Indent"),
)
_DATA = (
    template_field("pitch_list", "Opens a list of pitches"),
    template_field("beats_list", "Opens a list of lengths"),
    template_field("list_end", "Closes a list"),
    template_field("list_between", "Between items"),
    template_field("list_chord", "An item that is a chord"),
    Field("wrap", "Items in a line (0: all)", limits=(0, 999)),
    template_field("each", "Loop without a counter"),
    template_field("counted", "Loop with a counter"),
    template_field("item", "An item by its counter"),
)
_AROUND = (
    template_field("title", "Its name"),
    Field(
        "language",
        "Traced as",
        choices={"": "plain steps", "python": "Python", "javascript": "JavaScript", "c": "C", "java": "Java"},
    ),
    template_field("suffix", "Suffix of its files"),
    template_field("comment", "Line with the title"),
    template_field("head", "Before everything"),
    template_field("foot", "After everything"),
    template_field("begin", "Before the steps in no part"),
    template_field("end", "After them"),
    Field("part_indents", "Indents of parts", limits=(0, 8)),
    Field("main_indents", "Indents of other steps", limits=(0, 8)),
    template_field("runs", "What makes it run"),
    template_field("runs_chords", "The same for chords"),
    template_field("runs_rings", "The same for what rings on"),
)
_PAGES = {"Notes": _NOTES, "Repeats and parts": _SHAPES, "Data": _DATA, "Around": _AROUND}


class OwnDialectDialog(QDialog):
    """Asks for a dialect, and keeps it beside the tunes. ``saved`` is its name then."""

    def __init__(
        self, reading: Reading, voices: Sequence[int], like: Dialect, folder: Path | None, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle("The language of your class")
        small = 0 < len(reading.song.notes) <= _MOST_NOTES
        self._reading = reading if small else read(_SAMPLE)
        self._voices = tuple(voices) if small else (0,)
        self._folder = folder
        self.saved: str | None = None
        self.name = QLineEdit("ours")
        self.name.setAccessibleName("Name of the language's file")
        self.forms = {title: FieldForm(rows, like) for title, rows in _PAGES.items()}
        self.level = plain_box(QComboBox())
        self.level.setAccessibleName("Level that is shown")
        for level, name in LEVEL_NAMES.items():
            self.level.addItem(name, level)
        self.sample = QPlainTextEdit()
        self.sample.setReadOnly(True)
        self.sample.setAccessibleName("The tune in this language")
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        self._lay_out()
        self._show()

    @property
    def dialect(self) -> Dialect:
        """The dialect in the fields. Raises InputFault."""
        values = {key: value for form in self.forms.values() for key, value in form.values.items()}
        return read_dialect(written_dialect(Dialect(**values)), self.name.text())

    def _lay_out(self) -> None:
        tabs = QTabWidget()
        for title, form in self.forms.items():
            tabs.addTab(form, title)
            form.changed.connect(self._show)
        named = PlainForm()
        named.addRow("Name of its file", self.name)
        fields = ", ".join(FIELDS)
        known = PlainLabel(f"In braces: {fields}. \\n is a new line; a brace itself is written twice.")
        known.setWordWrap(True)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Save | QDialogButtonBox.StandardButton.Cancel, self
        )
        buttons.accepted.connect(self._save)
        buttons.rejected.connect(self.reject)
        left = QVBoxLayout()
        left.addLayout(named)
        left.addWidget(tabs, 1)
        right = QVBoxLayout()
        right.addWidget(self.level)
        right.addWidget(self.sample, 1)
        right.addWidget(self.said)
        row = QHBoxLayout()
        row.addLayout(left, 1)
        row.addLayout(right, 1)
        column = QVBoxLayout(self)
        column.addLayout(row, 1)
        column.addWidget(known)
        column.addWidget(buttons)
        self.level.currentIndexChanged.connect(self._show)
        self.resize(980, 640)

    def _show(self) -> None:
        """Show the tune in the language as it stands, or say what is wrong with it."""
        level: Level = self.level.currentData()
        try:
            written = Writing(self._reading, self._voices, self.dialect).program(level)
            self.sample.setPlainText(written.text)
            self.said.setText(" ".join(written.left_out))
        except InputFault as fault:
            self.said.setText(str(fault))

    def _save(self) -> None:
        try:
            self.saved = save_own(replace(self.dialect, id=self.name.text()), self._folder)
        except InputFault as fault:
            self.said.setText(str(fault))
        else:
            self.accept()
