"""Drawing somebody's attempt over the tune: what differs in the roll, and a reading row of its own."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from ...comparison.differences import Kind
from ...display.attempt_overlay import AttemptOverlay
from ...display.class_table import marked, pretty
from ..theme import Look
from .frame import Frame
from .lettering import Lettering

__all__ = ["kind_color", "paint_attempt", "paint_attempt_row"]

_LEFT = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft


def kind_color(look: Look, kind: Kind | None) -> QColor:
    """The colour of what is right, or of a kind of difference."""
    if kind is None:
        return look.color("right")
    return look.color("doubtful" if kind is Kind.LENGTH else "wrong")


def paint_attempt(painter: QPainter, frame: Frame, attempt: AttemptOverlay) -> None:
    """Outlines of the notes that differ, on the tune's time; crosses over what is missing."""
    look = frame.look
    axes = frame.axes
    first, last = frame.ticks()
    painter.setClipRect(frame.roll)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(look.font(min(11, max(8, axes.lane / look.scale * 0.72)), bold=True))
    for moment in attempt.moments:
        if moment.kind is None or moment.start >= last or moment.start + moment.length <= first:
            continue
        colour = kind_color(look, moment.kind)
        ground = QColor(look.color("page"))
        ground.setAlpha(225)
        for number, name in zip(moment.numbers, moment.names, strict=False):
            left = frame.roll.left() + axes.x(moment.start)
            wide = max(look.px(6), axes.x(moment.start + moment.length) - axes.x(moment.start) - 1)
            box = QRectF(left + 1, frame.roll.top() + axes.y(number) + 1, wide - 1, axes.lane - 2)
            painter.setBrush(ground if moment.kind is not Kind.LENGTH else Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(colour, 2 * look.scale))
            painter.drawRoundedRect(box, 3, 3)
            if moment.kind is not Kind.LENGTH and axes.lane >= 11 and box.width() > look.px(20):
                painter.drawText(box.adjusted(look.px(5), 0, 0, 0), _LEFT, pretty(name))
    _paint_missing(painter, frame, attempt)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    painter.setClipping(False)


def _paint_missing(painter: QPainter, frame: Frame, attempt: AttemptOverlay) -> None:
    """Strike through the notes that the attempt does not have."""
    look = frame.look
    axes = frame.axes
    song = frame.scene.song
    painter.setPen(QPen(look.color("wrong"), 2 * look.scale))
    for start, end in attempt.missing:
        for index in frame.scene.notes_between(start, end):
            note = song.notes[index]
            if note.voice != frame.scene.front or not start <= note.start < end:
                continue
            middle = frame.roll.top() + axes.y(note.number) + axes.lane / 2
            left = frame.roll.left() + axes.x(note.start)
            painter.drawLine(
                QRectF(left, middle, axes.x(note.end) - axes.x(note.start), 0).topLeft(),
                QRectF(left, middle, axes.x(note.end) - axes.x(note.start), 0).topRight(),
            )


def paint_attempt_row(
    painter: QPainter, frame: Frame, attempt: AttemptOverlay, row: QRect, lettering: Lettering
) -> None:
    """The attempt's pitches, each under the note that it stands for; what differs in its colour and with a line."""
    look = frame.look
    axes = frame.axes
    gap = frame.look.px(4)
    first, last = frame.ticks()
    starts = [moment.start for moment in attempt.moments]
    for place, moment in enumerate(attempt.moments):
        if not first <= moment.start + moment.length or moment.start > last:
            continue
        left = frame.roll.left() + axes.x(moment.start)
        until = min([moment.start + moment.length, *starts[place + 1 : place + 2]])
        width = axes.x(max(until, moment.start)) - axes.x(moment.start) - gap
        if width < look.px(7):
            continue
        font, text = lettering.fitted(marked(moment, frame.scene.song.grid), int(width))
        painter.setFont(font)
        painter.setPen(look.color("ink") if moment.kind is None else kind_color(look, moment.kind))
        box = QRectF(left + gap, row.top(), width + gap, row.height())
        painter.drawText(box, _LEFT, text)
        if moment.kind is not None:
            painter.fillRect(
                QRectF(box.left(), row.bottom() - look.px(3), min(width, look.px(18)), look.px(2)),
                kind_color(look, moment.kind),
            )
