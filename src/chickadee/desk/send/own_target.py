"""A teacher's own target: every field of it to fill in, with a live sample beside them."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from ...boards.catalogue import save_own
from ...boards.fields import FIELDS
from ...boards.fitting import fitted
from ...boards.packing import packed
from ...boards.target import Limits, ListLayout, Target, TargetFault, read_target, written_target
from ...sheet import read
from ...song import Song
from ..field_form import Field, FieldForm, template_field
from ..own_dialog import OwnDialog

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


class OwnTargetDialog(OwnDialog):
    """Asks for a target, and keeps it beside the tunes."""

    def __init__(self, song: Song, like: Target | None, folder: Path | None, parent: QWidget) -> None:
        super().__init__("A target of your own", "mine", FIELDS, parent)
        self._song = song if song.notes else read(_SAMPLE).song
        self._folder = folder
        begin = like or Target("mine", "Mine", (_FIRST,))
        self.lists: list[FieldForm] = []
        self.around = FieldForm(_AROUND, begin)
        self.limits = FieldForm(_LIMITS, begin.limits)
        self.more = QPushButton("One more list")
        self.fewer = QPushButton("One list less")
        for layout in begin.lists:
            self._add_list(layout)
        for form, title in ((self.around, "Around them"), (self.limits, "What it can do")):
            self.tabs.addTab(form, title)
            form.changed.connect(self.show_sample)
        changing = QHBoxLayout()
        changing.addWidget(self.more)
        changing.addWidget(self.fewer)
        changing.addStretch()
        self.more.clicked.connect(self._add_another)
        self.fewer.clicked.connect(self._take_last)
        self.lay_out(under_tabs=changing)
        self.show_sample()

    @property
    def target(self) -> Target:
        """The target in the fields. Raises TargetFault."""
        name = self.name.text() or "mine"
        lists = tuple(ListLayout(**page.values) for page in self.lists)
        described = Target(name, lists=lists, limits=Limits(**self.limits.values), **self.around.values)
        return read_target(written_target(described), name)

    def _add_list(self, layout: ListLayout) -> None:
        page = FieldForm(_IN_LIST, layout)
        page.changed.connect(self.show_sample)
        self.lists.append(page)
        self.tabs.insertTab(len(self.lists) - 1, page, f"List {len(self.lists)}")

    def _add_another(self) -> None:
        if len(self.lists) < _MOST_LISTS:
            self._add_list(_FIRST)
            self.tabs.setCurrentIndex(len(self.lists) - 1)
            self.show_sample()

    def _take_last(self) -> None:
        if len(self.lists) > 1:
            page = self.lists.pop()
            self.tabs.removeTab(self.tabs.indexOf(page))
            page.deleteLater()
            self.show_sample()

    def written(self) -> tuple[str, str]:
        self.more.setEnabled(len(self.lists) < _MOST_LISTS)
        self.fewer.setEnabled(len(self.lists) > 1)
        fit = fitted(self._song, self.target)
        text = "\n\n".join(packed(fit, board) for board in fit.boards)
        return text, " ".join(loss.sentence for loss in fit.lost[:3]) or "Nothing is lost."

    def kept(self) -> str:
        return save_own(replace(self.target, id=self.name.text()), self._folder)
