"""Whatever a hand does on the timeline and the keyboard, on whatever sheet, is done or refused, and can be undone."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from chickadee.desk.keyboard.panel import JUST_PLAY
from sheets import sheets

KEY = Qt.Key
CLICK = Qt.MouseButton.LeftButton
NONE = Qt.KeyboardModifier.NoModifier
CONTROL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier
PLACES = st.tuples(st.floats(0, 1), st.floats(0, 1))
HELD = st.sampled_from([NONE, CONTROL, SHIFT])
CELLS = st.text(st.sampled_from("ACFG#b4567/=+-2 x↑P"), max_size=4)
DOINGS = st.one_of(
    st.tuples(st.just("drag"), PLACES, PLACES, HELD, st.booleans()),
    st.tuples(st.just("grip"), st.integers(0, 50), st.sampled_from(["end", "edge", "body"]), PLACES),
    st.tuples(st.just("draw"), PLACES, st.sampled_from([Fraction(1), Fraction(1, 2), Fraction(1, 3), Fraction(2)])),
    st.tuples(st.just("cell"), st.sampled_from(["Name", "Number", "Beats"]), CELLS, st.sampled_from(
        [KEY.Key_Return, KEY.Key_Escape, KEY.Key_Tab, KEY.Key_Backtab])),
    st.tuples(st.just("wheel"), PLACES, st.sampled_from([-240, -120, 120, 240]), HELD, st.booleans()),
    st.tuples(st.just("key"), st.sampled_from(
        [KEY.Key_Left, KEY.Key_Right, KEY.Key_Up, KEY.Key_Down, KEY.Key_Delete, KEY.Key_Return, KEY.Key_Escape]), HELD),
    st.tuples(st.just("play"), PLACES, st.sampled_from(["Write", JUST_PLAY])),
)  # fmt: skip


def at(rect, place):
    return QPoint(
        rect.left() + round(place[0] * (rect.width() - 1)), rect.top() + round(place[1] * (rect.height() - 1))
    )


def pull(view, start, end, held=NONE, given_up=False):
    """Press, move, perhaps press Escape, and release."""
    QTest.mousePress(view, CLICK, held, start)
    for part in (0.4, 1.0):
        QTest.mouseMove(view, start + (end - start) * part)
    if given_up:
        QTest.keyClick(view.parentWidget(), KEY.Key_Escape)
    QTest.mouseRelease(view, CLICK, held, end)


def do(desk, what, *how):
    """One thing a hand could do; what it could not do here is left."""
    timeline = desk.timeline
    view = desk.timeline.viewport()
    notes = desk.document.reading.song.notes
    if what == "drag":
        start, end, held, given_up = how
        pull(view, at(view.rect(), start), at(view.rect(), end), held, given_up)
    elif what == "grip" and notes:
        index, grip, end = how
        rect = timeline.note_rect(index % len(notes))
        start = {"end": rect.right() - 1, "edge": rect.left() + 1, "body": rect.center().x()}[grip]
        pull(view, QPoint(start, rect.center().y()), at(timeline.shown_geometry.roll, end))
    elif what == "draw":
        place, grid = how
        timeline.set_grid(grid)
        QTest.mouseDClick(view, CLICK, pos=at(timeline.shown_geometry.roll, place))
    elif what == "cell":
        title, text, key = how
        timeline.edit_cell(title)
        if timeline.cell_editor.isVisible():
            timeline.cell_editor.setText(text)
            QTest.keyClick(timeline.cell_editor, key)
    elif what == "wheel":
        place, turned, held, sideways = how
        angle = QPoint(turned, 0) if sideways else QPoint(0, turned)
        here = QPointF(at(view.rect(), place))
        QApplication.sendEvent(view, QWheelEvent(here, here, QPoint(), angle, Qt.MouseButton.NoButton, held,
                                                 Qt.ScrollPhase.NoScrollPhase, False))  # fmt: skip
    elif what == "key":
        timeline.setFocus()
        QTest.keyClick(timeline, *how)
    elif what == "play":
        place, way = how
        desk.keyboard.use_for(way)
        QTest.mouseClick(desk.keyboard.keys, CLICK, pos=at(desk.keyboard.keys.rect(), place))


@settings(
    max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow]
)
@given(sheets(), st.lists(DOINGS, max_size=6))
def test_whatever_a_hand_does_is_one_step_back_at_a_time(desk, text, doings):
    desk.document.begin(text)
    desk.timeline.show_tune_from_start()
    for doing in doings:
        before = desk.document.reading
        do(desk, *doing)
        reading = desk.document.reading
        held = doing[0] == "drag" and doing[4]
        assert reading.text == desk.document.text_document.toPlainText()
        assert reading.text == before.text or not held
        assert all(0 <= index < len(reading.song.notes) for index in desk.selection.notes)
        assert desk.timeline.pointer.chosen <= set(range(len(reading.song.notes)))
        assert not desk.timeline.pointer.holds
        assert 0 <= desk.timeline.shown_geometry.axes.top <= 127
    assert not desk.grab().isNull()
    assert "went wrong" not in desk.notice.text
    while desk.document.text_document.isUndoAvailable():
        desk.edit_commands.undo()
    assert desk.document.reading.text == text
