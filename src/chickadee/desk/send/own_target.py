"""A teacher's own target: every field of it to fill in, with a live sample beside them."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path

from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from ...boards.catalogue import save_own
from ...boards.fields import FIELDS
from ...boards.fitting import fitted
from ...boards.packing import packed
from ...boards.target import Limits, ListLayout, Target, TargetFault, read_target, written_target
from ...files import FileFault
from ...sheet import read
from ...song import Song
from ..field_form import Field, FieldForm, template_field
from ..plain_dialogs import PlainForm
from ..plain_text import PlainLabel

__all__ = ["OwnTargetDialog"]

_SAMPLE = "C4 E4 rest=1/2 G4=3/2 |"
_FIRST = ListLayout("{number} {beats}", rest="0 {beats}", between=" ", wrap=8)
_MOST_LISTS = 9


def _words(text: str) -> tuple[str, ...]:
    return tuple(text.replace(",", " ").split())


def _codes(text: str) -> dict[str, int]:
    """Sounds with their codes, as in ``flute = 55``. Raises TargetFault."""
    found = {}
    for part in filter(None, map(str.strip, text.split(","))):
        sound, sign, code = part.rpartition("=")
        if not sign or re.fullmatch(r"\s*-?[0-9]{1,9}\s*", code) is None:
            raise TargetFault(f"“{part[:20]}” is no sound with its code, such as flute = 55.")
        found[sound.strip()] = int(code)
    return found


def _codes_shown(codes: Mapping[str, int]) -> str:
    return ", ".join(f"{sound} = {code}" for sound, code in codes.items())


_IN_LIST = (
    template_field("open", "Before the list"),
    template_field("entry", "A note"),
    template_field("rest", "A rest"),
    template_field("held", "A note held on"),
    template_field("jump", "A jump back"),
    template_field("sound", "A change of sound"),
    template_field("between", "Between entries"),
    template_field("indent", "Before further lines"),
    template_field("close", "After the list"),
    Field("wrap", "Entries in a line (0: all)", limits=(0, 999)),
)
_AROUND = (
    template_field("title", "Title"),
    template_field("suffix", "Suffix of its file"),
    template_field("head", "Before everything"),
    template_field("line", "Before each line’s lists"),
    template_field("join", "Between two lines"),
    template_field("foot", "After everything"),
    Field("minus", "Taken from the number for {code}", limits=(-999, 999)),
    Field("wait", "Added to each length", limits=(-10_000, 10_000), after=" ms"),
    Field("pitches", "Pitches that {place} counts in", show=" ".join, read=_words),
    Field("sounds", "Codes of sounds", example="flute = 55, square = 51", show=_codes_shown, read=_codes),
    Field("drums", "Drums", after="too, as MIDI numbers"),
)
_LIMITS = (
    Field("lowest", "Lowest pitch"),
    Field("highest", "Highest pitch"),
    Field("shortest", "Shortest tick", limits=(0, 10_000), after=" ms"),
    Field("tones", "Tones at once (0: any)", limits=(0, 99)),
    Field("longest", "Longest, in ticks (0: any)", limits=(0, 9999)),
    Field("cells", "Cells (0: any)", limits=(0, 99_999)),
)


class OwnTargetDialog(QDialog):
    """Asks for a target, and keeps it beside the tunes. ``saved`` is its name then."""

    def __init__(self, song: Song, like: Target | None, folder: Path | None, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("A target of your own")
        self._song = song if song.notes else read(_SAMPLE).song
        self._folder = folder
        self.saved: str | None = None
        self.name = QLineEdit("mine")
        self.name.setAccessibleName("Name of the target")
        self.tabs = QTabWidget()
        begin = like or Target("mine", "Mine", (_FIRST,))
        self.lists: list[FieldForm] = []
        self.around = FieldForm(_AROUND, begin)
        self.limits = FieldForm(_LIMITS, begin.limits)
        self.more = QPushButton("One more list")
        self.fewer = QPushButton("One list less")
        self.sample = QPlainTextEdit()
        self.sample.setReadOnly(True)
        self.sample.setAccessibleName("The tune for this target")
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        for layout in begin.lists:
            self._add_list(layout)
        self._lay_out()
        self._show()

    @property
    def target(self) -> Target:
        """The target in the fields. Raises TargetFault."""
        name = self.name.text() or "mine"
        lists = tuple(ListLayout(**page.values) for page in self.lists)
        described = Target(name, lists=lists, limits=Limits(**self.limits.values), **self.around.values)
        return read_target(written_target(described), name)

    def _add_list(self, layout: ListLayout) -> None:
        page = FieldForm(_IN_LIST, layout)
        page.changed.connect(self._show)
        self.lists.append(page)
        self.tabs.insertTab(len(self.lists) - 1, page, f"List {len(self.lists)}")

    def _add_another(self) -> None:
        if len(self.lists) < _MOST_LISTS:
            self._add_list(_FIRST)
            self.tabs.setCurrentIndex(len(self.lists) - 1)
            self._show()

    def _take_last(self) -> None:
        if len(self.lists) > 1:
            page = self.lists.pop()
            self.tabs.removeTab(self.tabs.indexOf(page))
            page.deleteLater()
            self._show()

    def _lay_out(self) -> None:
        self.tabs.addTab(self.around, "Around them")
        self.tabs.addTab(self.limits, "What it can do")
        named = PlainForm()
        named.addRow("Name", self.name)
        changing = QHBoxLayout()
        changing.addWidget(self.more)
        changing.addWidget(self.fewer)
        changing.addStretch()
        known = PlainLabel("In braces: " + ", ".join(FIELDS) + ". \\n is a new line.")
        known.setWordWrap(True)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Save | QDialogButtonBox.StandardButton.Cancel, self
        )
        buttons.accepted.connect(self._save)
        buttons.rejected.connect(self.reject)
        left = QVBoxLayout()
        left.addLayout(named)
        left.addWidget(self.tabs, 1)
        left.addLayout(changing)
        right = QVBoxLayout()
        right.addWidget(self.sample, 1)
        right.addWidget(self.said)
        row = QHBoxLayout()
        row.addLayout(left, 1)
        row.addLayout(right, 1)
        column = QVBoxLayout(self)
        column.addLayout(row, 1)
        column.addWidget(known)
        column.addWidget(buttons)
        for tell in (self.name.textChanged, self.around.changed, self.limits.changed):
            tell.connect(self._show)
        self.more.clicked.connect(self._add_another)
        self.fewer.clicked.connect(self._take_last)
        self.resize(900, 600)

    def _show(self) -> None:
        """Show the tune for the target as it stands, or say what is wrong with it."""
        self.more.setEnabled(len(self.lists) < _MOST_LISTS)
        self.fewer.setEnabled(len(self.lists) > 1)
        try:
            fit = fitted(self._song, self.target)
            self.sample.setPlainText("\n\n".join(packed(fit, board) for board in fit.boards))
            self.said.setText(" ".join(loss.sentence for loss in fit.lost[:3]) or "Nothing is lost.")
        except TargetFault as fault:
            self.said.setText(str(fault))

    def _save(self) -> None:
        try:
            self.saved = save_own(replace(self.target, id=self.name.text()), self._folder)
        except (TargetFault, FileFault) as fault:
            self.said.setText(str(fault))
        else:
            self.accept()
