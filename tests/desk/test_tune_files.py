"""The tune and its files: saved, opened, exported, found on the shelf, dropped on the window."""

from __future__ import annotations

import pytest
import soundfile
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QDialog, QFileDialog, QMessageBox, QProgressDialog, QPushButton
from written import CONTROL, numbers, write

from chickadee.desk.export import ExportRequest, expected
from chickadee.desk.export_dialog import ExportDialog
from chickadee.formats import anything
from chickadee.song import TICKS_PER_QUARTER as Q
from chickadee.sound.audio_file import AudioSettings

KEY = Qt.Key


def answer(monkeypatch, button):
    monkeypatch.setattr(QMessageBox, "exec", lambda self: button)


def choose_file(monkeypatch, path, kind=""):
    for name in ("getOpenFileName", "getSaveFileName"):
        monkeypatch.setattr(QFileDialog, name, lambda *_, **__: (str(path), kind))


def test_saving_and_opening_give_the_text_back(qtbot, desk, tmp_path, monkeypatch):
    write(qtbot, desk, "title: Reeds\nC4 D4")
    assert "not saved" in desk.file_state.text()
    choose_file(monkeypatch, tmp_path / "reeds")
    qtbot.keyClick(desk.editor, KEY.Key_S, CONTROL)
    path = tmp_path / "reeds.chick"
    assert path.read_text() == "title: Reeds\nC4 D4\n"
    assert desk.file_state.text().strip() == "reeds.chick — saved"
    assert desk.shelf.list.count() == 1
    qtbot.keyClicks(desk.editor, "E4")
    qtbot.keyClick(desk.editor, KEY.Key_S, CONTROL)
    assert path.read_text().endswith("E4")
    qtbot.keyClick(desk.editor, KEY.Key_N, CONTROL)
    assert desk.document.reading.text == ""
    choose_file(monkeypatch, path)
    qtbot.keyClick(desk.editor, KEY.Key_O, CONTROL)
    assert desk.document.reading.text == "title: Reeds\nC4 D4\nE4"


def test_unsaved_changes_are_asked_about_before_they_could_be_lost(qtbot, desk, tmp_path, monkeypatch):
    other = tmp_path / "other.chick"
    other.write_text("G4")
    write(qtbot, desk, "C4")
    answer(monkeypatch, QMessageBox.StandardButton.Cancel)
    desk.files.open_path(other)
    assert desk.document.reading.text == "C4\n"
    assert not desk.window().close()
    qtbot.keyClick(desk.editor, KEY.Key_N, CONTROL)
    assert desk.document.reading.text == "C4\n"
    answer(monkeypatch, QMessageBox.StandardButton.Save)
    choose_file(monkeypatch, tmp_path / "kept.chick")
    desk.files.open_path(other)
    assert (tmp_path / "kept.chick").read_text() == "C4\n"
    assert desk.document.reading.text == "G4"
    qtbot.keyClicks(desk.editor, "x")
    answer(monkeypatch, QMessageBox.StandardButton.Discard)
    ended = []
    monkeypatch.setattr(desk.recovery, "close", lambda: ended.append(True))  # this desk goes on, for other tests
    assert desk.window().close()
    assert ended == [True] and other.read_text() == "G4"


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"\0\1\2", "not a text file"),
        (b"\xff\x00\x01", "not a text file"),
        (None, "no such file"),
        (b"C " * (11 << 20), "too large"),
    ],
)
def test_a_file_that_cannot_be_opened_is_said_and_the_tune_stays(qtbot, desk, tmp_path, data, said):
    write(qtbot, desk, "")
    desk.document.save(tmp_path / "mine.chick")
    path = tmp_path / "odd.chick"
    if data is not None:
        path.write_bytes(data)
    desk.files.open_path(path)
    assert said in desk.notice.text
    assert desk.document.path == tmp_path / "mine.chick"


def test_a_save_that_fails_is_said_and_nothing_is_lost(qtbot, desk, tmp_path, monkeypatch):
    write(qtbot, desk, "C4")
    choose_file(monkeypatch, tmp_path / "no" / "such" / "folder.chick")
    desk.actions_by_id["tune.save"].trigger()
    assert desk.notice.text.startswith("Not saved.")
    assert desk.document.modified
    assert desk.document.reading.text == "C4\n"
    close = desk.notice.findChild(QPushButton)
    qtbot.mouseClick(close, Qt.MouseButton.LeftButton)
    assert desk.notice.text == ""


def test_exporting_midi_and_sound(qtbot, desk, tmp_path, monkeypatch):
    write(qtbot, desk, "tempo: 240\nC4 D4")
    choose_file(monkeypatch, tmp_path / "out")
    desk.actions_by_id["tune.midi"].trigger()
    assert (tmp_path / "out.mid").read_bytes()[:4] == b"MThd"

    seen = []

    def answer(dialog):
        seen.append((dialog.suffix, dialog.expected.text()))
        dialog.kind.setCurrentIndex(dialog.kind.findText(".flac", Qt.MatchFlag.MatchContains))
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(ExportDialog, "exec", answer)
    for _ in range(2):
        desk.actions_by_id["tune.export"].trigger()
        qtbot.waitUntil(lambda: desk.exports.sound is None, timeout=10_000)
        assert soundfile.info(tmp_path / "out.flac").frames > 20_000
        assert "out.flac" in desk.notice.text
        (tmp_path / "out.flac").unlink()
    assert seen[1] == (".flac", "1 voice, 2 notes, 0.5 s; about 38.4 kB in one file")  # the form is remembered
    desk.exports.write(tmp_path / "no" / "out.mid", ExportRequest(".mid"))
    assert "no such" in desk.notice.text


@pytest.mark.parametrize("suffix", [".mid", ".musicxml", ".mxl", ".csv"])
def test_a_part_of_the_tune_is_exported_in_any_form_at_the_size_that_was_said(desk, tmp_path, suffix):
    desk.document.begin("meter: 2/4\nvoice High\nC5 D5 | E5 F5 |\nvoice Low\nC3=2 | D3=2 |")
    request = ExportRequest(suffix, by_voice=True, stretch=(2 * Q, 4 * Q))
    desk.exports.write(tmp_path / f"out{suffix}", request)
    files = sorted(tmp_path.iterdir())
    assert [[note.number for note in anything.read(path).song.notes] for path in files] == [[76, 77], [50]]
    size = sum(path.stat().st_size for path in files)
    said = f"{size} bytes" if size < 1000 else f"{size / 1000:.1f} kB"
    assert expected(request, desk.document.reading.song) == f"2 voices, 3 notes, 1.0 s; {said} in 2 files"


def test_a_part_is_exported_from_mark_to_mark(desk, tmp_path, monkeypatch):
    desk.document.begin("meter: 3/4\nC4 [mark gate opens] D4 E4 | F4 G4 [mark bell] A4 | B4=3 |")
    choose_file(monkeypatch, tmp_path / "out")
    said = []

    def answer(dialog):
        dialog.part.setCurrentText("From mark to mark")
        dialog.begin.setCurrentText("gate opens")
        assert [dialog.end.itemText(place) for place in range(dialog.end.count())] == ["bell", "the end"]
        said.append(dialog.expected.text())
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(ExportDialog, "exec", answer)
    desk.settings.set_words("export", [])
    desk.actions_by_id["tune.export"].trigger()
    (path,) = tmp_path.iterdir()
    assert "4 notes" in said[0]
    song = anything.read(path).song
    assert [note.number for note in song.notes] == [62, 64, 65, 67] and song.grid.start(1) == 2 * Q


def test_sound_is_exported_by_voice_or_some_bars(qtbot, desk, tmp_path):
    write(qtbot, desk, "tempo: 240\nvoice High\n  C5=4 | D5=4 |\nvoice Low\n  C3=4 | D3=4 |")
    settings = AudioSettings(rate=16_000, bits="24", room=True, fade=0.5)
    desk.exports.write(tmp_path / "part.wav", ExportRequest(".wav", settings, by_voice=True, stretch=(4 * Q, 8 * Q)))
    qtbot.waitUntil(lambda: desk.exports.sound is None, timeout=20_000)
    assert sorted(path.name for path in tmp_path.iterdir()) == ["part - High.wav", "part - Low.wav"]
    info = soundfile.info(tmp_path / "part - Low.wav")
    assert (info.samplerate, info.subtype) == (16_000, "PCM_24")
    assert 1 < info.duration < 2.5
    assert "part - Low.wav" in desk.notice.text


def test_a_page_that_plays_is_exported_with_what_was_chosen(qtbot, desk, tmp_path, monkeypatch):
    write(qtbot, desk, "title: Quay\ntempo: 240\nC4 D4 E4 F4")
    choose_file(monkeypatch, tmp_path / "quay")

    def answer(dialog):
        dialog.kind.setCurrentIndex(dialog.kind.findText(".html", Qt.MatchFlag.MatchContains))
        assert dialog.on_page.isVisibleTo(dialog) and not dialog.rate.isVisibleTo(dialog)
        qtbot.mouseClick(dialog.shown["staff"], Qt.MouseButton.LeftButton)
        assert "network" in dialog.expected.text()
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(ExportDialog, "exec", answer)
    desk.actions_by_id["tune.export"].trigger()
    qtbot.waitUntil(lambda: desk.exports.sound is None, timeout=20_000)
    text = (tmp_path / "quay.html").read_text("utf-8")
    assert "The page is in quay.html" in desk.notice.text
    assert 'class="staff"' in text and 'id="keys"' in text and text.count('class="note ') == 4
    desk.document.begin("rest")
    desk.exports.write(tmp_path / "empty.html", ExportRequest(".html"))
    qtbot.waitUntil(lambda: desk.exports.sound is None, timeout=20_000)
    assert "at least one note" in desk.notice.text and not (tmp_path / "empty.html").exists()


def test_a_cancelled_export_leaves_no_file(qtbot, desk, tmp_path):
    write(qtbot, desk, "tempo: 60\nC4=3000")
    old = tmp_path / "old.wav"
    old.write_bytes(b"old")
    desk.exports.write(old, ExportRequest())
    qtbot.waitUntil(lambda: desk.findChild(QProgressDialog).isVisible(), timeout=10_000)
    cancel = desk.findChild(QProgressDialog).findChild(QPushButton)
    qtbot.mouseClick(cancel, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: desk.exports.sound is None, timeout=10_000)
    assert old.read_bytes() == b"old"
    assert [path.name for path in tmp_path.iterdir()] == ["old.wav"]
    assert desk.notice.text == ""


def test_the_shelf_lists_a_folder_and_opens_its_tunes(qtbot, desk, tmp_path):
    for index in range(30):
        (tmp_path / f"tune-{index:02}.chick").write_text(
            f"title: Tune {index}\nmeter: 3/4\n{60 + index}=3 | C4{'=2 |' * (index % 2)}"
        )
    (tmp_path / "broken.chick").write_bytes(b"\0")
    desk.shelf.show_folder(tmp_path)
    qtbot.waitUntil(lambda: not desk.shelf._waiting, timeout=10_000)
    tunes = [item.data(Qt.ItemDataRole.UserRole) for item in desk.shelf._items()]
    assert len(tunes) == 31
    assert [tune.findings for tune in tunes[1:4]] == [0, 1, 0]
    item = desk.shelf.list.item(5)
    rect = desk.shelf.list.visualItemRect(item)
    qtbot.mouseClick(desk.shelf.list.viewport(), Qt.MouseButton.LeftButton, pos=rect.center())
    assert desk.document.name == "tune-04.chick"
    assert desk.shelf.list.currentItem() is item


def test_a_dropped_file_is_opened(desk, tmp_path):
    path = tmp_path / "dropped.chick"
    path.write_text("A4")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    desk.dropEvent(QDropEvent(QPointF(9, 9), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
                              Qt.KeyboardModifier.NoModifier))  # fmt: skip
    assert numbers(desk) == [69]
