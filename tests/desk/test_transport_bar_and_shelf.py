"""The transport bar's fields, the voices and the shelf, each worked where it stands."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QFile, Qt
from PyQt6.QtWidgets import QApplication

from chickadee.desk.mix import Mark

CLICK = Qt.MouseButton.LeftButton
KEY = Qt.Key


def body(desk):
    return desk.document.reading.text


def give(qtbot, field, text):
    qtbot.mouseClick(field.value, CLICK)
    assert field.field.isVisible()
    qtbot.keyClicks(field.field, text)
    qtbot.keyClick(field.field, KEY.Key_Return)


def test_the_strip_s_fields_write_the_song_s_properties(qtbot, desk):
    desk.document.text_document.setPlainText("title: T\ntempo: 92\n\nvoice V\n  C4")
    give(qtbot, desk.transport_bar.tempo, "120")
    give(qtbot, desk.transport_bar.meter, "3/4")
    give(qtbot, desk.transport_bar.key, "D minor")
    assert body(desk) == "title: T\ntempo: 120\nmeter: 3/4\nkey: D minor\n\nvoice V\n  C4"
    assert desk.transport_bar.key.value.text() == "D minor"
    give(qtbot, desk.transport_bar.tuning, "nonsense")
    assert "from 220 to 880" in desk.notice.text
    assert "tuning" not in body(desk)
    qtbot.mouseClick(desk.transport_bar.tempo.value, CLICK)
    qtbot.keyClicks(desk.transport_bar.tempo.field, "77")
    qtbot.keyClick(desk.transport_bar.tempo.field, KEY.Key_Escape)
    assert desk.transport_bar.tempo.field.isHidden()
    assert desk.document.reading.song.tempo_in_beats == 120
    for _ in range(3):
        desk.editor.undo()
    assert body(desk).startswith("title: T\ntempo: 92\n\n")
    desk.document.text_document.setPlainText("")
    give(qtbot, desk.transport_bar.tempo, "60")
    assert body(desk) == "tempo: 60\n"


def test_voices_are_brought_forward_silenced_hidden_and_given_sounds(qtbot, desk):
    desk.document.text_document.setPlainText(
        "voice High\n  C5 D5\n\nvoice Low\n  sound: sine\n  C3\n\nvoice Bells\n  rest"
    )
    panel = desk.panel("voices")
    desk.working.turn_to("voices")
    qtbot.mouseClick(panel.rows[1].name, CLICK)
    assert [desk.document.reading.song.notes[index].number for index in desk.selection.notes] == [48]
    assert panel.rows[1].name.isChecked() and not panel.rows[0].name.isChecked()
    qtbot.mouseClick(panel.rows[2].name, CLICK)
    assert desk.selection.front == 2
    qtbot.mouseClick(panel.rows[0].marks[Mark.MUTE], CLICK)
    assert desk.playback.wanted.silent == {0}
    qtbot.mouseClick(panel.rows[1].marks[Mark.SOLO], CLICK)
    assert desk.playback.wanted.silent == {0, 2}
    qtbot.mouseClick(panel.rows[0].marks[Mark.HIDE], CLICK)
    assert desk.timeline._hidden == {0}
    panel.rows[0].sound.setCurrentText("organ pipe")
    panel.rows[0].sound.activated.emit(0)
    panel.rows[1].sound.setCurrentText("reed pipe")
    panel.rows[1].sound.activated.emit(0)
    assert body(desk).startswith("voice High\n  sound: organ pipe\n  C5 D5\n\nvoice Low\n  sound: reed pipe\n")
    assert desk.playback.wanted.silent == {0, 2}  # kept by name while the sheet changes
    desk.working.turn_to("findings")
    desk.document.text_document.setPlainText("C4")
    assert desk.playback.wanted.silent == set()


@pytest.fixture
def shelf(qtbot, desk, tmp_path):
    for name in ("gull", "mill", "reed"):
        (tmp_path / f"{name}.chick").write_text(f"title: {name.title()} call\nC4 D4")
    desk.shelf.show_folder(tmp_path)
    desk.shelf.read_all()
    yield desk.shelf
    desk.shelf.search.clear()


def titles(shelf):
    return [item.data(Qt.ItemDataRole.UserRole).title for item in shelf._items() if not item.isHidden()]


def test_the_shelf_searches_and_follows_its_folder(qtbot, desk, shelf, tmp_path):
    qtbot.keyClicks(shelf.search, "mill")
    assert titles(shelf) == ["Mill call"]
    shelf.search.clear()
    (tmp_path / "night.chick").write_text("title: Night call\nE4")
    qtbot.waitUntil(lambda: "Night call" in titles(shelf), timeout=5000)
    (tmp_path / "gull.chick").unlink()
    qtbot.waitUntil(lambda: "Gull call" not in titles(shelf), timeout=5000)


def test_tunes_are_renamed_duplicated_and_put_away(qtbot, desk, shelf, tmp_path, monkeypatch):
    path = tmp_path / "gull.chick"
    desk.files.open_path(path)
    actions = {action.text(): action for action in shelf.menu_for(path).actions()}
    actions["Duplicate"].trigger()
    assert (tmp_path / "gull 2.chick").read_text() == path.read_text()
    monkeypatch.setattr("chickadee.desk.file_commands.ask_for_text", lambda *_: "mill")
    actions["Rename the file…"].trigger()
    assert "already exists" in desk.notice.text
    desk.files.rename(path, "a/b")
    assert "cannot be the name of a file" in desk.notice.text
    monkeypatch.setattr("chickadee.desk.file_commands.ask_for_text", lambda *_: "landing")
    actions["Rename the file…"].trigger()
    assert desk.document.path == tmp_path / "landing.chick"
    assert not path.exists()
    monkeypatch.setattr(QFile, "moveToTrash", lambda name: bool(__import__("os").remove(name) or True))
    desk.files.put_away(tmp_path / "landing.chick")
    assert (desk.document.path, desk.document.modified) == (None, True)  # still on the screen
    monkeypatch.setattr(QFile, "moveToTrash", lambda name: False)
    desk.files.put_away(tmp_path / "mill.chick")
    assert "no trash" in desk.notice.text
    assert (tmp_path / "mill.chick").exists()


def test_asking_about_a_tune_leaves_the_open_one_marked(qtbot, desk, shelf, tmp_path):
    desk.files.open_path(tmp_path / "gull.chick")
    other = next(item for item in shelf._items() if item.data(Qt.ItemDataRole.UserRole).path.stem == "mill")
    at = shelf.list.visualItemRect(other).center()
    qtbot.mouseClick(shelf.list.viewport(), Qt.MouseButton.RightButton, pos=at)
    shelf.list.customContextMenuRequested.emit(at)
    assert shelf.list.currentItem() is other
    menu = QApplication.activePopupWidget()
    qtbot.keyClick(menu, KEY.Key_Escape)
    assert shelf.list.currentItem().data(Qt.ItemDataRole.UserRole).path.stem == "gull"


def test_recent_folders_are_offered(desk, tmp_path):
    for name in ("one", "two"):
        (tmp_path / name).mkdir()
        desk.files.open_folder(tmp_path / name)
    offered = [action.text() for action in desk.menus.recent.actions()]
    assert offered[:2] == [str(tmp_path / "two"), str(tmp_path / "one")]


def test_a_bar_the_selection_and_the_whole_tune_are_played_alone(desk, monkeypatch):
    played = []
    monkeypatch.setattr(desk.player, "play", lambda playing: played.append((playing.start, playing.end)))
    desk.document.text_document.setPlainText("meter: 3/4\nC4 D4 E4 | F4 G4 A4 | B4=3 |")
    quarter = 8_064_000
    desk.selection.choose_notes([4, 5])
    for name in ("play.bar", "play.selection", "play.all", "play.toggle"):
        desk.actions_by_id[name].trigger()
    assert played == [(3 * quarter, 6 * quarter), (4 * quarter, 6 * quarter), (0, None), (4 * quarter, None)]
