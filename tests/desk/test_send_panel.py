"""The panel of lists and boards in the window: text, losses, entries and notes, hearing, own targets."""

from __future__ import annotations

from dataclasses import replace

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QGuiApplication, QTextCursor
from PyQt6.QtWidgets import QDialogButtonBox, QFileDialog

from chickadee.boards.catalogue import shipped, target_called
from chickadee.boards.fitting import fitted
from chickadee.boards.packing import packed
from chickadee.desk.send.hertz_dialog import HertzDialog
from chickadee.desk.send.own_target import OwnTargetDialog
from chickadee.desk.working.spec import PanelSize

CLICK = Qt.MouseButton.LeftButton
TUNE = "tempo: 120\nmeter: 4/4\nvoice High\n  G4 B4 A4=2 | (C5 D5 C5 D5) x2 |\nvoice Low\n  G3=4 | G3=4 | G3=4 |\n"


@pytest.fixture
def panel(qtbot, desk, tmp_path):
    path = tmp_path / "tune.chick"
    path.write_text(TUNE)
    desk.files.open_path(path)
    desk.working.turn_to("send")
    desk.working.set_size(PanelSize.ACROSS)
    panel = desk.panel("send")
    panel.targets.setCurrentText("python-pairs")
    yield panel
    desk.player.stop()
    panel.voices.setCurrentIndex(0)
    desk.working.set_size(PanelSize.BESIDE)
    desk.working.turn_to("findings")
    desk.document.begin("")


def lit(panel):
    return [each.cursor.selectedText() for each in panel.text.extraSelections()]


def test_the_text_follows_target_voice_tune_and_tick_and_is_copied_and_saved(
    qtbot, desk, panel, tmp_path, monkeypatch
):
    assert "tune_2 = [\n    (55, 4), (55, 4), (55, 4)]" in panel.text.toPlainText()
    panel.voices.setCurrentText("Low")
    assert "tune_2" not in panel.text.toPlainText() and panel.said.text() == "Nothing is lost."
    panel.targets.setCurrentText("bollard")
    assert panel.text.toPlainText() == "tick 2000.0 ms\nG3*1 G3*1 G3*1\n"
    panel.ticks.setCurrentIndex(
        next(place for place in range(panel.ticks.count()) if "½" in panel.ticks.itemText(place))
    )
    assert panel.text.toPlainText() == "tick 250.0 ms\nG3*8 G3*8 G3*8\n"
    desk.actions_by_id["send.copy"].trigger()
    assert QGuiApplication.clipboard().text() == panel.text.toPlainText()
    panel.voices.setCurrentIndex(0)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "cells"), ""))
    qtbot.mouseClick(panel.save, CLICK)
    assert (tmp_path / "cells.txt").exists() and (tmp_path / "cells 2.txt").read_text().endswith("G3*8 G3*8 G3*8\n")
    at = desk.document.text.index("G4")
    desk.editor.select(at, at + 2)
    desk.editor.insertPlainText("E4")
    qtbot.waitUntil(lambda: "E4" in panel.text.toPlainText(), timeout=2000)


def test_a_note_lights_its_entry_and_an_entry_selects_its_note(qtbot, desk, panel):
    panel.targets.setCurrentText("lantern")
    second = next(place for place, note in enumerate(desk.document.reading.song.notes) if note.number == 71)
    desk.selection.choose_note(second)
    assert lit(panel) == ["3501"]
    text = panel.text.toPlainText()
    assert "0400" in text  # a jump back to the cell where C5 D5 begins
    cursor = QTextCursor(panel.text.document())
    cursor.setPosition(text.index("3302") + 1)
    at = panel.text.cursorRect(cursor).center()
    qtbot.mouseClick(panel.text.viewport(), CLICK, pos=QPoint(at.x() + 1, at.y()))
    assert desk.document.reading.song.notes[desk.selection.notes[0]].number == 69
    for _ in range(3):
        desk.actions_by_id["send.step"].trigger()
    assert panel.said.text() == "Cell 2: plays 71." and lit(panel) == ["3501"]


def test_what_the_board_plays_is_heard_from_its_cells_and_the_sounding_cell_is_lit(desk, panel, monkeypatch):
    heard = []
    monkeypatch.setattr(desk.player, "play", heard.append)
    panel.targets.setCurrentText("lantern")
    desk.actions_by_id["send.hear"].trigger()
    song = heard[0].song
    assert [note.number for note in song.notes if note.voice == 0] == [67, 71, 69, *[72, 74] * 4]
    desk.player.moved.emit(float(song.notes[-1].start))
    assert lit(panel)[0] == "3801"
    desk.player.stopped.emit()
    assert panel._played is None


def test_what_is_lost_is_listed_seen_dashed_and_made_to_fit(qtbot, desk, panel):
    desk.document.begin("tempo: 120\nC1 E1 | G9 C4")
    panel.targets.setCurrentText("bollard")
    qtbot.waitUntil(lambda: panel.lost.count() > 0, timeout=2000)
    assert any("moved up" in panel.lost.item(row).text() for row in range(panel.lost.count()))
    assert desk.preview.song is not None and panel.fit.isEnabled()
    panel.lost.itemClicked.emit(panel.lost.item(0))
    assert desk.document.reading.song.notes[desk.selection.notes[0]].number == 24
    qtbot.mouseClick(panel.fit, CLICK)
    qtbot.waitUntil(lambda: panel.said.text() == "Nothing is lost.", timeout=2000)
    assert all(48 <= note.number <= 84 for note in desk.document.reading.song.notes)
    assert not panel.fit.isEnabled()
    desk.editor.undo()
    assert desk.document.reading.song.notes[0].number == 24
    desk.working.turn_to("findings")
    assert desk.preview.song is None


@pytest.mark.parametrize("name", shipped())
def test_every_field_of_a_target_is_in_the_dialog_of_one_s_own(desk, panel, name):
    target = target_called(name)
    dialog = OwnTargetDialog(desk.document.reading.song, target, None, panel)
    again = dialog.target
    assert replace(again, id=name, text="") == replace(target, text="")
    fit = fitted(desk.document.reading.song, target)
    assert dialog.sample.toPlainText().strip() == "\n\n".join(packed(fit, board) for board in fit.boards).strip()
    dialog.more.click()
    assert len(dialog.target.lists) == len(target.lists) + 1
    dialog.deleteLater()


def test_a_target_of_one_s_own_is_filled_in_with_a_live_sample_and_kept(desk, panel, tmp_path, monkeypatch):
    def fill_in(dialog):
        page = dialog.lists[0]
        page.boxes["entry"].setText("play {pitch}")
        assert "names {pitch}" in dialog.said.text()
        page.boxes["entry"].setText("play {number} {beats}")
        page.boxes["between"].setText("; ")
        page.boxes["wrap"].setValue(0)
        dialog.name.setText("mine")
        assert "play 67 1; play 71 1; play 69 2" in dialog.sample.toPlainText()
        dialog.findChild(QDialogButtonBox).button(QDialogButtonBox.StandardButton.Save).click()
        return dialog.saved is not None

    monkeypatch.setattr(OwnTargetDialog, "exec", fill_in)
    panel.describe_own()
    assert (tmp_path / "mine.target.toml").exists() and panel.targets.currentText() == "mine"
    assert "play 67 1; play 71 1;" in panel.text.toPlainText()
    (tmp_path / "mine.target.toml").write_text("title = 5")
    panel._send()
    assert "mine.target.toml: " in panel.said.text() and not panel.copy.isEnabled()
    panel.targets.setCurrentText("python-pairs")


def test_the_hertz_of_notes_is_a_table_for_any_octaves(desk, panel, monkeypatch):
    seen = []

    def look(dialog):
        dialog.first.setValue(4)
        dialog.last.setValue(4)
        seen.append([dialog.table.item(row, 0).text() for row in range(12)])
        return 0

    monkeypatch.setattr(HertzDialog, "exec", look)
    panel.table.click()
    assert seen[0][0] == "261.63" and seen[0][9] == "440.00"
