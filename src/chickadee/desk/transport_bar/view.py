"""The transport bar's widgets."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QAction, QColor, QPainter, QPaintEvent, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from ...display.readout import Readout
from ...display.scene import Scene
from ..escape import on_escape
from ..plain_text import PlainLabel, hint_of
from ..theme import Look

__all__ = ["TransportBar"]


class TransportBar(QFrame):
    """Plays and stops, and says what sounds. Its buttons are the given actions: the first is the round one, the
    others are to stop, to go back and on, and to play round and round."""

    speed_changed = pyqtSignal(float)
    """1.0 is the written tempo."""
    level_changed = pyqtSignal(float)
    """From 0 to 100."""

    property_given = pyqtSignal(str, str)
    """A property of the song and its new value, as a sheet writes it."""

    def __init__(self, look: Look, play: QAction, actions: Sequence[QAction], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("transportBar")
        self._scale = look.scale
        self._row = QHBoxLayout(self)
        self.play_button = _PlayButton(look, play)
        self._row.addWidget(self.play_button)
        self._buttons = [_ActionButton(action) for action in actions]
        for button in self._buttons:
            self._row.addWidget(button)
        self._speed = _SliderField("Speed", "{} %", 25, 150, 100, "Slower or faster at the same pitch")
        self._speed.slider.valueChanged.connect(lambda percent: self.speed_changed.emit(percent / 100))
        self.speed = self._speed.slider
        self._row.addWidget(self._speed)
        self.readout = _ReadoutView(look)
        self._row.addWidget(self.readout, 1)
        self.tempo = _Field("Tempo", "Beats a minute; click to change it")
        self.meter = _Field("Meter", "Beats in a bar, and which note is a beat; click to change it")
        self.key = _Field("Key", "The tonic and the scale; click to change it")
        self.tuning = _Field("Tuning", "The frequency of A4 in Hz; click to change it")
        for name, field in self._by_property().items():
            field.given.connect(lambda text, name=name: self.property_given.emit(name, text))
        self._fields = QHBoxLayout()
        for field in self._by_property().values():
            self._fields.addWidget(field)
        self._row.addLayout(self._fields)
        self._level = _SliderField("Level", "{}", 0, 100, 50, "Volume; up to 50 stays moderate in headphones")
        self._level.slider.valueChanged.connect(lambda level: self.level_changed.emit(float(level)))
        self.level = self._level.slider
        self._row.addWidget(self._level)
        self.set_look(look)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._row.setContentsMargins(look.px(16), look.px(8), look.px(16), look.px(8))
        self._row.setSpacing(look.px(10))
        self.play_button.set_look(look)
        self.readout.set_look(look)
        for button in self._buttons:
            button.setMinimumSize(look.px(66), look.px(40))
        self.speed.setFixedSize(look.px(96), look.px(16))
        self.level.setFixedSize(look.px(76), look.px(16))
        self._fields.setSpacing(look.px(18))
        self._scale = look.scale
        self._make_room()
        self._fields.setContentsMargins(look.px(8), 0, 0, 0)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._make_room()

    def minimumSizeHint(self) -> QSize:
        return QSize(round(420 * self._scale), super().minimumSizeHint().height())

    def _make_room(self) -> None:
        """Make room for what sounds: where there is little, what can also be had elsewhere gives way to it."""
        stop, last, following, around = self._buttons
        for least, widget in (
            (1150, self.tuning),
            (1080, last),
            (1080, following),
            (900, self.meter),
            (880, self._speed),
            (840, around),
            (760, self.key),
            (600, self._level),
            (520, stop),
        ):
            widget.setVisible(self.width() >= least * self._scale)

    def show_scene(self, scene: Scene) -> None:
        """Say the song's tempo, meter, key and tuning."""
        song = scene.song
        tempo = song.tempo_in_beats
        self.tempo.set_value(f"{_BEAT_SIGNS.get(song.meter.lower, 'beat')} = {tempo:g}", f"{tempo:g}")
        self.meter.set_value(song.meter.text, song.meter.text)
        self.key.set_value(song.key.pretty, song.key.text)
        self.tuning.set_value(f"A = {song.tuning:g}", f"{song.tuning:g}")

    def _by_property(self) -> dict[str, _Field]:
        return {"tempo": self.tempo, "meter": self.meter, "key": self.key, "tuning": self.tuning}

    def show_playing(self, playing: bool) -> None:
        """Show on the round button that something plays, or nothing does."""
        self.play_button.set_playing(playing)

    def show_limited(self, limited: bool) -> None:
        """Light the limiter's light."""
        self._level.set_lit(limited)


_BEAT_SIGNS = {4: "♩", 8: "♪"}  # few fonts have the others


class _Field(QWidget):
    """A small name over its value, which can be typed anew where it stands. ``given`` carries what was typed."""

    given = pyqtSignal(str)

    def __init__(self, name: str, hint: str) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        title = PlainLabel(name)
        title.setObjectName("fieldName")
        self.value = QPushButton()
        self.value.setObjectName("fieldValue")
        self.value.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.value.setToolTip(hint_of(hint))
        self.value.clicked.connect(self.edit)
        self.field = QLineEdit()
        on_escape(self.field, self._give_up)
        self.field.setAccessibleName(name)
        self.field.hide()
        self.field.editingFinished.connect(self._give)
        column.addStretch()
        for widget in (title, self.value, self.field):
            column.addWidget(widget)
        column.addStretch()
        self._name = name
        self._written = ""

    def set_value(self, shown: str, written: str) -> None:
        """Show a value, and keep what a sheet writes for it."""
        self.value.setText(shown)
        self.value.setAccessibleName(f"{self._name} {shown}, change it")
        self._written = written

    def edit(self) -> None:
        """Begin to type."""
        self.field.setText(self._written)
        self.field.setFixedWidth(max(self.value.width() + 12, 64))
        self.value.hide()
        self.field.show()
        self.field.selectAll()
        self.field.setFocus()

    def _give_up(self) -> None:
        self.field.setText(self._written)
        self._give()

    def _give(self) -> None:
        if self.field.isHidden():
            return
        self.field.hide()
        self.value.show()
        text = self.field.text().strip()
        if text and text != self._written:
            self.given.emit(text)


class _SliderField(QWidget):
    """A slider under its name and value, and a light that can be lit."""

    def __init__(self, name: str, form: str, low: int, high: int, usual: int, hint: str) -> None:
        super().__init__()
        self._form = form
        self._name = name
        title = PlainLabel(name)
        title.setObjectName("fieldName")
        self._light = PlainLabel()
        self._light.setObjectName("light")
        self._light.setToolTip("Lit while the limiter reduces peaks")
        self._value = PlainLabel()
        self._value.setObjectName("fieldValue")
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(low, high)
        self.slider.setSingleStep(5)
        self.slider.setPageStep(25)
        self.slider.setAccessibleName(name)
        self.slider.setToolTip(hint_of(hint))
        self.slider.valueChanged.connect(lambda value: self._value.setText(form.format(value)))
        self.slider.setValue(usual)
        top = QHBoxLayout()
        for widget in (title, self._light):
            top.addWidget(widget)
        top.addStretch()
        top.addWidget(self._value)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addStretch()
        column.addLayout(top)
        column.addWidget(self.slider)
        column.addStretch()
        self.set_lit(False)

    def set_lit(self, lit: bool) -> None:
        """Light the light: the limiter is turning peaks down."""
        self._light.setText("●" if lit else "")


class _ActionButton(QPushButton):
    """An action with its shortcut below its name."""

    def __init__(self, action: QAction) -> None:
        super().__init__(f"{action.iconText()}\n{action.shortcut().toString()}")
        self.setToolTip(action.toolTip())
        self.setAccessibleName(action.iconText())
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCheckable(action.isCheckable())
        action.toggled.connect(self.setChecked)
        self.clicked.connect(action.trigger)


class _PlayButton(QPushButton):
    """The round button that plays and stops."""

    def __init__(self, look: Look, action: QAction) -> None:
        super().__init__()
        self.setAccessibleName("Play")
        self.setToolTip(action.toolTip())
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.clicked.connect(action.trigger)
        self._look = look
        self._playing = False

    def set_look(self, look: Look) -> None:
        self._look = look
        self.setFixedSize(QSize(look.px(46), look.px(46)))
        self.update()

    def set_playing(self, playing: bool) -> None:
        self._playing = playing
        self.setAccessibleName("Stop" if playing else "Play")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        size = self.width()
        painter.fillRect(self.rect(), self._look.color("transport"))
        painter.setPen(Qt.PenStyle.NoPen)
        accent = self._look.color("accent")
        painter.setBrush(accent.lighter(112) if self.underMouse() else accent)
        painter.drawEllipse(QRectF(3, 3, size - 6, size - 6))
        painter.setBrush(QColor("#FFFFFF"))
        if self._playing:
            side = size * 0.28
            painter.drawRoundedRect(QRectF((size - side) / 2, (size - side) / 2, side, side), 2, 2)
        else:
            points = ((0.40, 0.31), (0.40, 0.69), (0.71, 0.50))
            painter.drawPolygon(QPolygonF([QPointF(x * size, y * size) for x, y in points]))
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor("#FFFFFF"), 2))
            painter.drawEllipse(QRectF(1.5, 1.5, size - 3, size - 3))


class _ReadoutView(QWidget):
    """The large letters in the middle."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._readout = Readout("")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)

    def set_look(self, look: Look) -> None:
        self._look = look
        self.setMinimumSize(look.px(150), look.px(50))
        self.update()

    @property
    def text(self) -> str:
        """Everything it says, in one line."""
        said = self._readout
        return " ".join(part for part in (said.name, said.number, said.first_line, said.second_line) if part)

    def show_readout(self, readout: Readout) -> None:
        if readout != self._readout:
            self._readout = readout
            self.setAccessibleName(self.text)
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        look = self._look
        said = self._readout
        painter.fillRect(self.rect(), look.color("transport"))
        small = look.font(14)
        painter.setFont(small)
        gap = look.px(16)
        side = max(painter.fontMetrics().horizontalAdvance(line) for line in (said.first_line, said.second_line))
        number_font = look.font(23)
        painter.setFont(number_font)
        number = painter.fontMetrics().horizontalAdvance(said.number) + (gap if said.number else 0)
        room = self.width() - side - number - gap
        size = 34.0
        painter.setFont(look.font(size, bold=True))
        while size > 13 and painter.fontMetrics().horizontalAdvance(said.name) > room:
            size -= 1
            painter.setFont(look.font(size, bold=True))
        name = painter.fontMetrics().elidedText(said.name, Qt.TextElideMode.ElideRight, room)
        wide = painter.fontMetrics().horizontalAdvance(name)
        left = max(0, (self.width() - wide - number - gap - side) // 2)
        middle = Qt.AlignmentFlag.AlignVCenter
        height = self.height() - (look.px(12) if said.off is not None else 0)
        painter.setPen(look.color("transport_ink"))
        painter.drawText(QRect(left, 0, wide + 2, height), middle, name)
        painter.setPen(mixed_accent(look))
        painter.setFont(number_font)
        painter.drawText(QRect(left + wide + gap, 0, number, height), middle, said.number)
        painter.setPen(look.color("transport_grey"))
        painter.setFont(small)
        x = left + wide + number + gap
        painter.drawText(
            QRect(x, 0, side + 2, height // 2 + look.px(1)), Qt.AlignmentFlag.AlignBottom, said.first_line
        )
        painter.drawText(
            QRect(x, height // 2 + look.px(1), side + 2, height // 2), Qt.AlignmentFlag.AlignTop, said.second_line
        )
        if said.off is not None:
            self._paint_scale(
                painter, QRectF(left, self.height() - look.px(9), x + side - left, look.px(4)), said.off
            )

    def _paint_scale(self, painter: QPainter, place: QRectF, off: float) -> None:
        """From half a semitone below to half a semitone above, and where between them a singer is."""
        look = self._look
        painter.fillRect(place, look.color("transport_grey"))
        painter.fillRect(
            QRectF(place.center().x() - 1, place.top() - look.px(4), 2, look.px(12)), look.color("transport_ink")
        )
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(mixed_accent(look))
        painter.setPen(Qt.PenStyle.NoPen)
        size = look.px(6)
        painter.drawEllipse(QPointF(place.center().x() + off / 100 * place.width(), place.center().y()), size, size)


def mixed_accent(look: Look) -> QColor:
    """The accent, light enough to be read on the dark bar."""
    return QColor(look.color("accent")).lighter(135)
