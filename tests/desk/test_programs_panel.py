"""The Programs panel: a pupil's program with its faults and differences, and what is put right about it."""

from __future__ import annotations

import shutil
from dataclasses import replace
from importlib.resources import files

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QGuiApplication
from PyQt6.QtTest import QTest

from chickadee.display.class_table import Shown
from chickadee.programs.corrections import corrections_in
from chickadee.sheet import read

SONGS = files("chickadee.songs")
WAIT = 10_000  # milliseconds


@pytest.fixture(autouse=True)
def no_program(desk):
    """Each test begins without a program; the desk is left as it was."""
    desk.program.wanted = desk.program.view = None
    desk.program.changed.emit()
    yield
    desk.program.stop()
    desk.working.turn_to("findings")
    desk.document.begin("")


@pytest.fixture
def judged(desk, tmp_path, qtbot):
    """A desk whose Compare panel has judged the class's programs."""
    shutil.copytree(str(SONGS / "classes" / "fogbank-round"), tmp_path / "class")
    shutil.copy(str(SONGS / "fogbank-round.chick"), tmp_path / "fogbank-round.chick")
    desk.files.open_path(tmp_path / "fogbank-round.chick")
    desk.working.turn_to("compare")
    compare = desk.panel("compare")
    compare.what.setCurrentText("the voice First boat")
    compare.work.add_paths([tmp_path / "class"])
    qtbot.waitUntil(lambda: len(compare.work.attempts) == 15 and not compare.work.of, timeout=3 * WAIT)
    yield desk
    compare.work.clear()
    compare.what.setCurrentIndex(0)


def opened(desk, qtbot, name):
    compare = desk.panel("compare")
    compare.choose(next(each for each in compare.work.attempts if each.source.label == name))
    compare.open_program.click()
    qtbot.waitUntil(lambda: desk.program.view is not None and not desk.program.is_tracing, timeout=WAIT)
    return desk.panel("programs")


def sentences(panel):
    return [panel.pupil.marks.item(row).text() for row in range(panel.pupil.marks.count())]


def test_one_program_among_many_attempts_has_no_columns(judged):
    work = judged.panel("compare").work
    table = judged.panel("compare").table
    one = next(each for each in work.attempts if each.program is not None and each.program.uses.steps)
    others = [replace(one, program=None)] * 9
    table.show_attempts([one, *others], work.model, Shown())
    seen = table.grab().toImage()
    table.show_attempts([replace(one, program=None), *others], work.model, Shown())
    assert table.grab().toImage() == seen
    table.show_attempts([one], work.model, Shown())
    assert table.grab().toImage() != seen


def test_compare_opens_the_program_with_its_faults_and_differences(judged, qtbot):
    panel = opened(judged, qtbot, "shrews")
    assert judged.working.current is panel
    assert sentences(panel) == [
        "Line 14: Bar 4 beat 3: 16 notes are missing.",
        "Line 15: `pley` is not defined; `play` is near.",
    ]
    panel.pupil.marks.itemActivated.emit(panel.pupil.marks.item(1))
    assert panel.pupil.code.line == 15 and panel.pupil.code.isReadOnly()
    assert len(panel.pupil.code.extraSelections()) == 4
    assert panel.pupil.title.words == "shrews.py · Python · 10 notes · 25 steps, 2 repeats, 3 parts, 2 lists"
    right = opened(judged, qtbot, "otters")
    assert sentences(right) == ["Right."]


def test_what_is_put_right_is_kept_for_the_folder_and_judged_again(judged, qtbot, tmp_path):
    panel = opened(judged, qtbot, "swifts")
    text = (tmp_path / "class" / "swifts.py").read_bytes()
    kind, _ = panel.pupil.choices["play"]
    kind.setCurrentIndex(1)
    kind.activated.emit(1)
    compare = judged.panel("compare")
    qtbot.waitUntil(lambda: desk_at_rest(judged, compare), timeout=3 * WAIT)
    assert corrections_in(tmp_path / "class").of("play").holds is False
    assert len({note.start for note in judged.program.view.found.song.notes}) == 1  # all at once
    verdicts = {each.source.label: each.comparison.verdict.value for each in compare.work.attempts}
    assert verdicts["otters"] != "right"  # one correction serves all programs
    assert (tmp_path / "class" / "swifts.py").read_bytes() == text
    kind, _ = panel.pupil.choices["play"]
    kind.setCurrentIndex(0)
    kind.activated.emit(0)
    qtbot.waitUntil(lambda: desk_at_rest(judged, compare), timeout=3 * WAIT)
    verdicts = {each.source.label: each.comparison.verdict.value for each in compare.work.attempts}
    assert verdicts["otters"] == "right"


def desk_at_rest(desk, compare):
    return not desk.program.is_tracing and not compare.work.of and desk.program.view is not None


def test_a_folder_that_cannot_be_written_is_said(judged, qtbot, tmp_path, monkeypatch):
    panel = opened(judged, qtbot, "swifts")
    (tmp_path / "class" / "programs.toml").mkdir()
    kind, _ = panel.pupil.choices["play"]
    kind.setCurrentIndex(4)
    kind.activated.emit(4)
    assert "programs.toml" in judged.notice.text


def test_a_program_is_dropped_pasted_heard_and_taken_as_a_tune(desk, qtbot, tmp_path):
    desk.working.turn_to("programs")
    panel = desk.panel("programs")
    assert not panel.pupil.hear.isEnabled() and "drop or paste" in panel.pupil.code.placeholderText()
    path = tmp_path / "herons.py"
    path.write_text("for i in range(2):\n    play(60, 1)\n    play(64, 1)\nwhile True:\n    play(67, 1)\n")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    panel.dropEvent(
        QDropEvent(
            QPointF(5, 5), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
    )
    qtbot.waitUntil(lambda: desk.program.view is not None and not desk.program.is_tracing, timeout=WAIT)
    assert sentences(panel) == ["Line 4 goes round for ever; the first 8 bars are shown."]
    QGuiApplication.clipboard().setText("play C4 for 2\nrepeat 3:\n  play E4\n")
    panel.pupil.paste.click()
    qtbot.waitUntil(lambda: not desk.program.is_tracing and desk.program.view.language == "steps", timeout=WAIT)
    panel.pupil.take.click()
    assert read(desk.document.text).song.notes[0].length == 2 * 8_064_000 and "E4 x3" in desk.document.text
    QTest.keyClick(panel.pupil.code, Qt.Key.Key_X)
    assert panel.pupil.code.toPlainText().startswith("play C4")


def test_a_call_that_was_left_out_can_be_made_a_note(desk, qtbot, tmp_path):
    path = tmp_path / "herons.py"
    path.write_text("play(60, 1)\nplay(62, 1)\nquack(64, 2)\n")
    desk.working.turn_to("programs")
    panel = desk.panel("programs")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    panel.dropEvent(
        QDropEvent(
            QPointF(5, 5), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
    )
    qtbot.waitUntil(lambda: desk.program.view is not None and not desk.program.is_tracing, timeout=WAIT)
    assert list(panel.pupil.choices) == ["play", "quack"] and len(desk.program.view.found.song.notes) == 2
    kind, _ = panel.pupil.choices["quack"]
    kind.setCurrentIndex(0)
    kind.activated.emit(0)
    qtbot.waitUntil(
        lambda: not desk.program.is_tracing and len(desk.program.view.found.song.notes) == 3, timeout=WAIT
    )


def test_hostile_names_and_texts_stay_text(desk, qtbot):
    desk.working.turn_to("programs")
    panel = desk.panel("programs")
    panel.pupil.open_text("def play_b():\n    <b>\nplay('<img src=x>', 1)\n<script>\n")
    qtbot.waitUntil(lambda: desk.program.view is not None and not desk.program.is_tracing, timeout=WAIT)
    assert "<" not in "".join(sentences(panel)) or panel.pupil.title.words.startswith("Pasted")
    panel.pupil.open_text("no program at all")
    qtbot.waitUntil(lambda: desk.program.view is not None and not desk.program.is_tracing, timeout=WAIT)
    assert "no program" in panel.pupil.title.words and not panel.pupil.take.isEnabled()
