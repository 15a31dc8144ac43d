"""Tunes from elsewhere in the window: opened, dropped, seen, written otherwise, taken; and sent out as scores."""

from __future__ import annotations

import time

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QTimer, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QPushButton

from chickadee import read
from chickadee import write as write_tune
from chickadee.desk.plain_dialogs import PlainProgress

TUNE = """title: Mill Reach
key: G major
voice Whistle
  G4 B4 D5 B4 | G4=4 | G4 B4 D5 B4 | G4=4 | G4 B4 D5 B4 | G4=4 |
voice Buoys
  sound: glass bell
  {G}=4 | {D}=4 |
"""
CLICK = Qt.MouseButton.LeftButton


@pytest.fixture
def panel(desk):
    desk.document.begin("")
    yield desk.panel("found")
    desk.document.begin("")
    desk.working.turn_to("findings")


@pytest.fixture
def midi(tmp_path):
    path = tmp_path / "mill.mid"
    write_tune(read(TUNE), path)
    return path


def test_a_file_from_elsewhere_becomes_a_new_tune_and_is_never_written_over(qtbot, desk, panel, midi):
    before = midi.read_bytes()
    assert desk.files.open_path(midi)
    assert panel.isVisible() and desk.document.path is None and desk.document.modified
    assert "phrase theme" in desk.document.text and desk.document.reading.song.title == "Mill Reach"
    assert [panel.voices.item(row).text() for row in range(2)] == [
        "Whistle: 15 notes, G4 to D5, flute", "Buoys: 6 notes, D4 to D5, glass bell"]  # fmt: skip
    desk.editor.undo()
    assert desk.document.text == "" and not panel.take.isEnabled()
    desk.editor.redo()
    assert panel.take.isEnabled()
    qtbot.mouseClick(panel.take, CLICK)
    assert not panel.isVisible() and midi.read_bytes() == before


def test_each_choice_is_seen_at_once_and_is_one_step_of_the_undo(qtbot, desk, panel, midi):
    desk.files.open_path(midi)
    first = desk.document.text
    panel.phrases.click()
    assert "phrase" not in desk.document.text and desk.document.text.count("G4 B4 D5 B4") == 3
    panel.voices.item(0).setCheckState(Qt.CheckState.Unchecked)
    assert [voice.name for voice in desk.document.reading.song.voices] == ["Buoys"]
    panel.voices.item(1).setCheckState(Qt.CheckState.Unchecked)  # one is always taken
    assert panel.voices.item(1).checkState() is Qt.CheckState.Checked
    panel.snap.setCurrentText("not at all")
    assert desk.document.reading.song.notes and not desk.document.reading.has_errors
    for _ in range(3):
        desk.editor.undo()
    assert desk.document.text == first


def test_a_sheet_that_was_changed_since_is_not_written_over(desk, panel, midi):
    desk.files.open_path(midi)
    desk.editor.insertPlainText("// mine\n")
    assert not panel.snap.isEnabled() and "changed since" in panel.report.text()
    desk.editor.undo()
    assert panel.snap.isEnabled() and "changed since" not in panel.report.text()
    desk.document.begin("C4")
    assert panel.voices.count() == 0 and "drop it on the window" in panel.title.text()


@pytest.mark.parametrize("name", ["tune.csv", "tune.musicxml", "tune.mxl", "tune.mid"])
def test_files_of_every_form_stand_on_the_shelf_and_are_dropped(desk, panel, tmp_path, name):
    write_tune(read(TUNE), tmp_path / name)
    desk.shelf.show_folder(tmp_path)
    desk.shelf.read_all()
    (item,) = (desk.shelf.list.item(row) for row in range(desk.shelf.list.count()))
    tune = item.data(Qt.ItemDataRole.UserRole)
    assert tune.contour and tune.form in ("table", "score", "MIDI")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(tmp_path / name))])
    event = QDropEvent(QPointF(5, 5), Qt.DropAction.CopyAction, data, CLICK, Qt.KeyboardModifier.NoModifier)
    desk.dropEvent(event)
    assert len(desk.document.reading.song.notes) == 21 and desk.document.path is None


def test_what_cannot_be_read_is_said_and_the_tune_stays(desk, panel, tmp_path):
    desk.document.begin("C4 D4")
    (tmp_path / "bad.mid").write_bytes(b"MThd\0\0\0\6\0\1\0\1\1\xe0MTrk\0\0\0\4\0\xff\x2f\0")
    assert not desk.files.open_path(tmp_path / "bad.mid")
    assert "no notes" in desk.notice.text and desk.document.text == "C4 D4"


def test_a_copy_and_another_name_keep_a_file_s_form(desk, panel, midi):
    desk.files.duplicate(midi)
    assert midi.with_name("mill 2.mid").read_bytes() == midi.read_bytes()
    desk.files.rename(midi.with_name("mill 2.mid"), "reach")
    assert midi.with_name("reach.mid").exists()


def test_a_table_or_a_program_s_list_that_is_pasted_is_offered_as_a_sheet(desk, panel):
    for text, numbers in (("note,beats\nC4,1\nE4,2", [60, 64]), ("notes = [60, 62]\nbeats = [1, 2]", [60, 62])):
        desk.document.new()
        data = QMimeData()
        data.setText(text)
        desk.editor.insertFromMimeData(data)
        assert "list of notes" in desk.notice.text
        desk.notice.offer.click()
        assert [note.number for note in desk.document.reading.song.notes] == numbers
        desk.editor.undo()
        assert desk.document.text == text


@pytest.fixture
def large(tmp_path):
    """A score that takes a second or more to be read."""
    path = tmp_path / "large.musicxml"
    note = b"<note><pitch><step>C</step><octave>4</octave></pitch><duration>1</duration></note>"
    bar = b"<measure>" + note * 4 + b"</measure>"
    path.write_bytes(b"<score-partwise><part-list/><part id='P'>" + bar * 3000 + b"</part></score-partwise>")
    return path


def test_a_large_file_is_read_in_another_process_while_the_window_lives(qtbot, desk, panel, large, monkeypatch):
    ticks = []
    timer = QTimer()
    timer.timeout.connect(lambda: ticks.append(time.monotonic()))
    timer.start(20)
    monkeypatch.setattr("chickadee.formats.musicxml.read", lambda data: pytest.fail("read in this process"))
    assert desk.files.open_path(large)
    assert len(desk.document.reading.song.notes) == 12_000
    assert len(ticks) > 10  # the window's own thread was free


def test_reading_a_large_file_can_be_cancelled_and_leaves_all_as_it_was(qtbot, desk, panel, large):
    desk.document.begin("G4")
    seen = []

    def cancel():
        shown = [each for each in desk.findChildren(PlainProgress) if each.isVisible()]
        if not shown:
            QTimer.singleShot(20, cancel)
            return
        seen.append(shown[0].labelText())
        qtbot.mouseClick(shown[0].findChild(QPushButton), CLICK)

    QTimer.singleShot(50, cancel)
    assert not desk.files.open_path(large)
    assert seen == ["Reading large.musicxml"] and desk.document.text == "G4" and desk.notice.text == ""


def test_the_shelf_reads_large_files_in_another_process(qtbot, desk, panel, large, monkeypatch):
    monkeypatch.setattr("chickadee.formats.musicxml.read", lambda data: pytest.fail("read in this process"))
    desk.shelf.show_folder(large.parent)
    item = desk.shelf.list.item(0)
    assert item is not None and item.data(Qt.ItemDataRole.UserRole).contour == ()
    qtbot.waitUntil(lambda: item.data(Qt.ItemDataRole.UserRole).contour != (), timeout=20_000)
    assert item.data(Qt.ItemDataRole.UserRole).form == "score"
