"""The band of a recording: its wave and its pitch, under the tune's bars."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ...hearing.alignment import Alignment
from ...hearing.overview import Overview
from ...hearing.pitch import HOP
from ...song import Song
from ..theme import Look
from ..time_axis import TimeAxis

__all__ = ["RecordingBand"]

# pixels at scale 1: of the band, and of its upper edge where bar lines are taken hold of
_HEIGHT = 92
_BARS = 18
_NEAR = 7  # pixels, within which a bar line is taken hold of
# seconds by which the arrows move the recording
_STEP = 0.01
_LONG_STEP = 0.1
_MOST_LINES = 400


class RecordingBand(QWidget):
    """``moved`` carries the second of the recording at which bar 1 is to begin, ``bar_moved`` a later bar and the
    second at which it is to sound."""

    moved = pyqtSignal(float)
    bar_moved = pyqtSignal(int, float)

    def __init__(self, look: Look, axis: TimeAxis) -> None:
        super().__init__()
        self._look = look
        self._axis = axis
        self._overview = Overview(np.zeros(0, np.float32))
        self._hertz = np.zeros(0, np.float32)
        self._range: tuple[float, ...] | None = None  # of nearly all of its pitch, in octaves above 1 Hz
        self._song = Song()
        self._alignment = Alignment(Song(), 0.0)
        self._grabbed: tuple[float, float] | None = None  # the pixel and the second where a drag began
        self._bar: tuple[int, float] | None = None  # the bar line that is held, and the pixel where it is
        self.chosen_bar = 0
        """The bar whose line Control and an arrow move; 0 for none."""
        self.setAccessibleName("Recording under the tune; arrows move it, with Control the chosen bar's line")
        self.setToolTip("Drag it to where bar 1 begins; drag a bar's number to where that bar sounds")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        axis.moved.connect(self.update)
        self.set_look(look)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look = look
        self.setFixedHeight(look.px(_HEIGHT))
        self.update()

    def show_recording(
        self, overview: Overview, hertz: NDArray[np.float32], song: Song, alignment: Alignment
    ) -> None:
        """Show a recording, its pitch every 5 ms, where it lies under a song."""
        if hertz is not self._hertz:
            voiced = np.log2(hertz[hertz > 0])
            self._range = tuple(np.quantile(voiced, (0.02, 0.98)).tolist()) if len(voiced) else None
        self._overview = overview
        self._hertz = hertz
        self._song = song
        self._alignment = alignment
        self.update()

    # Where what is

    @property
    def _left(self) -> float:
        return self.mapToGlobal(QPointF(0, 0)).x()

    def pixel(self, second: float) -> float:
        """The pixel, of this widget, of a second of the recording."""
        return self._axis.x(float(self._alignment.tick([second])[0])) - self._left

    def second(self, x: float) -> float:
        """The second of the recording at a pixel of this widget."""
        return float(self._alignment.second(self._axis.tick(x + self._left)))

    def _seconds(self, pixels: NDArray[np.float64]) -> NDArray[np.float64]:
        return self._alignment.second(np.array([self._axis.tick(x + self._left) for x in pixels.tolist()]))

    def bar_lines(self) -> list[tuple[int, float]]:
        """(bar, pixel) of the bar lines in sight."""
        grid = self._song.grid
        left = self._left
        number = max(1, grid.number_at(max(0, int(self._axis.tick(left)))))
        found: list[tuple[int, float]] = []
        while (x := self._axis.x(grid.start(number)) - left) < self.width() and len(found) < _MOST_LINES:
            found.append((number, x))
            number += 1
        return found

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        look = self._look
        painter.fillRect(self.rect(), look.color("page"))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if len(self._overview.power):
            self._paint_bars(painter)
            self._paint_wave(painter)
            self._paint_pitch(painter)
        painter.setPen(QPen(look.color("accent" if self.hasFocus() else "line"), 2 if self.hasFocus() else 1))
        painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))

    def _paint_bars(self, painter: QPainter) -> None:
        known = set(self._alignment.ticks.tolist())
        free = -1e9
        for number, x in self.bar_lines():
            held = self._bar is not None and self._bar[0] == number
            x = self._bar[1] if self._bar is not None and held else x
            marked = held or self._song.grid.start(number) in known
            painter.setFont(self._look.font(11, bold=True))
            painter.setPen(QPen(self._look.color("accent" if marked else "line"), 2 if marked else 1))
            painter.drawLine(QPointF(x, 0), QPointF(x, self.height()))
            if x > free or held:
                painter.setPen(self._look.color("accent" if marked else "grey"))
                painter.drawText(QPointF(x + 4, self._look.px(14)), str(number))
                free = x + self._look.px(26)

    def _paint_wave(self, painter: QPainter) -> None:
        """Half the height of the band, by loudness."""
        pixels = np.arange(0.0, self.width() + 2.0, 2.0)
        levels = self._overview.levels(self._seconds(pixels))
        base = self.height() - 3.0
        tall = self.height() * 0.45
        painter.setPen(QPen(self._look.color("grey"), 1.4))
        for x, level in zip(pixels[:-1].tolist(), levels.tolist(), strict=True):
            if level > 0:
                painter.drawLine(QLineF(x + 0.7, base, x + 0.7, base - level * tall))

    def _paint_pitch(self, painter: QPainter) -> None:
        """A thin line in the upper half, from the lowest pitch to the highest."""
        if self._range is None:
            return
        low, high = self._range
        pixels = np.arange(0.0, float(self.width()))
        frames = np.rint(self._seconds(pixels) / HOP).astype(np.int64)
        inside = (frames >= 0) & (frames < len(self._hertz))
        hertz = np.where(inside, self._hertz[np.clip(frames, 0, len(self._hertz) - 1)], 0)
        base = self.height() * 0.5
        tall = self.height() * 0.5 - self._look.px(_BARS)
        parts = np.clip((np.log2(np.maximum(hertz, 1)) - low) / max(0.3, high - low), 0, 1)
        painter.setPen(QPen(self._look.color("accent"), 2))
        sounding = np.flatnonzero(hertz > 0)
        for run in np.split(sounding, np.flatnonzero(np.diff(sounding) > 1) + 1):
            painter.drawPolyline(QPolygonF([QPointF(pixels[place], base - parts[place] * tall) for place in run]))

    # Moving

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if not len(self._overview.power) or event.button() != Qt.MouseButton.LeftButton:
            return
        at = event.position()
        self._bar = self._line_at(at)
        if self._bar is None:
            self._grabbed = at.x(), float(self._alignment.seconds[0])

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position()
        if self._bar is not None:
            self._bar = self._bar[0], at.x()
            self.update()
        elif self._grabbed is not None:
            x, first = self._grabbed
            a_pixel = self.second(1.0) - self.second(0.0)
            self._move_to(first - (at.x() - x) * a_pixel)
        else:
            line = self._line_at(at) is not None
            self.setCursor(Qt.CursorShape.SplitHCursor if line else Qt.CursorShape.SizeHorCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._grabbed, held, self._bar = None, self._bar, None
        if held is not None:
            self.bar_moved.emit(held[0], round(max(0.0, self.second(held[1])), 3))
            self.update()

    def _line_at(self, at: QPointF) -> tuple[int, float] | None:
        """The bar line whose number is at a place."""
        if at.y() > self._look.px(_BARS):
            return None
        near = self._look.px(_NEAR)
        lines = [(abs(x - at.x()), number, x) for number, x in self.bar_lines() if -near < at.x() - x < 2.5 * near]
        return min(lines)[1:] if lines else None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right move the recording, with Control the chosen bar's line; with Shift by more."""
        assert event is not None
        step = {Qt.Key.Key_Left: 1, Qt.Key.Key_Right: -1}.get(Qt.Key(event.key()))
        if step is None or not len(self._overview.power):
            super().keyPressEvent(event)
            return
        by = step * (_LONG_STEP if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _STEP)
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier and self.chosen_bar > 1:
            tick = self._song.grid.start(self.chosen_bar)
            self.bar_moved.emit(self.chosen_bar, round(float(self._alignment.second(tick)) - by, 3))
        else:
            self._move_to(float(self._alignment.seconds[0]) + by)

    def _move_to(self, first: float) -> None:
        last = len(self._overview.power) * HOP
        self.moved.emit(round(min(last, first), 3))
