"""The reading row Staff in the real window: heads under their notes, clicked, moved, lit; and rows that a tune asks for."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from chickadee.desk.timeline.geometry import staff_space
from chickadee.desk.timeline.squiggle import severity_color
from chickadee.display.rows import ROWS, STAFF_TITLE
from chickadee.display.staff_row import StaffRow
from chickadee.sheet.properties import READING_ROWS

SHEET = "meter: 3/4\nkey: G major\nG4 B4=1/2 F4=1/2 D5 | C4&E4&G4=3 | C4=1/1001 D4=2999/1000 "


@pytest.fixture
def staff(desk):
    """The desk with a tune and its staff."""
    desk.document.text_document.setPlainText(SHEET)
    desk.actions_by_id["row.staff"].setChecked(True)
    return desk


def head_place(desk, index: int) -> QPoint:
    """Where a note's head is drawn, in the viewport."""
    geometry = desk.timeline.shown_geometry
    note = desk.document.reading.song.notes[index]
    space = geometry.staff_space
    bar = geometry.staff.bar(geometry.staff.notation.bar_at(note.start), geometry.axes.quarter / space)
    head = next(head for head in bar.heads if head.note is note)
    start = geometry.staff.notation.bars[geometry.staff.notation.bar_at(note.start)].start
    left = geometry.roll.left() + geometry.axes.x(start)
    return QPoint(round(left + (head.x + 0.6) * space), round(geometry.roll.bottom() + 1 + head.y * space))


def test_heads_stand_under_their_notes_and_are_chosen_by_a_click(staff):
    geometry = staff.timeline.shown_geometry
    for index, note in enumerate(staff.document.reading.song.notes[:7]):
        at = head_place(staff, index)
        assert abs(at.x() - geometry.note_rect(index).left()) < 2 * staff_space(1)
        QTest.mouseClick(staff.timeline.viewport(), Qt.MouseButton.LeftButton, pos=at)
        assert staff.selection.notes == [index], note.pitch.text


def test_up_and_down_move_the_chosen_head_a_step(staff, qtbot):
    QTest.mouseClick(staff.timeline.viewport(), Qt.MouseButton.LeftButton, pos=head_place(staff, 3))
    staff.timeline.setFocus()
    QTest.keyClick(staff.timeline, Qt.Key.Key_Up)
    assert staff.document.reading.song.notes[3].pitch.text == "E5"
    QTest.keyClick(staff.timeline, Qt.Key.Key_Down)
    assert staff.document.text_document.toPlainText() == SHEET


def test_what_is_chosen_is_drawn_in_the_accent_and_its_bar_is_drawn_once(staff):
    def colour():
        staff.timeline.viewport().repaint()
        at = head_place(staff, 1)
        return staff.timeline.viewport().grab().toImage().pixelColor(at)

    plain = colour()
    staff.selection.choose_note(1)
    assert colour().name().lower() == staff.appearance.look.theme.accent.lower() != plain.name().lower()
    painter = staff.timeline._painter._staff
    pictures = dict(painter._pictures)
    staff.timeline.viewport().repaint()
    assert all(painter._pictures[key] is picture for key, picture in pictures.items())


def test_the_row_is_as_high_as_its_notes_need_and_the_others_stand_under_it(staff):
    geometry = staff.timeline.shown_geometry
    assert geometry.staff_height == round(geometry.staff.height * geometry.staff_space)
    assert (
        staff.timeline.cell_rect("Name").top() == geometry.roll.bottom() + 1 + geometry.staff_height
        if (staff.selection.choose_note(0) is None)
        else False
    )
    staff.document.text_document.setPlainText("C4 G6=3")
    assert staff.timeline.shown_geometry.staff.height > geometry.staff.height
    staff.actions_by_id["row.staff"].setChecked(False)
    assert staff.timeline.shown_geometry.staff_height == 0


def test_zoomed_out_there_are_heads_and_then_lines_alone(staff):
    row = StaffRow(staff.selection.scene)
    parts = [{getattr(mark, "part", "") for mark in row.bar(0, quarter).marks} for quarter in (6.0, 2.5, 0.3)]
    assert {"head", "stem", "beam"} <= parts[0]
    assert parts[1] == {"head"}
    assert parts[2] == {"dash"}


def test_a_tune_shows_the_rows_that_it_asks_for_while_it_is_open(desk, tune):
    assert (STAFF_TITLE, *ROWS) == READING_ROWS
    desk.files.open_path(tune("rows: staff, words\nC4 D4"))
    assert desk.actions_by_id["row.staff"].isChecked() and desk.timeline.shown_geometry.staff_height > 0
    assert "Words" in desk.timeline.row_titles
    desk.files.open_path(tune("C4 D4", "other.chick"))
    assert not desk.actions_by_id["row.staff"].isChecked() and "Words" not in desk.timeline.row_titles
    desk.files.open_path(tune("rows: stuff\nC4 D4", "third.chick"))
    assert "Rows are staff, name" in desk.document.reading.findings[0].message


def test_an_empty_tune_and_drums_and_two_hands_have_a_staff(staff):
    for text, clefs in (("", 1), ("sound: drum kit\nkick hat", 1), ("C2&G4=2 B1&D5=2", 2)):
        staff.document.text_document.setPlainText(text)
        staff.timeline.viewport().repaint()
        assert len(staff.timeline.shown_geometry.staff.notation.clefs) == clefs


def test_a_finding_is_a_wave_under_its_head(staff):
    staff.document.text_document.setPlainText("range: C4 to D4\nC4 G4 C4 D4")
    severity = staff.selection.scene.faults[1]
    wave = severity_color(staff.appearance.look, severity).name()
    picture = staff.timeline.viewport().grab().toImage()
    at = head_place(staff, 1)
    under = [(at.x() + x, at.y() + y) for x in range(-8, 9) for y in range(4, 12)]
    assert any(picture.pixelColor(x, y).name() == wave for x, y in under)
    at = head_place(staff, 0)
    assert not any(
        picture.pixelColor(at.x() + x, at.y() + y).name() == wave for x in range(-8, 9) for y in range(4, 12)
    )
