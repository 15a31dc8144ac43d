"""The backdrop of the notes: the lanes, and the keys beside them, drawn once and kept."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen, QPixmap

from ..theme import mixed
from .frame import Frame

__all__ = ["Backdrop"]

_WHITE = {0, 2, 4, 5, 7, 9, 11}
_HATCH = 8  # pixels after which the hatching repeats


class Backdrop:
    """Paints the lanes and the keys from pictures that are drawn again only when something in them changes."""

    def __init__(self) -> None:
        self._kept: dict[str, tuple[object, QPixmap]] = {}

    def paint_lanes(self, painter: QPainter, frame: Frame) -> None:
        """The lanes: plain inside the key, hatched outside it; a line below each tonic."""
        if frame.roll.isEmpty():
            return
        size = QSize(frame.roll.width() + _HATCH, frame.roll.height())
        picture = self._picture("lanes", painter, frame, size, _draw_lanes)
        shift = round(frame.axes.scroll) % _HATCH
        painter.setClipRect(frame.roll)
        painter.drawPixmap(frame.roll.topLeft() - QPoint(shift, 0), picture)
        painter.setClipping(False)

    def paint_keys(self, painter: QPainter, frame: Frame) -> None:
        """The keys, each with its name and number; those that sound are lit."""
        if frame.keys.isEmpty():
            return
        painter.drawPixmap(frame.keys.topLeft(), self._picture("keys", painter, frame, frame.keys.size(), _draw_keys))
        painter.setClipRect(frame.keys)
        painter.translate(frame.keys.topLeft())
        for number in {frame.scene.song.notes[index].number for index in frame.chosen}:
            _draw_key(painter, frame, number, lit=True)
        painter.translate(-frame.keys.topLeft())
        painter.setClipping(False)

    def _picture(
        self, name: str, painter: QPainter, frame: Frame, size: QSize, draw: Callable[[QPainter, Frame], None]
    ) -> QPixmap:
        device = painter.device()
        ratio = device.devicePixelRatio() if device is not None else 1.0
        made_of = (
            size,
            ratio,
            frame.look,
            frame.axes.lane,
            frame.axes.top,
            frame.scene.song.key,
            frame.scene.is_of_drums,
        )
        kept = self._kept.get(name)
        if kept is not None and kept[0] == made_of:
            return kept[1]
        picture = QPixmap(size * ratio)
        picture.setDevicePixelRatio(ratio)
        inner = QPainter(picture)
        draw(inner, frame)
        inner.end()
        self._kept[name] = made_of, picture
        return picture


def _lanes(frame: Frame) -> range:
    lowest = max(0, frame.axes.number(frame.roll.height() - 1))
    return range(min(127, frame.axes.top), lowest - 1, -1)


def _draw_lanes(painter: QPainter, frame: Frame) -> None:
    look = frame.look
    scene = frame.scene
    wide = frame.roll.width() + _HATCH
    painter.fillRect(QRect(0, 0, wide, frame.roll.height()), look.color("page"))
    hatch = QBrush(mixed(look.theme.grey, look.theme.shade, 0.22), Qt.BrushStyle.BDiagPattern)
    painter.setPen(QPen(mixed(look.theme.line, look.theme.page, 0.6), 1))
    for number in _lanes(frame):
        lane = QRect(0, frame.axes.y(number), wide, frame.axes.lane)
        if not scene.lane_is_plain(number):
            painter.fillRect(lane, look.color("shade"))
            painter.fillRect(lane, hatch)
        if number % 12 == scene.song.key.tonic.pitch_class and not scene.is_of_drums:
            painter.drawLine(lane.bottomLeft(), lane.bottomRight())


def _draw_keys(painter: QPainter, frame: Frame) -> None:
    painter.fillRect(QRect(0, 0, frame.keys.width(), frame.keys.height()), frame.look.color("shade"))
    for number in _lanes(frame):
        _draw_key(painter, frame, number, lit=False)
    painter.setPen(mixed(frame.look.theme.grey, frame.look.theme.line, 0.35))
    painter.drawLine(frame.keys.width() - 1, 0, frame.keys.width() - 1, frame.keys.height())


def _draw_key(painter: QPainter, frame: Frame, number: int, lit: bool) -> None:
    look = frame.look
    axes = frame.axes
    lane = QRect(0, axes.y(number), frame.keys.width() - 1, axes.lane)
    drums = frame.scene.is_of_drums
    white = frame.scene.is_of_drums or number % 12 in _WHITE
    painter.fillRect(lane, look.color("white_key"))
    box = lane if white else QRect(0, lane.top(), round(lane.width() * 0.62), lane.height())
    if lit or not white:
        painter.fillRect(box.adjusted(0, 0, 0, -1), look.color("accent" if lit else "black_key"))
    painter.setPen(look.color("line"))
    painter.drawLine(lane.bottomLeft(), lane.bottomRight())
    if axes.lane < 11 and (drums or number % 12):
        return
    painter.setFont(look.font(min(10.5, axes.lane / look.scale * 0.72)))
    dark = QColor("#14171B")
    ink = look.color("ink")
    name = frame.scene.lane_name(number)
    plain = ink if white else QColor("#FFFDF9")
    painter.setPen(dark if lit else plain)
    painter.drawText(lane.adjusted(look.px(6), 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, name)
    painter.setPen(dark if lit and white else ink)
    right = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
    painter.drawText(lane.adjusted(0, 0, -look.px(5), 0), right, str(number))
