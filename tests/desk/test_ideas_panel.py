"""The Ideas panel in the window: tunes made, heard, locked, kept and made into sets; changes seen and taken."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtWidgets import QApplication, QFileDialog, QPushButton

from chickadee.checks import checked_reading
from chickadee.desk.ideas.set_work import SetDialog
from chickadee.desk.working.spec import PanelSize
from chickadee.ideas.proposing import Way
from chickadee.ideas.recipe import Recipe, read_recipe
from chickadee.ideas.tune import tunes
from chickadee.sheet import read

CLICK = Qt.MouseButton.LeftButton
TUNE = "title: Mill\nkey: G major\nmeter: 3/4\nG4 B4 A4 | E4=2 D4 | G4 A4 C5 | B4=3 |\n"


@pytest.fixture
def panel(qtbot, desk, tmp_path):
    path = tmp_path / "mill.chick"
    path.write_text(TUNE)
    desk.files.open_path(path)
    desk.working.turn_to("ideas")
    desk.working.set_size(PanelSize.OVER)
    panel = desk.panel("ideas")
    panel._seed = 0
    panel.use_recipe(Recipe())
    ten(qtbot, panel)
    yield panel
    desk.player.stop()
    panel.gallery.lock(-1)
    panel.source.setCurrentIndex(0)
    desk.working.set_size(PanelSize.BESIDE)
    desk.working.turn_to("findings")
    desk.document.begin("")


def ten(qtbot, panel, count=10):
    qtbot.waitUntil(lambda: not panel._due.isActive() and not panel._maker.isActive(), timeout=8000)
    qtbot.waitUntil(lambda: panel.gallery.count() >= count, timeout=8000)
    return [idea.reading.text for idea in panel.gallery.ideas]


def click_on(qtbot, gallery, row):
    rect = gallery.visualItemRect(gallery.item(row))
    qtbot.mouseClick(gallery.viewport(), CLICK, pos=rect.center() - QPoint(0, 2))


def test_ten_different_tunes_of_the_recipe_and_ten_others(qtbot, panel):
    first = ten(qtbot, panel)
    assert first == tunes(Recipe(), 1, 10)
    qtbot.mouseClick(panel.again, CLICK)
    others = ten(qtbot, panel)
    assert len(set(others) | set(first)) == 20
    assert "steps" in panel.gallery.ideas[0].facts


def test_controls_change_the_recipe_and_the_tunes_follow(qtbot, panel):
    panel.form.level.setValue(3)
    assert all("key: G major" in text for text in ten(qtbot, panel))
    panel.form.key.setCurrentText("D major")
    assert panel.form.recipe.ladder[0].text == "G3"
    panel.form.lengths["1/2"].click()
    texts = ten(qtbot, panel)
    assert all("key: D major" in text and "=1/2" not in text for text in texts)
    panel.form.bars.setValue(7)
    qtbot.waitUntil(lambda: "7 bars cannot be shared" in panel.said.text(), timeout=3000)
    assert panel.gallery.count() == 0 and not panel.keep.isEnabled()
    panel.form.bars.setValue(8)
    ten(qtbot, panel)
    assert not panel.said.isVisible()


def test_the_little_keyboard_says_which_notes_are_used(qtbot, panel):
    keys = panel.form.keys
    for number in (62, 64, 65, 69, 71):
        qtbot.mouseClick(keys, CLICK, pos=keys.key_rect(number).center() + QPoint(0, 12))
    assert panel.form.recipe.notes == ("C4", "G4", "C5")
    keys.setFocus()
    keys._at = 63
    qtbot.keyClick(keys, Qt.Key.Key_Right)
    qtbot.keyClick(keys, Qt.Key.Key_Space)
    assert panel.form.recipe.notes == ("C4", "E4", "G4", "C5")
    for text in ten(qtbot, panel):
        assert {note.number for note in read(text).song.notes} <= {60, 64, 67, 72}


def test_a_click_plays_an_idea_and_the_open_tune_s_views_stay(qtbot, desk, panel):
    click_on(qtbot, panel.gallery, 2)
    qtbot.waitUntil(lambda: desk.player.playing, timeout=3000)
    assert panel.gallery.playing == 2
    assert desk.playback.other_scene.song.title == "Practice tune 3"
    qtbot.waitUntil(lambda: desk.player.tick > 0, timeout=5000)
    assert desk.timeline._playhead is None
    desk.editor.insertPlainText(" ")  # editing the open tune does not bring it into what is heard
    assert desk.playback.other_scene is not None
    click_on(qtbot, panel.gallery, 2)
    assert not desk.player.playing
    panel.gallery.setFocus()
    qtbot.keyClick(panel.gallery, Qt.Key.Key_Right)
    qtbot.keyClick(panel.gallery, Qt.Key.Key_Return)
    assert panel.gallery.playing == panel.gallery.currentRow() != 2


def test_a_locked_idea_stays_and_the_others_are_like_it(qtbot, desk, panel):
    panel.gallery.setCurrentRow(4)
    locked = panel.gallery.chosen
    qtbot.mouseClick(panel.lock, CLICK)
    assert panel.again.text() == "Nine like it"
    desk.actions_by_id["ideas.again"].trigger()
    texts = ten(qtbot, panel)
    assert texts[0] == locked.reading.text and len(set(texts)) == 10
    own = [(note.start, note.length) for note in locked.song.notes]
    pitches = [note.number for note in locked.song.notes]
    for idea in panel.gallery.ideas[1:]:
        same_rhythm = [(note.start, note.length) for note in idea.song.notes] == own
        assert same_rhythm or [note.number for note in idea.song.notes] == pitches
    panel.gallery.setCurrentRow(0)
    panel.lock.click()
    assert panel.gallery.locked is None


def test_keep_puts_a_tune_on_the_shelf_under_a_name_of_its_own(desk, panel, tmp_path):
    panel.gallery.setCurrentRow(1)
    for _ in range(2):
        desk.actions_by_id["ideas.keep"].trigger()
    kept = sorted(path.name for path in tmp_path.glob("practice*"))
    assert kept == ["practice-tune-2-2.chick", "practice-tune-2.chick"]
    assert (tmp_path / kept[0]).read_text() == panel.gallery.ideas[1].reading.text
    tmp_path.chmod(0o500)
    try:
        panel.keep_it()
    finally:
        tmp_path.chmod(0o700)


@pytest.mark.parametrize("way", list(Way))
def test_a_change_of_the_open_tune_is_seen_taken_and_taken_back(qtbot, desk, panel, way):
    panel.source.setCurrentText(way.value)
    ten(qtbot, panel, 1)
    panel.gallery.setCurrentRow(0)
    idea = panel.gallery.chosen
    assert desk.preview.song is idea.new and idea.new.notes
    click_on(qtbot, panel.gallery, 0)
    assert desk.playback.other_scene is None and desk.player.playing
    desk.player.stop()
    assert panel.take.isVisible() and not panel.keep.isVisible()
    qtbot.mouseClick(panel.take, CLICK)
    assert desk.document.text == idea.reading.text
    assert not [each for each in checked_reading(desk.document.text).findings if each.severity.name == "ERROR"]
    desk.document.text_document.undo()
    assert desk.document.text == TUNE


def test_chords_are_chosen_bar_by_bar(qtbot, desk, panel):
    panel.source.setCurrentText(Way.CHORDS.value)
    ten(qtbot, panel, 2)
    assert len(panel.chords.boxes) == 4 and all(2 <= box.count() <= 3 for box in panel.chords.boxes)
    box = panel.chords.boxes[1]
    box.setCurrentIndex(box.count() - 1)
    wanted = box.currentText()
    ten(qtbot, panel, 2)
    assert panel.gallery.ideas[0].facts.split(" · ")[1] == wanted


def test_a_tune_without_notes_says_what_to_do(qtbot, desk, panel):
    desk.document.begin("title: Nothing yet\n")
    panel.source.setCurrentText(Way.SECOND.value)
    qtbot.waitUntil(lambda: "no notes" in panel.said.text(), timeout=3000)
    assert panel.gallery.count() == 0


def test_a_recipe_is_saved_and_opened_again(qtbot, panel, tmp_path, monkeypatch):
    goal = tmp_path / "mine"
    panel.form.level.setValue(6)
    recipe = panel.form.recipe
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(goal), ""))
    panel.recipe_row.save.click()
    assert read_recipe(goal.with_suffix(".toml").read_text()) == recipe
    panel.use_recipe(Recipe())
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(goal.with_suffix(".toml")), ""))
    panel.recipe_row.load.click()
    assert panel.form.recipe == recipe
    goal.with_suffix(".toml").write_text("bars = 0")
    panel.recipe_row.load.click()
    assert panel.form.recipe == recipe


def fill_dialog(folder, count, form=0):
    dialog = QApplication.activeModalWidget()
    assert isinstance(dialog, SetDialog)
    dialog.folder.setText(str(folder))
    dialog.count.setValue(count)
    dialog.form.setCurrentIndex(form)
    return dialog


def test_a_set_is_written_into_a_folder_and_nothing_is_replaced(qtbot, desk, panel, tmp_path):
    folder = tmp_path / "tomorrow"
    QTimer.singleShot(200, lambda: fill_dialog(folder, 12).go_on.click())
    desk.actions_by_id["ideas.set"].trigger()
    qtbot.waitUntil(lambda: panel.sets.work is None, timeout=20_000)
    assert [path.read_text() for path in sorted(folder.iterdir())] == tunes(Recipe(), 1, 12)
    assert "12 tunes written" in desk.notice.text
    seen = []

    def again():
        dialog = fill_dialog(folder, 3)
        seen.append((dialog.go_on.isEnabled(), dialog.said.text()))
        dialog.reject()

    QTimer.singleShot(200, again)
    panel.make_set()
    assert seen == [
        (False, "idea-01.chick is in this folder already; choose another folder, so that nothing is replaced.")
    ]


def test_a_set_is_cancelled(qtbot, desk, panel, tmp_path):
    QTimer.singleShot(200, lambda: fill_dialog(tmp_path / "many", 5000, 2).go_on.click())
    panel.make_set()
    assert panel.sets.work is not None
    qtbot.waitUntil(lambda: QApplication.activeModalWidget() is not None, timeout=10_000)
    progress = QApplication.activeModalWidget()
    qtbot.mouseClick(progress.findChild(QPushButton), CLICK)
    qtbot.waitUntil(lambda: panel.sets.work is None, timeout=10_000)
    assert "Cancelled" in desk.notice.text
