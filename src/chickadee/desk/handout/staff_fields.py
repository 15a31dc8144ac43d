"""The fields of pages with staves: the task of a worksheet, what stands at the heads, and the range of pitches."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtWidgets import QComboBox, QLineEdit

from ...handout.request import Request, read_reach
from ...handout.staff_score import HeadLabels
from ...handout.staff_tasks import StaffTask
from ...song import Song
from ..parts import describe, fill, plain_box
from ..plain_dialogs import PlainForm

__all__ = ["StaffFields"]

_TASKS = {
    StaffTask.NAMES: "name the notes",
    StaffTask.NUMBERS: "write the numbers",
    StaffTask.DRAW: "draw the notes named",
    StaffTask.BAR_LINES: "add the bar lines",
    StaffTask.STEMS: "add the stems",
    StaffTask.RESTS: "add the rests",
    StaffTask.CLAP: "clap the rhythm",
    StaffTask.MATCH: "match staff and roll",
}
_LABELS = {
    HeadLabels.NONE: "nothing",
    HeadLabels.NAMES: "names",
    HeadLabels.NUMBERS: "numbers",
    HeadLabels.BOTH: "names and numbers",
    HeadLabels.NAMES_IN_HEADS: "names in the heads",
    HeadLabels.NUMBERS_IN_HEADS: "numbers in the heads",
}
_NO_OTHER = "no other voice"
_ALONE = 2  # entries of the second voice, where there is but one voice
_OF_RANGES = ("chart", "flashcards")


class StaffFields:
    """The fields of pages with staves; ``changed`` is called at each change."""

    def __init__(self, changed: Callable[[], object]) -> None:
        self.task = plain_box(QComboBox())
        self.labels = plain_box(QComboBox())
        self.beside = plain_box(QComboBox())
        self.reach = QLineEdit()
        for task, name in _TASKS.items():
            self.task.addItem(name, task.value)
        for labels, name in _LABELS.items():
            self.labels.addItem(name, labels.value)
        self.reach.setPlaceholderText("the tune’s own, or C3-C6")
        describe(
            (self.task, "What is to be done on the staff"),
            (self.labels, "What stands at the heads"),
            (self.beside, "Another voice on the same staff"),
            (self.reach, "The lowest and the highest pitch, such as C3-C6"),
        )
        for box in (self.task, self.labels, self.beside):
            box.currentTextChanged.connect(changed)
        self.reach.textChanged.connect(changed)

    def add_to(self, form: PlainForm) -> None:
        """Add the fields to a form."""
        form.addRow("Task", self.task)
        form.addRow("At the heads", self.labels)
        form.addRow("Together with", self.beside)
        form.addRow("Range", self.reach)

    def show_for(self, form: PlainForm, kind: str) -> None:
        """Show those that a kind of page has."""
        form.setRowVisible(self.task, kind == "staff-worksheet")
        form.setRowVisible(self.labels, kind == "staff")
        form.setRowVisible(self.beside, kind == "staff" and self.beside.count() > _ALONE)
        form.setRowVisible(self.reach, kind in _OF_RANGES)

    def show_voices(self, song: Song) -> None:
        """Offer the voices of a tune that have notes as the second on a staff."""
        names = [voice.name for place, voice in enumerate(song.voices) if len(song.by_voice[place])]
        fill(self.beside, [_NO_OTHER, *names])

    @property
    def asks_for_notes(self) -> bool:
        """True if the task is about some of the notes, which can be chosen."""
        return self.task.currentData() in (StaffTask.NAMES.value, StaffTask.NUMBERS.value, StaffTask.DRAW.value)

    def fill_in(self, request: Request, kind: str, song: Song) -> Request:
        """A request with what the fields of a kind of page ask for. Raises HandoutFault for a range that is none."""
        others = [
            place
            for place, voice in enumerate(song.voices)
            if voice.name == self.beside.currentText() and place != request.voice
        ]
        typed = self.reach.text().strip() if kind in _OF_RANGES else ""
        return replace(
            request,
            task=self.task.currentData(),
            labels=self.labels.currentData(),
            beside=others[0] if others and self.beside.currentIndex() > 0 else None,
            reach=read_reach(typed) if typed else None,
        )
