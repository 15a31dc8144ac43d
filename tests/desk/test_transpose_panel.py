"""Moving tunes in the window: seen and heard before it is done, one step of the undo."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QComboBox, QSpinBox

from chickadee.display.ways import WAYS

CLICK = Qt.MouseButton.LeftButton
NOT_AS_IT_IS = {
    "into a range": ("D5", "D7", ""),
    "into another scale": ("minor",),
    "folded into a range": ("C4", "B4"),
}
TUNE = """key: G major

phrase call
  G4 B4 A4=2 |

voice Whistle
  range: D4 to D5
  call D4=4 | // home

voice Buoys
  {G}=bar | {D}=bar |
"""


@pytest.fixture
def panel(desk, qtbot):
    desk.document.text_document.setPlainText(TUNE)
    desk.actions_by_id["panel.transpose"].trigger()
    desk.panel("transpose").what.setCurrentIndex(0)
    yield desk.panel("transpose")
    desk.working.turn_to("findings")


def body(desk):
    return desk.document.reading.text


def test_a_tune_is_moved_seen_before_and_undone_in_one_step(qtbot, desk, panel):
    panel.way.setFocus()
    panel.way.setCurrentText("by semitones")
    (number,) = (box for box in panel._fields if isinstance(box, QSpinBox))
    number.setFocus()
    number.selectAll()
    qtbot.keyClicks(number, "4")
    qtbot.waitUntil(lambda: panel.outcome is not None and panel.outcome.after.key.text == "B major")
    assert panel.said.text() == "10 notes would change; G major becomes B major. 1 note outside the range."
    assert [panel.table.item(0, column).text() for column in range(4)] == ["D4", "62", "F♯4", "66"]
    assert desk.timeline._preview is panel.outcome.after
    assert body(desk) == TUNE
    qtbot.mouseClick(panel.apply, CLICK)
    assert "key: B major" in body(desk) and "B4 D#5 C#5=2 |" in body(desk) and "{B}=bar | {F#}=bar |" in body(desk)
    assert "Undo takes it back" in panel.said.text() and desk.timeline._preview is None
    desk.editor.undo()
    assert body(desk) == TUNE


def test_a_voice_a_phrase_and_the_chosen_notes_move_alone(qtbot, desk, panel):
    for part, expected in (
        ("the voice Whistle", ("B4 D5 C5=2 |", "F#4=4 | // home", "{G}=bar")),
        ("the phrase call", ("B4 D5 C5=2 |", "D4=4 | // home", "{G}=bar")),
    ):
        panel.what.setCurrentText(part)
        panel.set_values("by steps of the key", "2")
        qtbot.mouseClick(panel.apply, CLICK)
        assert all(text in body(desk) for text in expected), part
        desk.editor.undo()
    panel.what.setCurrentText("the selected notes")
    desk.selection.choose_notes([])
    panel.work_out()
    assert "Select some notes" in panel.said.text() and not panel.apply.isEnabled()
    desk.selection.choose_note(0)
    qtbot.waitUntil(lambda: panel.outcome is not None)
    qtbot.mouseClick(panel.apply, CLICK)
    assert "B4 B4 A4=2 |" in body(desk)
    panel.set_values("to a key", "D", "the same scale", "up")
    assert "works on the whole song" in panel.said.text() and panel.outcome is None


@pytest.mark.parametrize("way", [way.title for way in WAYS])
def test_every_way_can_be_asked_for_and_taken_back(qtbot, desk, panel, way):
    desk.document.text_document.setPlainText(TUNE + "\nvoice Mill\n  (C4 E4)=1 G4=1/2 A4=1/2 G4=2/3 C4=1/3 C6 |\n")
    panel.way.setCurrentText(way)
    panel.set_values(way, *NOT_AS_IT_IS.get(way, panel.values))
    assert panel.outcome is not None and panel.outcome.edits, panel.said.text()
    before = body(desk)
    qtbot.mouseClick(panel.apply, CLICK)
    assert body(desk) != before
    assert not desk.document.reading.has_errors
    desk.editor.undo()
    assert body(desk) == before


def test_the_ways_into_a_range_are_ranked_and_what_cannot_be_is_said(desk, panel):
    panel.set_values("into a range", "C4", "C6", "")
    ranked = panel.findChildren(QComboBox)[-1]
    assert ranked.count() == 49 and "all inside" in ranked.itemText(0)
    panel.set_values("into a range", "low", "C6", "")
    assert "“low” is not a pitch" in panel.said.text()
    panel.set_values("by octaves", "6")
    assert "outside the range" in panel.said.text() and not panel.apply.isEnabled()


def test_a_scale_of_other_steps_says_that_pitches_go_to_the_nearest(desk, panel):
    panel.set_values("into another scale", "blues, to the nearest pitches")
    assert panel.apply.isEnabled()
    panel.apply.click()
    assert "blues" in body(desk)


def test_before_and_after_are_heard_in_turn_at_one_key(qtbot, desk, panel, monkeypatch):
    played = []
    monkeypatch.setattr(
        desk.player, "play", lambda playing: played.append((playing.song.key.text, playing.start, playing.end))
    )
    panel.set_values("by octaves", "1")
    panel.set_values("by semitones", "5")
    desk.actions_by_id["transpose.hear"].trigger()
    desk.player.finished.emit()
    desk.player.finished.emit()
    four_bars = 4 * 4 * 8_064_000
    assert played == [("G major", 0, four_bars), ("C major", 0, four_bars)]
    desk.working.turn_to("findings")
    desk.actions_by_id["transpose.hear"].trigger()
    assert "Ask for a change" in desk.notice.text and len(played) == 2


def test_what_was_to_be_heard_after_is_forgotten_once_something_else_is_played(desk, panel, monkeypatch):
    played = []
    monkeypatch.setattr(desk.player, "play", lambda playing: played.append(playing.click))
    panel.set_values("by semitones", "5")
    desk.actions_by_id["transpose.hear"].trigger()
    desk.player.stop()
    desk.playback.play_for_recording()
    desk.player.finished.emit()
    assert played == [False, True]


def test_the_preview_is_drawn_and_goes_with_the_panel(desk, panel):
    before = desk.timeline.viewport().grab().toImage()
    panel.set_values("by semitones", "13")
    QApplication.processEvents()
    after = desk.timeline.viewport().grab().toImage()
    assert after != before
    desk.working.turn_to("voices")
    assert desk.timeline._preview is None


def test_facts_are_counted_for_each_part_and_copied(qtbot, desk):
    desk.document.text_document.setPlainText(TUNE)
    desk.actions_by_id["panel.facts"].trigger()
    panel = desk.panel("facts")

    def shown():
        return {name.text(): value.text() for name, value in panel.lines if not name.isHidden()}

    qtbot.waitUntil(lambda: shown().get("Notes") == "10")
    assert "Different pitches" in shown()
    panel.what.setCurrentText("the phrase call")
    qtbot.mouseClick(panel.numbers, CLICK)
    assert QApplication.clipboard().text() == "67, 71, 69"
    qtbot.mouseClick(panel.names, CLICK)
    assert QApplication.clipboard().text() == "G4 B4 A4"
    assert "clipboard" in desk.notice.text
    desk.document.text_document.setPlainText("")
    qtbot.waitUntil(lambda: shown() == {"Notes": "none yet"})
    desk.working.turn_to("findings")
