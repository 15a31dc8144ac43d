"""Playing on keys: on the screen, on the computer's keys, on a simulated MIDI port."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication

from chickadee import read
from chickadee.desk.keyboard.held_keys import Taken
from chickadee.desk.keyboard.panel import RECORD, WRITE
from chickadee.desk.keyboard.ports import MidiKeys, SimulatedPort, system_ports
from chickadee.display.key_layout import number_at, octave_at, place_of
from chickadee.display.take import written_take
from chickadee.theory import read_key

CLICK = Qt.MouseButton.LeftButton
KEY = Qt.Key
Q = 8_064_000
TUNE = [(62, 0), (66, 1), (69, 2), (69, 3), (62, 5)]


@pytest.fixture
def struck(desk, monkeypatch):
    """Collect what the player is asked to sound, without an engine."""
    asked = []
    monkeypatch.setattr(
        desk.player, "strike", lambda name, sound, number, *rest, **more: asked.append(("on", number))
    )
    monkeypatch.setattr(desk.player, "let_go", lambda name: asked.append(("off", name)))
    return asked


def body(desk):
    return desk.document.reading.text


def starts(desk):
    return [(note.number, note.start // Q) for note in desk.document.reading.song.notes]


def test_keys_are_known_by_place_and_follow_the_scale():
    assert [place_of(scan, "?") for scan in (38, 24, 52, 48, 100)] == [(0, 0), (1, 0), (-1, 0), (0, 10), None]
    assert (place_of(0, "a"), place_of(0, "q"), place_of(0, "z"), place_of(0, "1")) == ((0, 0), (1, 0), (-1, 0), None)
    assert (octave_at(13, ""), octave_at(0, "4"), octave_at(0, "a"), octave_at(19, "0")) == (4, 4, None, None)
    key = read_key("Bb minor")
    assert [number_at(key, 3, (0, column)) for column in range(3)] == [58, 60, 61]
    assert number_at(key, 9, (0, 10)) is None


def test_a_held_key_sounds_once_and_a_quick_second_strike_speaks(qtbot, desk, struck):
    desk.document.text_document.setPlainText("key: D major")
    desk.actions_by_id["keys.play"].trigger()
    editor = desk.editor
    before = body(desk)
    for kind, again in ((QEvent.Type.KeyPress, False), (QEvent.Type.KeyPress, True), (QEvent.Type.KeyPress, True),
                        (QEvent.Type.KeyRelease, True), (QEvent.Type.KeyRelease, False)):  # fmt: skip
        QApplication.sendEvent(editor, QKeyEvent(kind, KEY.Key_A, Qt.KeyboardModifier.NoModifier, "a", again))
    assert [each[0] for each in struck] == ["on", "off"]
    qtbot.keyPress(editor, KEY.Key_A)
    qtbot.keyPress(editor, KEY.Key_S)
    assert desk.keyboard.keys.lit == {62, 64}
    qtbot.keyRelease(editor, KEY.Key_A)
    qtbot.keyPress(editor, KEY.Key_A)
    assert [each[1] for each in struck if each[0] == "on"] == [62, 62, 64, 62]
    qtbot.keyClick(editor, KEY.Key_5)
    qtbot.keyPress(editor, KEY.Key_Q)
    assert struck[-1] == ("on", 75)
    assert body(desk) == before  # letters never edit by accident
    qtbot.keyClick(editor, KEY.Key_Escape)
    assert desk.keyboard.keys.lit == set()
    assert not desk.keyboard.plays_on_keys
    qtbot.keyClicks(editor, "x")
    assert body(desk) != before


@pytest.mark.parametrize("way", ["mouse", "computer", "midi"])
def test_a_tune_is_written_step_by_step_in_any_way_and_undone(qtbot, desk, struck, way):
    desk.document.text_document.setPlainText("key: D major\n")
    desk.document.text_document.clearUndoRedoStacks()
    desk.keyboard.use_for(WRITE)
    port = SimulatedPort()
    desk.midi_keys.listen_to(port)
    desk.keyboard.play_on_keys(True)
    letters = {62: KEY.Key_A, 66: KEY.Key_D, 69: KEY.Key_G}
    here = 0
    for number, start in TUNE:
        for _ in range(start - here):
            qtbot.keyClick(desk.editor, KEY.Key_Space)
        if way == "mouse":
            qtbot.mouseClick(desk.keyboard.keys, CLICK, pos=desk.keyboard.keys.key_rect(number).center())
        elif way == "computer":
            qtbot.keyClick(desk.editor, letters[number])
        else:
            port.send(bytes([0x90, number, 70]))
            port.send(bytes([0x80, number, 0]))
        here = start + 1
    assert body(desk) == "key: D major\nD4 F#4 A4 A4 | rest D4"
    assert starts(desk) == TUNE
    desk.keyboard.play_on_keys(False)
    while desk.document.text_document.isUndoAvailable():
        desk.editor.undo()
    assert body(desk) == "key: D major\n"


def test_steps_are_written_after_the_chosen_note(qtbot, desk, struck):
    desk.document.text_document.setPlainText("C4 E4 G4")
    desk.selection.choose_note(0)
    desk.keyboard.use_for(WRITE)
    for number in (65, 67):
        qtbot.mouseClick(desk.keyboard.keys, CLICK, pos=desk.keyboard.keys.key_rect(number).center())
    assert body(desk) == "C4 F4 G4 E4 G4"


def test_midi_keys_overlap_repeat_and_hold_by_the_pedal(desk, struck):
    port = SimulatedPort()
    keys = MidiKeys(desk.held_keys, desk)
    keys.listen_to(port)
    for message in ([0x90, 60, 80], [0x90, 64, 80], [0x90, 60, 0], [0x90, 60, 90], [0x80, 64, 0], [0x90]):
        port.send(bytes(message))
    assert desk.held_keys.lit == {60}
    port.send(bytes([0xB0, 64, 127]))
    port.send(bytes([0x80, 60, 0]))
    assert desk.held_keys.lit == {60}
    port.send(bytes([0xB0, 64, 0]))
    assert desk.held_keys.lit == set()
    assert isinstance(system_ports(), list)


def test_sliding_over_the_keys_plays_one_after_the_other(qtbot, desk, struck):
    keys = desk.keyboard.keys
    white = [keys.key_rect(number).center() for number in (60, 62, 64)]
    for at in white:
        at.setY(keys.height() - 4)
    qtbot.mousePress(keys, CLICK, pos=white[0])
    qtbot.mouseMove(keys, white[1])
    keys._go_to(white[1])
    keys._go_to(white[2])
    assert keys.lit == {64}
    qtbot.mouseRelease(keys, CLICK, pos=white[2])
    assert keys.lit == set()
    assert [each[1] for each in struck if each[0] == "on"] == [60, 62, 64]
    assert keys.key_at(keys.key_rect(61).center()) == 61


def test_what_is_recorded_is_kept_until_it_is_accepted(qtbot, desk, struck):
    desk.document.text_document.setPlainText("tempo: 240\nvoice V\n  C4 C4 C4 C4")
    desk.player.wait_until_ready()
    desk.keyboard.use_for(RECORD)
    qtbot.waitUntil(lambda: desk.player.tick > Q // 2, timeout=20_000)
    desk.held_keys.press("x", 67)
    struck_at = desk.player.tick
    qtbot.waitUntil(lambda: desk.player.tick > struck_at + Q // 2, timeout=20_000)
    desk.held_keys.release("x")
    desk.keyboard.use_for(WRITE)
    assert not desk.player.playing
    assert "1 note recorded" in desk.notice.text
    assert "Take" not in body(desk)
    qtbot.mouseClick(desk.notice.offer, CLICK)
    assert "voice Take 1\n" in body(desk)
    assert [note.number for note in desk.document.reading.song.notes if note.voice == 1] == [67]


@given(
    st.lists(st.tuples(st.integers(48, 80), st.floats(0, 12), st.floats(0.1, 3)), max_size=12),
    st.sampled_from([Fraction(1), Fraction(1, 2), Fraction(1, 3)]),
)
def test_a_take_reads_as_what_was_played_on_the_grid(played, grid):
    reading = read("meter: 3/4\nvoice V\nC4=3")
    taken = [Taken(number, start * Q, (start + length) * Q, 90) for number, start, length in played]
    line = written_take(reading, taken, grid)
    again = read(f"meter: 3/4\nvoice T\n  {line}")
    step = int(grid * Q)
    expected = {(max(0, round(note.start / step)) * step, note.number) for note in taken}
    assert {(note.start, note.number) for note in again.song.notes} == expected
    assert not [finding for finding in again.findings if finding.severity.value == "error"]


def test_a_letter_given_a_chord_plays_it_and_the_choice_is_kept_with_the_tune(qtbot, desk, struck, monkeypatch):
    desk.document.text_document.setPlainText("title: Buoys\n\nC4&Eb4 G4")
    desk.selection.choose_notes([0, 1])
    monkeypatch.setattr("chickadee.desk.questions.ask_for_text", lambda *_: "Q ")
    desk.actions_by_id["note.key"].trigger()
    assert "\nkeys: q C4&Eb4\n" in body(desk)
    desk.selection.choose_note(2)
    monkeypatch.setattr("chickadee.desk.questions.ask_for_text", lambda *_: "w")
    desk.actions_by_id["note.key"].trigger()
    assert "\nkeys: q C4&Eb4, w G4\n" in body(desk)
    desk.actions_by_id["keys.play"].trigger()
    qtbot.keyPress(desk.editor, KEY.Key_Q)
    assert desk.keyboard.keys.lit == {60, 63}
    qtbot.keyPress(desk.editor, KEY.Key_W)
    qtbot.keyRelease(desk.editor, KEY.Key_Q)
    assert desk.keyboard.keys.lit == {67}
    qtbot.keyRelease(desk.editor, KEY.Key_W)
    qtbot.keyPress(desk.editor, KEY.Key_A)
    assert desk.keyboard.keys.lit == {60}  # the others follow the scale as before
    qtbot.keyRelease(desk.editor, KEY.Key_A)
    desk.keyboard.play_on_keys(False)


def test_a_letter_with_a_chord_writes_it_as_one_with_the_rest_and_the_note_after_it(qtbot, desk, struck):
    desk.document.text_document.setPlainText("keys: q {Am}\nkey: C major\nvoice V\n  C4=2")
    desk.selection.choose_note(0)
    desk.keyboard.use_for(WRITE)
    desk.keyboard.play_on_keys(True)
    for key in (KEY.Key_Q, KEY.Key_Space, KEY.Key_A):
        qtbot.keyClick(desk.editor, key)
    desk.keyboard.play_on_keys(False)
    assert body(desk).endswith("\n  C4=2 {Am} rest | C4")
    assert starts(desk) == [(60, 0), (69, 2), (72, 2), (76, 2), (60, 4)]
    for _ in range(3):
        desk.editor.undo()
    assert body(desk).endswith("\n  C4=2")


@pytest.mark.parametrize("value", ["q", "? C4", "q H4", "q C4, w", "q C12", "left nothing", ""])
def test_own_keys_that_cannot_be_read_are_a_finding(value):
    assert {finding.code for finding in read(f"keys: {value}\nC4").findings} == {"value"}
    assert read("keys: q {Am 3}&C5").sheet.settings.keys[0].numbers == (57, 60, 64, 72)


def test_a_key_that_writes_is_heard_once(qtbot, desk, struck, monkeypatch):
    heard = []
    monkeypatch.setattr(desk.audition, "play", lambda *what: heard.append(what))
    desk.document.text_document.setPlainText("key: C major\nvoice V\n  C4")
    desk.editor.setFocus()
    desk.selection.choose_note(0)
    desk.keyboard.use_for(WRITE)
    desk.keyboard.play_on_keys(True)
    qtbot.keyClick(desk.editor, KEY.Key_A)
    QApplication.processEvents()
    desk.keyboard.play_on_keys(False)
    assert len([each for each in struck if each[0] == "on"]) == 1 and heard == []
