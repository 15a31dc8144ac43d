"""The Handouts panel: pages made from the tune, as they will print, with what can be chosen beside them."""

from __future__ import annotations

import time
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent, QPageLayout, QPageSize, QPainter, QShowEvent
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QPushButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ...display.scene import Scene
from ...display.written_view import LEVEL_NAMES
from ...faults import InputFault
from ...files import FileFault
from ...handout.bars import bars_of
from ...handout.files import paths_of
from ...handout.pages import FOR_PUPILS, OF_PROGRAMS, PAGES, class_set, pages_of
from ...handout.program_sheet import ProgramSheet
from ...handout.request import MOST_FALSE_STEPS, MOST_IN_LINE, Gaps, HandoutFault, Request
from ...handout.shapes import Box, Page, Paper, Text
from ...handout.worksheet import gaps_in
from ...program_sheets import SheetWish, made_sheet
from ...programs.writing.catalogue import dialect_called
from ...programs.writing.dialect import Dialect
from ...sheet import read
from ...sheet.properties import own_keys
from ...song import Song
from ..clicks import on_click
from ..clipboard import copy_image
from ..dialect_box import fill_dialects
from ..goals import ask_for_goal
from ..newest_work import NewestWork
from ..parts import describe, fill, plain_box
from ..pauses import after_pause
from ..plain_dialogs import PlainForm, PlainProgress
from ..plain_text import PlainLabel
from ..theme import Look
from ..working.panel import Panel, PanelContext
from .files import page_image, write_pages
from .painter import paint_page
from .preview import PagePreview
from .staff_fields import StaffFields

__all__ = ["HandoutPanel"]

_PAUSE_MILLISECONDS = 150
_PAPERS = {
    "A4": ("A4", False),
    "A4 across": ("A4", True),
    "Letter": ("Letter", False),
    "Letter across": ("Letter", True),
}
_GAPS = {
    "every third note": Gaps("every", 3),
    "every second note": Gaps("every", 2),
    "every fourth note": Gaps("every", 4),
    "all numbers": Gaps("numbers"), "all names": Gaps("names"), "all lengths": Gaps("beats"),
    "whole bars": Gaps("bars"), "cells I click": Gaps("chosen"),
}  # fmt: skip
_PROGRAM_GAPS = {
    "every third value": Gaps("every", 3),
    "every second value": Gaps("every", 2),
    "every fourth value": Gaps("every", 4),
    "all pitches": Gaps("pitches"), "all lengths": Gaps("lengths"), "all counts": Gaps("counts"),
}  # fmt: skip
_IN_BARS = ("tune", "worksheet", "song", "staff", "staff-worksheet")  # the pages that have lines of bars
_FORMS = {"Save as PDF…": ".pdf", "Save as SVG…": ".svg", "Save as PNG…": ".png"}
_PICTURE = 1600  # pixels that a copied picture is wide
_INCH = 25.4
_SOON = 300  # milliseconds after which long work shows its progress


class HandoutPanel(Panel):
    """Shows a page at true proportion; every choice is seen at once."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__(context)
        self._song = Song()
        self._reading = read("")
        self.pages: list[Page] = []
        """The content that is shown."""
        self.page = 0
        self.kinds = QListWidget()
        self.kinds.setAccessibleName("Kind of page")
        self.kinds.addItems([name for name, _ in PAGES.values()])
        self.kinds.setCurrentRow(0)
        self.preview = PagePreview(context.appearance.look)
        self.title = QLineEdit()
        self.group_line = QLineEdit()
        self.title.setPlaceholderText("the tune’s own")
        self.paper, self.voice, self.gaps, self.missing = (plain_box(QComboBox()) for _ in range(4))
        self.language, self.level = (plain_box(QComboBox()) for _ in range(2))
        self.paper.addItems(_PAPERS)
        self.gaps.addItems(_GAPS)
        self.missing.addItems(_PROGRAM_GAPS)
        self.false_steps = QSpinBox()
        self.false_steps.setRange(0, MOST_FALSE_STEPS)
        self.choice = context.program_choice
        self._program: tuple[SheetWish, ProgramSheet] | None = None
        self._shown = ""  # the kind of the pages that are shown
        self._sheets = NewestWork(made_sheet, self)
        self.answers = QCheckBox("with the answers")
        self.different = QCheckBox("another sheet for each pupil")
        self.bars = QSpinBox()
        self.bars.setRange(0, MOST_IN_LINE)
        self.bars.setSpecialValueText("as fit")
        self.pupils = QSpinBox()
        self.seed = QSpinBox()
        self.pupils.setRange(1, 200)
        self.pupils.setValue(30)
        self.seed.setRange(0, 999_999)
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        self.back = QPushButton("‹")
        self.on = QPushButton("›")
        self.place = PlainLabel()
        self.fit = QPushButton("Fit")
        self.closer = QPushButton("+")
        self.farther = QPushButton("–")
        self.print = QPushButton("Print…")
        self.copy = QPushButton("Copy as a picture")
        self.saves = {text: QPushButton(text) for text in _FORMS}
        self._chosen: frozenset[tuple[str, int]] = frozenset()  # cells of a worksheet, by row and index
        self._due = after_pause(self, _PAUSE_MILLISECONDS, self._make)
        self.staff = StaffFields(self._due.start)
        self._describe()
        self._lay_out()
        self._connect()

    # Building

    def _describe(self) -> None:
        describe(
            (self.title, "Title of the page"),
            (self.group_line, "What stands under the title, such as the class"),
            (self.paper, "Paper"),
            (self.voice, "Voice that is read"),
            (self.gaps, "What is left empty"),
            (self.missing, "What is left out"),
            (self.language, "The language of the program"),
            (self.level, "The level of the program"),
            (self.false_steps, "Steps of the puzzle that are none of the tune's"),
            (self.bars, "Bars in a line; fewer where they need room"),
            (self.pupils, "How many pupils"),
            (self.seed, "Number that chooses the gaps; the same again each time"),
            (self.back, "The page before (Page Up)"),
            (self.on, "The next page (Page Down)"),
            (self.fit, "Show the whole page"),
            (self.closer, "Larger"),
            (self.farther, "Smaller"),
            (self.print, "Print the pages (Ctrl+P)"),
            (self.copy, "Copy this page as a picture for a slide"),
        )

    def _lay_out(self) -> None:
        self._left = QVBoxLayout()
        self._middle = QVBoxLayout()
        self._right = QVBoxLayout()
        self._left.addWidget(self.kinds, 1)
        turning = QHBoxLayout()
        for widget in (self.back, self.place, self.on):
            turning.addWidget(widget)
        turning.addStretch(1)
        for widget in (self.farther, self.fit, self.closer):
            turning.addWidget(widget)
        self._middle.addWidget(self.preview, 1)
        self._middle.addLayout(turning)
        self._form = PlainForm()
        rows: tuple[tuple[str, QWidget], ...] = (
            ("Title", self.title), ("Class", self.group_line), ("Paper", self.paper), ("Voice", self.voice),
            ("Language", self.language), ("Level", self.level), ("Bars in a line", self.bars),
            ("Empty", self.gaps), ("Left out", self.missing), ("False steps", self.false_steps),
            ("", self.answers), ("", self.different),
            ("Pupils", self.pupils), ("Number", self.seed),
        )  # fmt: skip
        for label, field in rows:
            self._form.addRow(label, field)
        self.staff.add_to(self._form)
        self._right.addLayout(self._form)
        self._right.addWidget(self.said)
        self._right.addStretch(1)
        for button in (self.print, *self.saves.values(), self.copy):
            self._right.addWidget(button)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addLayout(self._left, 2)
        whole.addLayout(self._middle, 7)
        whole.addLayout(self._right, 3)

    def _connect(self) -> None:
        self.preview.clicked.connect(self._choose_cell)
        self.kinds.currentRowChanged.connect(self._choose_kind)
        for box in (self.paper, self.gaps, self.missing):
            box.currentTextChanged.connect(self._due.start)
        self.voice.currentTextChanged.connect(self._choose_voice)
        self.language.activated.connect(lambda: self.choice.choose(language=self.language.currentData()))
        self.level.activated.connect(lambda: self.choice.choose(level=self.level.currentData()))
        self.choice.changed.connect(self._due.start)
        self.choice.page_wanted.connect(self._show_program)
        self._sheets.done.connect(self._take_sheet)
        for field in (self.title, self.group_line):
            field.textChanged.connect(self._due.start)
        for check in (self.answers, self.different):
            check.toggled.connect(self._due.start)
        for number in (self.bars, self.pupils, self.seed, self.false_steps):
            number.valueChanged.connect(self._due.start)
        on_click(self.back, self.turn, -1)
        on_click(self.on, self.turn, 1)
        self.fit.clicked.connect(self.preview.fit)
        on_click(self.closer, self.preview.zoom, 1.25)
        on_click(self.farther, self.preview.zoom, 0.8)
        self.print.clicked.connect(self.print_pages)
        self.copy.clicked.connect(self.copy_picture)
        for text, button in self.saves.items():
            on_click(button, self.save, _FORMS[text])

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        for column in (self._left, self._middle, self._right):
            column.setContentsMargins(*(look.px(side) for side in (8, 6, 8, 6)))
            column.setSpacing(look.px(6))
        self.kinds.setMaximumWidth(look.px(170))
        self.preview.set_look(look)

    # What is shown

    def show_scene(self, scene: Scene) -> None:
        """Follow the tune."""
        self._song = scene.song
        self._reading = scene.reading
        fill(
            self.voice,
            [voice.name for place, voice in enumerate(scene.song.voices) if len(scene.song.by_voice[place])],
        )
        self.staff.show_voices(scene.song)
        self._due.start()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Make what was put off while nobody saw it."""
        if self.choice.page:
            self._show_program()
        self._make()

    def stop_work(self) -> None:
        """End the writing of programs, before the window goes."""
        self._sheets.stop()

    def _show_program(self) -> None:
        """Show the program that is chosen, as a page."""
        self.choice.page = False
        if self.choice.voice:
            self.voice.setCurrentText(self.choice.voice)
        if self.kind not in OF_PROGRAMS:
            self.kinds.setCurrentRow(list(PAGES).index("program"))

    def _choose_voice(self, name: str) -> None:
        if self.kind in OF_PROGRAMS:
            self.choice.choose(voice=name)
        self._due.start()

    @property
    def kind(self) -> str:
        """The kind of page by its name on the command line."""
        return list(PAGES)[max(0, self.kinds.currentRow())]

    @property
    def request(self) -> Request:
        """The request in the fields."""
        voices = [place for place, voice in enumerate(self._song.voices) if voice.name == self.voice.currentText()]
        of_program = self.kind in OF_PROGRAMS
        rule = _PROGRAM_GAPS[self.missing.currentText()] if of_program else _GAPS[self.gaps.currentText()]
        gaps = replace(rule, seed=self.seed.value() or None, cells=self._chosen)
        return Request(
            Paper.of(*_PAPERS[self.paper.currentText()]),
            self.title.text().strip() or None,
            self.group_line.text().strip(),
            gaps,
            self.answers.isChecked(),
            voice=voices[0] if voices else None,
            bars_in_line=self.bars.value() or None,
            key_sets=own_keys(self._reading.sheet.settings),
            program=self._program[1] if of_program and self._program is not None else None,
            false_steps=self.false_steps.value(),
        )

    @property
    def _sheet_wish(self) -> SheetWish:
        """The program that is to be on the page."""
        voices = self._song.voices
        chosen = tuple(place for place, voice in enumerate(voices) if voice.name == self.voice.currentText())
        return SheetWish(
            self._reading.text, chosen[:1] or tuple(range(len(voices))), self._dialect, self.choice.level
        )

    @property
    def _dialect(self) -> Dialect:
        path = self.context.document.path
        return dialect_called(self.choice.language, path.parent if path is not None else None)

    def _take_sheet(self, found: object) -> None:
        """Take the program that was written for the page."""
        if isinstance(found, tuple):
            self._program = found
            self._make()
        else:
            self._show_fault(found if isinstance(found, str) else "This program takes more than this computer has.")

    def _choose_kind(self) -> None:
        self.page = 0
        self.preview.fit()
        self._make()

    def _choose_cell(self, x: float, y: float) -> None:
        """Leave the cell at a place of the worksheet empty, or no longer."""
        if self.kind != "worksheet" or not self.pages:
            return
        hit = next(
            (
                shape.cell
                for shape in self.pages[self.page].shapes
                if isinstance(shape, Box | Text)
                and shape.cell is not None
                and shape.left <= x <= shape.left + shape.width
                and shape.top <= y <= shape.top + shape.height
            ),
            None,
        )
        if hit is not None:
            request = self.request
            before = gaps_in(bars_of(self._song, request.voice or 0), request.gaps)
            self._chosen = before ^ {hit}
            self.gaps.setCurrentText("cells I click")
            self._make()

    def _make(self) -> None:
        """Make the pages anew, and show the one that is looked at."""
        if not self.isVisible():
            return
        self._due.stop()
        self._show_fields()
        try:
            if self.kind in OF_PROGRAMS and not self._has_program():
                if self._shown != self.kind:
                    self._show_fault("Writing the program…")
                return
            self.pages = self._pages()
            self._shown = self.kind
            self.said.clear()
        except InputFault as fault:
            self._show_fault(str(fault))
        else:
            self._show_page()

    def _show_fault(self, sentence: str) -> None:
        self.pages = []
        self._shown = ""
        self.said.setText(sentence)
        self._show_page()

    def _has_program(self) -> bool:
        """Return whether the program for the page is written; else have it written."""
        wish = self._sheet_wish
        if self._program is not None and self._program[0] == wish:
            return True
        self._sheets.ask(wish)
        return False

    def _show_fields(self) -> None:
        """Show the fields of the kind of page that is chosen."""
        kind = self.kind
        self._form.setRowVisible(self.bars, kind in _IN_BARS)
        for field, is_shown in (
            (self.gaps, kind == "worksheet" or (kind == "staff-worksheet" and self.staff.asks_for_notes)),
            (self.missing, kind == "gaps"),
            (self.false_steps, kind == "puzzle"),
            (self.language, kind in OF_PROGRAMS),
            (self.level, kind in OF_PROGRAMS),
            (self.answers, kind in FOR_PUPILS),
            (self.different, kind in FOR_PUPILS),
            (self.pupils, kind in FOR_PUPILS and self.different.isChecked()),
            (self.seed, kind in FOR_PUPILS and self.different.isChecked()),
        ):
            self._form.setRowVisible(field, is_shown)
        self.staff.show_for(self._form, kind)
        if kind in OF_PROGRAMS:
            path = self.context.document.path
            fill_dialects(self.language, path.parent if path is not None else None, self.choice.language)
            if not self.level.count():
                for level, name in LEVEL_NAMES.items():
                    self.level.addItem(name, level.value)
            self.level.setCurrentIndex(max(0, self.level.findData(self.choice.level)))

    def _pages(self) -> list[Page]:
        request = self.staff.fill_in(self.request, self.kind, self._song)
        if self.kind in FOR_PUPILS and self.different.isChecked():
            sets = class_set(self._song, request, self.pupils.value(), self.seed.value(), self.kind)
            return [page for pages in sets for page in pages]
        return pages_of(self.kind, self._song, request)

    def _show_page(self) -> None:
        self.page = max(0, min(self.page, len(self.pages) - 1))
        self.preview.show_page(self.pages[self.page] if self.pages else None)
        self.place.setText(f"page {self.page + 1} of {len(self.pages)}" if self.pages else "")
        self.back.setEnabled(self.page > 0)
        self.on.setEnabled(self.page + 1 < len(self.pages))
        for button in (self.print, self.copy, *self.saves.values()):
            button.setEnabled(bool(self.pages))

    def turn(self, by: int) -> None:
        """Turn pages."""
        self.page += by
        self._show_page()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Page keys turn pages."""
        assert event is not None
        steps = {Qt.Key.Key_PageUp: -1, Qt.Key.Key_PageDown: 1}
        if Qt.Key(event.key()) in steps:
            self.turn(steps[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)

    # Giving out

    @property
    def _name(self) -> str:
        return self.title.text().strip() or self._song.title or "Tune"

    def save(self, suffix: str) -> None:
        """Ask for a file and write the pages to it, or to several, with progress that can be cancelled."""
        window = self.window()
        pages = self.pages
        if not pages or window is None:
            return
        document = self.context.document
        goal = ask_for_goal(
            window,
            document,
            document.folder,
            "Save the pages",
            f"Pages (*{suffix})",
            suffix,
            lambda path: paths_of(path, len(pages)),
            kind=f" - {self.kind}",
        )
        if goal is None:
            return
        try:
            if self._write(goal, pages):
                names = ", ".join(path.name for path in paths_of(goal, len(pages))[:3])
                self.context.notice.say(f"Saved: {names}, in {goal.parent}.", good=True)
        except FileFault as fault:
            self.context.notice.say(str(fault))

    def _write(self, goal: Path, pages: list[Page]) -> bool:
        progress = PlainProgress("Drawing the pages", len(pages), self)
        progress.setWindowModality(Qt.WindowModality.WindowModal)
        progress.setMinimumDuration(_SOON)
        shown = time.monotonic()

        def told(done: int) -> bool:
            nonlocal shown
            if time.monotonic() - shown > 0.05 or done == len(pages):
                shown = time.monotonic()
                progress.setValue(done)
            return not progress.wasCanceled()

        try:
            return write_pages(goal, pages, self._name, told)
        finally:
            progress.close()
            progress.deleteLater()

    def copy_picture(self) -> None:
        """Copy the page that is looked at as a picture."""
        if self.pages:
            copy_image(page_image(self.pages[self.page], _PICTURE))
            self.context.notice.say("The page is in the clipboard as a picture.", good=True)

    def copy_tune(self) -> None:
        """Copy the tune's own page as a picture."""
        try:
            pages = pages_of("tune", self.context.selection.scene.song, Request(Paper.of("A4", across=True)))
        except HandoutFault as fault:
            self.context.notice.say(str(fault))
            return
        copy_image(page_image(pages[0], _PICTURE))
        self.context.notice.say("The tune is in the clipboard as a picture.", good=True)

    def print_pages(self) -> None:
        """Ask the system's print dialog, and print the pages."""
        if not self.pages:
            self.context.notice.say("Choose a page in Handouts to print it.", good=True)
            return
        paper = self.pages[0].paper
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setFullPage(True)
        printer.setDocName(self._name)
        name = QPageSize.PageSizeId.A4 if "A4" in self.paper.currentText() else QPageSize.PageSizeId.Letter
        printer.setPageSize(QPageSize(name))
        across = paper.width > paper.height
        printer.setPageOrientation(QPageLayout.Orientation.Landscape if across else QPageLayout.Orientation.Portrait)
        dialog = QPrintDialog(printer, self)
        if dialog.exec():
            self.draw_on(printer)
        dialog.deleteLater()

    def draw_on(self, printer: QPrinter) -> None:
        """Draw all pages on a printer."""
        painter = QPainter()
        if not painter.begin(printer):
            self.context.notice.say("The printer could not be opened.")
            return
        for place, page in enumerate(self.pages):
            if place:
                printer.newPage()
            paint_page(painter, page, printer.resolution() / _INCH)
        painter.end()
