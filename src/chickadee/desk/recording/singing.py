"""The microphone: the note that is sung now, and recording somebody who sings or plays along with the tune."""

from __future__ import annotations

from pathlib import Path
from statistics import median

import numpy as np
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from ...display.readout import sung
from ...files import FileFault
from ...hearing.tuner import Tuner
from ...player.microphone import Microphone
from ...sheet.properties import RecordingUnderTune
from ...sound.growing_file import GrowingFile
from ..parts import describe
from ..theme import Look
from ..working.panel import PanelContext

__all__ = ["Singing"]

_EACH_SECONDS = 0.045  # of sound that the note is looked for in at a time
_SOFTEST = -60  # dB, where the level is at its lowest
_NONE = "No microphone was found. Plug one in, or choose one in the system's sound settings."


class Singing(QWidget):
    """The microphone. ``now_changed`` carries a Readout or None, ``recorded`` a new file and where it lies."""

    now_changed = pyqtSignal(object)
    recorded = pyqtSignal(object, object)

    def __init__(self, context: PanelContext) -> None:
        super().__init__()
        self._context = context
        self.microphone = Microphone(self)
        self._tuner = Tuner(self.microphone.rate)
        self._waiting: list[np.ndarray] = []
        self._file: GrowingFile | None = None
        self._offsets: list[float] = []  # seconds of the file less those of the tune, as both went by
        self.listen = QPushButton("Microphone")
        self.record = QPushButton("Record this part")
        self.level = QProgressBar()
        self.level.setRange(_SOFTEST, 0)
        self.level.setTextVisible(False)
        self.listen.setCheckable(True)
        self.listen.setObjectName("microphone")
        describe(
            (self.listen, "Show the note that is sung or played now, in the transport bar"),
            (self.record, "Record from the selected note's bar on while the tune plays, a bar counted in"),
            (self.level, "How loud the microphone is"),
        )
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        for widget in (self.listen, self.level, self.record):
            row.addWidget(widget)
        self.level.hide()
        self.listen.toggled.connect(self.show_now)
        self.record.clicked.connect(self.record_or_stop)
        self.microphone.came.connect(self._take)
        self.microphone.ended.connect(self._lose)
        context.playback.player.stopped.connect(self.stop_recording)

    def set_look(self, look: Look) -> None:
        """Draw with another size."""
        self.level.setFixedSize(look.px(90), look.px(14))

    def show_now(self, on: bool) -> None:
        """Listen, and say what is sung; or no longer."""
        if on and not self._start():
            self.listen.setChecked(False)
            return
        self.listen.setChecked(on)
        if not on and self._file is None:
            self.microphone.stop()
        self._show()

    # Recording

    def record_or_stop(self) -> None:
        """Record from the chosen bar on, or end the recording."""
        if self._file is not None:
            self._context.playback.player.stop()
            return
        tune = self._context.document.path
        if tune is None:
            self._context.notice.say("Save the tune first; its recordings are kept in the same folder.")
            return
        if not self._start():
            return
        try:
            self._file = GrowingFile(_free_path(tune), self.microphone.rate)
        except FileFault as fault:
            self._end_with(str(fault))
            return
        self._offsets = []
        self._context.playback.play_along()
        self._show()

    def stop_recording(self) -> None:
        """The tune has stopped: keep what was recorded, and lay it under the tune."""
        file, self._file = self._file, None
        if file is None:
            return
        if not self.listen.isChecked():
            self.microphone.stop()
        self._show()
        try:
            file.close()
        except FileFault as fault:
            self._context.notice.say(str(fault))
        if not self._offsets:
            self._context.notice.say(f"Nothing came from the microphone; {file.path.name} is kept.")
            return
        song = self._context.document.reading.song
        first = median(self._offsets) + float(song.tempo.seconds(song.grid.start(1)))
        self.recorded.emit(file.path, RecordingUnderTune(file.path.name, round(first, 3)))

    # What comes

    def _start(self) -> bool:
        if self.microphone.on or self.microphone.start():
            self._tuner = Tuner(self.microphone.rate, self._context.document.reading.song.tuning)
            return True
        self._context.notice.say(_NONE)
        return False

    def _take(self, samples: np.ndarray) -> None:
        if self._file is not None:
            self._write(samples)
        self._waiting.append(samples)
        if sum(map(len, self._waiting)) < _EACH_SECONDS * self.microphone.rate:
            return
        together = np.concatenate(self._waiting)
        self._waiting = []
        now = self._tuner.of(together)
        self.level.setValue(round(max(_SOFTEST, min(0.0, self._tuner.level))))
        if self.listen.isChecked():
            self.now_changed.emit(sung(self._context.document.reading.song, now))

    def _write(self, samples: np.ndarray) -> None:
        assert self._file is not None
        try:
            self._file.write(samples)
        except FileFault as fault:
            self._end_with(str(fault))
            return
        heard = self._context.playback.player.heard
        if heard is not None and heard.until is None:
            self._offsets.append(self._file.seconds - heard.second)

    def _end_with(self, sentence: str) -> None:
        self._context.playback.player.stop()
        if not self.listen.isChecked():
            self.microphone.stop()
        self._context.notice.say(sentence)
        self._show()

    def _lose(self) -> None:
        """The microphone is gone; what it gave is kept."""
        self._context.playback.player.stop()
        self.listen.setChecked(False)
        self._context.notice.say("The microphone is gone. What it recorded is kept.")

    def _show(self) -> None:
        self.record.setText("Stop recording" if self._file is not None else "Record this part")
        self.level.setVisible(self.microphone.on)
        if not self.listen.isChecked():
            self.now_changed.emit(None)


def _free_path(tune: Path) -> Path:
    """The next file beside a tune that is not there yet."""
    return next(
        path
        for number in range(1, 100_000)
        if not (path := tune.with_name(f"{tune.stem}-sung-{number}.wav")).exists()
    )
