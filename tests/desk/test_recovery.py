"""Nothing is lost: journals, recovery, files changed by others."""

from __future__ import annotations

import json
import os
import random
import subprocess
import sys
import tempfile
import time
from itertools import pairwise
from pathlib import Path

import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QMessageBox, QPlainTextEdit, QPushButton

from chickadee import read
from chickadee.desk.earlier_work import EarlierWorkDialog
from chickadee.desk.export import ExportRequest
from chickadee.desk.export_dialog import ExportDialog
from chickadee.desk.journal import Journal, earlier_work, left_behind, put_by, set_aside
from chickadee.desk.settings import Settings
from chickadee.desk.signals import Signals
from chickadee.desk.versions import VersionsDialog, differing
from chickadee.files import tunes_in
from chickadee.sheet.tidy import tidy
from chickadee.signals.routes import read_routes

CLICK = Qt.MouseButton.LeftButton
KILLS = int(os.environ.get("CHICKADEE_KILLS", "4"))


def test_a_journal_holds_the_newest_and_belongs_to_the_living(tmp_path):
    journal = Journal(tmp_path)
    for text in ("C4", "C4 D4", "C4 D4 ♯"):
        journal.keep(text, Path("/music/tune.chick"))
    journal.wait()
    assert left_behind(tmp_path) == []  # its desk is alive
    journal.close(forget=False)
    [(file, what)] = left_behind(tmp_path)
    assert (what.text, what.path, what.name) == ("C4 D4 ♯", "/music/tune.chick", "tune.chick")
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


@pytest.fixture
def behind(desk, tmp_path, monkeypatch):
    """Leave work behind as a desk does that is killed, and see what this desk offers; its answers to two versions."""
    folder = tmp_path / "journal"
    seen = []
    monkeypatch.setattr("chickadee.desk.recovery.left_behind", lambda: left_behind(folder))
    monkeypatch.setattr("chickadee.desk.recovery.set_aside", lambda: set_aside(folder))
    answers = iter([])

    def leave(*work, answer=(), may_leave=True):
        nonlocal answers
        for text, path in work:
            gone = Journal(folder)
            gone.keep(text, path)
            gone.close(forget=False)
            time.sleep(0.01)
        answers = iter(answer)
        monkeypatch.setattr(VersionsDialog, "exec", lambda dialog: seen.append(shown(dialog)) or next(answers))
        monkeypatch.setattr(desk.recovery, "may_leave", lambda: may_leave)
        desk.recovery.offer_left_behind()
        return seen

    leave.folder = folder
    yield leave
    desk.notice.clear(offers=True)


def shown(dialog):
    return [view.toPlainText() for view in dialog.findChildren(QPlainTextEdit)]


def test_what_was_left_behind_is_shown_beside_its_file_and_brought_back(qtbot, desk, tmp_path, behind):
    file = tmp_path / "tune.chick"
    file.write_text("C4")
    seen = behind(("C4 D4 E4", file), answer=[0, VersionsDialog.MINE])
    assert "Work on tune.chick" in desk.notice.text
    desk.document.begin("G4")
    qtbot.mouseClick(desk.notice.offer, CLICK)
    assert desk.document.text == "G4" and "Work on tune.chick" in desk.notice.text  # decided later: still offered
    qtbot.mouseClick(desk.notice.offer, CLICK)
    assert seen == [["C4 D4 E4", "C4"]] * 2
    assert desk.document.text == desk.document.reading.text == "C4 D4 E4"
    assert (desk.document.path, desk.document.modified) == (file, True)
    assert left_behind(behind.folder) == []
    desk.editor.undo()
    assert (desk.document.text, desk.document.modified) == ("C4", False)  # undo goes back to what the file holds
    desk.editor.redo()
    desk.files.save()
    assert file.read_text() == "C4 D4 E4"
    desk.notice.clear(offers=True)
    behind(("C4 D4 E4", file))  # saved meanwhile: not worth a word
    assert desk.notice.text == ""


def test_a_file_that_is_newer_can_be_taken_instead_and_unsaved_work_is_not_replaced_unasked(
    qtbot, desk, tmp_path, behind
):
    file = tmp_path / "tune.chick"
    file.write_text("A4")
    behind(("C4", file), may_leave=False)
    desk.editor.setPlainText("E4 not saved")
    qtbot.mouseClick(desk.notice.offer, CLICK)
    assert desk.document.text == "E4 not saved" and left_behind(behind.folder)
    behind(answer=[VersionsDialog.FILE])
    qtbot.mouseClick(desk.notice.offer, CLICK)
    assert (desk.document.text, desk.document.path, desk.document.modified) == ("A4", file, False)
    assert left_behind(behind.folder) == []


def test_offers_wait_for_each_other_and_for_every_other_message(qtbot, desk, tmp_path, behind):
    tunes = [tmp_path / f"{name}.chick" for name in "abc"]
    behind(*(("C4 D4", path) for path in tunes))
    assert "c.chick" in desk.notice.text  # the newest first
    desk.notice.say("Good news.", good=True)
    desk.notice.say("Bad news.")
    desk.files.open_path(tune_in(tmp_path))
    assert desk.document.path == tmp_path / "there.chick" and "c.chick" in desk.notice.text
    for name in "cba":
        assert f"{name}.chick" in desk.notice.text
        qtbot.mouseClick(desk.notice.offer, CLICK)  # there is no file to compare with
        assert desk.document.path == tmp_path / f"{name}.chick"
    assert desk.notice.text == "" and left_behind(behind.folder) == []


def tune_in(folder):
    (folder / "there.chick").write_text("F4")
    return folder / "there.chick"


def test_a_tune_that_is_opened_by_name_leaves_the_offer_standing(desk, tmp_path, behind):
    behind(("C4 D4", tmp_path / "gone.chick"))
    desk.files.open_path(tune_in(tmp_path))
    assert "gone.chick" in desk.notice.text


BROKEN = {
    "half": '{"path": null, "text": "C4", "ti',
    "time is text": '{"path": null, "text": "C4", "time": "now"}',
    "time is null": '{"path": null, "text": "C4", "time": null}',
    "time is no number": '{"path": null, "text": "C4", "time": NaN}',
    "path is a number": '{"path": 5, "text": "C4", "time": 1}',
    "path holds a NUL": '{"path": "a\\u0000b", "text": "C4", "time": 1}',
    "text is a list": '{"path": null, "text": ["C4"], "time": 1}',
    "a list": "[]",
    "nested": "[" * 100_000,
    "a pipe": None,
}


@pytest.mark.parametrize("when", [0, -5e9, 86_400, 1e300, "61 days ago", "in 80 years"])
def test_work_is_offered_whatever_the_clock_said_and_says(qtbot, desk, behind, tmp_path, when):
    behind.folder.mkdir()
    file = behind.folder / "1-a.json"
    seconds = {"61 days ago": time.time() - 61 * 86_400, "in 80 years": time.time() + 80 * 366 * 86_400}.get(
        when, when
    )
    file.write_text(json.dumps({"path": str(tmp_path / "old.chick"), "text": "C4 D4 E4", "time": seconds}))
    os.utime(file, (min(9e9, max(0, seconds)),) * 2)
    behind()
    assert "Work on old.chick" in desk.notice.text and file.exists()
    qtbot.mouseClick(desk.notice.offer, CLICK)
    assert desk.document.text == "C4 D4 E4"


def test_what_is_offered_and_refused_is_kept_for_a_year_and_found_under_song(qtbot, desk, behind, monkeypatch):
    behind(("C4 D4 E4", None))
    close = next(each for each in desk.notice.findChildren(QPushButton) if each.text() == "Close")
    qtbot.mouseClick(close, CLICK)
    assert "Earlier work" in desk.notice.text and left_behind(behind.folder) == []
    for file, _ in earlier_work(behind.folder):
        os.utime(file, (0, 0))  # it does not matter how old it seems where there is little of it
    behind()
    [(file, what)] = earlier_work(behind.folder)
    assert what.text == "C4 D4 E4" and oct(file.stat().st_mode)[-3:] == "600"
    monkeypatch.setattr("chickadee.desk.recovery.earlier_work", lambda: earlier_work(behind.folder))
    seen = []

    def choose(dialog):
        seen.append((dialog.list.count(), dialog.text.toPlainText()))
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(EarlierWorkDialog, "exec", choose)
    desk.actions_by_id["work.earlier"].trigger()
    assert seen == [(1, "C4 D4 E4")]
    assert desk.document.text == "C4 D4 E4" and desk.document.modified


def test_earlier_work_that_is_a_year_old_goes_once_there_is_much_of_it(tmp_path):
    for number in range(70):
        file = tmp_path / "earlier" / f"{number}-a.json"
        file.parent.mkdir(exist_ok=True)
        file.write_text(json.dumps({"path": None, "text": f"C{number}", "time": 1.7e9}))
        age = (400 if number < 30 else 10) * 86_400
        os.utime(file, (time.time() - age,) * 2)
    journal = Journal(tmp_path)
    journal.keep("new", None)
    journal.close(forget=False)
    put_by(left_behind(tmp_path)[0][0])
    texts = {what.text for _, what in earlier_work(tmp_path)}
    assert {f"C{number}" for number in range(30, 70)} <= texts and "new" in texts and len(texts) == 50


@pytest.mark.parametrize("how", ["deleted", "emptied", "moved"])
def test_a_file_that_goes_under_an_unchanged_tune_is_said_offered_and_asked_for(
    qtbot, desk, tmp_path, monkeypatch, how
):
    file = tmp_path / "tune.chick"
    file.write_text("C4 D4")
    desk.files.open_path(file)
    assert not desk.document.modified
    {"deleted": file.unlink, "emptied": lambda: file.write_text(""), "moved": lambda: file.rename(tmp_path / "b")}[
        how
    ]()
    qtbot.waitUntil(lambda: "still here" in desk.notice.text, timeout=5000)
    assert desk.document.text == "C4 D4" and desk.document.modified and "not saved" in desk.file_state.text()
    asked = []
    monkeypatch.setattr(
        QMessageBox, "exec", lambda box: asked.append(box.text()) or QMessageBox.StandardButton.Cancel
    )
    assert not desk.files.may_leave() and "tune.chick" in asked[0]
    qtbot.mouseClick(desk.notice.offer, CLICK)
    assert file.read_text() == "C4 D4" and not desk.document.modified


def test_a_file_that_comes_back_as_it_was_is_saved_again(qtbot, desk, tmp_path):
    file = tmp_path / "tune.chick"
    file.write_text("C4 D4")
    desk.files.open_path(file)
    file.rename(tmp_path / "away")
    qtbot.waitUntil(lambda: desk.document.modified, timeout=5000)
    (tmp_path / "away").rename(file)
    qtbot.waitUntil(lambda: not desk.document.modified, timeout=5000)
    file.unlink()
    file.write_text("C4 D4")  # as programs do that write a file anew
    qtbot.wait(1200)
    assert not desk.document.modified


def test_journals_and_settings_are_for_the_user_alone(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    old_mask = os.umask(0)
    try:
        settings = Settings()
        settings.set_words("export", [".mid"])
        del settings
        journal = Journal(tmp_path / "journal")
        journal.keep("C4", None)
        journal.wait()
        [file] = (tmp_path / "journal").glob("*.json")
        modes = {path: path.stat().st_mode & 0o777 for path in (file, file.parent, tmp_path / "chickadee",
                                                               tmp_path / "chickadee" / "desk.ini")}  # fmt: skip
        journal.close()
    finally:
        os.umask(old_mask)
    assert list(modes.values()) == [0o600, 0o700, 0o700, 0o600]


@given(st.dictionaries(
    st.sampled_from(["words/signals", "words/midi-routes", "words/export", "words/bouncing keys", "words/recent folders",
                     "words/panel sizes", "words/latest panels", "switches/look.evening", "switches/welcomed", "window"]),
    st.one_of(st.text(max_size=40), st.sampled_from(["@Invalid()", "[]", '["x"]', '"[\\"a\\", \\"x\\"]"', "x", "a, b", "1, 2, 3, 4, 5", "9" * 5000, "@Rect(1 2 3 4)",
                                                     "@Variant(\\0\\0\\0\\t\\0\\0\\0\\0)", ", , , ", "true, x", "@ByteArray(x)"])),
))  # fmt: skip
@example({"words/signals": "x"})
@example({"words/signals": "a, b"})
@example({"words/signals": "@Invalid()"})
@example({"words/signals": "a, x, b, y"})
def test_no_setting_keeps_the_desk_from_starting(only_desk, values):
    lines = [f"{name.split('/')[-1].replace(' ', '%20')}={text}" for name, text in values.items()]
    with tempfile.TemporaryDirectory() as folder, pytest.MonkeyPatch.context() as patch:
        patch.setenv("XDG_CONFIG_HOME", folder)
        (Path(folder) / "chickadee").mkdir()
        body = "\n".join(line.replace("\n", " ").replace("\0", "") for line in lines)
        (Path(folder) / "chickadee" / "desk.ini").write_text(
            f"[words]\n{body}\n[switches]\n{body}\n[General]\n{body}\n", "utf-8", "replace"
        )
        settings = Settings()
        assert isinstance(settings.recent_folders, list) and settings.geometry is not None
        for switch in ("look.evening", "welcomed"):
            assert isinstance(settings.is_on(switch, True), bool)
        signals = Signals(only_desk.player, settings, only_desk.notice, only_desk)
        assert isinstance(signals.wish.address, str) and 0 <= signals.wish.osc_delay <= 2000
        signals.deleteLater()
        ExportDialog(read("C4").song, settings.words("export", [".wav"]), False, only_desk).deleteLater()
        read_routes(settings.words("midi-routes", []))


@pytest.mark.parametrize("kind", BROKEN)
def test_a_journal_that_cannot_be_read_is_set_aside_kept_and_said(desk, behind, kind):
    behind.folder.mkdir()
    file = behind.folder / "1-a.json"
    if BROKEN[kind] is None:
        os.mkfifo(file)
    else:
        file.write_text(BROKEN[kind])
    behind(("C4 D4", None))
    assert "cannot be read" in desk.notice.text and "1-a.json.unreadable" in desk.notice.text
    desk.notice.put_away()
    assert "a new tune" in desk.notice.text
    desk.notice.clear(offers=True)
    assert set_aside(behind.folder) == []
    [kept] = behind.folder.glob("1-a*")
    assert kept.name == "1-a.json.unreadable"


def test_saving_and_keeping_go_by_the_editor_whatever_the_reader_does(qtbot, desk, tmp_path, monkeypatch):
    one = tmp_path / "one.chick"
    other = tmp_path / "other.chick"
    one.write_text("C4")
    other.write_text("D4")
    desk.files.open_path(one)

    def fails(text):
        raise KeyError(text)

    monkeypatch.setattr("chickadee.checks.registry.read", fails)
    desk.files.open_path(other)
    assert (desk.document.path, desk.document.text) == (other, "D4")
    assert [finding.code for finding in desk.document.reading.findings] == ["not-read"]
    desk.editor.moveCursor(desk.editor.textCursor().MoveOperation.End)
    qtbot.keyClicks(desk.editor, " E4")
    assert desk.document.modified and "not saved" in desk.file_state.text()
    desk.recovery.keep_at_once()
    assert not desk.recovery.journal.fault
    assert '"text": "D4 E4"' in desk.recovery.journal._file.read_text()
    assert desk.files.save()
    assert (one.read_text(), other.read_text()) == ("C4", "D4 E4")


def test_what_is_pasted_can_be_saved_and_opened_again(qtbot, desk, tmp_path):
    file = tmp_path / "odd.chick"
    file.write_text("C4\u00a0D4\u2028E4\n", "utf-8")
    desk.files.open_path(file)
    assert not desk.document.modified  # a no-break space is kept as one
    assert len(desk.document.reading.song.notes) == 3
    QApplication.clipboard().setText("F4\0 \ud83d G4\r\nA4")
    desk.editor.selectAll()
    desk.editor.paste()
    assert desk.document.text == "F4\ufffd \ufffd G4\nA4"
    assert desk.files.save()
    desk.document.new()
    assert desk.files.open_path(file) and desk.document.text == "F4\ufffd \ufffd G4\nA4"
    assert not desk.document.modified


def test_a_journal_that_cannot_be_written_is_said_each_time_it_begins(qtbot, desk, monkeypatch):
    journal = desk.recovery.journal
    write = journal._write

    def full(text):
        raise OSError(28, "No space left on device")

    for _ in range(2):
        monkeypatch.setattr(journal, "_write", full)
        qtbot.keyClicks(desk.editor, "C4 ")
        qtbot.waitUntil(lambda: "No safety copy" in desk.notice.text, timeout=3000)
        assert "no safety copy" in desk.file_state.text()
        monkeypatch.setattr(journal, "_write", write)
        qtbot.keyClicks(desk.editor, "D4 ")
        qtbot.waitUntil(lambda: not desk.recovery.fault, timeout=3000)
        assert "not kept safe" not in desk.file_state.text()
        desk.notice.clear()


@pytest.mark.parametrize("suffix", [".chick", ".mid"])
def test_a_name_without_its_suffix_does_not_replace_a_file_unasked(desk, tmp_path, monkeypatch, suffix):
    there = tmp_path / f"there{suffix}"
    there.write_bytes(b"old")
    desk.document.begin("C4")
    save = desk.files.save_as if suffix == ".chick" else desk.exports.export_midi
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "there"), ""))
    asked = []
    for answer in (QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Save):
        monkeypatch.setattr(QMessageBox, "exec", lambda box, answer=answer: asked.append(box.text()) or answer)
        save()
        assert (there.read_bytes() == b"old") == (answer == QMessageBox.StandardButton.Cancel)
    assert len(asked) == 2 and f"there{suffix}" in asked[0]


def test_voices_whose_names_no_file_can_have_are_exported_each_for_itself(tmp_path):
    song = read("voice B/C\nC4\nvoice B-C\nD4\nvoice \x07\nE4\nvoice " + "long" * 200 + "\nF4").song
    jobs = ExportRequest(by_voice=True).jobs(tmp_path / "out.wav", song)
    names = [job.path.name for job in jobs]
    assert names[:3] == ["out - B-C.wav", "out - B-C 2.wav", "out - -.wav"]
    assert all(job.path.parent == tmp_path and len(job.path.name) < 80 for job in jobs)
    assert [[note.number for note in job.song.notes] for job in jobs] == [[60], [62], [64], [65]]


def test_settings_that_cannot_be_read_are_set_aside_and_said(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    file = tmp_path / "chickadee" / "desk.ini"
    file.parent.mkdir()
    os.mkfifo(file)
    settings = Settings()
    assert settings.set_aside is not None and settings.set_aside.is_fifo()
    settings.set_words("recent folders", ["/" + "x" * 300, "/nowhere", str(tmp_path), "a\0b"])
    assert Settings().recent_folders == [tmp_path]
    assert Settings().set_aside is None


@pytest.mark.parametrize(
    "value",
    [
        "@Variant(\\0\\0\\0\\t\\xd9\\x40\\xff\\xff\\xff\\xf0)",
        "@DateTime(\\0\\xff\\xff)",
        "\\x40\\126ariant(\\0)",
        '@Var""iant(\\0)',
    ],
)
def test_settings_that_would_have_qt_unpack_something_are_set_aside(tmp_path, monkeypatch, value):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    file = tmp_path / "chickadee" / "desk.ini"
    file.parent.mkdir()
    file.write_text(f"[words]\nexport={value}\n")
    settings = Settings()
    assert settings.set_aside is not None and settings.set_aside.read_text().endswith(f"{value}\n")
    assert settings.words("export", [".wav"]) == [".wav"]


@pytest.mark.parametrize("words", [[], ["one"], ["a", "ü, \0\x1b"], ["@Variant(\0)"], ["x" * 300]])
def test_settings_read_back_what_they_wrote(tmp_path, monkeypatch, words):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    Settings().set_words("export", words)
    settings = Settings()
    assert settings.set_aside is None
    assert settings.words("export", [".wav"]) == words


def test_no_pipe_or_hidden_file_of_a_folder_stands_on_the_shelf(desk, tmp_path):
    os.mkfifo(tmp_path / "pipe.chick")
    (tmp_path / ".hidden.chick").write_text("C4")
    (tmp_path / "folder.chick").mkdir()
    (tmp_path / "tune.chick").write_text("C4")
    desk.shelf.show_folder(tmp_path)
    desk.shelf.read_all()
    assert [path.name for path in tunes_in(tmp_path)] == ["tune.chick"]
    assert desk.shelf.list.count() == 1
    desk.files.open_path(tmp_path / "pipe.chick")
    assert "pipe" in desk.notice.text and desk.document.path is None


def test_a_file_changed_by_another_program_is_taken_or_compared(qtbot, desk, tmp_path, monkeypatch):
    file = tmp_path / "tune.chick"
    file.write_text("C4")
    desk.files.open_path(file)
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
    assert desk.files.save() is False  # decide later: nothing is written
    assert file.read_text() == "G4"
    assert seen == [["C4 D4 E4", "G4"]]
    monkeypatch.setattr(VersionsDialog, "exec", lambda dialog: answer(dialog, VersionsDialog.MINE))
    assert desk.files.save()
    assert file.read_text() == "C4 D4 E4"

    qtbot.keyClicks(desk.editor, " F4")
    file.write_text("A4")
    monkeypatch.setattr(VersionsDialog, "exec", lambda dialog: answer(dialog, VersionsDialog.FILE))
    desk.files.save()
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
    desk.actions_by_id["look.evening"].trigger()
    assert desk.settings.is_on("look.evening", False)
    desk.actions_by_id["look.evening"].trigger()
    assert not desk.settings.is_on("look.evening", True)
    desk.settings.note_folder(Path("/tmp"))
    desk.settings.note_folder(Path("/"))
    assert desk.settings.recent_folders[:2] == [Path("/"), Path("/tmp")]


def test_the_first_time_a_tune_explains_itself_and_only_then(desk):
    desk.files.welcome()
    song = desk.document.reading.song
    assert (len(song.notes), desk.document.reading.findings, desk.document.modified) == (36, (), False)
    assert tidy(desk.document.reading.text) == desk.document.reading.text
    desk.document.new()
    desk.files.welcome()
    assert desk.document.reading.text == ""


def test_a_trash_that_takes_nothing_is_not_believed(desk, tmp_path, monkeypatch):
    file = tune_in(tmp_path)
    monkeypatch.setattr("chickadee.desk.file_commands.QFile.moveToTrash", lambda path: True)
    desk.files.put_away(file)
    assert file.exists() and "nothing was moved" in desk.notice.text


CLOSED = """
import encodings.utf_8_sig, os, sys
from pathlib import Path
from PyQt6.QtTest import QTest
from chickadee.desk.app import application, destroy, furnish, shown_window
app, folder = application(), Path(sys.argv[1])
window = shown_window()
desk = furnish(window)
desk.player.open = lambda: None
sys.excepthook = lambda *fault: print(fault)
desk.files.open_path(folder / "tune.chick")
QTest.qWait(600)  # the engine is started meanwhile
os.seteuid(65534)
QTest.keyClicks(desk.editor, "D4 ")
QTest.qWait(400)
print(desk.document.modified, desk.files.save(), desk.notice.text)
os._exit(0)
"""


@pytest.mark.skipif(os.geteuid() != 0, reason="only root may become somebody else")
def test_a_folder_closed_since_the_tune_was_opened_is_one_sentence(tmp_path):
    folder = tmp_path / "closed"
    folder.mkdir(mode=0o700)
    (folder / "tune.chick").write_text("C4")
    done = subprocess.run([sys.executable, "-c", CLOSED, str(folder)], capture_output=True, text=True, timeout=60)
    assert done.stdout.startswith("True False Not saved. ")
    assert "permission is missing" in done.stdout and done.stdout.count("\n") == 1
    assert (folder / "tune.chick").read_text() == "C4"
