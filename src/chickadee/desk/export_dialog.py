"""The dialog that asks in which form a tune is exported, and which part of it."""

from __future__ import annotations

from collections.abc import Mapping
from enum import Enum
from typing import Any

from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDoubleSpinBox,
    QHBoxLayout,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ..formats.forms import WRITTEN
from ..song import Song
from ..sound.audio_file import AudioSettings
from ..web.page import SHOWN
from .export import ExportRequest, expected
from .parts import answers
from .plain_dialogs import PlainForm
from .plain_text import PlainLabel

__all__ = ["ExportDialog"]

_BITS = {"16": "16 bits, as on a disc", "24": "24 bits", "32f": "32 bits, floating point"}
_RATES = (48_000, 44_100, 96_000, 32_000, 22_050, 16_000, 8_000)


class _Part(Enum):
    """Which part of a tune is written; the values are the words."""

    WHOLE = "The whole tune"
    BY_VOICE = "Each voice in a file of its own"
    BARS = "Some bars"
    MARKS = "From mark to mark"


class ExportDialog(QDialog):
    """Asks for the form, the part of the tune and how it sounds, and says what will come of it."""

    def __init__(self, song: Song, last: list[str], room: bool, parent: QWidget) -> None:
        """``last`` is what was :attr:`remembered` the last time."""
        super().__init__(parent)
        self.setWindowTitle("Export")
        self._song = song
        kinds = {suffix: f"{form.name} ({suffix}), {form.used_for}" for suffix, form in WRITTEN.items()}
        self.kind = _choices("Form", kinds)
        parts = {part: part.value for part in _Part if song.marks or part is not _Part.MARKS}
        self.part = _choices("What to export", parts)
        self._make_bars(song)
        self._make_marks(song)
        self.bits = _choices("Sample size", _BITS)
        self.rate = _choices("Samples a second", {rate: f"{rate:,}" for rate in _RATES})
        self.fade = QDoubleSpinBox()
        self.fade.setAccessibleName("Fade at the end, in seconds")
        self.fade.setRange(0, 60)
        self.fade.setDecimals(1)
        self.fade.setSuffix(" s")
        self.room = QCheckBox("in a small room")
        self.room.setChecked(room)
        self.loop = QCheckBox("seamless loop")
        self.shown = {name: QCheckBox(words) for name, words in SHOWN.items()}
        self.shown["keyboard"].setChecked(True)
        self.on_page = _beside(*self.shown.values())
        self.expected = PlainLabel()
        self.expected.setAccessibleName("What will be written")
        self.expected.setWordWrap(True)
        self._recall(last)
        self._lay_out()
        for box in (self.part, self.kind, self.bits, self.rate):
            box.currentIndexChanged.connect(self._follow)
        self.loop.toggled.connect(self._follow)
        self.first.valueChanged.connect(self.last.setMinimum)
        for number in (self.first, self.last):
            number.valueChanged.connect(self._follow)
        self.begin.currentIndexChanged.connect(self._offer_ends)
        self.end.currentIndexChanged.connect(self._follow)
        self._follow()

    def _make_bars(self, song: Song) -> None:
        first = song.grid.number_at(0)
        last = song.last_bar
        self.first = _number(first, last, first)
        self.last = _number(first, last, last)
        self.first.setAccessibleName("First bar")
        self.last.setAccessibleName("Last bar")
        self.bars = _from_to(self.first, self.last)

    def _make_marks(self, song: Song) -> None:
        self.begin = _choices("Where it begins", {})
        self.end = _choices("Where it ends", {})
        self.begin.addItem("the start", 0)
        for tick, words in song.marks:
            if 0 < tick < song.end:
                self.begin.addItem(words, tick)
        self.marks = _from_to(self.begin, self.end)
        self._offer_ends()

    def _offer_ends(self) -> None:
        """The marks after the one where it begins, and the end."""
        self.end.blockSignals(True)
        self.end.clear()
        for tick, words in self._song.marks:
            if self.begin.currentData() < tick < self._song.end:
                self.end.addItem(words, tick)
        self.end.addItem("the end", self._song.end)
        self.end.blockSignals(False)
        self.end.currentIndexChanged.emit(self.end.currentIndex())

    def _lay_out(self) -> None:
        form = PlainForm()
        for name, widget in (
            ("Form", self.kind),
            ("Part", self.part),
            ("Bars", self.bars),
            ("Marks", self.marks),
            ("Sample size", self.bits),
            ("Samples a second", self.rate),
            ("Fade at the end", self.fade),
            ("Heard", self.room),
            ("Loop", self.loop),
            ("On the page", self.on_page),
            ("Comes to", self.expected),
        ):
            form.addRow(name, widget)
        buttons, _ = answers(self, "Choose a file…")
        column = QVBoxLayout(self)
        column.addLayout(form)
        column.addWidget(buttons)
        self._form = form

    @property
    def suffix(self) -> str:
        """The form's suffix."""
        return str(self.kind.currentData())

    @property
    def request(self) -> ExportRequest:
        """The values of the fields."""
        settings = AudioSettings(
            self.rate.currentData(),
            self._exact_bits(),
            self.room.isChecked(),
            self.fade.value() if not self.loop.isChecked() else 0.0,
            self.loop.isChecked(),
        )
        show = tuple(name for name, box in self.shown.items() if box.isChecked())
        return ExportRequest(self.suffix, settings, self.part.currentData() is _Part.BY_VOICE, self._stretch(), show)

    def _stretch(self) -> tuple[int, int] | None:
        """From which tick up to which; None for all."""
        grid = self._song.grid
        part = self.part.currentData()
        if part is _Part.BARS:
            return grid.start(self.first.value()), grid.end(self.last.value())
        return (self.begin.currentData(), self.end.currentData()) if part is _Part.MARKS else None

    @property
    def remembered(self) -> list[str]:
        """The form, the sample size and the rate, for the next time."""
        return [self.suffix, self.bits.currentData(), str(self.rate.currentData())]

    def _recall(self, last: list[str]) -> None:
        for box, key in zip((self.kind, self.bits, self.rate), last, strict=False):
            keys = [str(box.itemData(row)) for row in range(box.count())]
            box.setCurrentIndex(keys.index(key) if key in keys else 0)

    def _exact_bits(self) -> str:
        bits = str(self.bits.currentData())
        return "24" if bits == "32f" and self.suffix == ".flac" else bits

    def _follow(self) -> None:
        sound = WRITTEN[self.suffix].is_sound
        for widget in (self.bits, self.rate, self.fade, self.room, self.loop):
            self._form.setRowVisible(widget, sound)
        self._form.setRowVisible(self.on_page, WRITTEN[self.suffix].is_page)
        self._form.setRowVisible(self.bars, self.part.currentData() is _Part.BARS)
        self._form.setRowVisible(self.marks, self.part.currentData() is _Part.MARKS)
        self.bits.setEnabled(self.suffix in (".wav", ".flac"))
        self.fade.setEnabled(not self.loop.isChecked())
        self.expected.setText(expected(self.request, self._song))
        self.adjustSize()


def _choices(name: str, words: Mapping[Any, str]) -> QComboBox:
    """A box of choices by their keys, each shown in its words."""
    box = QComboBox()
    box.setAccessibleName(name)
    for key, text in words.items():
        box.addItem(text, key)
    return box


def _from_to(first: QWidget, last: QWidget) -> QWidget:
    return _beside(PlainLabel("from"), first, PlainLabel("to"), last)


def _beside(*widgets: QWidget) -> QWidget:
    """Widgets side by side."""
    found = QWidget()
    row = QHBoxLayout(found)
    row.setContentsMargins(0, 0, 0, 0)
    for widget in widgets:
        row.addWidget(widget)
    row.addStretch()
    return found


def _number(low: int, high: int, value: int) -> QSpinBox:
    box = QSpinBox()
    box.setRange(low, high)
    box.setValue(value)
    return box
