"""The editor teaches the language: completion, hover, ways out, lines, names, find and replace."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QContextMenuEvent, QHelpEvent
from PyQt6.QtWidgets import QApplication, QMenu, QToolTip
from written import CONTROL, write

from chickadee import read
from chickadee.desk.sheet.editor import bracket_partner
from chickadee.display.hints import completions, sign_hint
from chickadee.sheet import apply_edits
from chickadee.sheet.lines import commented, line_moved, phrase_at, phrase_renamed, rename_fault

KEY = Qt.Key
TUNE = (
    "key: G major\nphrase call\n  G4 B4 | // call me\nphrase reply\n  call D4 call\nvoice V\n  call reply (call) x2\n"
)


def offered(text):
    """The completions at the end of a text."""
    return [completion.text for completion in completions(read(text), len(text))]


@pytest.mark.parametrize(
    ("text", "first"),
    [
        (TUNE + "ca", "call"), (TUNE + "call up", "up 2 steps"), ("te", "tempo: "), ("voice V\nsou", "sound: "),
        ("voice V\nsound: gl", "glass bell"), ("key: C min", "C minor"), ("voice V\nlevel: p", "pp"), ("C4 [sl", "slow to 60 over 4"),
        ("[sound pl", "sound plucked string"), ("C4 {Cmaj", "maj7"), ("voice V\nsound: drum kit\nsna", "snare"), ("vo", "voice "),
    ],
)  # fmt: skip
def test_completion_knows_what_could_stand_there(text, first):
    assert offered(text)[0] == first


@pytest.mark.parametrize("text", ["", "C4 ", "C4 D4 | ", "zzz"])
def test_completion_is_quiet_where_it_knows_nothing(text):
    assert offered(text) == []


def test_a_completion_has_a_line_on_it_and_sounds_can_be_tried():
    found = completions(read("voice V\nsound: g"), 17 - 1)
    assert [(each.sound, bool(each.about), each.replaces) for each in found] == [("glass bell", True, 1)]


def test_the_hover_says_what_a_sign_is():
    text = "meter: 3/4\nphrase p\nF#4=3/2\nvoice V\np p"
    hint = sign_hint(read(text), text.index("F#4"), text.index("F#4"))
    assert hint.split("\n") == [
        "F♯4 / G♭4   66   369.99 Hz",
        "1½ beats, bar 1 beat 1, loudness 80",
        "sounds in 2 places",
    ]
    assert sign_hint(read("rest"), 0, 0) == ""
    assert len(sign_hint(read("{Am}"), 1, 1).split("\n")) == 4


def test_completing_by_keys(qtbot, desk):
    write(qtbot, desk, TUNE.strip())
    tried = []
    desk.editor.sound_tried.connect(tried.append)
    qtbot.keyClicks(desk.editor, "  re")
    assert desk.editor.completions.isVisible()
    qtbot.keyClick(desk.editor, KEY.Key_Tab)
    assert desk.document.reading.text.endswith("\n  reply")
    assert not desk.editor.completions.isVisible()
    qtbot.keyClick(desk.editor, KEY.Key_Return)
    qtbot.keyClicks(desk.editor, "voice W")
    qtbot.keyClick(desk.editor, KEY.Key_Return)
    qtbot.keyClicks(desk.editor, "sound: ")
    qtbot.keyClick(desk.editor, KEY.Key_Space, CONTROL)
    qtbot.keyClick(desk.editor, KEY.Key_Down)
    qtbot.keyClick(desk.editor, KEY.Key_Down)
    assert tried == ["flute", "reed pipe"]
    qtbot.keyClick(desk.editor, KEY.Key_Return)
    assert desk.document.reading.song.voices[1].sound == "reed pipe"


def test_return_stays_return_while_completions_are_offered(qtbot, desk):
    write(qtbot, desk, TUNE.strip())
    qtbot.keyClicks(desk.editor, "ca")
    assert desk.editor.completions.isVisible()
    qtbot.keyClick(desk.editor, KEY.Key_Return)
    assert desk.document.reading.text.endswith("\nca\n")
    qtbot.keyClicks(desk.editor, "ca")
    qtbot.keyClick(desk.editor, KEY.Key_Escape)
    assert not desk.editor.completions.isVisible()


def test_ways_out_stand_at_the_squiggle(qtbot, desk):
    write(qtbot, desk, "C4 H4")
    desk.editor.select(4, 4)
    menu = desk.editor.fixes_menu()
    assert [action.text() for action in menu.actions()] == ["Use B4", "Make it a rest"]
    menu.actions()[1].trigger()
    assert desk.document.reading.text == "C4 rest\n"
    desk.editor.select(0, 0)
    assert not desk.editor.fixes_menu().actions()[0].isEnabled()


def test_the_menu_at_a_faulty_sign_has_its_fixes_first_and_the_hover_says_what_is_wrong(qtbot, desk, monkeypatch):
    write(qtbot, desk, "C4 H4")
    desk.editor.select(4, 4)
    place = desk.editor.cursorRect().center()
    shown = []

    def use(menu, at):
        shown.extend(action.text() for action in menu.actions())
        menu.actions()[0].menu().actions()[0].trigger()

    monkeypatch.setattr(QMenu, "exec", use)
    reason = QContextMenuEvent.Reason.Mouse
    viewport = desk.editor.viewport()
    monkeypatch.setattr(QToolTip, "showText", lambda at, text, widget: shown.append(text))
    QApplication.sendEvent(viewport, QHelpEvent(QEvent.Type.ToolTip, place, viewport.mapToGlobal(place)))
    assert "H4" in shown.pop()
    desk.editor.contextMenuEvent(QContextMenuEvent(reason, place, viewport.mapToGlobal(place)))
    assert shown[0] == "Fixes" and len(shown) > 5
    assert desk.document.reading.text == "C4 B4\n"


def test_notes_are_heard_as_they_are_typed(qtbot, desk):
    heard = []
    desk.audition._last = set()
    desk.audition.play = lambda sound, numbers, tuning=440: heard.append((sound, numbers))
    desk.editor.hasFocus = lambda: True
    for sign in "C4=2 E4&G4":
        qtbot.keyClicks(desk.editor, sign)
        QApplication.processEvents()
    assert heard[0] == ("flute", [60])
    assert heard[-1] == ("flute", [67])
    assert len(heard) == 3
    desk.actions_by_id["play.typed"].setChecked(False)
    qtbot.keyClicks(desk.editor, " A4")
    QApplication.processEvents()
    assert len(heard) == 3


def test_comments_come_and_go(qtbot, desk):
    write(qtbot, desk, "C4\n  D4")
    desk.editor.selectAll()
    qtbot.keyClick(desk.editor, KEY.Key_K, CONTROL)
    assert desk.document.reading.text == "// C4\n  // D4\n"
    desk.editor.selectAll()
    qtbot.keyClick(desk.editor, KEY.Key_K, CONTROL)
    assert desk.document.reading.text == "C4\n  D4\n"


def test_lines_move(qtbot, desk):
    write(qtbot, desk, "C4\nD4\nE4")
    desk.editor.select(3, 5)
    qtbot.keyClick(desk.editor, KEY.Key_Down, Qt.KeyboardModifier.AltModifier)
    assert desk.document.reading.text == "C4\nE4\nD4\n"
    assert desk.editor.textCursor().selectedText() == "D4"
    for _ in range(3):
        qtbot.keyClick(desk.editor, KEY.Key_Up, Qt.KeyboardModifier.AltModifier)
    assert desk.document.reading.text == "D4\nC4\nE4\n"


LINES = st.lists(st.sampled_from(["C4", "", "  D4 |", "// E4", "title: x"]), min_size=1, max_size=6).map("\n".join)


@given(LINES, st.data())
def test_moving_a_line_down_and_up_again_changes_nothing(text, data):
    at = data.draw(st.integers(0, len(text)))
    edit, by = line_moved(text, at, at, True)
    if edit is not None:
        moved = apply_edits(text, [edit])
        back, _ = line_moved(moved, at + by, at + by, False)
        assert apply_edits(moved, [back]) == text
        assert sorted(moved.split("\n")) == sorted(text.split("\n"))


@given(LINES)
def test_commenting_twice_changes_nothing(text):
    once = apply_edits(text, commented(text, 0, len(text)))
    assert read(once).song.notes == () or "//" in text
    if "//" not in text:
        assert apply_edits(once, commented(once, 0, len(once))) == text


def test_a_phrase_is_renamed_everywhere_but_in_comments():
    reading = read(TUNE)
    renamed = apply_edits(TUNE, phrase_renamed(reading, "call", "hail"))
    assert renamed == TUNE.replace("call", "hail").replace("// hail me", "// call me")
    assert [note[:6] for note in read(renamed).song.notes] == [note[:6] for note in reading.song.notes]
    assert phrase_at(reading, TUNE.index("reply (")) == "reply"
    assert phrase_at(reading, TUNE.index("D4")) is None
    assert rename_fault(reading, "c4")
    assert rename_fault(reading, "reply")
    assert rename_fault(reading, "hail") == ""


def test_a_phrase_is_renamed_where_its_line_has_a_colon_and_inside_groups():
    text = "phrase call\nC4\nvoice V\ncall D4:2 (call up 2 steps [mf] call x2) to the end\nwords: call\n"
    renamed = apply_edits(text, phrase_renamed(read(text), "call", "hail"))
    assert renamed == text.replace("call", "hail").replace("words: hail", "words: call")


def test_renaming_in_the_window(qtbot, desk, monkeypatch):
    desk.editor.insertPlainText(TUNE)
    desk.editor.select(TUNE.index("call"), TUNE.index("call"))
    monkeypatch.setattr("chickadee.desk.questions.ask_for_text", lambda *_: "up")
    desk.actions_by_id["phrase.rename"].trigger()
    assert "something else" in desk.notice.text
    monkeypatch.setattr("chickadee.desk.questions.ask_for_text", lambda *_: "hail")
    desk.actions_by_id["phrase.rename"].trigger()
    assert list(desk.document.reading.sheet.phrases) == ["hail", "reply"]
    assert {finding.code for finding in desk.document.reading.findings} == {"bar-length"}


def test_find_and_replace(qtbot, desk):
    write(qtbot, desk, "C4 d4 D4\nD4")
    desk.editor.select(3, 5)
    qtbot.keyClick(desk.editor, KEY.Key_F, CONTROL)
    bar = desk.find_bar
    assert (bar.find_field.text(), bar.said.text()) == ("d4", "3 places")
    desk.editor.select(0, 0)
    qtbot.keyClick(bar.find_field, KEY.Key_Return)
    qtbot.keyClick(bar.find_field, KEY.Key_Return)
    assert desk.editor.textCursor().selectionStart() == 6
    assert bar.find_before()
    assert desk.editor.textCursor().selectionStart() == 3
    qtbot.keyClicks(bar.replace_field, "E4")
    bar.replace()
    assert desk.document.reading.text == "C4 E4 D4\nD4\n"
    bar.replace_all()
    assert desk.document.reading.text == "C4 E4 E4\nE4\n"
    assert not bar.find_next()
    qtbot.keyClick(bar, KEY.Key_Escape)
    assert bar.isHidden()
    qtbot.keyClick(desk.editor, KEY.Key_Z, CONTROL)
    assert desk.document.reading.text == "C4 E4 D4\nD4\n"


def test_tidy_is_one_step_of_the_undo(qtbot, desk):
    write(qtbot, desk, "C4=0.5   D4|")
    desk.actions_by_id["sheet.tidy"].trigger()
    assert desk.document.reading.text == "C4=1/2 D4 |\n"
    qtbot.keyClick(desk.editor, KEY.Key_Z, CONTROL)
    assert desk.document.reading.text == "C4=0.5   D4|\n"


def test_a_pasted_list_is_offered_as_a_sheet(qtbot, desk):
    write(qtbot, desk, "G4")
    QApplication.clipboard().setText("[60, 62, 64]")
    qtbot.keyClick(desk.editor, KEY.Key_V, CONTROL)
    assert desk.document.reading.text == "G4\n[60, 62, 64]"
    qtbot.mouseClick(desk.notice.offer, Qt.MouseButton.LeftButton)
    assert desk.document.reading.text == "G4\n60 62 64"
    assert desk.notice.isHidden()
    qtbot.keyClick(desk.editor, KEY.Key_Z, CONTROL)
    assert desk.document.reading.text == "G4\n[60, 62, 64]"
    QApplication.clipboard().setText("C4 D4")
    qtbot.keyClick(desk.editor, KEY.Key_V, CONTROL)
    assert desk.notice.isHidden()


def test_brackets_know_their_partners():
    text = "(C4 (D4) {Am}"
    assert [bracket_partner(text, place) for place in (0, 4, 7, 9, 12, 1, -1, 99)] == [
        None,
        7,
        4,
        12,
        9,
        None,
        None,
        None,
    ]
