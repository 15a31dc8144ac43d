"""A teacher's own target: fields to fill in, with a live sample beside them."""

from __future__ import annotations

import json
import re
from pathlib import Path

from platformdirs import user_config_path
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QDoubleSpinBox,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ...boards.catalogue import BESIDE
from ...boards.fitting import fitted
from ...boards.packing import packed
from ...boards.target import Target, TargetFault, read_target
from ...boards.template import FIELDS
from ...files import FileFault, write_text
from ...sheet import read
from ...song import Song
from ..plain_dialogs import PlainForm
from ..plain_text import PlainLabel

__all__ = ["OwnTargetDialog"]

_SAMPLE = "C4 E4 rest=1/2 G4=3/2 |"
_TEXTS = {
    "entry": ("A note", "{number} {beats}"),
    "rest": ("A rest", "0 {beats}"),
    "between": ("Between entries", " "),
    "open": ("Before the list", ""),
    "close": ("After the list", ""),
    "held": ("A note held on", ""),
}
_LIMITS = {
    "tones": ("Tones at once (0: any)", 99),
    "longest": ("Longest, in ticks (0: any)", 9999),
    "cells": ("Cells (0: any)", 99_999),
}


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
        self.texts = {key: QLineEdit(usual) for key, (_, usual) in _TEXTS.items()}
        self.wrap = QSpinBox()
        self.wrap.setRange(0, 999)
        self.wrap.setValue(8)
        self.lowest, self.highest = QLineEdit("C-1"), QLineEdit("G9")
        self.shortest = QDoubleSpinBox()
        self.shortest.setRange(0, 10_000)
        self.shortest.setSuffix(" ms")
        self.limits = {key: QSpinBox() for key in _LIMITS}
        for key, (_, most) in _LIMITS.items():
            self.limits[key].setRange(0, most)
        self.sample = QPlainTextEdit()
        self.sample.setReadOnly(True)
        self.sample.setAccessibleName("The tune for this target")
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        if like is not None:
            self._begin_like(like)
        self._lay_out()
        self._show()

    def _begin_like(self, like: Target) -> None:
        """Begin with what another target says."""
        for key, field in self.texts.items():
            field.setText(_shown(getattr(like.lists[0], key)))
        self.wrap.setValue(like.lists[0].wrap)
        self.lowest.setText(like.limits.lowest)
        self.highest.setText(like.limits.highest)
        self.shortest.setValue(like.limits.shortest)
        for key, box in self.limits.items():
            box.setValue(getattr(like.limits, key))

    def _lay_out(self) -> None:
        form = PlainForm()
        form.addRow("Name", self.name)
        for key, (label, _) in _TEXTS.items():
            form.addRow(label, self.texts[key])
            self.texts[key].setAccessibleName(label)
        form.addRow("Entries in a line (0: all)", self.wrap)
        form.addRow("Lowest pitch", self.lowest)
        form.addRow("Highest pitch", self.highest)
        form.addRow("Shortest tick", self.shortest)
        for key, (label, _) in _LIMITS.items():
            form.addRow(label, self.limits[key])
        fields = PlainLabel("In braces: " + ", ".join(FIELDS) + ".")
        fields.setWordWrap(True)
        buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Save | QDialogButtonBox.StandardButton.Cancel, self
        )
        buttons.accepted.connect(self._save)
        buttons.rejected.connect(self.reject)
        right, row, column = QVBoxLayout(), QHBoxLayout(), QVBoxLayout(self)
        right.addWidget(self.sample, 1)
        right.addWidget(self.said)
        row.addLayout(form, 1)
        row.addLayout(right, 1)
        column.addLayout(row, 1)
        column.addWidget(fields)
        column.addWidget(buttons)
        for field in (self.name, self.lowest, self.highest, *self.texts.values()):
            field.textChanged.connect(self._show)
        for box in (self.wrap, *self.limits.values()):
            box.valueChanged.connect(self._show)
        self.shortest.valueChanged.connect(self._show)
        self.resize(820, 560)

    @property
    def toml(self) -> str:
        """The target's file."""
        lines = [f"title = {_quoted(self.name.text() or 'Mine')}", "", "[[list]]"]
        lines += [f"{key} = {_quoted(_meant(field.text()))}" for key, field in self.texts.items()]
        lines += [f"wrap = {self.wrap.value()}", "", "[limits]", f"lowest = {_quoted(self.lowest.text())}",
                  f"highest = {_quoted(self.highest.text())}", f"shortest = {self.shortest.value():g}"]  # fmt: skip
        return "\n".join([*lines, *(f"{key} = {box.value()}" for key, box in self.limits.items()), ""])

    def _show(self) -> None:
        """Show the tune for the target as it stands, or say what is wrong with it."""
        try:
            fit = fitted(self._song, read_target(self.toml, self.name.text()))
            self.sample.setPlainText("\n\n".join(packed(fit, board) for board in fit.boards))
            self.said.setText(" ".join(loss.sentence for loss in fit.lost[:3]) or "Nothing is lost.")
        except TargetFault as fault:
            self.said.setText(str(fault))

    def _save(self) -> None:
        name = re.sub(r"[^\w-]+", "-", self.name.text()).strip("-")
        if not name:
            self.said.setText("Please give the target a name of letters and digits.")
            return
        goal = self._folder / f"{name}{BESIDE}" if self._folder else (
            user_config_path("chickadee") / "targets" / f"{name}.toml")  # fmt: skip
        try:
            read_target(self.toml, name)
            goal.parent.mkdir(parents=True, exist_ok=True)
            write_text(goal, self.toml)
        except (TargetFault, FileFault) as fault:
            self.said.setText(str(fault))
            return
        except OSError as fault:
            self.said.setText(f"{goal}: {fault.strerror}.")
            return
        self.saved = name
        self.accept()


def _shown(text: str) -> str:
    return text.replace("\n", "\\n")


def _meant(text: str) -> str:
    return text.replace("\\n", "\n")


def _quoted(text: str) -> str:
    return json.dumps(text, ensure_ascii=False)
