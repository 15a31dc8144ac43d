"""Whatever is done in whatever order, the window stands it, and undo walks all the way back."""

from __future__ import annotations

import random

import pytest
from PyQt6.QtCore import QPoint, Qt, qInstallMessageHandler
from PyQt6.QtWidgets import QApplication

from chickadee.display.ways import WAYS
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
    "note.step-up", "note.step-down", "note.semitone-up", "note.octave-up", "note.longer", "note.shorter", "note.later", "note.earlier", "note.louder", "note.softer",
    "note.split", "note.join", "note.delete", "note.close-up", "select.bar", "select.voice", "select.pitch",
    "select.source", "step.on", "step.back", "findings.next", "sheet.comment", "sheet.up", "sheet.down", "sheet.tidy",
    "view.wider", "view.narrower", "view.higher", "view.lower", "view.usual", "view.all", "view.selection", "panel.findings",
    "panel.voices", "panel.facts", "panel.wave", "panel.transpose", "look.evening", "keyboard.show", "shelf.show", "sheet.select-all", "edit.copy", "row.step", "row.words",
)  # fmt: skip
LETTERS = "cdefgabr4|=x "


def do_something(qtbot, desk, chance):
    """One thing that a hand could do next."""
    kind = chance.random()
    if kind < 0.6:
        desk.actions_by_id[chance.choice(ACTIONS)].trigger()
    elif kind < 0.75:
        roll = desk.timeline.shown_geometry.roll
        at = QPoint(chance.randrange(roll.left(), roll.right()), chance.randrange(roll.top(), roll.bottom()))
        click = qtbot.mouseDClick if chance.random() < 0.4 else qtbot.mouseClick
        click(desk.timeline.viewport(), Qt.MouseButton.LeftButton, pos=at)
    elif kind < 0.85:
        desk.working.turn_to("transpose")
        desk.panel("transpose").way.setCurrentIndex(chance.randrange(len(WAYS)))
        desk.panel("transpose").what.setCurrentIndex(chance.randrange(desk.panel("transpose").what.count()))
        desk.panel("transpose").work_out()
        desk.panel("transpose").apply.click()
    else:
        desk.editor.setFocus()
        qtbot.keyClicks(desk.editor, "".join(chance.choice(LETTERS) for _ in range(chance.randrange(1, 6))))
        qtbot.keyClick(desk.editor, Qt.Key.Key_Escape)


@pytest.mark.parametrize("seed", range(12))
def test_any_order_of_actions_can_be_undone_and_redone(qtbot, desk, seed):
    chance = random.Random(seed)
    desk.document.begin(TUNE)
    desk.selection.choose_note(0)
    for _ in range(25):
        do_something(qtbot, desk, chance)
        reading = desk.document.reading
        assert reading.text == desk.document.text_document.toPlainText()
        assert all(0 <= index < len(reading.song.notes) for index in desk.selection.notes)
        assert desk.selection.scene.reading is reading
    QApplication.processEvents()
    last = desk.document.reading
    assert [note[:7] for note in read(last.text).song.notes] == [note[:7] for note in last.song.notes]
    while desk.document.text_document.isUndoAvailable():
        desk.editor.undo()
    assert desk.document.reading.text == TUNE
    while desk.document.text_document.isRedoAvailable():
        desk.editor.redo()
    assert desk.document.reading.text == last.text


def test_a_window_that_was_enlarged_is_as_it_was_afterwards(qtbot, desk):
    """The projector mode and back leave the menu bar and its corner where they were."""

    def places():
        return desk.menuBar().height(), desk.file_state.geometry(), desk.timeline.shown_geometry.roll

    QApplication.processEvents()
    before = places()
    desk.actions_by_id["look.projector"].trigger()
    qtbot.waitUntil(lambda: places() != before)
    desk.actions_by_id["look.projector"].trigger()
    qtbot.waitUntil(lambda: places() == before)


def test_a_panel_that_is_turned_to_has_room_to_be_used(desk):
    desk.actions_by_id["look.projector"].trigger()
    desk.actions_by_id["panel.transpose"].trigger()
    QApplication.processEvents()
    assert desk.working.height() >= desk.look.px(110)
    desk.actions_by_id["look.projector"].trigger()
    desk.working.turn_to("findings")


def test_a_roll_squeezed_to_nothing_is_drawn_without_a_warning(qtbot, desk):
    """A small projector with every row: what cannot be seen is not painted, and it can be made larger again."""
    warned = []
    desk.document.begin(TUNE)
    for action in desk.actions_by_id.values():
        if action.objectName().startswith("row.") or action.objectName() == "look.projector":
            action.setChecked(True)
    before = qInstallMessageHandler(lambda kind, context, message: warned.append(message))
    try:
        for height in (720, 300, 120):
            desk.window().resize(1280, height)
            for name in ("view.all", "view.usual", "view.higher", "view.lower", "view.selection"):
                desk.actions_by_id[name].trigger()
                QApplication.processEvents()
    finally:
        qInstallMessageHandler(before)
    assert [each for each in warned if "propagateSizeHints" not in each] == []


@pytest.mark.parametrize("text", ["(D4 -) x2", "(D4 - -) x2 E4", "(C4 D4 E4)", "((C4) - D4 -)"])
def test_all_notes_can_be_taken_out_and_closed_up(desk, text):
    desk.document.begin(text)
    desk.selection.choose_notes(list(range(len(desk.document.reading.song.notes))))
    desk.actions_by_id["note.close-up"].trigger()
    assert desk.document.reading.song.notes == () and "overlap" not in desk.notice.text
