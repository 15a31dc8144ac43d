"""Drawing the timeline: lanes, notes, ruler, rows and keys, each with its own painter."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetrics, QPainter, QPen

from ...display.cells import Cell
from ...display.rows import STAFF_TITLE, Row
from ...song import Song
from ..theme import Look, mixed
from .backdrop import Backdrop
from .frame import Frame
from .lettering import Lettering
from .squiggle import paint_squiggle, severity_color

if TYPE_CHECKING:
    from .staff_painting import StaffPainter

__all__ = ["TimelinePainter"]

_LEFT = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft  # put together once: flags are slow to join


class TimelinePainter:
    """Draws the whole timeline, keeping what can be drawn once for many pictures."""

    def __init__(self, look: Look) -> None:
        self._backdrop = Backdrop()
        self._names = Lettering(look.font(12.5, bold=True))
        self._plain = Lettering(look.font(12.5))
        self._staff: StaffPainter | None = None

    def paint(self, painter: QPainter, frame: Frame) -> None:
        """Draw a frame."""
        self._backdrop.paint_lanes(painter, frame)
        _paint_rows_ground(painter, frame)
        _paint_column(painter, frame)
        _paint_grid(painter, frame)
        _paint_notes(painter, frame)
        _paint_marks(painter, frame)
        if frame.preview is not None:
            _paint_preview(painter, frame, frame.preview)
        if frame.attempt is not None:
            from .attempt import paint_attempt  # loaded with the first attempt

            paint_attempt(painter, frame, frame.attempt)
        if frame.staff_row is not None:
            self._staff_painter().paint(painter, frame, frame.staff_row)
        self._paint_rows(painter, frame)
        _paint_playhead(painter, frame)
        self._backdrop.paint_keys(painter, frame)
        _paint_titles(painter, frame)
        if frame.staff_row is not None:
            self._staff_painter().paint_prefix(painter, frame, frame.staff_row)

    def _staff_painter(self) -> StaffPainter:
        if self._staff is None:
            from .staff_painting import StaffPainter  # loaded with the first staff

            self._staff = StaffPainter()
        return self._staff

    def _paint_rows(self, painter: QPainter, frame: Frame) -> None:
        painter.setPen(frame.look.color("line"))
        for place in range(frame.row_count + 1):
            y = frame.rows.top() + place * frame.row_height
            painter.drawLine(0, y, frame.rows.right(), y)
        painter.setClipRect(frame.rows)
        cells = frame.scene.cells.between(*frame.ticks())
        for place, row in enumerate(frame.shown):
            lettering = self._names if place == 0 else self._plain
            _paint_row(painter, frame, place, row, cells, lettering)
        if frame.attempt is not None:
            from .attempt import paint_attempt_row

            paint_attempt_row(painter, frame, frame.attempt, _row_rect(frame, len(frame.shown)), self._names)
        painter.setClipping(False)


def _paint_column(painter: QPainter, frame: Frame) -> None:
    span = frame.column_span()
    if span is None:
        return
    wash = QColor(frame.look.color("accent"))
    wash.setAlpha(62)
    painter.setClipRect(frame.ruler.united(frame.rows))
    painter.fillRect(
        QRectF(span[0], frame.ruler.top(), span[1] - span[0], frame.rows.bottom() - frame.ruler.top() + 1), wash
    )
    painter.setClipping(False)


def _paint_grid(painter: QPainter, frame: Frame) -> None:
    """Bar lines and beats, and the ruler with the bars' numbers."""
    look = frame.look
    axes = frame.axes
    grid = frame.scene.song.grid
    first, last = frame.ticks()
    painter.fillRect(frame.ruler, mixed(look.theme.shade, look.theme.paper, 0.8))
    if (span := frame.column_span()) is not None:
        band = QRectF(span[0], frame.ruler.top(), span[1] - span[0], frame.ruler.height())
        painter.setClipRect(frame.ruler)
        painter.fillRect(band, mixed(look.theme.accent, look.theme.shade, 0.4))
    painter.setClipRect(frame.ruler.united(frame.roll))
    bar_pen = QPen(mixed(look.theme.grey, look.theme.line, 0.35), 1)
    beat_pen = QPen(look.color("line"), 1)
    painter.setFont(look.font(12, bold=True))
    number = grid.number_at(int(max(0.0, first)))
    start = 0
    widest = QFontMetrics(painter.font()).horizontalAdvance("000")
    while (start := grid.start(number)) < last:
        end = grid.end(number)
        x = frame.roll.left() + axes.x(start)
        meter = grid.meter_at(start)
        wide = axes.x(end) - axes.x(start)
        if meter.beat_ticks * axes.quarter / 8_064_000 >= 9:
            painter.setPen(beat_pen)
            for tick in range(start + meter.beat_ticks, end, meter.beat_ticks):
                beat = round(frame.roll.left() + axes.x(tick))
                painter.drawLine(beat, frame.roll.top(), beat, frame.roll.bottom())
        painter.setPen(bar_pen)
        painter.drawLine(round(x), frame.ruler.top() + 4, round(x), frame.roll.bottom())
        every = next(step for step in (1, 2, 4, 8, 16, 32, 64, 10_000) if step * wide >= widest or step == 10_000)
        if (number - 1) % every == 0 or number == 0:
            painter.setPen(look.color("ink"))
            painter.drawText(
                QRectF(x + look.px(5), frame.ruler.top(), max(wide * every, 30.0), frame.ruler.height()),
                _LEFT,
                str(number),
            )
        number += 1
    _paint_phrases(painter, frame, first, last)
    painter.setClipping(False)


def _paint_phrases(painter: QPainter, frame: Frame, first: float, last: float) -> None:
    """The names of phrases, where they begin."""
    look = frame.look
    free = 0.0
    painter.setFont(look.font(11))
    painter.setPen(look.color("grey"))
    for tick, name in frame.scene.phrase_starts:
        if first - 8_064_000 <= tick <= last:
            x = frame.roll.left() + frame.axes.x(tick) + look.px(26)
            wide = painter.fontMetrics().horizontalAdvance(name)
            if x >= free:
                painter.drawText(
                    QRectF(x, frame.ruler.top(), wide + 2, frame.ruler.height()), Qt.AlignmentFlag.AlignVCenter, name
                )
                free = x + wide + look.px(8)


def _paint_notes(painter: QPainter, frame: Frame) -> None:
    painter.setClipRect(frame.roll)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(frame.look.font(min(11, max(8, frame.axes.lane / frame.look.scale * 0.72)), bold=True))
    first, last = frame.ticks()
    for index in frame.scene.notes_between(first, last):
        if not frame.hidden or frame.scene.song.notes[index].voice not in frame.hidden:
            _paint_note(painter, frame, index)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    painter.setClipping(False)


def _paint_marks(painter: QPainter, frame: Frame) -> None:
    """A line through the roll at each mark, with its words at the top."""
    look = frame.look
    (first, last) = frame.ticks()
    painter.setClipRect(frame.roll)
    painter.setFont(look.font(11, bold=True))
    metrics = QFontMetrics(painter.font())
    for tick, words in frame.scene.song.marks:
        if first - 1 <= tick <= last:
            x = frame.roll.left() + frame.axes.x(tick)
            shown = metrics.elidedText(words, Qt.TextElideMode.ElideRight, look.px(160))
            box = QRectF(x, frame.roll.top(), metrics.horizontalAdvance(shown) + look.px(10), metrics.height() + 2)
            painter.setPen(QPen(look.color("accent_text"), 1.5, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(x, frame.roll.top()), QPointF(x, frame.roll.bottom()))
            painter.fillRect(box, look.color("page"))
            painter.drawText(box.adjusted(look.px(5), 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, shown)
        elif words and tick > last:
            break
    painter.setClipping(False)


def _paint_preview(painter: QPainter, frame: Frame, song: Song) -> None:
    """The notes as they would be: dashed outlines with a light wash; what cannot be played is crossed out."""
    look = frame.look
    axes = frame.axes
    first, last = frame.ticks()
    starts = song.arrays.start
    seen = np.flatnonzero((starts < last) & (starts + song.arrays.length > first))
    painter.setClipRect(frame.roll)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for index in map(int, seen):
        note = song.notes[index]
        if note.voice in frame.hidden or song.voices[note.voice].is_drums:
            continue
        wrong = index in frame.outside
        colour = look.color("wrong" if wrong else "right")
        left = frame.roll.left() + axes.x(note.start)
        box = QRectF(
            left, frame.roll.top() + axes.y(note.number) + 1, axes.x(note.end) - axes.x(note.start) - 1, axes.lane - 2
        )
        wash = QColor(colour)
        wash.setAlpha(70 if note.voice == frame.scene.front else 30)
        painter.setBrush(wash)
        painter.setPen(QPen(colour, 1.4, Qt.PenStyle.DashLine))
        painter.drawRoundedRect(box, 3, 3)
        if wrong:
            painter.drawLine(box.topLeft(), box.bottomRight())
            painter.drawLine(box.bottomLeft(), box.topRight())
        elif note.voice == frame.scene.front and axes.lane >= 11 and box.width() > look.px(22):
            painter.drawText(box.adjusted(look.px(5), 0, 0, 0), _LEFT, song.naming.pitch_pretty(note.pitch))
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    painter.setClipping(False)


def _paint_note(painter: QPainter, frame: Frame, index: int) -> None:
    """One note: colour its voice, thickness its loudness, a darker first edge where it is struck."""
    look = frame.look
    axes = frame.axes
    note = frame.scene.song.notes[index]
    left = frame.roll.left() + axes.x(note.start)
    width = max(3.0, axes.x(note.end) - axes.x(note.start) - 1)
    thick = max(3.0, axes.lane * (0.42 + 0.55 * note.loudness / 127))
    middle = frame.roll.top() + axes.y(note.number) + axes.lane / 2
    box = QRectF(left, middle - thick / 2, width, thick)
    front = note.voice == frame.scene.front
    chosen = index in frame.chosen
    colour = look.voice(note.voice)
    body = colour if front else mixed(colour.name(), look.theme.page, 0.45)
    edge = QRectF(left, box.top(), min(look.px(4), width), thick)
    dark = mixed("#000000", body.name(), 0.45)
    if width < look.px(10):
        painter.fillRect(box, body)
        painter.fillRect(edge, dark)
    else:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(body)
        painter.drawRoundedRect(box, 2.5, 2.5)
        painter.setBrush(dark)
        painter.drawRoundedRect(edge, 2, 2)
    if look.voice_striped(note.voice):
        painter.fillRect(QRectF(left + edge.width(), middle - 1, width - edge.width() - 1, 2), look.color("page"))
    if chosen:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(look.color("ink"), 2))
        painter.drawRoundedRect(box.adjusted(-1, -1, 1, 1), 3, 3)
    room = box.adjusted(edge.width() + look.px(3), 0, -look.px(2), 0)
    if front and axes.lane >= 11 and room.width() > look.px(8):
        song = frame.scene.song
        label = song.voices[note.voice].name_of(note, song.naming)
        if painter.fontMetrics().horizontalAdvance(label) <= room.width():
            painter.setPen(QColor("#FFFFFF") if body.lightness() < 140 else QColor("#14171B"))
            painter.drawText(room, _LEFT, label)
    if (severity := frame.scene.faults.get(index)) is not None:
        painter.setPen(QPen(severity_color(look, severity), 1.4 * look.scale))
        paint_squiggle(painter, left, left + width, middle + axes.lane / 2 + 1)


def _paint_rows_ground(painter: QPainter, frame: Frame) -> None:
    look = frame.look
    painter.fillRect(frame.staff.adjusted(-frame.staff.left(), 0, 0, 0), look.color("page"))
    for place in range(frame.row_count):
        ground = look.color("page") if place % 2 == 0 else mixed(look.theme.shade, look.theme.page, 0.5)
        painter.fillRect(_row_rect(frame, place), ground)


def _row_rect(frame: Frame, place: int) -> QRect:
    top = frame.rows.top() + place * frame.row_height
    return QRect(0, top, frame.rows.right() + 1, frame.row_height)


def _paint_row(
    painter: QPainter, frame: Frame, place: int, row: Row, cells: list[Cell], lettering: Lettering
) -> None:
    look = frame.look
    axes = frame.axes
    high = frame.row_height
    top = _row_rect(frame, place).top()
    gap = look.px(4)
    least = look.px(7)
    pens = {True: look.color("ink"), False: look.color("grey")}
    for cell in cells:
        left = frame.roll.left() + axes.x(cell.tick)
        width = axes.x(cell.tick + cell.length) - axes.x(cell.tick) - gap
        room = QRectF(left + gap, top, width, high)
        if frame.column is not None and cell.tick == frame.column.tick:
            _paint_chosen_cell(painter, frame, left, room)
        text = row.text(cell, frame.scene.song) if width >= least else ""
        if not text:
            continue
        font, text = lettering.fitted(text, int(width))
        painter.setPen(pens[bool(cell.notes)])
        painter.setFont(font)
        painter.drawText(room.adjusted(0, 0, gap, 0), _LEFT, text)


def _paint_chosen_cell(painter: QPainter, frame: Frame, left: float, room: QRectF) -> None:
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setBrush(frame.look.wash)
    painter.setPen(QPen(frame.look.color("accent"), 1))
    painter.drawRoundedRect(
        QRectF(left + 1, room.top() + 2, room.width() + frame.look.px(4), room.height() - 4), 3, 3
    )
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)


def _paint_playhead(painter: QPainter, frame: Frame) -> None:
    if frame.playhead is None:
        return
    x = frame.roll.left() + frame.axes.x(frame.playhead)
    if frame.roll.left() <= x <= frame.roll.right():
        painter.setPen(QPen(frame.look.color("ink"), max(1, frame.look.px(1.4))))
        painter.drawLine(QPointF(x, frame.ruler.top()), QPointF(x, frame.rows.bottom()))


def _paint_titles(painter: QPainter, frame: Frame) -> None:
    """The rows' titles, left of them, and the corner above the keys."""
    look = frame.look
    painter.fillRect(QRect(0, 0, frame.keys.right() + 1, frame.keys.top()), look.color("shade"))
    painter.fillRect(QRect(0, 0, frame.keys.left(), frame.keys.bottom() + 1), look.color("shade"))
    painter.setPen(look.color("grey"))
    painter.setFont(look.font(11.5))
    if frame.staff_row is not None:
        at = QRect(0, frame.staff.bottom() - look.px(16), frame.keys.right() - look.px(5), look.px(15))
        painter.drawText(at, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, STAFF_TITLE)
    titles = [row.title for row in frame.shown] + ([frame.attempt.name] if frame.attempt else [])
    for place, title in enumerate(titles):
        rect = _row_rect(frame, place)
        room = QRect(look.px(8), rect.top(), frame.keys.right() - look.px(12), rect.height())
        is_attempt = place == len(frame.shown)
        painter.setPen(look.color("accent_text" if is_attempt else "grey"))
        short = painter.fontMetrics().elidedText(title, Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, short)
