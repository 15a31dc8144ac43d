"""What is checked: chosen in a dialog, kept in the tune's folder, followed by the window, the shelf and the command."""

from __future__ import annotations

import pytest

from chickadee.checks import CHECKS, LIMITS, USUAL, Profile, read_profile, write_profile
from chickadee.cli.main import main
from chickadee.desk.checks_dialog import ChecksDialog


def codes(desk):
    return [finding.code for finding in desk.document.reading.findings]


@pytest.fixture
def folder(tmp_path):
    (tmp_path / "reeds.chick").write_text("C4 C5 D5=3/4\n")
    return tmp_path


def test_the_dialog_shows_every_rule_and_limit_and_says_only_what_differs(desk):
    dialog = ChecksDialog(USUAL, "Reeds", desk.look, desk)
    assert dialog.boxes.keys() == {check.rule.code for check in CHECKS}
    assert dialog.limits.keys() == LIMITS.keys()
    assert dialog.profile == USUAL
    dialog.boxes["leap"].click()
    dialog.limits["largest-leap"].setText("7")
    assert dialog.profile == Profile({"leap": True}, {"largest-leap": "7"})
    dialog.limits["lengths"].setText("two")
    dialog.keep.click()
    assert dialog.fault.text().startswith("Lengths are beats") and not dialog.result()
    dialog.show_profile(USUAL)
    assert dialog.profile == USUAL


def test_what_is_chosen_is_kept_in_the_folder_and_followed_everywhere(desk, folder, monkeypatch, capsys):
    desk.files.open_path(folder / "reeds.chick")
    assert codes(desk) == []
    wanted = Profile({"leap": True, "length-set": True}, {"largest-leap": "7"})

    def choose(dialog):
        dialog.show_profile(wanted)
        return 1

    monkeypatch.setattr(ChecksDialog, "exec", choose)
    desk.actions_by_id["checks.choose"].trigger()
    assert codes(desk) == ["leap", "length-set"]
    assert read_profile(folder / "checks.toml") == wanted
    desk.document.new()
    assert desk.document.profile == USUAL
    desk.files.open_path(folder / "reeds.chick")
    assert codes(desk) == ["leap", "length-set"]
    desk.shelf.show_folder(folder)
    desk.shelf.read_all()
    assert desk.shelf._items()[0].data(0x100).findings == 2
    with pytest.raises(SystemExit) as end:
        main(["check", str(folder / "reeds.chick")])
    assert end.value.code == 0 and "hint leap" in capsys.readouterr().out


def test_a_broken_profile_is_said_and_the_tune_opens_all_the_same(desk, folder, capsys):
    (folder / "checks.toml").write_text("[rules]\nleap = 3\n")
    desk.files.open_path(folder / "reeds.chick")
    assert desk.document.path == folder / "reeds.chick" and codes(desk) == []
    assert "leap should be true or false" in desk.notice.text
    with pytest.raises(SystemExit) as end:
        main(["check", str(folder / "reeds.chick")])
    out, err = capsys.readouterr()
    assert (end.value.code, out) == (2, "") and "checks.toml" in err


def test_a_folder_that_takes_no_profile_says_so(desk, folder, monkeypatch):
    desk.files.open_path(folder / "reeds.chick")
    (folder / "checks.toml").mkdir()
    desk.files.keep_profile(folder, Profile({"leap": True}))
    assert "checks.toml" in desk.notice.text


def test_saving_into_a_folder_takes_its_profile_on(desk, folder):
    write_profile(folder / "checks.toml", Profile({"leap": True}))
    desk.document.new()
    desk.document.text_document.setPlainText("C3 C5")
    assert codes(desk) == []
    desk.document.save(folder / "new.chick")
    assert codes(desk) == ["leap"]
