"""The window, driven by keys and the mouse."""

from __future__ import annotations

import subprocess
import sys

import pytest
import soundfile
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QImage
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QMessageBox, QProgressDialog, QPushButton

from chickadee.desk import app
from chickadee.desk.export import ExportRequest, expected
from chickadee.desk.export_dialog import ExportDialog
from chickadee.desk.keycard import KeyCard
from chickadee.desk.reference import ReferenceDialog
from chickadee.formats import anything
from chickadee.song import TICKS_PER_QUARTER as Q
from chickadee.sound.audio_file import AudioSettings

KEY = Qt.Key
CONTROL = Qt.KeyboardModifier.ControlModifier


def write(qtbot, desk, text):
    """Type a sheet as a person would."""
    desk.editor.setFocus()
    for line in text.split("\n"):
        qtbot.keyClicks(desk.editor, line)
        qtbot.keyClick(desk.editor, KEY.Key_Return)


def numbers(desk):
    return [note.number for note in desk.document.reading.song.notes]


def colours(desk, rect):
    image = desk.timeline.viewport().grab(rect).toImage().convertToFormat(QImage.Format.Format_RGB32)
    return {image.pixelColor(x, y).name() for x in range(image.width()) for y in range(image.height())}


def answer(monkeypatch, button):
    monkeypatch.setattr(QMessageBox, "exec", lambda self: button)


def choose_file(monkeypatch, path, kind=""):
    for name in ("getOpenFileName", "getSaveFileName"):
        monkeypatch.setattr(QFileDialog, name, lambda *_, **__: (str(path), kind))


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
    assert desk.strip.readout.text == "F♯4 / G♭4 66 369.99 Hz bar 1, beat 2"
    qtbot.mouseClick(desk.timeline.viewport(), Qt.MouseButton.LeftButton,
                     pos=QPoint(desk.timeline.note_rect(2).center().x(), desk.timeline.viewport().height() - 40))  # fmt: skip
    assert desk.editor.textCursor().selectedText() == "67"


def test_the_caret_chooses_the_note_it_stands_on(qtbot, desk):
    write(qtbot, desk, "C4 D4")
    desk.editor.select(0, 0)
    assert desk.strip.readout.text.startswith("C4 60")
    for _ in range(4):
        qtbot.keyClick(desk.editor, KEY.Key_Right)
    assert desk.strip.readout.text.startswith("D4 62")


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
    desk.player.moved.connect(lambda tick: heard.append((tick / Q, desk.strip.readout.text[:2])))
    with qtbot.waitSignal(desk.player.finished, timeout=5000):
        qtbot.keyClick(desk.editor, KEY.Key_F5)
        assert desk.player.playing
        assert desk.strip.play_button.accessibleName() == "Stop"
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
    qtbot.mouseClick(desk.strip.play_button, Qt.MouseButton.LeftButton)
    assert desk.player.playing
    qtbot.keyClick(desk.editor, KEY.Key_Escape)
    assert not desk.player.playing


def test_a_changed_speed_goes_on_from_where_it_is(qtbot, desk):
    write(qtbot, desk, "tempo: 60\nC4=40")
    desk.playback.play_all()
    qtbot.waitUntil(lambda: desk.player.tick > 0, timeout=20_000)
    before = desk.player.tick
    desk.strip.speed.setValue(50)
    assert desk.player.playing
    assert before <= desk.player.tick < before + Q
    desk.player.stop()


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
    [(b"\0\1\2", "not a text file"), (b"\xff", "UTF-8"), (None, "no such file"), (b"C " * (11 << 20), "too large")],
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


def test_both_themes_and_the_projector_draw_and_contrast(qtbot, desk):
    write(qtbot, desk, "C4 H4 E4")
    before = desk.timeline.note_rect(0).width()
    for name in ("look.evening", "look.projector"):
        desk.actions_by_id[name].trigger()
        theme = desk.look.theme
        for text, ground in [("ink", "page"), ("ink", "paper"), ("grey", "paper"), ("grey", "page"), ("wrong", "page"),
                             ("right", "page"), ("accent_text", "page"), ("strip_grey", "strip")]:  # fmt: skip
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
    for widget in (desk.editor, desk.timeline, desk.shelf.list, desk.strip.speed, desk.strip.play_button):
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
