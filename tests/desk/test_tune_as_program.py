"""The tune as a program in the Programs panel: written, lit, gone through, given out, and a copy tried out."""

from __future__ import annotations

import shutil
from itertools import pairwise
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QGuiApplication, QTextCursor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

import chickadee
from chickadee.desk.programs.own_dialect import OwnDialectDialog
from chickadee.desk.programs.tune_view import LEAD_SECONDS
from chickadee.desk.working.spec import PanelSize
from chickadee.handed_in import Source
from chickadee.handout.pages import PAGES
from chickadee.programs.writing.catalogue import dialect_called
from chickadee.programs.writing.dialect import Level

SONGS = Path(chickadee.__file__).parent / "songs"
WAIT = 30_000  # milliseconds: a process begins, on a busy machine
TUNE = "tempo: 240\n\nvoice Pipe\n  (C4 E4) x3 G4=2\n\nvoice Drone\n  C3=8\n"


@pytest.fixture
def panel(desk, qtbot):
    desk.program.wanted = desk.program.view = None
    desk.program_choice.choose("steps", "repeats", "")
    desk.document.begin(TUNE)
    desk.working.turn_to("programs")
    desk.working.set_size(PanelSize.ACROSS)
    panel = desk.panel("programs")
    panel.show_tune()
    settle(panel, qtbot)
    yield panel
    desk.player.stop()
    desk.program.stop()
    desk.working.turn_to("findings")
    desk.document.begin("")


def settle(panel, qtbot):
    """Wait until the program of now is shown."""
    tune = panel.tune

    def is_shown():
        return (
            not tune._due.isActive()
            and not tune._work.is_busy
            and tune.view is not None
            and tune.view.wish.sheet == panel.context.document.reading.text
        )

    qtbot.waitUntil(is_shown, timeout=WAIT)


def choose(panel, qtbot, **what):
    panel.context.program_choice.choose(**what)
    settle(panel, qtbot)


def sentences(panel):
    return [panel.pupil.marks.item(row).text() for row in range(panel.pupil.marks.count())]


def text(panel):
    return panel.tune.code.toPlainText()


def test_the_tune_stands_as_a_program_at_each_level(desk, panel, qtbot):
    choose(panel, qtbot, voice="Pipe")
    assert text(panel) == "tempo 240\nrepeat 3:\n  play C4 for 1\n  play E4 for 1\nplay G4 for 2"
    said = [button.text() for button in panel.tune.levels.values()]
    assert said == ["line by line  8 steps", "repeats  5", "parts  5", "data  5"]
    panel.tune.levels[Level.LINE].click()
    settle(panel, qtbot)
    assert text(panel).count("play C4 for 1") == 3
    choose(panel, qtbot, language="python", level="data")
    assert "for note, length in zip(notes, lengths):" in text(panel)
    panel.tune.counter.click()
    settle(panel, qtbot)
    assert "for i in range(len(notes)):\n    play(notes[i], lengths[i])" in text(panel)
    panel.tune.counter.click()
    choose(panel, qtbot, voice="", level="line")
    assert "let_ring(48, 8)" in text(panel)
    panel.tune.runs.click()
    settle(panel, qtbot)
    assert "def let_ring(numbers, beats):" in text(panel)
    panel.tune.runs.click()
    desk.document.begin("")
    qtbot.waitUntil(lambda: text(panel) == "", timeout=WAIT)
    assert "no notes yet" in panel.tune.code.placeholderText() and not panel.tune.save.isEnabled()


def test_lines_notes_and_sheet_are_one(desk, panel, qtbot):
    choose(panel, qtbot, voice="Pipe")
    code = panel.tune.code
    block = code.document().findBlockByNumber(3)
    where = code.cursorRect(QTextCursor(block)).center() + QPoint(20, 0)
    QTest.mouseClick(code.viewport(), Qt.MouseButton.LeftButton, pos=where)
    song = desk.document.reading.song
    assert [song.notes[note].number for note in desk.selection.notes] == [64, 64, 64]
    assert panel.tune.said.text() == "Line 4 makes the notes at bar 1 beat 2, bar 1 beat 4 and bar 2 beat 2."
    chosen = next(
        index for index, note in enumerate(song.notes) if note.number == 64 and note.start > song.notes[3].start
    )
    desk.selection.choose_note(chosen)
    assert dict(code.lit) == {2: "2 of 3", 4: ""}
    assert [(row.name, row.cells) for row in panel.tune.values.rows] == [("turn", ("2 of 3",))]
    start, end = desk.selection.text
    assert desk.document.text[start:end] == "E4"


def test_it_is_gone_through_step_by_step_with_its_values(desk, panel, qtbot):
    struck = []
    desk.audition.play = lambda sound, numbers, tuning=440.0: struck.extend(numbers)
    choose(panel, qtbot, voice="Pipe", level="data")
    for _ in range(4):
        panel.tune.step.click()
    assert struck == [60, 64, 60]
    assert next(row for row in panel.tune.values.rows if row.name == "notes").cells[:3] == ("C4", "E4", "C4")
    assert panel.tune.values.rows[1].marked == 2
    choose(panel, qtbot, language="java", level="repeats")
    desk.selection.choose_note(desk.selection.notes[0])
    assert [(row.name, row.cells) for row in panel.tune.values.rows] == [("i", ("1",)), ("turn", ("2 of 3",))]
    choose(panel, qtbot, language="steps", level="data")
    desk.selection.choose_note(desk.selection.notes[0])
    assert dict(panel.tune.code.lit) == {4: "3 of 7", 5: ""}
    assert desk.document.reading.song.notes[desk.selection.notes[0]].start == 2 * 8_064_000


@pytest.mark.parametrize(("speed", "wanted"), [(50, "Pipe"), (150, "Pipe"), (150, "")])
def test_what_sounds_is_lit_while_the_tune_plays_round_and_round(desk, panel, qtbot, speed, wanted):
    choose(panel, qtbot, voice=wanted, level="repeats")
    performance = panel.tune.program.performance
    song = desk.document.reading.song
    seen = []

    def look(tick):
        lit = set(panel.tune.code.lit)
        tick += LEAD_SECONDS * speed / 100 * 4 * 8_064_000
        sounding = {
            performance.lines_of_notes[index]
            for index, note in enumerate(song.notes)
            if note.start + 9 <= tick < note.end - 9 and index in performance.lines_of_notes
        }
        seen.append((tick, sounding <= lit, lit))

    desk.transport_bar.speed.setValue(speed)
    desk.actions_by_id["play.round"].setChecked(True)
    desk.player.moved.connect(look)
    desk.playback.play_all()
    qtbot.waitUntil(lambda: any(b[0] < a[0] for a, b in pairwise(seen)), timeout=2 * WAIT)
    desk.player.moved.disconnect(look)
    assert all(is_right for _, is_right, _ in seen) and len(seen) > 3
    if wanted == "":
        assert any(len(lit) >= 3 for _, _, lit in seen)  # the drone's line too


def test_it_is_copied_saved_and_handed_out(desk, panel, qtbot, tmp_path, monkeypatch):
    choose(panel, qtbot, voice="Pipe", language="c", level="parts")
    panel.tune.copy.click()
    assert QGuiApplication.clipboard().text().startswith("int main(void) {")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "pipe"), ""))
    panel.tune.save.click()
    assert (tmp_path / "pipe.c").read_text() == panel.tune.program.text
    panel.tune.hand_out.click()
    handout = desk.panel("handout")
    assert desk.working.current is handout and handout.kind == "program"
    qtbot.waitUntil(lambda: bool(handout.pages), timeout=WAIT)
    words = [getattr(shape, "text", "") for shape in handout.pages[0].shapes]
    assert "play(60, 1);" in words
    handout.kinds.setCurrentRow(list(PAGES).index("puzzle"))
    handout.choice.choose(level="data")
    qtbot.waitUntil(lambda: "A puzzle is made of steps" in handout.said.text(), timeout=WAIT)
    handout.kinds.setCurrentRow(0)
    desk.working.set_size(PanelSize.BESIDE)


def test_a_language_of_ones_own_is_described_without_toml(desk, panel, qtbot, tmp_path):
    shutil.copy(SONGS / "gull-point.chick", tmp_path)
    desk.files.open_path(tmp_path / "gull-point.chick")
    settle(panel, qtbot)
    dialog = OwnDialectDialog(desk.document.reading, (0,), dialect_called("steps"), tmp_path, panel)
    fields = dialog.forms["Notes"].boxes
    fields["play"].setText("spiele {pitch} {hue}")
    assert "no field" in dialog.said.text()
    fields["play"].setText("spiele {pitch} lang {beats}")
    assert "spiele G4 lang 1" in dialog.sample.toPlainText()
    dialog.name.setText("ruf")
    dialog.save()
    assert dialog.saved == "ruf" and (tmp_path / "ruf.dialect.toml").exists()
    choose(panel, qtbot, language="ruf", voice="Whistle")
    assert "spiele G4 lang 1" in text(panel)
    (tmp_path / "ruf.dialect.toml").write_text("nonsense")
    desk.document.replace_text(desk.document.text + "\n") if hasattr(
        desk.document, "replace_text"
    ) else panel.tune._write()
    assert "ruf.dialect.toml" in panel.tune.code.placeholderText()
    choose(panel, qtbot, language="steps")


def test_a_copy_of_a_program_is_tried_out_and_its_file_stays(desk, panel, qtbot, tmp_path):
    choose(panel, qtbot, voice="Pipe")
    path = tmp_path / "herons.py"
    path.write_text("for n in range(3):\n    play(60, 1)\n    play(64, 1)\nplay(69, 2)\n")
    panel.take_file(path)
    program = desk.program
    qtbot.waitUntil(lambda: program.view is not None and not program.is_tracing, timeout=WAIT)
    pupil = panel.pupil
    assert desk.overlay.laid is not None and desk.overlay.laid.name == "herons.py"
    assert sentences(panel) == ["Line 4: Bar 2 beat 3: A4 for G4."]
    pupil.step.click()
    pupil.step.click()
    assert dict(pupil.code.lit) == {1: "1 of 3", 3: ""}
    pupil.try_out.click()
    cursor = pupil.code.textCursor()
    cursor.setPosition(pupil.code.toPlainText().index("69"))
    cursor.setPosition(cursor.position() + 2, QTextCursor.MoveMode.KeepAnchor)
    pupil.code.setTextCursor(cursor)
    QTest.keyClicks(pupil.code, "67")
    qtbot.waitUntil(lambda: not program.is_tracing and not program.view.differences, timeout=WAIT)
    assert "69" in path.read_text() and "67" in pupil.code.toPlainText()
    assert sentences(panel) == ["Right."]
    pupil.try_out.click()
    qtbot.waitUntil(lambda: not program.is_tracing and "69" in pupil.code.toPlainText(), timeout=WAIT)
    assert pupil.code.isReadOnly()
    panel.show_tune()
    assert desk.overlay.laid is None


def test_a_program_that_stops_the_worker_is_said_and_the_next_is_traced(desk, panel, qtbot):
    panel.pupil.open_source(Source("Pasted", data=b"play(60, 1)\n"))
    desk.program._work._newest._worker.process.kill()
    qtbot.waitUntil(lambda: not desk.program.is_tracing, timeout=WAIT)
    assert "more than this computer has" in desk.notice.text
    panel.pupil.open_source(Source("Pasted", data=b"play(62, 1)\n"))
    qtbot.waitUntil(lambda: desk.program.view is not None, timeout=WAIT)
    assert desk.program.view.found.song.notes[0].number == 62
