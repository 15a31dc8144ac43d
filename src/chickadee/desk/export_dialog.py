"""The dialog that asks how a tune is rendered into a sound file."""

from __future__ import annotations

from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QDoubleSpinBox,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ..song import Song
from ..sound.audio_file import AudioSettings
from .export import SoundRequest

__all__ = ["SoundDialog"]

_WHOLE, _BY_VOICE, _BARS = "The whole tune", "Each voice in a file of its own", "Some bars"
_FORMATS = {
    "WAV, exact and read everywhere": ".wav",
    "FLAC, exact and half as large": ".flac",
    "OGG, small": ".ogg",
    "MP3, small": ".mp3",
}
_BITS = {"16 bits, as on a disc": "16", "24 bits": "24", "32 bits, floating point": "32f"}
_RATES = (48_000, 44_100, 96_000, 32_000, 22_050, 16_000, 8_000)


class SoundDialog(QDialog):
    """Asks for the part of the tune, the format, and the room and fade."""

    def __init__(self, song: Song, room: bool, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Export sound")
        self.part = _choices("What to render", [_WHOLE, _BY_VOICE, _BARS])
        last = song.last_bar
        first = song.grid.number_at(0)
        self.first, self.last = _number(first, last, first), _number(first, last, last)
        self.bars = QWidget()
        row = QHBoxLayout(self.bars)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(QLabel("from"))
        row.addWidget(self.first)
        row.addWidget(QLabel("to"))
        row.addWidget(self.last)
        row.addStretch()
        self.kind = _choices("Format", list(_FORMATS))
        self.bits = _choices("Sample size", list(_BITS))
        self.rate = _choices("Samples a second", [f"{rate:,}" for rate in _RATES])
        self.fade = QDoubleSpinBox()
        self.fade.setAccessibleName("Fade at the end, in seconds")
        self.fade.setRange(0, 60)
        self.fade.setDecimals(1)
        self.fade.setSuffix(" s")
        self.room = QCheckBox("in a small room")
        self.room.setChecked(room)
        self.loop = QCheckBox("wrap what rings on at the end round to the start")
        form = QFormLayout()
        for name, widget in (
            ("Render", self.part), ("Bars", self.bars), ("Format", self.kind), ("Sample size", self.bits),
            ("Samples a second", self.rate), ("Fade at the end", self.fade), ("Heard", self.room),
            ("Loop", self.loop),
        ):  # fmt: skip
            form.addRow(name, widget)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel, self)
        go_on = buttons.addButton("Choose a file…", QDialogButtonBox.ButtonRole.AcceptRole)
        assert go_on is not None
        go_on.setDefault(True)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addLayout(form)
        column.addWidget(buttons)
        self.part.currentTextChanged.connect(self._follow)
        self.kind.currentTextChanged.connect(self._follow)
        self.loop.toggled.connect(self._follow)
        self.first.valueChanged.connect(self.last.setMinimum)
        self._follow()

    @property
    def suffix(self) -> str:
        """The format's suffix."""
        return _FORMATS[self.kind.currentText()]

    @property
    def request(self) -> SoundRequest:
        """What is asked for."""
        settings = AudioSettings(
            _RATES[self.rate.currentIndex()],
            self._exact_bits(),
            self.room.isChecked(),
            self.fade.value() if not self.loop.isChecked() else 0.0,
            self.loop.isChecked(),
        )
        bars = (self.first.value(), self.last.value()) if self.part.currentText() == _BARS else None
        return SoundRequest(settings, self.part.currentText() == _BY_VOICE, bars)

    def _exact_bits(self) -> str:
        bits = _BITS[self.bits.currentText()]
        return "24" if bits == "32f" and self.suffix == ".flac" else bits

    def _follow(self) -> None:
        self.bars.setEnabled(self.part.currentText() == _BARS)
        self.bits.setEnabled(self.suffix in (".wav", ".flac"))
        self.fade.setEnabled(not self.loop.isChecked())


def _choices(name: str, texts: list[str]) -> QComboBox:
    box = QComboBox()
    box.setAccessibleName(name)
    box.addItems(texts)
    return box


def _number(low: int, high: int, value: int) -> QSpinBox:
    box = QSpinBox()
    box.setRange(low, high)
    box.setValue(value)
    return box
