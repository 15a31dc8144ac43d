"""Painting the reading row Staff: each bar once as a picture, with what sounds or is chosen lit over it."""

from __future__ import annotations

from collections import OrderedDict
from functools import lru_cache

from PyQt6.QtCore import QPointF, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from ...display.staff_row import StaffRow
from ...engraving import Blot, Mark, Rule, Sign, WordPlace, outline
from ...sheet import Severity
from ..paths import painter_path
from ..theme import mixed
from .frame import Frame
from .geometry import staff_space
from .squiggle import paint_squiggle, severity_color

__all__ = ["StaffPainter"]

_OVER = 4.0  # staff spaces that a bar's picture goes beyond the bar, for accidentals and ties
_MOST_PICTURES = 160
_WIDEST = 4096  # pixels of a bar that is kept as a picture


class StaffPainter:
    """Draws the row, keeping the pictures of bars from one frame to the next."""

    def __init__(self) -> None:
        self._pictures: OrderedDict[tuple[object, ...], QPixmap] = OrderedDict()
        self._row: StaffRow | None = None
        self._faults: dict[int, Severity] = {}  # by the identity of the note
        self._lit: set[int] = set()

    def paint(self, painter: QPainter, frame: Frame, row: StaffRow) -> None:
        """Draw the part of the row that a frame shows."""
        if row is not self._row:
            self._pictures.clear()
            self._row = row
            notes = frame.scene.song.notes
            self._faults = {id(notes[index]): severity for index, severity in frame.scene.faults.items()}
        self._lit = {id(frame.scene.song.notes[index]) for index in frame.chosen}
        space = staff_space(frame.look.scale)
        area = frame.staff
        painter.setClipRect(area)
        pen = QPen(mixed(frame.look.theme.ink, frame.look.theme.page, 0.6), max(1.0, space * 0.11))
        painter.setPen(pen)
        for mark in row.ground(1.0):
            assert isinstance(mark, Rule)
            y = area.top() + round(mark.top * space)
            painter.drawLine(area.left(), y, area.right(), y)
        first, last = frame.ticks()
        for place in row.bars_between(first, last):
            self._paint_bar(painter, frame, row, place, space)
        painter.setClipping(False)

    def paint_prefix(self, painter: QPainter, frame: Frame, row: StaffRow) -> None:
        """Draw clefs and the key signature left of the row."""
        space = staff_space(frame.look.scale)
        area = QRect(0, frame.staff.top(), frame.keys.right() + 1, frame.staff.height())
        painter.setClipRect(area)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.translate(area.left() + frame.look.px(8), area.top())
        for mark in row.prefix(frame.ticks()[0]):
            _paint_mark(painter, mark, space, frame.look.color("ink"))
        painter.resetTransform()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        painter.setClipping(False)

    def _paint_bar(self, painter: QPainter, frame: Frame, row: StaffRow, place: int, space: float) -> None:
        span = row.notation.bars[place]
        quarter = frame.axes.quarter / space
        left = frame.roll.left() + frame.axes.x(span.start)
        width = frame.axes.x(span.end) - frame.axes.x(span.start)
        painter.setPen(QPen(mixed(frame.look.theme.grey, frame.look.theme.line, 0.7), 1))
        for staff in range(len(row.notation.clefs)):
            top = frame.staff.top() + row.top(staff) * space
            painter.drawLine(QPointF(round(left), top), QPointF(round(left), top + 4 * space))
        device = painter.device()
        ratio = 1.0 if device is None else device.devicePixelRatioF()
        margin = _OVER * space
        if width + 2 * margin <= _WIDEST:
            picture = self._picture(frame, row, place, width + 2 * margin, ratio)
            painter.drawPixmap(QPointF(left - margin, frame.staff.top()), picture)
        else:
            self._paint_marks(painter, frame, row, place, QPointF(left, frame.staff.top()))
        self._paint_lit(painter, frame, row.bar(place, quarter).heads, QPointF(left, frame.staff.top()), space)

    def _picture(self, frame: Frame, row: StaffRow, place: int, width: float, ratio: float) -> QPixmap:
        key = (place, frame.axes.quarter, frame.look.theme.ink, frame.look.scale, ratio)
        picture = self._pictures.get(key)
        if picture is None:
            picture = QPixmap(QSize(int(width * ratio) + 2, int(frame.staff.height() * ratio) + 1))
            picture.setDevicePixelRatio(ratio)
            picture.fill(Qt.GlobalColor.transparent)
            inside = QPainter(picture)
            self._paint_marks(inside, frame, row, place, QPointF(_OVER * staff_space(frame.look.scale), 0))
            inside.end()
            self._pictures[key] = picture
            if len(self._pictures) > _MOST_PICTURES:
                self._pictures.popitem(last=False)
        return picture

    def _paint_marks(self, painter: QPainter, frame: Frame, row: StaffRow, place: int, at: QPointF) -> None:
        space = staff_space(frame.look.scale)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.save()
        painter.translate(at)
        for mark in row.bar(place, frame.axes.quarter / space).marks:
            _paint_mark(painter, mark, space, frame.look.color("ink"))
        painter.restore()

    def _paint_lit(self, painter: QPainter, frame: Frame, heads: tuple[Sign, ...], at: QPointF, space: float) -> None:
        """Draw the heads of what sounds or is chosen in the accent, and a squiggle under those with a finding."""
        if not self._lit and not self._faults:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for head in heads:
            x = at.x() + head.x * space
            y = at.y() + head.y * space
            if id(head.note) in self._lit:
                painter.save()
                painter.translate(x, y)
                path = _path(head.name, space)
                painter.setPen(QPen(frame.look.color("accent"), 2.2))
                painter.setBrush(frame.look.color("accent"))
                painter.drawPath(path)
                painter.restore()
            if id(head.note) in self._faults:
                severity = self._faults[id(head.note)]
                painter.setPen(QPen(severity_color(frame.look, severity), 1.4 * frame.look.scale))
                paint_squiggle(painter, x - 1, x + outline(head.name).width * space + 1, y + space * 0.9)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)


@lru_cache(256)
def _path(name: str, scale: float) -> QPainterPath:
    steps = ((letter, tuple(number * scale for number in numbers)) for letter, numbers in outline(name).steps)
    return painter_path(steps)


def _paint_mark(painter: QPainter, mark: Mark, space: float, ink: QColor) -> None:
    if isinstance(mark, Sign):
        painter.translate(mark.x * space, mark.y * space)
        painter.fillPath(_path(mark.name, space * mark.scale), ink)
        painter.translate(-mark.x * space, -mark.y * space)
    elif isinstance(mark, Rule):
        half = max(0.5, mark.width * space / 2)
        across = abs(mark.right - mark.left) > abs(mark.bottom - mark.top)
        sides = QPointF(0, half) if across else QPointF(half, 0)
        one = QPointF(mark.left * space, mark.top * space)
        other = QPointF(mark.right * space, mark.bottom * space)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(ink)
        painter.drawPolygon(QPolygonF([one - sides, other - sides, other + sides, one + sides]))
    elif isinstance(mark, Blot):
        steps = ((letter, tuple(number * space for number in numbers)) for letter, numbers in mark.steps)
        painter.fillPath(painter_path(steps), ink)
    else:
        _paint_words(painter, mark.text, mark.x * space, mark.y * space, mark.size * space, ink, mark.place)


def _paint_words(
    painter: QPainter, text: str, x: float, y: float, size: float, ink: QColor, place: WordPlace
) -> None:
    font = painter.font()
    font.setPixelSize(max(6, round(size)))
    font.setBold(True)
    painter.setFont(font)
    painter.setPen(ink)
    wide = painter.fontMetrics().horizontalAdvance(text) + 2.0
    left = x - wide / 2 if place is WordPlace.MIDDLE else x
    painter.drawText(QRectF(left, y - size, wide, 2 * size), Qt.AlignmentFlag.AlignCenter, text)
