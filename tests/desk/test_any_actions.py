"""Whatever is done in whatever order, the window stands it, and undo walks all the way back."""

from __future__ import annotations

import random

import pytest
from PyQt6.QtCore import QPoint, Qt, qInstallMessageHandler
from PyQt6.QtWidgets import QApplication

from chickadee.desk.reshaping.ways import WAYS
from chickadee.sheet import read

TUNE = """title: Any order
meter: 3/4
key: G major

phrase call
  G4 B4 A4 | {Em}=2 D4 |

voice Whistle
  range: D4 to D6
  call call up 1 octave
  words: la

voice Buoys
  octave: 3
  (^1=bar | 55=bar |) to the end
"""
ACTIONS = (
    "Up a step", "Down a step", "Up a semitone", "Up an octave", "Longer", "Shorter", "Later", "Earlier", "Louder", "Softer",
    "Split", "Join", "Take out", "Take out and close up", "Choose the bar", "Choose the voice", "Choose this pitch everywhere",
    "Choose the same ink", "Next note", "Last note", "Next finding", "Comment or not", "Lines up", "Lines down", "Tidy",
    "Wider", "Narrower", "Higher lanes", "Lower lanes", "Usual size", "Show the whole tune", "Show what is chosen", "Findings",
    "Voices", "Facts", "Wave", "Transpose", "Evening theme", "Keyboard", "Shelf", "Select all", "Copy", "Row: Step", "Row: Words",
)  # fmt: skip
LETTERS = "cdefgabr4|=x "


def do_something(qtbot, desk, chance):
    """One thing that a hand could do next."""
    kind = chance.random()
    if kind < 0.6:
        desk.actions_by_text[chance.choice(ACTIONS)].trigger()
    elif kind < 0.75:
        roll = desk.timeline.shown_geometry.roll
        at = QPoint(chance.randrange(roll.left(), roll.right()), chance.randrange(roll.top(), roll.bottom()))
        click = qtbot.mouseDClick if chance.random() < 0.4 else qtbot.mouseClick
        click(desk.timeline.viewport(), Qt.MouseButton.LeftButton, pos=at)
    elif kind < 0.85:
        desk.working.turn_to("Transpose")
        desk.transpose.way.setCurrentIndex(chance.randrange(len(WAYS)))
        desk.transpose.what.setCurrentIndex(chance.randrange(desk.transpose.what.count()))
        desk.transpose.work_out()
        desk.transpose.apply.click()
    else:
        desk.editor.setFocus()
        qtbot.keyClicks(desk.editor, "".join(chance.choice(LETTERS) for _ in range(chance.randrange(1, 6))))
        qtbot.keyClick(desk.editor, Qt.Key.Key_Escape)


@pytest.mark.parametrize("seed", range(12))
def test_any_order_of_actions_can_be_undone_and_redone(qtbot, desk, seed):
    chance = random.Random(seed)
    desk.document.begin(TUNE)
    desk.choosing.choose_note(0)
    for _ in range(25):
        do_something(qtbot, desk, chance)
        reading = desk.document.reading
        assert reading.text == desk.document.text_document.toPlainText()
        assert all(0 <= index < len(reading.song.notes) for index in desk.choosing.notes)
        assert desk.choosing.scene.reading is reading
    QApplication.processEvents()
    last = desk.document.reading
    assert [note[:7] for note in read(last.text).song.notes] == [note[:7] for note in last.song.notes]
    while desk.document.text_document.isUndoAvailable():
        desk.editor.undo()
    assert desk.document.reading.text == TUNE
    while desk.document.text_document.isRedoAvailable():
        desk.editor.redo()
    assert desk.document.reading.text == last.text


def test_a_window_that_was_enlarged_is_as_it_was_afterwards(desk):
    """The projector mode and back leave the menu bar and its corner where they were."""
    QApplication.processEvents()
    before = desk.menuBar().height(), desk.state.geometry(), desk.timeline.shown_geometry.roll
    for _ in range(2):
        desk.actions_by_text["Projector"].trigger()
        QApplication.processEvents()
    assert (desk.menuBar().height(), desk.state.geometry(), desk.timeline.shown_geometry.roll) == before


def test_a_panel_that_is_turned_to_has_room_to_be_used(desk):
    desk.actions_by_text["Projector"].trigger()
    QApplication.processEvents()
    cramped = desk.working.height()
    desk.actions_by_text["Transpose"].trigger()
    QApplication.processEvents()
    assert desk.working.height() > cramped and desk.working.height() >= desk.look.px(150)
    desk.actions_by_text["Projector"].trigger()
    desk.working.turn_to("Findings")


def test_a_roll_squeezed_to_nothing_is_drawn_without_a_warning(qtbot, desk):
    """A small projector with every row: what cannot be seen is not painted, and it can be made larger again."""
    warned = []
    desk.document.begin(TUNE)
    for action in desk.actions_by_text.values():
        if action.text().startswith("Row: ") or action.text() == "Projector":
            action.setChecked(True)
    desk.change_rows()
    desk.apply_look()
    before = qInstallMessageHandler(lambda kind, context, message: warned.append(message))
    try:
        for height in (720, 300, 120):
            desk.window().resize(1280, height)
            for name in ("Show the whole tune", "Usual size", "Higher lanes", "Lower lanes", "Show what is chosen"):
                desk.actions_by_text[name].trigger()
                QApplication.processEvents()
    finally:
        qInstallMessageHandler(before)
    assert [each for each in warned if "propagateSizeHints" not in each] == []


@pytest.mark.parametrize("text", ["(D4 -) x2", "(D4 - -) x2 E4", "(C4 D4 E4)", "((C4) - D4 -)"])
def test_all_notes_can_be_taken_out_and_closed_up(desk, text):
    desk.document.begin(text)
    desk.choosing.choose_notes(list(range(len(desk.document.reading.song.notes))))
    desk.actions_by_text["Take out and close up"].trigger()
    assert desk.document.reading.song.notes == () and "overlap" not in desk.notice.text
