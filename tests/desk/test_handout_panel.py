"""The Handouts panel in the window: pages seen, chosen, turned, saved, copied and printed."""

from __future__ import annotations

import pytest
from pypdf import PdfReader
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtWidgets import QFileDialog

from chickadee.desk.working.spec import PanelSize
from chickadee.handout.pages import PAGES
from chickadee.handout.shapes import Box, Filled

CLICK = Qt.MouseButton.LeftButton
TUNE = "title: Mill\nmeter: 3/4\nG4 B4 A4 | E4=2 D4 | G4 A4 C5 | B4=3 |\n"


@pytest.fixture
def panel(qtbot, desk, tmp_path):
    path = tmp_path / "mill.chick"
    path.write_text(TUNE)
    desk.files.open_path(path)
    desk.working.turn_to("handout")
    desk.working.set_size(PanelSize.OVER)
    panel = desk.panel("handout")
    qtbot.waitUntil(lambda: bool(panel.pages), timeout=10_000)
    yield panel
    panel.kinds.setCurrentRow(0)
    for check in (panel.answers, panel.different):
        check.setChecked(False)
    panel.gaps.setCurrentIndex(0)
    panel.paper.setCurrentIndex(0)
    panel.title.clear()
    desk.working.set_size(PanelSize.BESIDE)
    desk.working.turn_to("findings")
    desk.document.begin("")


def boxes(panel):
    return [shape.cell for shape in panel.pages[panel.page].shapes if isinstance(shape, Box) and shape.edge == 0.6]


def test_every_kind_is_shown_at_true_proportion_and_follows_choices_and_tune(qtbot, desk, panel):
    for row in range(len(PAGES)):
        panel.kinds.setCurrentRow(row)
        qtbot.waitUntil(lambda: bool(panel.pages), timeout=10_000)
        place = panel.preview._place()
        paper = panel.pages[0].paper
        assert place.width() / place.height() == pytest.approx(paper.width / paper.height, rel=0.01)
    panel.kinds.setCurrentRow(0)
    panel.paper.setCurrentText("Letter across")
    qtbot.waitUntil(lambda: panel.pages[0].paper.width > 270, timeout=10_000)
    panel.title.setText("For the wall")
    qtbot.waitUntil(
        lambda: any(getattr(each, "text", "") == "For the wall" for each in panel.pages[0].shapes), timeout=10_000
    )
    before = panel.preview._place().width()
    qtbot.mouseClick(panel.closer, CLICK)
    assert panel.preview._place().width() > before
    qtbot.mouseClick(panel.fit, CLICK)
    assert panel.preview._place().width() == pytest.approx(before)
    desk.document.begin("")
    qtbot.waitUntil(lambda: not panel.pages, timeout=10_000)
    assert "no notes" in panel.said.text() and not panel.print.isEnabled()


def test_cells_are_left_empty_by_rule_or_by_a_click_and_each_pupil_has_a_sheet(qtbot, panel):
    panel.kinds.setCurrentRow(list(PAGES).index("worksheet"))
    assert sorted(boxes(panel)) == sorted((row, index) for row in ("Name", "Number") for index in (2, 5, 8))
    scale = panel.preview._per_millimetre
    place = panel.preview._place()
    target = next(shape for shape in panel.pages[0].shapes if getattr(shape, "cell", None) == ("Name", 0))
    at = QPoint(round(place.left() + (target.left + 2) * scale), round(place.top() + (target.top + 3) * scale))
    qtbot.mouseClick(panel.preview.viewport(), CLICK, pos=at)
    assert ("Name", 0) in boxes(panel) and panel.gaps.currentText() == "cells I click"
    panel.gaps.setCurrentIndex(0)
    panel.different.setChecked(True)
    qtbot.waitUntil(lambda: len(panel.pages) == 30, timeout=10_000)
    qtbot.keyClick(panel, Qt.Key.Key_PageDown)
    assert panel.place.text() == "page 2 of 30"


def test_pages_are_saved_copied_and_printed(qtbot, desk, panel, tmp_path, monkeypatch):
    panel.kinds.setCurrentRow(list(PAGES).index("keys"))
    for suffix in (".pdf", ".svg", ".png"):
        monkeypatch.setattr(
            QFileDialog, "getSaveFileName", lambda *_, suffix=suffix, **__: (str(tmp_path / f"k{suffix}"), "")
        )
        panel.save(suffix)
        assert (tmp_path / f"k{suffix}").stat().st_size > 1000 and f"k{suffix}" in desk.notice.text
    assert "Keys for Mill" in PdfReader(tmp_path / "k.pdf").pages[0].extract_text()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "no" / "k.pdf"), ""))
    panel.save(".pdf")
    assert "no such" in desk.notice.text
    qtbot.mouseClick(panel.copy, CLICK)
    assert QGuiApplication.clipboard().image().width() == 1600
    desk.actions_by_id["handout.picture"].trigger()
    image = QGuiApplication.clipboard().image()
    assert image.width() > image.height()
    printer = QPrinter()
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setFullPage(True)
    printer.setOutputFileName(str(tmp_path / "printed.pdf"))
    panel.draw_on(printer)
    assert len(PdfReader(tmp_path / "printed.pdf").pages) == len(panel.pages)


def test_pages_with_staves_follow_their_fields(qtbot, desk, panel):
    desk.document.text_document.setPlainText("voice Pipe\n  G4 A4 B4 C5\nvoice Drone\n  C4=4\n")
    kinds = list(PAGES)

    def outlines():
        return sum(isinstance(shape, Filled) for page in panel.pages for shape in page.shapes)

    def words():
        return {getattr(shape, "text", "") for page in panel.pages for shape in page.shapes}

    panel.kinds.setCurrentRow(kinds.index("staff"))
    qtbot.waitUntil(lambda: outlines() > 4, timeout=10_000)
    alone = outlines()
    panel.staff.beside.setCurrentText("Drone")
    qtbot.waitUntil(lambda: outlines() > alone, timeout=10_000)
    panel.staff.labels.setCurrentText("numbers")
    qtbot.waitUntil(lambda: {"67", "69"} <= words(), timeout=10_000)
    panel.kinds.setCurrentRow(kinds.index("staff-worksheet"))
    panel.staff.task.setCurrentText("match staff and roll")
    qtbot.waitUntil(lambda: "two bars" in panel.said.text(), timeout=10_000)
    panel.staff.task.setCurrentText("name the notes")
    qtbot.waitUntil(lambda: bool(panel.pages), timeout=10_000)
    panel.kinds.setCurrentRow(kinds.index("flashcards"))
    panel.staff.reach.setText("C4-E4")
    qtbot.waitUntil(lambda: {"C♯4", "62"} <= words() and "C5" not in words(), timeout=10_000)
    panel.staff.reach.setText("C4-")
    qtbot.waitUntil(lambda: "ranges are like C3-C6" in panel.said.text(), timeout=10_000)
    panel.staff.reach.clear()
    panel.staff.labels.setCurrentIndex(0)
    panel.staff.beside.setCurrentIndex(0)
