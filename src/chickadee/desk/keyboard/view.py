"""The keyboard's widget: keys with names and numbers, lit by what sounds."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from ...song import Song
from ..theme import Look

__all__ = ["LABELS", "KeyboardView"]

_WHITE = (0, 2, 4, 5, 7, 9, 11)
_LOWEST = 36
_HIGHEST = 96
_NARROWEST = 34  # pixels of a white key that its name and number need
LABELS = ("Names and numbers", "Names", "Numbers", "Steps", "Nothing")
"""The labels that keys can have."""


class KeyboardView(QWidget):
    """Keys from C2 to C7. ``pressed`` and ``released`` carry MIDI numbers under the mouse, and how hard."""

    pressed = pyqtSignal(int, int)
    released = pyqtSignal(int)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Keyboard")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self._look = look
        self._song = Song()
        self._held: set[int] = set()
        self._sounding: set[int] = set()
        self._range: tuple[int, int] | None = None
        self._labels = LABELS[0]
        self._under: int | None = None
        self.set_look(look)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._look = look
        self.setFixedHeight(look.px(74))
        self.update()

    def set_labels(self, labels: str) -> None:
        """Write something else on the keys: one of LABELS."""
        self._labels = labels
        self.update()

    def show_song(self, song: Song, front: int) -> None:
        """Spell the names for a song's key, and mark the range of its front voice."""
        marked = song.voices[front].range if front < len(song.voices) else None
        if (song.key, marked) != (self._song.key, self._range):
            self.update()
        self._song = song
        self._range = marked

    def show_held(self, numbers: set[int]) -> None:
        """Light the keys that are held down."""
        self._held = set(numbers)
        self.update()

    def show_sounding(self, numbers: set[int]) -> None:
        """Light the keys of what the tune sounds."""
        if numbers != self._sounding:
            self._sounding = set(numbers)
            self.update()

    @property
    def lit(self) -> set[int]:
        """The keys that are lit."""
        return self._held | self._sounding

    @property
    def span(self) -> tuple[int, int]:
        """The lowest and the highest key: five octaves, or as many as can be read, about middle C."""
        octaves = int(self.width() / (7 * self._look.px(_NARROWEST)))
        low, high = {5: (36, 96), 4: (36, 84), 3: (48, 84), 2: (48, 72)}[max(2, min(5, octaves))]
        return max(low, _LOWEST), min(high, _HIGHEST)

    def key_rect(self, number: int) -> QRect:
        """Where a key is drawn."""
        low, high = self.span
        whites = [each for each in range(low, high + 1) if each % 12 in _WHITE]
        wide = self.width() / len(whites)
        if number % 12 in _WHITE:
            place = whites.index(number)
            left = round(place * wide)
            right = round((place + 1) * wide)
            return QRect(left, 0, right - left, self.height())
        middle = round((whites.index(number - 1) + 1) * wide)
        half = round(wide * 0.32)
        return QRect(middle - half, 0, 2 * half, round(self.height() * 0.6))

    def key_at(self, at: QPoint) -> int | None:
        """The MIDI number of the key at a place; black keys lie over white ones."""
        low, high = self.span
        keys = sorted(range(low, high + 1), key=lambda number: number % 12 in _WHITE)
        return next((number for number in keys if self.key_rect(number).contains(at)), None)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for white in (True, False):
            for number in range(self.span[0], self.span[1] + 1):
                if (number % 12 in _WHITE) == white:
                    self._paint_key(painter, number, white)

    def _paint_key(self, painter: QPainter, number: int, white: bool) -> None:
        look = self._look
        rect = self.key_rect(number)
        lit = number in self.lit
        ground = look.color("accent") if lit else look.color("white_key" if white else "black_key")
        painter.setPen(QPen(look.color("line"), 1))
        painter.setBrush(ground)
        painter.drawRoundedRect(rect.adjusted(0, -4, 0, -1), 3, 3)
        if self._range is not None and not self._range[0] <= number <= self._range[1]:
            painter.fillRect(rect.adjusted(1, rect.height() - look.px(5), -1, -2), look.color("grey"))
        plain = look.color("ink") if white else QColor("#FFFDF9")
        ink = QColor("#14171B") if lit else plain
        painter.setPen(ink)
        name, below = self._texts(number)
        if white or rect.width() >= look.px(18):
            painter.setFont(look.font(10 if white else 8.5))
            high = look.px(14)
            bottom = rect.bottom() - look.px(6)
            for text, top in ((name, bottom - 2 * high), (below, bottom - high)):
                painter.drawText(QRect(rect.left(), top, rect.width(), high), Qt.AlignmentFlag.AlignCenter, text)

    def _texts(self, number: int) -> tuple[str, str]:
        key = self._song.key
        name = self._song.naming.pitch_pretty(key.spell(number))
        if self._labels == "Names and numbers":
            return name, str(number)
        if self._labels == "Steps":
            steps = {each.pitch_class: str(place + 1) for place, each in enumerate(key.names)}
            return "", steps.get(number % 12, "")
        return "", {"Names": name, "Numbers": str(number)}.get(self._labels, "")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if event.button() == Qt.MouseButton.LeftButton:
            self._go_to(event.position().toPoint())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._go_to(event.position().toPoint())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._go_to(None)

    def _go_to(self, at: QPoint | None) -> None:
        """Slide to the key at a place: the one before comes up."""
        number = self.key_at(at) if at is not None else None
        if number == self._under:
            return
        if self._under is not None:
            self.released.emit(self._under)
        self._under = number
        if number is not None and at is not None:
            rect = self.key_rect(number)
            loudness = 50 + round(60 * (at.y() - rect.top()) / max(1, rect.height()))
            self.pressed.emit(number, min(120, loudness))
