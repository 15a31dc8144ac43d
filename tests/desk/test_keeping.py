"""Nothing is lost: journals, recovery, files changed by others."""

from __future__ import annotations

import json
import os
import random
import subprocess
import sys
import time
from itertools import pairwise
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPlainTextEdit

from chickadee.desk.journal import Journal, left_behind
from chickadee.desk.versions import VersionsDialog, differing
from chickadee.sheet.tidy import tidy

CLICK = Qt.MouseButton.LeftButton
KILLS = int(os.environ.get("CHICKADEE_KILLS", "4"))


def test_a_journal_holds_the_newest_and_belongs_to_the_living(tmp_path):
    journal = Journal(tmp_path)
    for text in ("C4", "C4 D4", "C4 D4 ♯\ud800"):
        journal.keep(text, Path("/music/tune.chick"))
    journal.wait()
    assert left_behind(tmp_path) == []  # its desk is alive
    journal.close(forget=False)
    [(file, what)] = left_behind(tmp_path)
    assert (what.text, what.path, what.name) == ("C4 D4 ♯\ud800", "/music/tune.chick", "tune.chick")
    file.write_text("{half")
    assert left_behind(tmp_path) == []
    other = Journal(tmp_path)
    other.keep("E4", None)
    other.close()
    assert not list(tmp_path.glob("*.lock"))
    assert [each.name for each in tmp_path.glob("*.json")] == [file.name]


def test_a_journal_that_cannot_be_written_says_why_and_goes_on(tmp_path):
    (tmp_path / "file").write_text("in the way")
    journal = Journal(tmp_path / "file" / "journal")
    journal.keep("C4", None)
    journal.wait()
    assert journal.fault
    journal.close()


@pytest.mark.parametrize("seed", range(KILLS))
def test_a_killed_desk_loses_nothing_that_was_on_the_screen_a_second_before(seed, tmp_path):
    environment = os.environ | {f"XDG_{name}_HOME": str(tmp_path) for name in ("STATE", "CONFIG", "DATA")}
    typist = subprocess.Popen(
        [sys.executable, str(Path(__file__).parent / "typist.py"), str(seed)],
        env=environment, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
    )  # fmt: skip
    assert typist.stdout is not None
    seen = [json.loads(typist.stdout.readline())]
    until = time.time() + 1.3 + 2 * random.Random(seed).random()
    while time.time() < until:
        seen.append(json.loads(typist.stdout.readline()))
    killed = time.time()
    typist.kill()
    rest = [line for line in typist.communicate()[0].split("\n") if line.endswith("]")]
    seen += [json.loads(line) for line in rest]
    left = [what.text for _, what in left_behind(tmp_path / "chickadee" / "journal")]
    assert len(left) <= 1
    places = [place for place, (_, text) in enumerate(seen) if [text] == left] if left else [-1]
    assert places, "the journal holds a sheet that never was on the screen"
    moments = [*(moment for moment, _ in seen), killed]
    stood_still = max(after - before for before, after in pairwise(moments))  # the machine: it types every 60 ms
    assert all(moment > killed - 1 - stood_still for moment, _ in seen[places[-1] + 1 :])


def test_what_was_left_behind_is_offered_and_brought_back(qtbot, desk, tmp_path, monkeypatch):
    file = tmp_path / "tune.chick"
    file.write_text("C4")
    gone = Journal(tmp_path / "journal")
    gone.keep("C4 D4 E4", file)
    gone.close(forget=False)
    monkeypatch.setattr("chickadee.desk.keeping.left_behind", lambda: left_behind(tmp_path / "journal"))
    desk.keeping.offer_left_behind()
    assert "Work on tune.chick" in desk.notice.text
    qtbot.mouseClick(desk.notice.offer, CLICK)
    assert desk.document.reading.text == "C4 D4 E4"
    assert (desk.document.path, desk.document.modified) == (file, True)
    assert left_behind(tmp_path / "journal") == []
    desk.filing.save()
    assert file.read_text() == "C4 D4 E4"
    desk.notice.clear(offers=True)
    again = Journal(tmp_path / "journal")
    again.keep("C4 D4 E4", file)  # saved meanwhile: not worth a word
    again.close(forget=False)
    desk.keeping.offer_left_behind()
    assert desk.notice.text == ""


def test_a_file_changed_by_another_program_is_taken_or_compared(qtbot, desk, tmp_path, monkeypatch):
    file = tmp_path / "tune.chick"
    file.write_text("C4")
    desk.open_path(file)
    file.write_text("C4 D4")
    qtbot.waitUntil(lambda: desk.document.reading.text == "C4 D4", timeout=5000)
    assert not desk.document.modified
    assert "changed by another program" in desk.notice.text
    desk.editor.undo()
    assert desk.document.reading.text == "C4"
    desk.editor.redo()

    desk.editor.moveCursor(desk.editor.textCursor().MoveOperation.End)
    qtbot.keyClicks(desk.editor, " E4")
    file.write_text("G4")
    qtbot.waitUntil(lambda: "and here too" in desk.notice.text, timeout=5000)
    seen = []

    def answer(dialog, choice):
        seen.append([view.toPlainText() for view in dialog.findChildren(QPlainTextEdit)])
        return choice

    monkeypatch.setattr(VersionsDialog, "exec", lambda dialog: answer(dialog, 0))
    assert desk.filing.save() is False  # decide later: nothing is written
    assert file.read_text() == "G4"
    assert seen == [["C4 D4 E4", "G4"]]
    monkeypatch.setattr(VersionsDialog, "exec", lambda dialog: answer(dialog, VersionsDialog.MINE))
    assert desk.filing.save()
    assert file.read_text() == "C4 D4 E4"

    qtbot.keyClicks(desk.editor, " F4")
    file.write_text("A4")
    monkeypatch.setattr(VersionsDialog, "exec", lambda dialog: answer(dialog, VersionsDialog.FILE))
    desk.filing.save()
    assert desk.document.reading.text == "A4"
    desk.editor.undo()
    assert desk.document.reading.text == "C4 D4 E4 F4"  # the other version is one undo away


LINES = st.lists(st.sampled_from(["C4", "D4", "E4", ""]), max_size=12)


@given(LINES, LINES)
def test_without_the_lines_that_differ_two_versions_are_the_same(mine, other):
    lines = differing(mine, other)
    left = [
        [line for at, line in enumerate(text) if at not in out]
        for text, out in zip((mine, other), lines, strict=True)
    ]
    assert left[0] == left[1]
    assert (lines == ([], [])) == (mine == other)


def test_every_line_that_differs_is_marked(desk):
    text = ["C4", "D4", "E4", "F4", "G4"]
    dialog = VersionsDialog("\n".join(text), "\n".join([*text[:1], "A4", *text[2:], "B4"]), "T", desk.look, desk)
    here, there = dialog.findChildren(QPlainTextEdit)
    assert [mark.cursor.block().text() for mark in here.extraSelections()] == ["D4"]
    assert [mark.cursor.block().text() for mark in there.extraSelections()] == ["A4", "B4"]
    dialog.deleteLater()


def test_switches_are_remembered(desk):
    desk.actions_by_text["Evening theme"].trigger()
    assert desk.settings.is_on("Evening theme", False)
    desk.actions_by_text["Evening theme"].trigger()
    assert not desk.settings.is_on("Evening theme", True)
    desk.settings.note_folder(Path("/tmp"))
    desk.settings.note_folder(Path("/"))
    assert desk.settings.recent_folders[:2] == [Path("/"), Path("/tmp")]


def test_the_first_time_a_tune_explains_itself_and_only_then(desk):
    desk.welcome()
    song = desk.document.reading.song
    assert (len(song.notes), desk.document.reading.findings, desk.document.modified) == (36, (), False)
    assert tidy(desk.document.reading.text) == desk.document.reading.text
    desk.document.new()
    desk.welcome()
    assert desk.document.reading.text == ""
