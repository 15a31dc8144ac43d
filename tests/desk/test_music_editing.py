"""Editing music where it is seen: with the mouse in the roll, in the rows, with keys; one undo for everything."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QContextMenuEvent, QTextCursor
from PyQt6.QtWidgets import QApplication

from chickadee import read
from chickadee.display.rows import ROWS
from chickadee.sheet import CannotEdit, apply_edits

KEY = Qt.Key
CLICK = Qt.MouseButton.LeftButton
CONTROL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier


def put(desk, text):
    desk.document.text_document.setPlainText(text)
    desk.timeline.show_tune_from_start()
    QApplication.processEvents()


def body(desk):
    return desk.document.reading.text


def notes(desk):
    return [
        (note.number, note.start // 8_064_000, note.length / 8_064_000) for note in desk.document.reading.song.notes
    ]


def place(desk, number, beat):
    """A point of the roll, by MIDI number and quarter notes."""
    axes = desk.timeline.shown_geometry.axes
    roll = desk.timeline.shown_geometry.roll
    return QPoint(roll.left() + round(axes.x(beat * 8_064_000)) + 2, roll.top() + axes.y(number) + axes.lane // 2)


def drag(qtbot, desk, start, end):
    """Press, move and release; returns what was said on the way."""
    view = desk.timeline.viewport()
    qtbot.mousePress(view, CLICK, pos=start)
    for part in (0.3, 0.7, 1.0):
        qtbot.mouseMove(view, start + (end - start) * part)
    said = desk.timeline.pointer.said
    qtbot.mouseRelease(view, CLICK, pos=end)
    return said


def middle(desk, index):
    return desk.timeline.note_rect(index).center()


def lane(desk):
    return desk.timeline.shown_geometry.axes.lane


def beat(desk):
    return round(desk.timeline.shown_geometry.axes.x(8_064_000) - desk.timeline.shown_geometry.axes.x(0))


def test_a_tune_written_with_the_mouse_alone_and_undone_to_nothing_and_redone(qtbot, desk):
    put(desk, "")
    for number, at in ((60, 0), (64, 1), (67, 2), (57, 4)):
        qtbot.mouseDClick(desk.timeline.viewport(), CLICK, pos=place(desk, number, at))
    assert body(desk) == "C4 E4 G4 rest | A3"
    assert notes(desk) == [(60, 0, 1), (64, 1, 1), (67, 2, 1), (57, 4, 1)]
    desk.timeline.set_grid(Fraction(1, 2))
    qtbot.mouseDClick(desk.timeline.viewport(), CLICK, pos=place(desk, 65, 3.5))
    assert body(desk) == "C4 E4 G4 rest=1/2 F4=1/2 | A3"
    desk.timeline.set_grid(Fraction(1))
    qtbot.mouseDClick(desk.timeline.viewport(), CLICK, pos=place(desk, 64, 0))
    assert body(desk).startswith("C4&E4 ")
    states = [body(desk)]
    while desk.document.text_document.isUndoAvailable():
        desk.editor.undo()
        states.append(body(desk))
    assert states[-1] == ""
    while desk.document.text_document.isRedoAvailable():
        desk.editor.redo()
    assert body(desk) == states[0]


def test_nothing_moves_under_the_hand_while_all_pitches_are_seen(qtbot, desk):
    put(desk, "")
    roll = desk.timeline.shown_geometry.roll
    axes = desk.timeline.shown_geometry.axes
    seen = range(axes.number(roll.height() - 1) + 1, axes.top + 1)
    for at, number in enumerate((seen[-1], seen[0], seen[len(seen) // 2])):
        qtbot.mouseDClick(desk.timeline.viewport(), CLICK, pos=place(desk, number, at))
        assert desk.timeline.shown_geometry.axes == axes
    desk.editor.moveCursor(QTextCursor.MoveOperation.End)
    desk.editor.insertPlainText(" C1 C7")  # these are out of sight
    assert desk.timeline.shown_geometry.axes != axes
    for note in (3, 4):
        desk.selection.choose_note(note)
        assert roll.contains(desk.timeline.note_rect(note).center())


@pytest.mark.parametrize("by_key", [False, True])
def test_the_menu_of_notes_opens_where_they_are(qtbot, desk, by_key):
    put(desk, "C4 E4 G4")
    desk.timeline.setFocus()
    desk.selection.choose_note(1)
    reason = QContextMenuEvent.Reason.Keyboard if by_key else QContextMenuEvent.Reason.Mouse
    at = QPoint() if by_key else middle(desk, 2)
    QApplication.sendEvent(desk.timeline.viewport(), QContextMenuEvent(reason, at))
    menu = desk.menus.menus["notes"]
    qtbot.waitUntil(menu.isVisible)
    note = 1 if by_key else 2
    assert desk.selection.notes == [note]
    rect = desk.timeline.note_rect(note)
    left = desk.timeline.viewport().mapFromGlobal(menu.pos()).x()
    assert rect.left() <= left <= rect.right()  # a low screen may want it higher
    qtbot.keyClick(menu, KEY.Key_Down)
    qtbot.keyClick(menu, KEY.Key_Return)
    assert body(desk) == ("C4 F4 G4" if by_key else "C4 E4 A4")


def test_undo_and_redo_choose_what_was_chosen_then(qtbot, desk):
    put(desk, "C4 E4 G4 | A4 C5")
    desk.selection.choose_notes([1, 3])
    desk.timeline.setFocus()
    for keys in (KEY.Key_Up, KEY.Key_PageUp):
        qtbot.keyClick(desk.timeline, keys, CONTROL)
    assert body(desk) == "C4 F5 G4 | B5 C5"
    for key, modifiers, text in (
        (KEY.Key_Z, CONTROL, "C4 F4 G4 | B4 C5"),
        (KEY.Key_Z, CONTROL, "C4 E4 G4 | A4 C5"),
        (KEY.Key_Z, CONTROL | SHIFT, "C4 F4 G4 | B4 C5"),
    ):
        qtbot.keyClick(desk.timeline, key, modifiers)
        assert (body(desk), desk.selection.notes) == (text, [1, 3])


@pytest.mark.parametrize("size", [(1280, 800), (1024, 640), (1920, 1080)])
def test_the_chosen_note_stays_in_view_in_any_size_and_look(desk, size):
    put(desk, "C2 " * 7 + "G5 " + "C4 " * 60 + "C6")
    desk.window().resize(*size)
    for note in (0, 7, 68):
        desk.selection.choose_note(note)
        for action in ("look.projector", "look.projector"):
            desk.actions_by_id[action].trigger()
            QApplication.processEvents()
            assert desk.timeline.shown_geometry.roll.contains(desk.timeline.note_rect(note).center())


def test_the_focus_is_a_ring_and_hides_nothing(qtbot, desk):
    put(desk, "C4 E4 G4")
    desk.selection.choose_note(1)
    pictures = []
    for view in (desk.editor, desk.timeline):
        view.setFocus()
        QApplication.processEvents()
        assert view.hasFocus()
        pictures.append(
            desk.timeline.viewport().grab(desk.timeline.viewport().rect().adjusted(2, 2, -2, -2)).toImage()
        )
    assert pictures[0] == pictures[1]


def test_dragging_moves_in_pitch_and_time_and_says_so_before(qtbot, desk):
    put(desk, "C4 E4 rest=2 | G4")
    start = middle(desk, 1)
    said = drag(qtbot, desk, start, start + QPoint(beat(desk), -3 * lane(desk)))
    assert said == "G4, bar 1 beat 3, 1 beat"
    assert body(desk) == "C4 rest G4 rest | G4"
    assert desk.selection.notes == [1]
    desk.editor.undo()
    assert body(desk) == "C4 E4 rest=2 | G4"


def test_the_outline_of_a_drag_lies_where_the_note_would_be(qtbot, desk):
    put(desk, "C4 E4 rest=2 | G4")
    view = desk.timeline.viewport()
    start = middle(desk, 1)
    was = desk.timeline.note_rect(1)
    qtbot.mousePress(view, CLICK, pos=start)
    for part in (0.5, 1.0):
        qtbot.mouseMove(view, start + QPoint(beat(desk), -3 * lane(desk)) * part)
    (ghost,) = desk.timeline.pointer.ghosts()
    assert abs(ghost.left() - was.left() - beat(desk)) <= 1 and ghost.top() == was.top() - 3 * lane(desk)
    assert ghost.size() == was.size()
    qtbot.mouseRelease(view, CLICK, pos=start + QPoint(beat(desk), -3 * lane(desk)))
    now = desk.timeline.note_rect(1)
    assert abs(now.left() - ghost.left()) <= 1 and now.top() == ghost.top()


def picture(desk):
    desk.timeline.setFocus()
    QApplication.processEvents()
    return desk.timeline.viewport().grab().toImage()


def test_a_louder_note_is_drawn_thicker(desk):
    put(desk, "[20] C4=2 [64] E4=2 [127] G4=2 rest")
    desk.selection.choose_notes([])
    drawn = picture(desk)
    thick = []
    for index in range(3):
        rect = desk.timeline.note_rect(index)
        x = rect.center().x()
        colour = desk.look.voice(0).rgb()
        tall = range(rect.center().y() - lane(desk), rect.center().y() + lane(desk))
        thick.append(sum(drawn.pixelColor(x, y).rgb() == colour for y in tall))
    assert 0 < thick[0] < thick[1] < thick[2] <= lane(desk)


def test_lanes_outside_the_key_are_hatched_and_those_inside_are_plain(desk):
    put(desk, "key: D major\nF#4=4 | D4 rest=3")
    desk.selection.choose_notes([])
    drawn = picture(desk)
    at = place(desk, 60, 5.5).x()
    colours = {}
    for number in range(62, 74):
        y = place(desk, number, 6).y()
        colours[number] = {drawn.pixelColor(x, y).rgb() for x in range(at, at + 30)}
    inside = {62, 64, 66, 67, 69, 71, 73}
    assert all(desk.look.color("page").rgb() in found for number, found in colours.items() if number in inside)
    assert all(
        desk.look.color("page").rgb() not in found for number, found in colours.items() if number not in inside
    )


def test_dragging_the_end_stretches_and_the_edge_changes_loudness(qtbot, desk):
    put(desk, "C4=2 E4")
    rect = desk.timeline.note_rect(0)
    end = QPoint(rect.right() - 2, rect.center().y())
    assert drag(qtbot, desk, end, end + QPoint(beat(desk), 0)).endswith("3 beats")
    assert body(desk) == "C4=3 E4"
    edge = QPoint(desk.timeline.note_rect(0).left() + 1, rect.center().y())
    assert drag(qtbot, desk, edge, edge - QPoint(0, 4 * lane(desk))).endswith("loudness 96")
    assert [note.loudness for note in desk.document.reading.song.notes] == [96, 80]


def test_what_cannot_be_done_is_said_and_changes_nothing(qtbot, desk):
    put(desk, "C4 E4 G4")
    start = middle(desk, 0)
    drag(qtbot, desk, start, start + QPoint(beat(desk), 0))
    assert body(desk) == "C4 E4 G4"
    assert "not enough rest" in desk.notice.text
    qtbot.mouseDClick(desk.timeline.viewport(), CLICK, pos=place(desk, 70, 0.5))
    assert body(desk) in ("C4 E4 G4", "C4&Bb4 E4 G4")


def test_choosing_by_band_by_click_and_by_likeness(qtbot, desk):
    put(desk, "phrase call\n C4 E4\nvoice V\n call call | C4 E4=2\nvoice W\n C3")
    desk.selection.choose_note(0)
    start = place(desk, 66, 0) - QPoint(1, 0)
    drag(qtbot, desk, start, place(desk, 58, 1.9))
    chosen = [desk.document.reading.song.notes[index] for index in desk.selection.notes]
    assert sorted((note.number, note.start) for note in chosen)[-1][0] == 64
    assert len(chosen) == 2
    desk.selection.choose_note(0)
    for what, count in (("source", 2), ("pitch", 3), ("voice", 6), ("bar", 4)):
        desk.selection.choose_note(0)
        desk.selection.choose_more(what)
        assert len(desk.selection.notes) == count, what
    desk.selection.choose_note(0)
    qtbot.mouseClick(desk.timeline.viewport(), CLICK, CONTROL, middle(desk, 2))
    assert len(desk.selection.notes) == 3  # a note is chosen in every place where its source span sounds


def test_shared_ink_is_said_and_one_use_can_be_written_out(qtbot, desk):
    put(desk, "phrase call\n  C4 E4\n\nvoice V\n  call call | D4")
    desk.selection.choose_note(0)
    desk.editing.move(2)
    assert "sounds in 2 places" in desk.notice.text
    assert [number for number, _, _ in notes(desk)] == [62, 64, 62, 64, 62]
    qtbot.mouseClick(desk.notice.offer, CLICK)
    assert [number for number, _, _ in notes(desk)] == [62, 64, 60, 64, 62]
    assert body(desk) == "phrase call\n  C4 E4\n\nvoice V\n  (D4 E4) call | D4"


def test_a_tune_written_in_the_rows_alone(qtbot, desk):
    put(desk, "C4 C4 C4&C5")
    desk.selection.choose_note(0)
    field = desk.timeline.cell_editor
    desk.actions_by_id["row.type-name"].trigger()
    assert field.isVisible() and field.text() == "C4"
    qtbot.keyClicks(field, "F#4")
    qtbot.keyClick(field, KEY.Key_Tab)
    assert field.isVisible()
    field.insert("b♭")  # as pasted: QTest types Latin letters alone
    qtbot.keyClick(field, KEY.Key_Tab)
    qtbot.keyClicks(field, "E4 G4")
    qtbot.keyClick(field, KEY.Key_Return)
    assert body(desk) == "F#4 Bb4 E4&G4"
    desk.selection.choose_note(0)
    for action, typed in (("row.type-number", "+2"), ("row.type-beats", "3/2")):
        desk.actions_by_id[action].trigger()
        qtbot.keyClicks(field, typed)
        qtbot.keyClick(field, KEY.Key_Return)
    assert body(desk) == "G#4=3/2 Bb4 E4&G4"
    desk.actions_by_id["row.type-number"].trigger()
    qtbot.keyClicks(field, "200")
    qtbot.keyClick(field, KEY.Key_Return)
    assert "0 to 127" in desk.notice.text
    desk.actions_by_id["row.type-name"].trigger()
    qtbot.keyClicks(field, "Q")
    qtbot.keyClick(field, KEY.Key_Escape)
    assert body(desk) == "G#4=3/2 Bb4 E4&G4"
    assert field.isHidden()
    assert desk.timeline.hasFocus()


@pytest.mark.parametrize(
    "action, expected",
    [
        ("note.step-up", "D4 E4=2 G4"), ("note.semitone-down", "B3 E4=2 G4"), ("note.octave-up", "C5 E4=2 G4"),
        ("note.longer", "C4=2 E4=2 G4"), ("note.split", "C4=1/2 C4=1/2 E4=2 G4"), ("note.join", "C4 -=2 G4"),
        ("note.delete", "rest E4=2 G4"), ("note.close-up", "E4=2 G4"), ("note.louder", "[88] C4 [80] E4=2 G4"),
    ],
)  # fmt: skip
def test_every_action_on_notes_and_its_undo(desk, action, expected):
    put(desk, "C4 E4=2 G4")
    desk.selection.choose_note(0)
    desk.actions_by_id[action].trigger()
    assert body(desk) == expected
    desk.editor.undo()
    assert body(desk) == "C4 E4=2 G4"


def test_notes_are_copied_and_pasted_in_the_roll(qtbot, desk):
    put(desk, "C4=1/2 E4&G4 | A4")
    desk.selection.choose_notes([0, 1, 2])
    desk.timeline.setFocus()
    assert desk.editing.copy() == "C4=1/2 E4&G4"
    desk.actions_by_id["edit.copy"].trigger()
    desk.selection.choose_note(3)
    desk.timeline.setFocus()
    desk.actions_by_id["edit.paste"].trigger()
    assert body(desk) == "C4=1/2 E4&G4 | A4 C4=1/2 E4&G4"
    desk.selection.choose_notes([4, 5, 6])
    desk.timeline.setFocus()
    qtbot.keyClick(desk.timeline, KEY.Key_X, CONTROL)
    assert [note.number for note in desk.document.reading.song.notes] == [60, 64, 67, 69]
    assert QApplication.clipboard().text() == "C4=1/2 E4&G4"
    desk.selection.choose_note(0)
    desk.timeline.setFocus()
    qtbot.keyClick(desk.timeline, KEY.Key_V, CONTROL)
    assert [note.number for note in desk.document.reading.song.notes] == [60, 60, 64, 67, 64, 67, 69]


def test_rows_are_chosen_and_copied_as_a_table(desk):
    put(desk, "key: G major\ntempo: 60\nvoice V\n G4 F#4=2 Bb4 rest=1/2\n words: la lo")
    for title in ("Words", "Seconds", "Step", "Interval", "Above tonic", "Frequency", "Sol-fa"):
        desk.actions_by_id[f"row.{title.lower().replace(' ', '-')}"].trigger()
    desk.edit_commands.copy_rows()
    table = dict(line.split("\t", 1) for line in QApplication.clipboard().text().split("\n"))
    assert table["Name"] == "G4\tF♯4\tB♭4\trest"
    assert table["Beats"] == "1\t2\t1\t0.5"  # as a spreadsheet takes it
    assert table["Step"].split("\t")[:2] == ["1", "7"]
    assert table["Interval"] == "\t↓m2\t↑M3\t"
    assert table["Above tonic"].startswith("0\t11\t3")
    assert table["Sol-fa"].startswith("do\tti\tmi♭")
    assert table["Seconds"] == "1.00\t2.00\t1.00\t0.50"
    assert table["Words"].startswith("la\tlo")
    assert table["Frequency"].startswith("392\t370")
    desk.actions_by_id["row.beats"].trigger()
    assert "Beats" not in desk.timeline.row_titles
    assert "Beats" not in desk.settings.words("rows", [])


@pytest.mark.parametrize(
    "row, note, typed, expected",
    [
        ("Step", 1, "3", "G4 B3 Bb4"), ("Step", 0, "7b", "F4 D4 Bb4"), ("Above tonic", 2, "11", "G4 D4 F#4"),
        ("Sol-fa", 1, "fa#", "G4 C#4 Bb4"), ("Sol-fa", 0, "ti", "F#4 D4 Bb4"),
        ("Frequency", 1, "440", "G4 A4 Bb4"), ("Frequency", 0, "262Hz", "C4 D4 Bb4"),
        ("Seconds", 0, "1.5", "G4=3/2 D4 Bb4"), ("Seconds", 1, "0,33", "G4 D4=1/3 Bb4"),
        ("Interval", 1, "↑P5", "G4 D5 Bb4"), ("Interval", 2, "-2", "G4 D4 C4"), ("Words", 1, "near", "G4 D4 Bb4\n words: _ near"),
    ],
)  # fmt: skip
def test_every_row_takes_what_it_shows(row, note, typed, expected):
    head = "key: G major\ntempo: 60\nvoice V\n "
    reading = read(f"{head}G4 D4 Bb4")
    edits = ROWS[row].edit(reading, [note], typed)
    assert apply_edits(reading.text, edits) == head + expected
    for odd in ("?", "x y", "99999999999999999999"):
        try:
            apply_edits(reading.text, ROWS[row].edit(reading, [note], odd))
        except CannotEdit as fault:
            assert str(fault).endswith(".")


def test_the_tune_and_the_chosen_notes_are_fitted_to_the_roll(qtbot, desk):
    put(desk, " ".join(["C4 E4 G4 C5 |"] * 40))
    usual = lane(desk)
    desk.actions_by_id["view.all"].trigger()
    last = desk.timeline.note_rect(159)
    roll = desk.timeline.shown_geometry.roll
    assert last.right() <= roll.right() and last.right() > roll.right() - roll.width() * 0.1
    desk.selection.choose_notes([80, 81, 82, 83])
    desk.actions_by_id["view.selection"].trigger()
    first = desk.timeline.note_rect(80)
    last = desk.timeline.note_rect(83)
    assert abs(first.left() - roll.left()) <= 2 and last.right() > roll.left() + roll.width() * 0.9
    lane_before = lane(desk)
    desk.actions_by_id["view.higher"].trigger()
    assert lane(desk) > lane_before
    desk.actions_by_id["view.usual"].trigger()
    assert lane(desk) == usual


def test_while_it_plays_the_music_moves_evenly_under_the_reading_column(desk):
    put(desk, " ".join(["C4 E4 G4 C5 |"] * 40))
    bar = desk.timeline.horizontalScrollBar()
    places = []
    for step in range(400):
        desk.timeline.show_playhead(step * 8_064_000 / 8)
        places.append(bar.value())
    desk.timeline.show_playhead(None)
    steps = [after - before for before, after in pairwise(places)]
    assert places[-1] > 1000 and min(steps) >= 0
    assert max(steps) <= beat(desk) / 8 + 1


def test_what_is_chosen_is_told_to_those_who_hear_the_window(desk):
    put(desk, "key: G major\nvoice Whistle\n G4 F#4=2 A4")
    desk.selection.choose_note(1)
    said = desk.timeline.accessibleDescription()
    assert said.startswith("1 note selected: F♯4 / G♭4, 66") and "Whistle, bar 1 beat 2" in said
    desk.selection.choose_more("voice")
    assert desk.timeline.accessibleDescription().startswith("3 notes selected: G4")
    desk.selection.choose_notes([])
    assert "Arrow keys" in desk.timeline.accessibleDescription()
