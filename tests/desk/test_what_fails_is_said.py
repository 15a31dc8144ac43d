"""Whatever cannot be written, taken or changed is said in one sentence, and the tune stays as it is."""

from __future__ import annotations

from dataclasses import replace

import pytest

from chickadee.boards.unpacking import UnpackFault
from chickadee.desk.export import ExportRequest
from chickadee.desk.send.own_target import OwnTargetDialog
from chickadee.desk.signals import Wish
from chickadee.display.export_view import ExportView
from chickadee.ideas.recipe import Recipe
from chickadee.sheet import CannotEdit

TUNE = "title: Mill\nC4 E4 G4 C5 |\n"


@pytest.fixture
def fresh(desk):
    desk.document.begin(TUNE)
    desk.notice.clear(offers=True)
    yield desk
    desk.player.stop()
    desk.working.turn_to("findings")
    desk.document.begin("")


def shown(desk, qtbot, name):
    desk.working.turn_to(name)
    panel = desk.panel(name)
    qtbot.waitUntil(panel.isVisible)
    return panel


def save_list(desk, qtbot):
    panel = shown(desk, qtbot, "send")
    qtbot.waitUntil(lambda: panel.view is not None)
    panel.save_text()


def save_pages(desk, qtbot):
    panel = shown(desk, qtbot, "handout")
    qtbot.waitUntil(lambda: bool(panel.pages))
    panel.save(".svg")


def save_recipe(desk, qtbot):
    shown(desk, qtbot, "ideas").recipe_row.save_as()


def save_judgements(desk, qtbot):
    panel = shown(desk, qtbot, "compare")
    panel.outgoing.save_table(panel.window())


def save_tune(desk, qtbot):
    desk.files.save_as()


def save_midi(desk, qtbot):
    desk.exports.export_midi()


WRITERS = {
    "chickadee.desk.send.panel": save_list,
    "chickadee.desk.handout.panel": save_pages,
    "chickadee.desk.ideas.recipe_row": save_recipe,
    "chickadee.desk.compare.outgoing": save_judgements,
    "chickadee.desk.file_commands": save_tune,
    "chickadee.desk.exports": save_midi,
}


@pytest.mark.parametrize("module", WRITERS)
def test_a_file_that_cannot_be_written_is_named_with_the_reason(fresh, qtbot, tmp_path, monkeypatch, module):
    """A folder that went away while its name was asked for."""
    goal = tmp_path / "gone" / "file"
    monkeypatch.setattr(
        f"{module}.ask_for_goal",
        lambda *given, **more: goal.with_suffix(next(x for x in given[1:] if str(x)[:1] == ".")),
    )
    WRITERS[module](fresh, qtbot)
    assert "gone" in fresh.notice.text and "no such" in fresh.notice.text
    assert fresh.document.text == TUNE


def test_a_folder_that_goes_while_a_tune_is_exported_is_named(fresh, tmp_path):
    fresh.exports.write(tmp_path / "gone" / "tune.musicxml", ExportRequest(".musicxml"))
    assert "gone" in fresh.notice.text


def test_cells_that_no_board_would_take_are_said_when_they_are_to_be_heard(fresh, qtbot, monkeypatch):
    panel = shown(fresh, qtbot, "send")
    qtbot.waitUntil(lambda: panel.view is not None)

    def heard(self):
        raise UnpackFault("Cell 3 is no cell of this board.")

    monkeypatch.setattr(ExportView, "heard", heard)
    panel.hear_board()
    assert fresh.notice.text == "Cell 3 is no cell of this board."


def test_a_tune_that_cannot_be_made_to_fit_stays_and_that_is_said(fresh, qtbot, monkeypatch):
    fresh.document.begin("C1 E1 G1")
    panel = shown(fresh, qtbot, "send")
    panel.targets.setCurrentText("bollard")
    qtbot.waitUntil(panel.fit.isEnabled)

    def refused(*_):
        raise CannotEdit("This note is a near miss; apply its fix first.")

    monkeypatch.setattr("chickadee.desk.send.panel.edits.move_pitch", refused)
    panel.make_fit()
    assert "near miss" in fresh.notice.text and fresh.document.text == "C1 E1 G1"


def test_a_target_that_cannot_be_kept_says_why_and_the_dialog_stays(fresh, tmp_path):
    dialog = OwnTargetDialog(fresh.document.reading.song, None, tmp_path / "gone" / "\0", fresh)
    dialog.name.setText("...")
    dialog.save()
    assert dialog.said.text() == "Please give the target a name of letters and digits." and dialog.saved is None
    blocked = tmp_path / "a file"
    blocked.write_text("")
    dialog._folder = blocked
    dialog.name.setText("mine")
    dialog.save()
    assert "a file" in dialog.said.text() and dialog.saved is None
    dialog.deleteLater()


def test_a_port_that_is_not_there_is_said_and_nothing_is_told(fresh):
    fresh.signals.send_to(Wish(midi=True, port="no such port"))
    assert "MIDI" in fresh.notice.text or "no such port" in fresh.notice.text
    assert not fresh.signals.wish.midi


def test_a_recipe_whose_wishes_collide_is_said_where_ideas_would_stand(fresh, qtbot):
    panel = shown(fresh, qtbot, "ideas")
    before = panel.form.recipe
    panel.form.show_recipe(replace(Recipe(), lowest="C5", highest="C4"))
    panel.another_ten()
    qtbot.waitUntil(lambda: "collide" in panel.said.text(), timeout=5000)
    panel.form.show_recipe(before)


def test_a_recipe_that_is_not_there_or_none_is_named(fresh, qtbot, tmp_path, monkeypatch):
    row = shown(fresh, qtbot, "ideas").recipe_row
    broken = tmp_path / "broken.toml"
    broken.write_text("bars = 0")
    for path, said in ((tmp_path / "gone.toml", "gone.toml"), (broken, "broken.toml: bars is 0")):
        monkeypatch.setattr(
            "chickadee.desk.ideas.recipe_row.QFileDialog.getOpenFileName", lambda *_, path=path: (str(path), "")
        )
        row.ask_for_one()
        assert said in fresh.notice.text


def test_nothing_to_put_on_a_page_is_said_for_a_picture_too(fresh):
    fresh.document.begin("rest")
    fresh.panel("handout").copy_tune()
    assert "no notes" in fresh.notice.text


def test_a_file_that_is_not_there_is_said_and_the_tune_stays(fresh, tmp_path):
    fresh.files.open_path(tmp_path / "nowhere.mid")
    assert "nowhere.mid" in fresh.notice.text and fresh.document.text == TUNE
