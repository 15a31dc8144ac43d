"""The window, driven by keys and the mouse."""

from __future__ import annotations

import subprocess
import sys

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication, QPushButton
from written import CONTROL, numbers, write

from chickadee.desk import app
from chickadee.desk.keycard import KeyCard
from chickadee.desk.reference import ReferenceDialog
from chickadee.song import TICKS_PER_QUARTER as Q

KEY = Qt.Key


def colours(desk, rect):
    image = desk.timeline.viewport().grab(rect).toImage().convertToFormat(QImage.Format.Format_RGB32)
    return {image.pixelColor(x, y).name() for x in range(image.width()) for y in range(image.height())}


def test_each_key_press_is_read_and_drawn_at_once(qtbot, desk):
    qtbot.keyClicks(desk.editor, "C4")
    assert numbers(desk) == [60]
    qtbot.keyClicks(desk.editor, " E4=")
    assert [finding.code for finding in desk.document.reading.findings] == ["length"]
    qtbot.keyClicks(desk.editor, "2")
    assert numbers(desk) == [60, 64]
    assert desk.document.reading.findings == ()
    note = desk.timeline.note_rect(1)
    assert desk.look.theme.voices[0].lower() in colours(desk, note.adjusted(6, 4, -4, -4))
    assert note.width() == pytest.approx(2 * desk.timeline.note_rect(0).width(), abs=2)
    assert note.bottom() < desk.timeline.note_rect(0).top()
    qtbot.waitUntil(
        lambda: desk.status_line.counts.text() == "2 notes · 2 different pitches · C4 to E4 · 3 beats · 1.5 s"
    )


def test_undo_walks_back_to_the_empty_sheet_and_redo_forward_again(qtbot, desk):
    write(qtbot, desk, "C4 H4 E4")
    qtbot.mouseClick(desk.panel("findings").cards[0].fixes[0], Qt.MouseButton.LeftButton)
    written = desk.document.reading.text
    assert written == "C4 B4 E4\n"
    steps = 0
    while desk.document.reading.text:
        qtbot.keyClick(desk.editor, KEY.Key_Z, CONTROL)
        steps += 1
        assert steps < 50
    assert not desk.document.modified
    for _ in range(steps):
        qtbot.keyClick(desk.editor, KEY.Key_Z, CONTROL | Qt.KeyboardModifier.ShiftModifier)
    assert desk.document.reading.text == written


def test_a_clicked_note_is_chosen_everywhere(qtbot, desk):
    write(qtbot, desk, "tempo: 60\nC4 >F#4=2 | 67")
    desk.editor.select(0, 0)
    rect = desk.timeline.note_rect(1)
    qtbot.mouseClick(desk.timeline.viewport(), Qt.MouseButton.LeftButton, pos=rect.center())
    assert desk.editor.textCursor().selectedText() == ">F#4=2"
    assert desk.transport_bar.readout.text == "F♯4 / G♭4 66 369.99 Hz bar 1, beat 2"
    qtbot.mouseClick(desk.timeline.viewport(), Qt.MouseButton.LeftButton,
                     pos=QPoint(desk.timeline.note_rect(2).center().x(), desk.timeline.viewport().height() - 40))  # fmt: skip
    assert desk.editor.textCursor().selectedText() == "67"


def test_the_caret_chooses_the_note_it_stands_on(qtbot, desk):
    write(qtbot, desk, "C4 D4")
    desk.editor.select(0, 0)
    assert desk.transport_bar.readout.text.startswith("C4 60")
    for _ in range(4):
        qtbot.keyClick(desk.editor, KEY.Key_Right)
    assert desk.transport_bar.readout.text.startswith("D4 62")


def test_keys_step_from_note_to_note(qtbot, desk):
    write(qtbot, desk, "voice A\nC4 D4 E4\nvoice B\nC3=3")
    desk.editor.select(9, 9)
    for key, widget, chosen in [
        (KEY.Key_F4, desk.editor, "D4"), (KEY.Key_Right, desk.timeline, "E4"), (KEY.Key_Right, desk.timeline, "E4"),
        (KEY.Key_F3, desk.editor, "D4"), (KEY.Key_Left, desk.timeline, "C4"), (KEY.Key_Left, desk.timeline, "C4"),
    ]:  # fmt: skip
        widget.setFocus()
        qtbot.keyClick(widget, key)
        assert desk.editor.textCursor().selectedText() == chosen


def test_findings_go_to_their_place_by_mouse_and_by_keys(qtbot, desk):
    write(qtbot, desk, "C4 H4\nJ4")
    assert desk.panel("findings").title.text() == "Findings  2"
    qtbot.mouseClick(desk.panel("findings").cards[1], Qt.MouseButton.LeftButton, pos=QPoint(5, 5))
    assert desk.editor.textCursor().selectedText() == "J4"
    desk.panel("findings").cards[0].setFocus()
    qtbot.keyClick(desk.panel("findings").cards[0], KEY.Key_Return)
    assert desk.editor.textCursor().selectedText() == "H4"
    qtbot.keyClick(desk.editor, KEY.Key_F8)
    assert desk.editor.textCursor().selectedText() == "J4"


def test_findings_that_move_are_mended_where_they_are_now(qtbot, desk):
    write(qtbot, desk, "C4 H4")
    card = desk.panel("findings").cards[0]
    desk.editor.select(0, 0)
    desk.editor.insertPlainText("D4 ")
    assert desk.panel("findings").cards == [card]
    qtbot.mouseClick(card.fixes[0], Qt.MouseButton.LeftButton)
    assert desk.document.reading.text == "D4 C4 B4\n"


def test_the_margin_counts_bars_line_by_line(qtbot, desk):
    write(qtbot, desk, "meter: 3/4\nC4=3 | D4=3 |\nC4 | E4=3 |\nF4=3 |")
    marks = {line: (mark.text, mark.full) for line, mark in desk.editor._marks.items()}
    assert marks == {2: ("1–2 ✓", True), 3: ("3 ✗", False), 4: ("5 ✓", True)}
    desk.document.new()
    write(qtbot, desk, "phrase p\nC4=4 |\nC4=4 | D4=4 |\nvoice V\np E4=4 | p")
    marks = {line: mark.text for line, mark in desk.editor._marks.items()}
    assert marks == {2: "1 … ✓", 3: "2–3 … ✓", 5: "4 ✓"}


def test_text_beyond_the_basic_plane_keeps_offsets_right(qtbot, desk):
    desk.editor.insertPlainText("// 𝄞𝄞\nC4 H4")
    desk.panel("findings").apply(desk.document.reading.findings[0].fixes[0])
    assert desk.document.reading.text == "// 𝄞𝄞\nC4 B4"
    desk.selection.choose_note(1)
    assert desk.editor.textCursor().selectedText() == "B4"


def test_playing_moves_the_reading_column_and_the_readout(qtbot, desk):
    write(qtbot, desk, "tempo: 150\nC4 D4 E4 F4")
    desk.editor.select(13, 13)
    heard = []
    desk.player.moved.connect(lambda tick: heard.append((tick / Q, desk.transport_bar.readout.text[:2])))
    with qtbot.waitSignal(desk.player.finished, timeout=5000):
        qtbot.keyClick(desk.editor, KEY.Key_F5)
        assert desk.player.playing
        assert desk.transport_bar.play_button.accessibleName() == "Stop"
    assert [tick for tick, _ in heard] == sorted(tick for tick, _ in heard)
    assert {name for _, name in heard if name != "re"} <= {"C4", "D4", "E4", "F4"}
    assert len({name for _, name in heard}) >= 2
    assert not desk.player.playing


def test_space_plays_and_stops_except_in_text(qtbot, desk):
    write(qtbot, desk, "C4=40")
    desk.timeline.setFocus()
    qtbot.keyClick(desk.timeline, KEY.Key_Space)
    assert desk.player.playing
    qtbot.keyClick(desk.timeline, KEY.Key_Space)
    assert not desk.player.playing
    qtbot.keyClick(desk.editor, KEY.Key_Space)
    assert not desk.player.playing
    qtbot.mouseClick(desk.transport_bar.play_button, Qt.MouseButton.LeftButton)
    assert desk.player.playing
    qtbot.keyClick(desk.editor, KEY.Key_Escape)
    assert not desk.player.playing


def test_a_changed_speed_goes_on_from_where_it_is(qtbot, desk):
    write(qtbot, desk, "tempo: 60\nC4=40")
    desk.playback.play_all()
    qtbot.waitUntil(lambda: desk.player.tick > 0, timeout=20_000)
    before = desk.player.tick
    desk.transport_bar.speed.setValue(50)
    assert desk.player.playing
    assert before <= desk.player.tick < before + Q
    desk.player.stop()


def test_both_themes_and_the_projector_draw_and_contrast(qtbot, desk):
    write(qtbot, desk, "C4 H4 E4")
    before = desk.timeline.note_rect(0).width()
    for name in ("look.evening", "look.projector"):
        desk.actions_by_id[name].trigger()
        theme = desk.look.theme
        for text, ground in [("ink", "page"), ("ink", "paper"), ("grey", "paper"), ("grey", "page"), ("wrong", "page"),
                             ("right", "page"), ("accent_text", "page"), ("transport_grey", "transport")]:  # fmt: skip
            assert contrast(getattr(theme, text), getattr(theme, ground)) >= 4.5, (text, ground)
        assert desk.look.color("page").name() in colours(desk, desk.timeline.viewport().rect())
    assert desk.timeline.note_rect(0).width() == pytest.approx(1.5 * before, abs=2)


def contrast(one, other):
    """The contrast ratio of WCAG 2: relative luminances, lighter over darker."""

    def luminance(colour):
        parts = [int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5)]
        linear = [part / 12.92 if part <= 0.03928 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    high, low = sorted((luminance(one), luminance(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def test_zooming_keeps_its_place_and_its_bounds(qtbot, desk):
    write(qtbot, desk, " ".join(["C4"] * 200))
    usual = desk.timeline.note_rect(0).width()
    qtbot.keyClick(desk.editor, KEY.Key_Plus, CONTROL)
    assert desk.timeline.note_rect(0).width() > usual
    for _ in range(60):
        desk.actions_by_id["view.narrower"].trigger()
    assert desk.timeline.note_rect(0).width() >= 3
    qtbot.keyClick(desk.editor, KEY.Key_0, CONTROL)
    assert desk.timeline.note_rect(0).width() == pytest.approx(usual, abs=1)


def test_the_key_card_lists_every_action(qtbot, desk):
    qtbot.keyClick(desk.editor, KEY.Key_F1)
    card = desk.findChild(KeyCard).card.toPlainText()
    assert "&" not in card
    for actions in desk.menus.by_menu.values():
        for action in actions:
            assert action.iconText() in card
            assert action.statusTip() in card
            assert action.shortcut().toString() in card


def test_no_two_actions_share_a_key(desk):
    keys = [
        keys.toString()
        for actions in desk.menus.by_menu.values()
        for action in actions
        for keys in action.shortcuts()
    ]
    assert len(keys) == len(set(keys))


def test_every_control_has_an_accessible_name(desk):
    for widget in (
        desk.editor,
        desk.timeline,
        desk.shelf.list,
        desk.transport_bar.speed,
        desk.transport_bar.play_button,
    ):
        assert widget.accessibleName()
    assert all(button.accessibleName() or button.text() for button in desk.findChildren(QPushButton))


def test_a_fault_of_our_own_is_one_sentence_and_the_tune_stays(qtbot, desk, capsys):
    write(qtbot, desk, "C4")
    try:
        raise ZeroDivisionError
    except ZeroDivisionError:
        app._fault(desk, *sys.exc_info())
    assert "ZeroDivisionError" in desk.notice.text
    assert "please save" in desk.notice.text
    assert "Traceback" not in capsys.readouterr().err
    assert numbers(desk) == [60]


BROKEN = """
import sys
from pathlib import Path
from PyQt6.QtCore import QTimer
from chickadee.desk import app
from chickadee.desk.file_commands import FileCommands
def broken(files, path):
    desk = files._window
    QTimer.singleShot(0, lambda: print(desk.notice.text))
    QTimer.singleShot(0, app.application().quit)
    return 1 / 0
FileCommands.open_path = broken
sys.exit(app.run(Path("a.chick")))
"""


def test_a_fault_of_our_own_while_a_tune_is_opened_is_one_sentence_too():
    done = subprocess.run([sys.executable, "-c", BROKEN], capture_output=True, text=True, timeout=60)
    assert done.returncode == 0
    assert "Something went wrong inside Chickadee (ZeroDivisionError" in done.stdout
    assert "Traceback" not in done.stderr


def test_a_very_long_title_and_three_hundred_notes_fit(qtbot, desk, tmp_path):
    desk.editor.insertPlainText(
        f"title: {'A very long title ' * 30}\n" + " ".join(f"{40 + i % 50}=1/8" for i in range(300))
    )
    assert desk.width() == 1280
    assert len(numbers(desk)) == 300
    QApplication.processEvents()
    assert desk.grab().width() == 1280


def test_the_reference_of_the_sheet_opens_and_is_searched(qtbot, desk):
    desk.actions_by_id["help.sheet"].trigger()
    (dialog,) = desk.findChildren(ReferenceDialog)
    qtbot.keyClicks(dialog.search, "upside-down")
    first = dialog.page.textCursor()
    assert first.selectedText() == "upside-down" and dialog.said.text() == ""
    qtbot.keyClick(dialog.search, KEY.Key_Return)
    assert dialog.page.textCursor().position() > first.position() and dialog.isVisible()
    dialog.search.setText("no such word")
    assert dialog.said.text() == "Not in the reference"
    dialog.close()
    dialog.deleteLater()
