"""The Compare panel in the window: a class comes in, is seen on the tune's own time, walked, heard, sorted, given back."""

from __future__ import annotations

import csv
import shutil
from importlib.resources import files

import pytest
from pypdf import PdfReader
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QGuiApplication
from PyQt6.QtWidgets import QFileDialog

from chickadee.desk.working.spec import PanelSize
from chickadee.display.attempt_sheets import attempt_sheets
from chickadee.display.class_table import Only, few_words
from chickadee.handout.attempt_page import attempt_pages
from chickadee.handout.request import Request
from chickadee.handout.shapes import Box, Text

SONGS = files("chickadee.songs")
CLICK = Qt.MouseButton.LeftButton
CONTROL = Qt.KeyboardModifier.ControlModifier
RIGHT = "meter: 3/4\nG4 B4 A4 | E4=2 D4 | G4 A4 C5 | B4=3 | A4 C5 B4 | G4=2 E4 | D4=1/2 E4=1/2 G4 F#4 | G4=3 |"


@pytest.fixture
def panel(qtbot, desk, tmp_path):
    shutil.copy(str(SONGS / "gull-point.chick"), tmp_path)
    desk.files.open_path(tmp_path / "gull-point.chick")
    desk.working.turn_to("compare")
    desk.working.set_size(PanelSize.ACROSS)
    panel = desk.panel("compare")
    panel.what.setCurrentText("the voice Whistle")
    yield panel
    desk.panel("compare").work.clear()
    panel.what.setCurrentIndex(0)
    panel.show_only(Only.ALL)
    desk.working.set_size(PanelSize.BESIDE)
    desk.working.turn_to("findings")
    desk.document.begin("")


def settled(qtbot, desk, count=None):
    work = desk.panel("compare").work
    qtbot.waitUntil(lambda: not work.of and (count is None or len(work.attempts) == count), timeout=20_000)
    qtbot.wait(150)


@pytest.fixture
def whole_class(qtbot, desk, panel, tmp_path):
    """The demo's class, dropped on the panel as a folder."""
    shutil.copytree(str(SONGS / "classes" / "gull-point"), tmp_path / "class")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(tmp_path / "class"))])
    everything = Qt.MouseButton.NoButton
    copy = Qt.DropAction.CopyAction
    panel.dropEvent(QDropEvent(QPointF(10, 10), copy, data, everything, Qt.KeyboardModifier.NoModifier))
    settled(qtbot, desk, 18)
    return tmp_path / "class"


def named(desk, name):
    return next(each for each in desk.panel("compare").work.attempts if name in each.source.name)


def click_row(qtbot, panel, name):
    place = [each.source.name for each in panel.table.shown_attempts].index(name)
    panel.table.verticalScrollBar().setValue(0)
    y = panel.look.px(26) + place * panel.look.px(25) + 8 - panel.table.verticalScrollBar().value()
    qtbot.mouseClick(panel.table.viewport(), CLICK, pos=QPoint(20, y))


def test_a_class_is_read_in_one_go_and_its_bars_stand_under_the_tune_s(qtbot, desk, panel, whole_class):
    texts = {only: panel.filters[only].text() for only in Only}
    assert texts == {Only.ALL: "All 18", Only.LOOK: "To look at 10", Only.RIGHT: "Right 7",
                     Only.UNREADABLE: "Not readable 1"}  # fmt: skip
    assert "3 × F4 for F♯4, bar 7" in panel.common.text()
    for zoom in ("view.narrower", "view.wider", "shelf.show"):
        desk.actions_by_id[zoom].trigger()
        qtbot.wait(50)
        geometry = desk.timeline.shown_geometry
        grid = desk.document.reading.song.grid
        for place, bar in enumerate(panel.work.model.bars):
            x = geometry.roll.left() + geometry.axes.x(grid.start(bar))
            above = desk.timeline.viewport().mapToGlobal(QPoint(round(x), 0)).x()
            below = panel.table.viewport().mapToGlobal(QPoint(round(panel.table.bar_span(place)[0]), 0)).x()
            assert abs(above - below) <= 1
    desk.actions_by_id["shelf.show"].trigger()
    desk.working.turn_to("findings")
    assert desk.timeline.shown_geometry.roll.left() == panel.look.px(74)  # the room at the left is given back


def test_an_attempt_lies_over_the_tune_and_one_key_walks_its_differences(qtbot, desk, panel, whole_class):
    click_row(qtbot, panel, "dippers.txt")
    laid = desk.overlay.laid
    assert laid.name == "Dippers" and [each.kind.value for each in laid.moments if each.kind] == [
        "pitch", "added", "pitch"]  # fmt: skip
    assert panel.said.text() == "Dippers: 3 differences, the first at bar 1 beat 1: F4 for G4."
    before = desk.timeline.grab().toImage()
    seen = []
    for _ in range(4):
        qtbot.keyClick(panel.table, Qt.Key.Key_F8, CONTROL)
        note = desk.document.reading.song.notes[desk.selection.notes[0]]
        seen.append((desk.document.reading.song.grid.number_at(note.start), panel.said.text()))
    assert [bar for bar, _ in seen] == [1, 6, 7, 1]
    assert seen[2][1] == "Dippers: difference 3 of 3, bar 7 beat 3: F4 for F♯4."
    desk.working.turn_to("findings")
    assert desk.overlay.laid is None and desk.timeline.grab().toImage() != before
    desk.working.turn_to("compare")
    assert desk.overlay.laid is not None


def test_attempts_are_filtered_sorted_and_asked_who_shares_a_mistake(qtbot, desk, panel, whole_class):
    qtbot.mouseClick(panel.filters[Only.RIGHT], CLICK)
    assert len(panel.table.shown_attempts) == 7
    assert all(each.comparison.verdict.is_right for each in panel.table.shown_attempts)
    panel.common.linkActivated.emit("0")
    shared = [each.source.path.name for each in panel.table.shown_attempts]
    assert shared == ["dippers.txt", "grebes.chick", "herons.py"] and "bar 7 beat 3" in panel.said.text()
    panel.show_only(Only.ALL)
    head = panel.table.viewport()
    names = [each.source.path.name for each in panel.table.shown_attempts]
    assert names == sorted(names)
    qtbot.mouseClick(head, CLICK, pos=QPoint(20, 8))
    assert [each.source.path.name for each in panel.table.shown_attempts] == names[::-1]
    left, right = panel.table.bar_span(6)
    qtbot.mouseClick(head, CLICK, pos=QPoint(round((left + right) / 2), 8))
    worst = [each.comparison.bars[6].value for each in panel.table.shown_attempts[:4]]
    assert worst == ["pitch"] * 4


def test_the_judgements_go_out_as_lines_and_as_a_table(desk, panel, whole_class, tmp_path, monkeypatch):
    panel.choose(named(desk, "herons"))
    panel.outgoing.copy_lines([panel.work.chosen])
    text = QGuiApplication.clipboard().text()
    assert text == "Herons: 1 difference, at bar 7 beat 3: F4 for F♯4. 65 is the number of the key beside 66."
    panel.outgoing.copy_lines(panel.table.shown_attempts)
    assert len(QGuiApplication.clipboard().text().splitlines()) == 18
    goal = tmp_path / "judged"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(goal), ""))
    before = {path: path.read_bytes() for path in whole_class.iterdir() if path.is_file()}
    panel.outgoing.save_table(desk.window())
    rows = list(csv.DictReader(goal.with_suffix(".csv").open()))
    assert len(rows) == 18 and {row["verdict"] for row in rows} >= {"right", "moved", "scaled", "unreadable"}
    assert {path: path.read_bytes() for path in whole_class.iterdir() if path.is_file()} == before


def test_each_attempt_gets_a_page_with_its_first_difference_marked(desk, panel, whole_class, tmp_path, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "pages.pdf"), ""))
    panel.outgoing.save_pages(desk.window(), panel.table.shown_attempts)
    assert desk.notice.text.startswith("17 pages in")
    pages = [page.extract_text() for page in PdfReader(tmp_path / "pages.pdf").pages]
    herons = next(page for page in pages if "Gull Point landing: Herons" in page)
    assert "1 difference, at bar 7 beat 3: F4 for F♯4." in herons and herons.count("F4") >= 2
    sheets = attempt_sheets(panel.work.model, [named(desk, "herons")])
    shapes = attempt_pages(panel.work.model.song, Request(voice=0), sheets)[0].shapes
    (mark,) = [shape for shape in shapes if isinstance(shape, Box) and not shape.filled]
    wrong = next(shape for shape in shapes if isinstance(shape, Text) and shape.text == "F4")
    assert mark.left <= wrong.left and wrong.left < mark.left + mark.width and mark.top < wrong.top


def test_a_pasted_line_is_an_attempt_and_a_file_that_changes_is_read_again(qtbot, desk, panel, tmp_path):
    QGuiApplication.clipboard().setText("G4 B4 A4 E4 D4 G4 A4 C5 B4 A4 C5 B4 G4 E4 D4 E4 G4 F4 G4")
    panel.table.setFocus()
    qtbot.keyClick(panel.table, Qt.Key.Key_V, CONTROL)
    settled(qtbot, desk, 1)
    assert few_words(named(desk, "Pasted").comparison) == "bar 7: F4 for F♯4"
    path = tmp_path / "moths.chick"
    path.write_text(RIGHT.replace("C5", "D5"))
    panel.work.add_paths([path])
    settled(qtbot, desk, 2)
    assert len(named(desk, "moths").comparison.differences) == 2
    panel.choose(named(desk, "moths"))
    path.write_text(RIGHT)
    qtbot.waitUntil(lambda: named(desk, "moths").comparison.verdict.value == "right", timeout=5000)
    qtbot.waitUntil(lambda: panel.said.text() == "Moths: Right.", timeout=2000)
    desk.editor.select(desk.document.text.index("G4 B4"), desk.document.text.index("G4 B4") + 2)
    desk.editor.insertPlainText("F4")  # the tune itself changes
    qtbot.waitUntil(lambda: named(desk, "moths").comparison.verdict.value == "differs", timeout=5000)
    desk.editor.undo()


def test_another_tune_is_not_mixed_up_with_the_class_s(qtbot, desk, panel, whole_class, tmp_path):
    panel.choose(named(desk, "grebes"))
    qtbot.mouseClick(panel.open, CLICK)
    assert desk.document.path == whole_class / "grebes.chick"
    assert desk.overlay.laid is None and "gull-point.chick, which is not open now" in panel.said.text()
    assert named(desk, "otters").comparison.verdict.value == "right"
    qtbot.mouseClick(panel.take, CLICK)
    settled(qtbot, desk, 18)
    assert len(named(desk, "otters").comparison.differences) == 1  # against the Grebes'
    assert panel.take.isHidden()


def test_judging_is_cancelled_at_once_and_keeps_what_is_done(qtbot, desk, panel, tmp_path):
    folder = tmp_path / "many"
    folder.mkdir()
    for place in range(400):
        (folder / f"{place:03}.chick").write_text(RIGHT * 6 + f"// {place}")
    panel.work.add_paths([folder])
    qtbot.waitUntil(lambda: panel.cancel.isVisible() and panel.work.done > 0, timeout=20_000)
    with qtbot.waitSignal(panel.work.changed, timeout=500):
        qtbot.mouseClick(panel.cancel, CLICK)
    assert panel.work.of == 0 and 0 < len(panel.work.attempts) < 400
    qtbot.wait(100)
    assert panel.cancel.isHidden()


def test_tune_and_attempt_are_heard_in_turn_and_together_from_the_difference(desk, panel, whole_class, monkeypatch):
    heard = []
    monkeypatch.setattr(desk.playback.player, "play", heard.append)
    panel.choose(named(desk, "swifts"))  # twice as long
    desk.actions_by_id["compare.in-turn"].trigger()
    desk.playback.player.finished.emit()
    first, second = heard
    beat = first.song.meter.beat_ticks
    assert (first.start, first.end) == (0, 6 * beat) and (second.start, second.end) == (0, 12 * beat)
    panel.choose(named(desk, "herons"))
    desk.actions_by_id["compare.together"].trigger()
    both = heard[-1]
    assert both.start == 18 * beat and [voice.pan for voice in both.song.voices] == [-0.85, -0.85, 0.85]
    assert [note.number for note in both.song.notes if note.voice == 2][-2] == 65


def test_a_phrase_is_a_model_of_its_own(qtbot, desk, panel):
    panel.what.setCurrentText("the phrase reply")
    panel.work.add_text("A4 C5 B4 G4=2 E4 D4=1/2 E4=1/2 G4 F#4 G4=3")
    settled(qtbot, desk, 1)
    assert panel.work.model.bars == (5, 6, 7, 8)
    assert panel.work.attempts[0].comparison.sentence == "Right."


def test_the_class_is_walked_by_keys_and_an_attempt_opened(qtbot, desk, panel, whole_class):
    table = panel.table
    keys = Qt.Key
    shown = table.shown_attempts
    table.setFocus()
    walked = []
    for key in (keys.Key_Down, keys.Key_Down, keys.Key_End, keys.Key_Up, keys.Key_PageUp, keys.Key_Home, keys.Key_Up):
        qtbot.keyClick(table, key)
        walked.append(shown.index(panel.work.chosen))
    last = len(shown) - 1
    assert walked == [0, 1, last, last - 1, last - 11, 0, 0]
    sheets = [place for place, each in enumerate(shown) if each.source.path.suffix == ".chick"]
    panel.choose(shown[sheets[0]])
    qtbot.keyClick(table, keys.Key_Return)
    assert desk.document.path == shown[sheets[0]].source.path
    y = panel.look.px(26) + sheets[1] * panel.look.px(25) + 8 - table.verticalScrollBar().value()
    qtbot.mouseDClick(table.viewport(), CLICK, pos=QPoint(20, y))
    assert desk.document.path == shown[sheets[1]].source.path


def test_what_is_under_the_pointer_is_said_in_words(desk, panel, whole_class):
    table = panel.table
    herons = named(desk, "herons")
    panel.choose(herons)
    row = panel.look.px(26) + table.shown_attempts.index(herons) * panel.look.px(25) + 8
    row -= table.verticalScrollBar().value()
    left, right = table.bar_span(6)
    assert table._hint(round((left + right) / 2), row) == "Herons, bar 7: F4 for F♯4"
    left, right = table.bar_span(0)
    assert table._hint(round((left + right) / 2), row) == "Herons, bar 1: as in the tune"
    assert table._hint(20, row).startswith("herons.py\n1 difference, at bar 7 beat 3")
    assert table._hint(20, 8) == "Click to sort by this column"
    assert table._hint(20, 100_000) == ""


def test_more_attempts_than_can_be_compared_are_refused_in_one_sentence(desk, panel, whole_class, monkeypatch):
    monkeypatch.setattr("chickadee.desk.class_work._MOST_ATTEMPTS", 18)
    before = desk.panel("compare").work.attempts
    desk.panel("compare").work.add_text("C4 D4")
    assert desk.notice.text == "There are 19 attempts; the most that can be compared at once are 18."
    assert desk.panel("compare").work.attempts == before
