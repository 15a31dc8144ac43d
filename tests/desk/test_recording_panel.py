"""The Recording panel in the window: a recording listened to, laid under the tune, and taken into the sheet."""

from __future__ import annotations

import numpy as np
import pytest
import soundfile
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from chickadee.desk.working.spec import PanelSize
from chickadee.player import Together
from chickadee.sheet import read
from chickadee.sound.render import rendered

CLICK = Qt.MouseButton.LeftButton
RATE = 22_050
SUNG = "tempo: 100\nvoice A\n  sound: reed pipe\n  G4 B4 A4 | E4=2 D4 | G4 A4 D5 | B4=3 |\n"
TUNE = "title: Gull\nkey: G major\nmeter: 3/4\ntempo: 100\nvoice A\n  G4 B4 A4 | E4=2 D4 | G4 A4 rest | B4=3 |\n"


@pytest.fixture(scope="module")
def samples():
    sound = np.concatenate(list(rendered(read(SUNG).song, RATE))).mean(axis=1)
    return np.concatenate((np.zeros(RATE // 2), sound))


@pytest.fixture
def panel(qtbot, desk, tmp_path, samples):
    (tmp_path / "gull.chick").write_text(TUNE)
    soundfile.write(tmp_path / "take.wav", samples, RATE)
    desk.files.open_path(tmp_path / "gull.chick")
    desk.working.turn_to("recording")
    desk.working.set_size(PanelSize.ACROSS)
    panel = desk.panel("recording")
    yield panel
    panel.stop_work()
    panel.heard = panel.path = panel._kept = None
    desk.working.set_size(PanelSize.BESIDE)
    desk.working.turn_to("findings")
    desk.document.begin("")


def listened(qtbot, panel, path):
    panel.listen_to(path)
    qtbot.waitUntil(lambda: panel.heard is not None, timeout=30_000)
    qtbot.waitUntil(lambda: not panel._due.isActive(), timeout=3000)


def test_what_is_heard_and_not_in_the_tune_is_dashed_and_taken_one_by_one(qtbot, desk, panel, tmp_path):
    listened(qtbot, panel, tmp_path / "take.wav")
    assert panel.first.value() == pytest.approx(0.5, abs=0.03)
    assert [note.pitch.text for note in desk.preview.song.notes] == ["D5"]
    assert panel.table.rowCount() == 1 and panel.table.item(0, 0).text() == "bar 3, beat 3"
    assert "9 notes heard, 1 not in the tune yet" in panel.said.text()
    panel.setFocus()
    panel.table.selectRow(0)
    QTest.keyClick(panel, Qt.Key.Key_Return)
    assert "G4 A4 D5 | B4=3" in desk.document.text
    assert panel.table.rowCount() == 0 and desk.preview.song is None


def test_the_tune_remembers_its_recording_and_finds_it_again(qtbot, desk, panel, tmp_path):
    listened(qtbot, panel, tmp_path / "take.wav")
    qtbot.waitUntil(lambda: "recording: take.wav, 0.5" in desk.document.text, timeout=3000)
    desk.files.save()
    desk.document.begin("")
    panel.heard = panel.path = panel._kept = None
    desk.files.open_path(tmp_path / "gull.chick")
    qtbot.waitUntil(lambda: panel.heard is not None, timeout=30_000)
    assert panel.path == tmp_path / "take.wav"


def test_dragging_the_band_and_arrows_move_the_recording(qtbot, desk, panel, tmp_path):
    listened(qtbot, panel, tmp_path / "take.wav")
    band = panel.band
    before = panel.first.value()
    middle = QPoint(band.width() // 2, band.height() // 2)
    QTest.mousePress(band, CLICK, pos=middle)
    QTest.mouseMove(band, middle - QPoint(40, 0))
    QTest.mouseRelease(band, CLICK, pos=middle - QPoint(40, 0))
    moved = panel.first.value()
    assert moved > before + 0.1
    band.setFocus()
    QTest.keyClick(band, Qt.Key.Key_Right)
    assert panel.first.value() == pytest.approx(moved - 0.01)
    qtbot.waitUntil(lambda: panel.table.rowCount() > 1, timeout=3000)  # nothing is where it was in the tune


def test_all_is_taken_into_an_empty_tune_with_the_tempo_that_was_found(qtbot, desk, panel, tmp_path):
    desk.document.begin("meter: 3/4\nkey: G major\n")
    listened(qtbot, panel, tmp_path / "take.wav")
    assert panel.use_tempo.text() == "Use 100 beats a minute"
    qtbot.mouseClick(panel.use_tempo, CLICK)
    qtbot.waitUntil(lambda: not panel._due.isActive() and len(panel.laid.notes) == 9, timeout=3000)
    qtbot.mouseClick(panel.take_all, CLICK)
    assert "voice Heard\n  G4 B4 A4 | E4=2 D4 | G4 A4 D5 | B4=3 |" in desk.document.text
    assert not desk.document.reading.findings
    desk.document.text_document.undo()
    assert "Heard" not in desk.document.text


def test_the_selected_bars_alone_are_taken(qtbot, desk, panel, tmp_path):
    desk.document.begin("meter: 3/4\nkey: G major\ntempo: 100\nvoice A\n  C4=3 | C4=3 | C4=3 | C4=3 |\n")
    listened(qtbot, panel, tmp_path / "take.wav")
    desk.selection.choose_note(1)
    qtbot.mouseClick(panel.take_bars, CLICK)
    song = desk.document.reading.song
    assert [note.pitch.text for note in song.notes if note.voice == 1] == ["E4", "D4"]


def test_listening_is_cancelled_and_faults_are_said(qtbot, desk, panel, tmp_path):
    soundfile.write(tmp_path / "long.wav", np.zeros(RATE * 600), RATE)
    panel.listen_to(tmp_path / "long.wav")
    assert panel.cancel.isVisible() and not panel.open.isVisible()
    qtbot.wait(50)
    qtbot.mouseClick(panel.cancel, CLICK)
    assert panel.work is None and panel.heard is None and panel.open.isVisible()
    (tmp_path / "odd.wav").write_bytes(b"no sound")
    panel.listen_to(tmp_path / "odd.wav")
    qtbot.waitUntil(lambda: "odd.wav" in desk.notice.text, timeout=20_000)
    assert panel.path is None


def test_silence_has_no_notes_and_a_missing_file_is_said(qtbot, desk, panel, tmp_path):
    soundfile.write(tmp_path / "still.wav", np.zeros(RATE), RATE)
    listened(qtbot, panel, tmp_path / "still.wav")
    assert "no notes were heard" in panel.said.text() and not panel.take_all.isEnabled()
    desk.document.begin("")
    panel.heard = panel.path = None
    (tmp_path / "gone.chick").write_text("recording: gone.wav, 1\nC4\n")
    desk.files.open_path(tmp_path / "gone.chick")
    qtbot.waitUntil(lambda: "gone.wav is not there" in panel.said.text(), timeout=3000)


def test_tapping_gives_the_tempo(qtbot, desk, panel, tmp_path, monkeypatch):
    listened(qtbot, panel, tmp_path / "take.wav")
    moments = iter([10.0, 10.5, 11.0, 11.5, 12.0])
    monkeypatch.setattr("chickadee.desk.recording.panel.time.monotonic", lambda: next(moments))
    for _ in range(5):
        qtbot.mouseClick(panel.tap, CLICK)
    assert desk.document.reading.song.tempo_in_beats == 120


def test_a_sound_file_is_opened_by_the_menu_or_dropped(qtbot, desk, panel, tmp_path, monkeypatch):
    desk.working.turn_to("findings")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(tmp_path / "take.wav"))])
    desk.dropEvent(QDropEvent(QPointF(5, 5), Qt.DropAction.CopyAction, data, CLICK, Qt.KeyboardModifier.NoModifier))
    qtbot.waitUntil(lambda: panel.heard is not None, timeout=30_000)
    assert panel.isVisible()
    panel.heard = panel.path = None
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(tmp_path / "take.wav"), ""))
    desk.actions_by_id["recording.open"].trigger()
    qtbot.waitUntil(lambda: panel.heard is not None, timeout=30_000)


def test_the_recording_is_heard_with_the_tune_slower_and_in_turn(qtbot, desk, panel, tmp_path):
    listened(qtbot, panel, tmp_path / "take.wav")
    recorded = desk.playback.wanted.recorded
    assert recorded.path == str(tmp_path / "take.wav") and recorded.together is Together.BOTH
    assert recorded.first == pytest.approx(0.5, abs=0.03)
    heard = []
    seen = desk.player.started.connect(lambda: heard.append(desk.player._playing.recorded.together))
    panel.together.how.setCurrentIndex(list(Together).index(Together.IN_TURN))
    desk.playback.wish(speed=2)
    desk.playback.play(0, desk.document.reading.song.grid.end(1))
    qtbot.waitUntil(lambda: heard == [Together.RECORDING, Together.TUNE], timeout=30_000)
    qtbot.waitUntil(lambda: not desk.player.playing, timeout=30_000)
    desk.playback.wish(round=True)
    desk.playback.play(0, desk.document.reading.song.grid.end(1))
    qtbot.waitUntil(lambda: heard[2:] == [Together.RECORDING, Together.TUNE, Together.RECORDING], timeout=30_000)
    desk.player.started.disconnect(seen)
    desk.player.stop()
    desk.playback.wish(round=False, speed=1)
    panel.together.how.setCurrentIndex(0)
    panel.together.loud.setValue(100)
    assert desk.playback.wanted.recorded.level == pytest.approx(4 * recorded.level)
    desk.working.turn_to("findings")
    assert desk.playback.wanted.recorded is None


def test_a_bar_dragged_to_where_it_sounds_gives_the_tempo_and_several_give_a_map(qtbot, desk, panel, tmp_path):
    listened(qtbot, panel, tmp_path / "take.wav")
    desk.document.text_document.setPlainText(desk.document.text.replace("tempo: 100", "tempo: 80"))
    qtbot.waitUntil(lambda: desk.document.reading.song.tempo_in_beats == 80, timeout=3000)
    qtbot.waitUntil(lambda: not panel._due.isActive(), timeout=3000)
    band = panel.band
    x = dict(band.bar_lines())[3]
    sounds = band.pixel(panel.first.value() + 6 * 0.6)  # at 100 beats a minute
    at = QPoint(round(x) + 3, 6)
    goal = QPoint(round(sounds), 6)
    QTest.mousePress(band, CLICK, pos=at)
    QTest.mouseMove(band, goal)
    QTest.mouseRelease(band, CLICK, pos=goal)
    qtbot.waitUntil(lambda: "recording: take.wav" in desk.document.text, timeout=3000)
    assert desk.document.reading.song.tempo_in_beats == pytest.approx(100, abs=2)
    assert panel.anchors[0][0] == 3 and ", 3=" in desk.document.text
    band.setFocus()
    desk.selection.choose_note(len(desk.document.reading.song.notes) - 1)  # in bar 4
    QTest.keyClick(band, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert [bar for bar, _ in panel.anchors] == [3, 4] and panel.write_tempos.isVisible()
    qtbot.waitUntil(lambda: not panel._due.isActive(), timeout=3000)
    panel.write_tempos.click()
    tempos = desk.document.reading.song.tempo.tempos
    assert len(tempos) == 2 and "[tempo " in desk.document.text
    seconds = np.diff(desk.document.reading.song.tempo.seconds(panel.alignment.ticks))
    assert seconds == pytest.approx(np.diff(panel.alignment.seconds), abs=0.01)
    panel.clear_anchors.click()
    assert panel.anchors == () and "3=" not in desk.document.text


def test_what_was_heard_once_is_there_at_once_the_next_time(qtbot, desk, panel, tmp_path, monkeypatch):
    listened(qtbot, panel, tmp_path / "take.wav")
    first = panel.heard
    monkeypatch.setattr("chickadee.desk.recording.work.Listening.heard", lambda *_: pytest.fail("it listens again"))
    panel.heard = None
    listened(qtbot, panel, tmp_path / "take.wav")
    assert panel.heard is not first and panel.heard.notes == first.notes
    assert np.array_equal(panel.heard.hertz, first.hertz) and panel.overview.levels(np.array([0.6, 1.0]))[0] > 0.1


def test_a_panel_that_is_not_seen_leaves_what_another_shows(qtbot, desk, panel, tmp_path):
    listened(qtbot, panel, tmp_path / "take.wav")
    desk.working.turn_to("findings")
    song = read("C4").song
    desk.preview.show(song)
    panel._due.start()  # as after each edit
    qtbot.waitUntil(lambda: not panel._due.isActive(), timeout=3000)
    assert desk.preview.song is song
    desk.preview.show(None)
