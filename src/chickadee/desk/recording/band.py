"""The band of a recording: its wave and its pitch, under the tune's bars."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ...hearing.listening import Heard
from ...hearing.pitch import HOP
from ...song import Song
from ..theme import Look
from ..time_axis import TimeAxis

__all__ = ["RecordingBand"]

_HEIGHT = 92  # pixels at scale 1
_STEP, _LONG_STEP = 0.01, 0.1  # seconds by which the arrows move the recording


class RecordingBand(QWidget):
    """``moved`` carries the second of the recording at which bar 1 is to begin."""

    moved = pyqtSignal(float)

    def __init__(self, look: Look, axis: TimeAxis) -> None:
        super().__init__()
        self._look, self._axis = look, axis
        self._heard: Heard | None = None
        self._song = Song()
        self._first = 0.0
        self._grabbed: tuple[float, float] | None = None  # the pixel and the second where a drag began
        self.setAccessibleName("Recording under the tune; arrows move it")
        self.setToolTip("Drag it to where bar 1 begins; by keyboard, left and right")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.SizeHorCursor)
        axis.moved.connect(self.update)
        self.set_look(look)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look = look
        self.setFixedHeight(look.px(_HEIGHT))
        self.update()

    def show_recording(self, heard: Heard | None, song: Song, first: float) -> None:
        """Show a recording whose second ``first`` is where bar 1 of a song begins."""
        self._heard, self._song, self._first = heard, song, first
        self.update()

    # Where what is

    def _x(self, second: float) -> float:
        """The pixel, of this widget, of a second of the recording."""
        song = self._song
        tick = song.tempo.tick(max(0.0, second - self._first + float(song.tempo.seconds(song.grid.start(1)))))
        return float(self._axis.x(tick)) - self.mapToGlobal(QPointF(0, 0)).x()

    def _seconds_a_pixel(self) -> float:
        return 1.0 / max(1e-6, self._x(self._first + 1.0) - self._x(self._first))

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        look = self._look
        painter.fillRect(self.rect(), look.color("page"))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._heard is not None and len(self._heard.power):
            self._paint_bars(painter)
            self._paint_wave(painter, self._heard)
            self._paint_pitch(painter, self._heard)
        painter.setPen(QPen(look.color("accent" if self.hasFocus() else "line"), 2 if self.hasFocus() else 1))
        painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))

    def _paint_bars(self, painter: QPainter) -> None:
        grid, left = self._song.grid, self.mapToGlobal(QPointF(0, 0)).x()
        painter.setFont(self._look.font(11, bold=True))
        number = 1
        while (x := self._axis.x(grid.start(number)) - left) < self.width() and number < 100_000:
            if x > -50:
                painter.setPen(self._look.color("line"))
                painter.drawLine(QPointF(x, 0), QPointF(x, self.height()))
                painter.setPen(self._look.color("grey"))
                painter.drawText(QPointF(x + 4, self._look.px(14)), str(number))
            number += 1

    def _paint_wave(self, painter: QPainter, heard: Heard) -> None:
        """Half the height of the band, by loudness."""
        pixels = np.arange(0, self.width(), 2)
        start, step = self._first - self._x(self._first) * self._seconds_a_pixel(), self._seconds_a_pixel()
        frames = ((start + pixels * step) / HOP).astype(int)
        wide = max(1, int(2 * step / HOP))
        total = np.concatenate(([0.0], np.cumsum(np.sqrt(heard.power.astype(np.float64)))))
        means = (total[wide:] - total[:-wide]) / wide if len(total) > wide else np.zeros(0)
        top = max(1e-9, float(means.max(initial=0.0)))
        base, tall = self.height() - 3.0, self.height() * 0.45
        colour = self._look.color("grey")
        for pixel, frame in zip(pixels.tolist(), frames.tolist(), strict=True):
            if 0 <= frame < len(means):
                part = float(means[frame]) / top
                painter.fillRect(QRectF(pixel, base - part * tall, 1.4, part * tall), colour)

    def _paint_pitch(self, painter: QPainter, heard: Heard) -> None:
        """A thin line in the upper half, from the lowest pitch to the highest."""
        voiced = heard.hertz[heard.hertz > 0]
        if not len(voiced):
            return
        low, high = np.log2(np.quantile(voiced, 0.02)), np.log2(np.quantile(voiced, 0.98))
        painter.setPen(QPen(self._look.color("accent"), 2))
        step = max(1, int(self._seconds_a_pixel() / HOP))
        left, base = self._x(self._first), self.height() * 0.5
        line = QPolygonF()
        for frame in range(0, len(heard.hertz), step):
            x = left + (frame * HOP - self._first) / self._seconds_a_pixel()
            hertz = float(heard.hertz[frame])
            if hertz > 0 and -10 < x < self.width() + 10:
                part = (np.log2(hertz) - low) / max(0.3, high - low)
                line.append(QPointF(x, base - float(np.clip(part, 0, 1)) * (base - self._look.px(18))))
            elif line.count():
                painter.drawPolyline(line)
                line = QPolygonF()
        if line.count():
            painter.drawPolyline(line)

    # Moving

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._heard is not None and event.button() == Qt.MouseButton.LeftButton:
            self._grabbed = event.position().x(), self._first

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._grabbed is not None:
            x, first = self._grabbed
            self._move_to(first - (event.position().x() - x) * self._seconds_a_pixel())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._grabbed = None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right move the recording; with Shift by more."""
        assert event is not None
        steps = {Qt.Key.Key_Left: 1, Qt.Key.Key_Right: -1}
        step = steps.get(Qt.Key(event.key()))
        if step is None or self._heard is None:
            super().keyPressEvent(event)
            return
        by = _LONG_STEP if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _STEP
        self._move_to(self._first + step * by)

    def _move_to(self, first: float) -> None:
        assert self._heard is not None
        self.moved.emit(round(min(self._heard.seconds, max(0.0, first)), 3))
