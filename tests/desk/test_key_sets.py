"""Boards of few keys: arrows, digits and named keys with pitches, chords, drums and phrases, in sets."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from chickadee.desk.keyboard.panel import JUST_PLAY, WRITE
from chickadee.sheet import read

KEY = Qt.Key
TUNE = """key: C major
keys: left {C}, right {Am}, up C5, 1 snare, space call
keys evening: left {F}, right {G7 3}, down E4&G4
keys night: a B4

phrase call
  C4 D4

voice V
  G4"""


@pytest.fixture
def pads(desk, monkeypatch):
    asked = []
    monkeypatch.setattr(
        desk.player, "strike", lambda name, sound, number, *rest, **more: asked.append((sound, number))
    )
    monkeypatch.setattr(desk.player, "let_go", lambda name: None)
    desk.document.begin(TUNE)
    desk.editor.setFocus()
    desk.keyboard._set = 0
    desk.keyboard._released.clear()  # what another test let go of just now is no bounce here
    desk.keyboard.play_on_keys(True)
    yield asked
    desk.keyboard.tame(0)
    desk.keyboard.use_for(JUST_PLAY)
    desk.keyboard.play_on_keys(False)
    desk.player.stop()
    desk.document.begin("")


def readout(desk):
    return desk.transport_bar.readout._readout


def test_arrows_and_digits_play_what_they_carry_and_stand_large_in_the_strip(qtbot, desk, pads):
    before = desk.document.text
    qtbot.keyPress(desk.editor, KEY.Key_Left)
    assert [number for _, number in pads] == [60, 64, 67] and desk.keyboard.keys.lit == {60, 64, 67}
    assert readout(desk).name == "C" and readout(desk).first_line == "key left"
    qtbot.keyPress(desk.editor, KEY.Key_Up)
    assert desk.keyboard.keys.lit == {60, 64, 67, 72}
    qtbot.keyRelease(desk.editor, KEY.Key_Left)
    assert desk.keyboard.keys.lit == {72}
    qtbot.keyRelease(desk.editor, KEY.Key_Up)
    pads.clear()
    qtbot.keyClick(desk.editor, KEY.Key_1)
    assert pads == [("drum kit", 38)]
    assert desk.document.text == before


def test_two_keys_step_through_the_sets_and_the_set_is_named(qtbot, desk, pads):
    qtbot.keyClick(desk.editor, KEY.Key_PageDown)
    assert readout(desk).name == "Keys: evening" and "left {F}" in readout(desk).first_line
    qtbot.keyClick(desk.editor, KEY.Key_Left)
    assert [number for _, number in pads] == [65, 69, 72]
    assert readout(desk).second_line == "set evening"
    qtbot.keyClick(desk.editor, KEY.Key_PageDown)
    pads.clear()
    qtbot.keyClick(desk.editor, KEY.Key_A)
    assert [number for _, number in pads] == [71]
    qtbot.keyClick(desk.editor, KEY.Key_PageDown)
    qtbot.keyClick(desk.editor, KEY.Key_PageUp)
    assert readout(desk).name == "Keys: night"
    desk.actions_by_id["keys.next-set"].trigger()
    assert readout(desk).name == "Keys: first"
    assert "left, right, up, 1, space" in desk.keyboard._hint.text()


def test_a_phrase_key_plays_its_phrase_while_it_is_held(qtbot, desk, pads):
    qtbot.keyPress(desk.editor, KEY.Key_Space)
    qtbot.waitUntil(lambda: desk.player.playing, timeout=3000)
    assert [note.pitch.text for note in desk.playback.other_scene.song.notes] == ["C4", "D4"]
    qtbot.keyRelease(desk.editor, KEY.Key_Space)
    assert not desk.player.playing


def test_in_write_keys_write_what_they_carry(qtbot, desk, pads):
    desk.selection.choose_note(0)
    desk.keyboard.use_for(WRITE)
    for key in (KEY.Key_Right, KEY.Key_Up):
        qtbot.keyClick(desk.editor, key)
    qtbot.keyClick(desk.editor, KEY.Key_PageDown)
    qtbot.keyClick(desk.editor, KEY.Key_Down)
    assert desk.document.text.endswith("voice V\n  G4 {Am} C5 E4&G4")
    qtbot.keyClick(desk.editor, KEY.Key_PageUp)
    qtbot.keyClick(desk.editor, KEY.Key_Space)
    assert "call" in desk.document.text.split("voice V")[1] and not desk.document.reading.findings


def test_a_key_that_bounces_speaks_once_and_quick_repeats_speak(qtbot, desk, pads):
    for _ in range(3):
        qtbot.keyClick(desk.editor, KEY.Key_Up)
    assert len(pads) == 3
    desk.keyboard.tame(200)
    pads.clear()
    for _ in range(3):
        qtbot.keyClick(desk.editor, KEY.Key_Up)
    qtbot.keyClick(desk.editor, KEY.Key_Left)
    assert [number for _, number in pads] == [60, 64, 67]  # the first came right after the last one of before
    qtbot.wait(250)
    qtbot.keyClick(desk.editor, KEY.Key_Up)
    QApplication.processEvents()
    assert pads[-1][1] == 72


def test_sets_are_read_and_what_is_not_there_is_said():
    settings = read(TUNE).sheet.settings
    assert [name for name, _ in settings.key_sets] == ["evening", "night"]
    assert [key.kind for key in settings.keys] == ["pitches", "pitches", "pitches", "drum", "phrase"]
    assert "no pitch, drum or phrase" in read("keys x: q nothing\nC4").findings[0].message
    assert read("keys x: ?? C4\nC4").findings[0].code == "value"
