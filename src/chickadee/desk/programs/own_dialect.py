"""A teacher's own dialect: every spelling of it to fill in, with the tune written in it beside them."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtWidgets import QComboBox, QWidget

from ...display.written_view import LEVEL_NAMES
from ...programs.writing.catalogue import save_own
from ...programs.writing.dialect import FIELDS, Dialect, Level, read_dialect, written_dialect
from ...programs.writing.written import Writing
from ...sheet import Reading, read
from ..field_form import Field, FieldForm, template_field
from ..own_dialog import OwnDialog
from ..parts import plain_box

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


class OwnDialectDialog(OwnDialog):
    """Asks for a dialect, and keeps it beside the tunes."""

    def __init__(
        self, reading: Reading, voices: Sequence[int], like: Dialect, folder: Path | None, parent: QWidget
    ) -> None:
        super().__init__("The language of your class", "ours", FIELDS, parent)
        small = 0 < len(reading.song.notes) <= _MOST_NOTES
        self._reading = reading if small else read(_SAMPLE)
        self._voices = tuple(voices) if small else (0,)
        self._folder = folder
        self.forms = {title: FieldForm(rows, like) for title, rows in _PAGES.items()}
        for title, form in self.forms.items():
            self.tabs.addTab(form, title)
            form.changed.connect(self.show_sample)
        self.level = plain_box(QComboBox())
        self.level.setAccessibleName("Level that is shown")
        for level, name in LEVEL_NAMES.items():
            self.level.addItem(name, level)
        self.level.currentIndexChanged.connect(self.show_sample)
        self.lay_out(over_sample=self.level)
        self.show_sample()

    @property
    def dialect(self) -> Dialect:
        """The dialect in the fields. Raises InputFault."""
        values = {key: value for form in self.forms.values() for key, value in form.values.items()}
        return read_dialect(written_dialect(Dialect(**values)), self.name.text())

    def written(self) -> tuple[str, str]:
        level: Level = self.level.currentData()
        written = Writing(self._reading, self._voices, self.dialect).program(level)
        return written.text, " ".join(written.left_out)

    def kept(self) -> str:
        return save_own(self.dialect, self._folder)
