"""The Wave panel: how a note looks, what it is made of, and where its frequency comes from."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ...display.scene import Scene
from ...display.wave import AUDIBLE, NoteWave, formula, octaves
from ...song import Song
from ...song.drums import DRUM_SOUND
from ...song.sounds import SOUNDS
from ..plain_text import PlainLabel, RichLabel
from ..theme import Look
from ..working.panel import Panel, PanelContext

__all__ = ["WavePanel"]

_BESIDE = {"nothing": None, "its octave": 12, "its fifth": 7, "its third": 4, "the semitone above": 1}
_SWEEP = "0 to 127"
_STEP_MILLISECONDS = 110
_SIDE_BY_SIDE = 3  # how many times as wide as high the drawing is then
_FIRST_NUMBER = 0
_LAST_NUMBER = 127


class WavePanel(Panel):
    """Looks at the selected note."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__(context)
        self.setAccessibleName("Wave")
        self._song = Song()
        self._number = 69
        self._swept = -1
        self.sound = QComboBox()
        self.sound.setAccessibleName("Sound to look at")
        self.sound.addItems([name for name in SOUNDS if name != DRUM_SOUND])
        self.beside = QComboBox()
        self.beside.setAccessibleName("Note to compare it with")
        self.beside.addItems(list(_BESIDE))
        self.beside.setCurrentText("its octave")
        self.hear = QPushButton("Hear")
        self.hear.setToolTip("Hear the note, or both")
        self.hear.clicked.connect(lambda: context.audition.play(self.sound.currentText(), self._numbers()))
        self.sweep = QPushButton(_SWEEP)
        self.sweep.setToolTip("Hear every MIDI number in turn as a sine; those that cannot be heard are marked")
        self.sweep.clicked.connect(self._sweep_or_stop)
        self._plots = _Plots(context.appearance.look)
        self._worked = PlainLabel()
        self._same = RichLabel()  # of numbers, the one of the note in bold
        for label in (self._worked, self._same):
            label.setWordWrap(True)
            label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._timer = QTimer(self)
        self._timer.setInterval(_STEP_MILLISECONDS)
        self._timer.timeout.connect(self._sweep_on)
        for box in (self.sound, self.beside):
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.setMinimumContentsLength(7)
            box.currentTextChanged.connect(self._show)
        self._lay_out()

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._plots.set_look(look)
        self._column.setContentsMargins(look.px(12), look.px(6), look.px(12), look.px(8))
        self._show()

    def show_scene(self, scene: Scene) -> None:
        """Follow the tune's tuning and key."""
        self._song = scene.song
        self._show()

    def show_selection(self, notes: Sequence[int]) -> None:
        """Look at the first of the selected notes; where none is selected, at the one before."""
        song = self._song
        pitched = [song.notes[index] for index in notes if not song.voices[song.notes[index].voice].is_drums]
        if pitched:
            self._number = pitched[0].number
            self.sound.setCurrentText(song.voices[pitched[0].voice].sound_at(pitched[0].start))
        self._show()

    @property
    def worked(self) -> str:
        """The frequency as it is worked out."""
        return self._worked.text()

    @property
    def swept(self) -> int:
        """The MIDI number the sweep has got to; -1 when it rests."""
        return self._swept

    def stop(self) -> None:
        """End the sweep."""
        self._timer.stop()
        self._swept = -1
        self.sweep.setText(_SWEEP)
        self._show()

    def showEvent(self, event: object) -> None:
        self._show()

    def hideEvent(self, event: object) -> None:
        if self._timer.isActive():
            self.stop()

    def _lay_out(self) -> None:
        self._column = QVBoxLayout(self)
        row = QHBoxLayout()
        row.addWidget(self.sound)
        over = PlainLabel("with")
        row.addWidget(over)
        row.addWidget(self.beside)
        row.addStretch()
        heard = QHBoxLayout()
        heard.addWidget(self._worked, 1)
        heard.addWidget(self.hear)
        heard.addWidget(self.sweep)
        self._column.addLayout(row)
        self._column.addLayout(heard)
        self._column.addWidget(self._plots, 1)
        self._column.addWidget(self._same)

    def _numbers(self) -> list[int]:
        other = _BESIDE[self.beside.currentText()]
        numbers = [self._number] + ([self._number + other] if other else [])
        return [number for number in numbers if number <= _LAST_NUMBER]

    def _show(self) -> None:
        if not self.isVisible():
            return
        sweeping = self._swept >= 0
        numbers = [self._swept] if sweeping else self._numbers()
        sound = "sine" if sweeping else self.sound.currentText()
        tuning = self._song.tuning
        key = self._song.key
        waves = [NoteWave(sound, number, tuning) for number in numbers]
        self._plots.show_waves(
            waves, [self._song.naming.pitch_pretty(key.spell(number)) for number in numbers], self._swept
        )
        first = waves[0]
        ear = ""
        if not AUDIBLE[0] <= first.hertz <= AUDIBLE[1]:
            ear = (
                f"  Below {AUDIBLE[0]:g} Hz: too low to be heard as a tone."
                if first.hertz < AUDIBLE[0]
                else "  Too high to be heard."
            )
        self._worked.setText(f"{formula(first.number, tuning)}{ear}")
        row = [
            f"<b>{_short(hertz)}</b>" if number == first.number else _short(hertz)
            for number, hertz in octaves(first.number, tuning)
        ]
        self._same.setText(f"Doubled each octave: {' · '.join(row)} Hz")

    def _sweep_or_stop(self) -> None:
        if self._timer.isActive():
            self.stop()
        else:
            self._swept = _FIRST_NUMBER - 1
            self.sweep.setText("Stop")
            self._timer.start()

    def _sweep_on(self) -> None:
        if self._swept >= _LAST_NUMBER:
            self.stop()
            return
        self._swept += 1
        self.context.audition.play("sine", [self._swept])
        self._show()


class _Plots(QWidget):
    """The waves over each other, their spectra below, and the range of the ear."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._waves: list[NoteWave] = []
        self._names: list[str] = []
        self._swept = -1
        self._drawn: list[tuple[np.ndarray, np.ndarray, np.ndarray]] = []

    def set_look(self, look: Look) -> None:
        self._look = look
        self.setMinimumHeight(look.px(128))
        self.update()

    def show_waves(self, waves: list[NoteWave], names: list[str], swept: int) -> None:
        self._swept = swept
        self._names = names
        if waves != self._waves:
            self._waves = waves
            seconds = 3 / max(waves[0].hertz, 8.0)
            self._drawn = [(wave.wave(seconds), *wave.spectrum()) for wave in waves]
        said = " and ".join(f"{name}, {wave.hertz:.2f} Hz" for name, wave in zip(names, waves, strict=True))
        self.setAccessibleName(f"Wave and spectrum of {said}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        look = self._look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        above, below = self._boxes()
        for box in (above, below):
            painter.fillRect(box, look.color("page"))
            painter.setPen(look.color("line"))
            painter.drawRect(box)
        painter.setFont(look.font(11))
        for place in range(len(self._drawn) - 1, -1, -1):
            wave, frequencies, levels = self._drawn[place]
            pen = QPen(self._colour(place), 2.0 if place == 0 else 1.6)
            if place:
                pen.setStyle(Qt.PenStyle.DashLine)
            painter.setPen(pen)
            x = above.left() + np.linspace(0, above.width(), len(wave))
            y = above.center().y() - 0.44 * above.height() * wave
            painter.drawPolyline(QPolygonF([QPointF(*point) for point in zip(x.tolist(), y.tolist(), strict=True)]))
            self._draw_spectrum(painter, below, frequencies, levels)
        self._draw_words(painter, above, below)
        self._draw_ear(painter)

    def _boxes(self) -> tuple[QRectF, QRectF]:
        """Where the waves and their spectra are drawn: under each other, or side by side where there is the width."""
        gap = self._look.px(22)
        room = self.height() - self._look.px(16)
        if self.width() > _SIDE_BY_SIDE * self.height():
            wide = (self.width() - gap) / 2
            return QRectF(0, gap, wide, room - gap), QRectF(wide + gap, gap, wide - 1, room - gap)
        high = (room - 2 * gap) / 2
        above = QRectF(0, gap, self.width() - 1, high)
        return above, above.translated(0, high + gap)

    def _colour(self, place: int) -> QColor:
        return self._look.voice(place)

    def _draw_spectrum(self, painter: QPainter, box: QRectF, hertz: np.ndarray, levels: np.ndarray) -> None:
        seen = (hertz > AUDIBLE[0]) & (hertz < AUDIBLE[1])
        x = box.left() + _along(hertz[seen]) * box.width()
        y = box.bottom() - np.maximum(0, 1 + levels[seen] / 80) * box.height() * 0.94
        points = zip(x.tolist(), y.tolist(), strict=True)
        painter.drawPolyline(QPolygonF([QPointF(*point) for point in points]))

    def _draw_words(self, painter: QPainter, above: QRectF, below: QRectF) -> None:
        look = self._look
        x = above.left()
        metrics = QFontMetrics(painter.font())
        middle = Qt.AlignmentFlag.AlignVCenter
        for place, (name, wave) in enumerate(zip(self._names, self._waves, strict=True)):
            text = f"{'┄ ' if place else '━ '}{name} {wave.hertz:.2f} Hz"
            painter.setPen(self._colour(place))
            painter.drawText(QRectF(x, 0, above.width(), above.top()), middle, text)
            x += metrics.horizontalAdvance(text) + look.px(14)
        painter.setPen(look.color("grey"))
        spanned = f"{3000 / max(self._waves[0].hertz, 8.0):.3g} ms" if self._waves else ""
        right = middle | Qt.AlignmentFlag.AlignRight
        painter.drawText(QRectF(above.left(), 0, above.width(), above.top()), right, spanned)
        between = QRectF(below.left(), below.top() - look.px(22), below.width(), look.px(22))
        painter.drawText(between, middle, "Made of")
        for mark in (100, 1000, 10_000):
            at = below.left() + float(_along(np.array([mark]))[0]) * below.width()
            text = "100" if mark == 100 else f"{mark:,} Hz"
            painter.drawText(
                QRectF(at - look.px(40), between.top(), look.px(80), between.height()),
                Qt.AlignmentFlag.AlignCenter,
                text,
            )
            painter.drawLine(QPointF(at, below.top()), QPointF(at, below.top() + look.px(4)))

    def _draw_ear(self, painter: QPainter) -> None:
        """All MIDI numbers in a row: hatched where ears hear no tone; the ones looked at stand out."""
        look = self._look
        tall = self._look.px(10)
        row = QRectF(0, self.height() - tall, self.width() - 1, tall)
        painter.fillRect(row, look.color("page"))
        tuning = self._waves[0].tuning if self._waves else 440.0
        for number in range(_FIRST_NUMBER, _LAST_NUMBER + 1):
            cell = QRectF(row.left() + row.width() * number / 128, row.top(), row.width() / 128, tall)
            if not AUDIBLE[0] <= NoteWave("sine", number, tuning).hertz <= AUDIBLE[1]:
                painter.fillRect(cell, look.color("line"))
                painter.setPen(look.color("wrong"))
                painter.drawLine(cell.bottomLeft(), cell.topRight())
            if any(wave.number == number for wave in self._waves):
                painter.fillRect(cell.adjusted(-1, 0, 1, 0), look.color("accent"))
        painter.setPen(look.color("line"))
        painter.drawRect(row)


def _short(hertz: float) -> str:
    return f"{hertz:.1f}" if hertz < 1000 else f"{hertz:.0f}"


def _along(hertz: np.ndarray) -> np.ndarray:
    """Where frequencies stand from 0 to 1, even to the ear."""
    return np.asarray(np.log(hertz / AUDIBLE[0]) / np.log(AUDIBLE[1] / AUDIBLE[0]))
