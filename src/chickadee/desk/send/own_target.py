"""A teacher's own target: every field of it to fill in, with a live sample beside them."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from platformdirs import user_config_path
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QDoubleSpinBox,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QSpinBox,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from ...boards.catalogue import BESIDE
from ...boards.fitting import fitted
from ...boards.packing import packed
from ...boards.target import Limits, ListLayout, Target, TargetFault, read_target, written_target
from ...boards.template import FIELDS
from ...files import FileFault, write_text
from ...sheet import read
from ...song import Song
from ..plain_dialogs import PlainForm
from ..plain_text import PlainLabel

__all__ = ["OwnTargetDialog"]

_SAMPLE = "C4 E4 rest=1/2 G4=3/2 |"
_FIRST = ListLayout("{number} {beats}", rest="0 {beats}", between=" ", wrap=8)
_IN_LIST = {
    "open": "Before the list",
    "entry": "A note",
    "rest": "A rest",
    "held": "A note held on",
    "jump": "A jump back",
    "sound": "A change of sound",
    "between": "Between entries",
    "indent": "Before further lines",
    "close": "After the list",
}
_AROUND = {
    "title": "Title",
    "suffix": "Suffix of its file",
    "head": "Before everything",
    "line": "Before each line’s lists",
    "join": "Between two lines",
    "foot": "After everything",
}
_PITCHES = {"lowest": "Lowest pitch", "highest": "Highest pitch"}
_COUNTS = {
    "tones": ("Tones at once (0: any)", 99),
    "longest": ("Longest, in ticks (0: any)", 9999),
    "cells": ("Cells (0: any)", 99_999),
}
_MOST_LISTS = 9


class OwnTargetDialog(QDialog):
    """Asks for a target, and keeps it beside the tunes. ``saved`` is its name then."""

    def __init__(self, song: Song, like: Target | None, folder: Path | None, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("A target of your own")
        self._song = song if song.notes else read(_SAMPLE).song
        self._folder = folder
        self.saved: str | None = None
        self.name = _line("mine", "Name of the target")
        self.tabs = QTabWidget()
        self.lists: list[_ListPage] = []
        self.around = _AroundPage(self._show)
        self.limits = _LimitsPage(self._show)
        self.more = QPushButton("One more list")
        self.fewer = QPushButton("One list less")
        self.sample = QPlainTextEdit()
        self.sample.setReadOnly(True)
        self.sample.setAccessibleName("The tune for this target")
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        begin = like or Target("mine", "Mine", (_FIRST,))
        self.around.fill(begin if like is not None else replace(begin, title="Mine"))
        self.limits.fill(begin.limits)
        for layout in begin.lists:
            self._add_list(layout)
        self._lay_out()
        self._show()

    @property
    def target(self) -> Target:
        """The target in the fields. Raises TargetFault."""
        name = self.name.text() or "mine"
        lists = tuple(page.layout_of_list for page in self.lists)
        described = self.around.described(name, lists, self.limits.limits)
        return read_target(written_target(described), name)

    def _add_list(self, layout: ListLayout) -> None:
        page = _ListPage(layout, self._show)
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
        self.name.textChanged.connect(self._show)
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
        name = re.sub(r"[^\w-]+", "-", self.name.text()).strip("-")
        if not name:
            self.said.setText("Please give the target a name of letters and digits.")
            return
        goal = (
            self._folder / f"{name}{BESIDE}"
            if self._folder
            else (user_config_path("chickadee") / "targets" / f"{name}.toml")
        )
        try:
            target = self.target
            goal.parent.mkdir(parents=True, exist_ok=True)
            write_text(goal, written_target(target))
        except (TargetFault, FileFault) as fault:
            self.said.setText(str(fault))
            return
        except OSError as fault:
            self.said.setText(f"{goal}: {fault.strerror}.")
            return
        self.saved = name
        self.accept()


class _ListPage(QWidget):
    """Every field of one list."""

    def __init__(self, layout: ListLayout, changed: Callable[[], None]) -> None:
        super().__init__()
        self.texts = {key: _line(_shown(getattr(layout, key)), label) for key, label in _IN_LIST.items()}
        self.wrap = QSpinBox()
        self.wrap.setRange(0, 999)
        self.wrap.setValue(layout.wrap)
        form = PlainForm(self)
        for key, label in _IN_LIST.items():
            form.addRow(label, self.texts[key])
            self.texts[key].textChanged.connect(changed)
        form.addRow("Entries in a line (0: all)", self.wrap)
        self.wrap.valueChanged.connect(changed)

    @property
    def layout_of_list(self) -> ListLayout:
        """The list that the fields describe."""
        return ListLayout(wrap=self.wrap.value(), **{key: _meant(field.text()) for key, field in self.texts.items()})


class _AroundPage(QWidget):
    """The page of the text around the lists, and of the meaning of numbers in them."""

    def __init__(self, changed: Callable[[], None]) -> None:
        super().__init__()
        self.texts = {key: _line("", label) for key, label in _AROUND.items()}
        self.minus = QSpinBox()
        self.minus.setRange(-999, 999)
        self.wait = QDoubleSpinBox()
        self.wait.setRange(-10_000, 10_000)
        self.wait.setSuffix(" ms")
        self.pitches = _line("", "Pitches that place counts in")
        self.drums = QCheckBox("Drums too, as MIDI numbers")
        self.sounds = _line("", "Codes of sounds")
        self.sounds.setPlaceholderText("flute = 55, square = 51")
        form = PlainForm(self)
        for key, label in _AROUND.items():
            form.addRow(label, self.texts[key])
        form.addRow("Taken from the number for {code}", self.minus)
        form.addRow("Added to each length", self.wait)
        form.addRow("Pitches that {place} counts in", self.pitches)
        form.addRow("Codes of sounds", self.sounds)
        form.addRow(self.drums)
        for field in (*self.texts.values(), self.pitches, self.sounds):
            field.textChanged.connect(changed)
        for box in (self.minus, self.wait):
            box.valueChanged.connect(changed)
        self.drums.toggled.connect(changed)

    def fill(self, target: Target) -> None:
        """Show what a target says."""
        for key, field in self.texts.items():
            field.setText(_shown(getattr(target, key)))
            field.setCursorPosition(0)
        self.minus.setValue(target.minus)
        self.wait.setValue(target.wait)
        self.pitches.setText(" ".join(target.pitches))
        self.drums.setChecked(target.drums)
        self.sounds.setText(", ".join(f"{sound} = {code}" for sound, code in target.sounds.items()))

    def described(self, name: str, lists: tuple[ListLayout, ...], limits: Limits) -> Target:
        """The target with some lists and limits. Raises TargetFault."""
        texts = {key: _meant(field.text()) for key, field in self.texts.items()}
        return Target(
            name,
            lists=lists,
            limits=limits,
            minus=self.minus.value(),
            wait=self.wait.value(),
            pitches=tuple(self.pitches.text().replace(",", " ").split()),
            drums=self.drums.isChecked(),
            sounds=_codes(self.sounds.text()),
            **texts,
        )


class _LimitsPage(QWidget):
    """The page of a board's limits."""

    def __init__(self, changed: Callable[[], None]) -> None:
        super().__init__()
        self.pitches = {key: _line("", label) for key, label in _PITCHES.items()}
        self.shortest = QDoubleSpinBox()
        self.shortest.setRange(0, 10_000)
        self.shortest.setSuffix(" ms")
        self.counts = {key: QSpinBox() for key in _COUNTS}
        form = PlainForm(self)
        for key, label in _PITCHES.items():
            form.addRow(label, self.pitches[key])
            self.pitches[key].textChanged.connect(changed)
        form.addRow("Shortest tick", self.shortest)
        self.shortest.valueChanged.connect(changed)
        for key, (label, most) in _COUNTS.items():
            self.counts[key].setRange(0, most)
            form.addRow(label, self.counts[key])
            self.counts[key].valueChanged.connect(changed)

    def fill(self, limits: Limits) -> None:
        """Show limits."""
        for key, field in self.pitches.items():
            field.setText(getattr(limits, key))
        self.shortest.setValue(limits.shortest)
        for key, box in self.counts.items():
            box.setValue(getattr(limits, key))

    @property
    def limits(self) -> Limits:
        """The limits that the fields describe."""
        counts = {key: box.value() for key, box in self.counts.items()}
        return Limits(
            lowest=self.pitches["lowest"].text(),
            highest=self.pitches["highest"].text(),
            shortest=self.shortest.value(),
            **counts,
        )


def _codes(text: str) -> dict[str, int]:
    """Sounds with their codes, as in ``flute = 55``. Raises TargetFault."""
    found = {}
    for part in filter(None, map(str.strip, text.split(","))):
        sound, sign, code = part.rpartition("=")
        if not sign or re.fullmatch(r"\s*-?[0-9]{1,9}\s*", code) is None:
            raise TargetFault(f"“{part[:20]}” is no sound with its code, such as flute = 55.")
        found[sound.strip()] = int(code)
    return found


def _line(text: str, label: str) -> QLineEdit:
    field = QLineEdit(text)
    field.setAccessibleName(label)
    return field


def _shown(text: str) -> str:
    return text.replace("\\", "\\\\").replace("\n", "\\n")


def _meant(text: str) -> str:
    return re.sub(r"\\(.)", lambda found: {"n": "\n"}.get(found[1], found[1]), text)
