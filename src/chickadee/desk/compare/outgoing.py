"""Results of a class that go out: lines of plain words, a table, a page for each."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtWidgets import QWidget

from ...attempts import Attempt, table_of
from ...display import words
from ...display.attempt_sheets import sheets_of
from ...display.class_table import label_of, sentences_on
from ...faults import InputFault
from ...files import FileFault, write_text
from ...handout.attempt_page import attempt_pages
from ...handout.request import Request
from ...workers import Lost, Work
from ..class_work import ClassWork
from ..clipboard import copy_text
from ..document import Document
from ..goals import ask_for_goal
from ..handout.files import write_pages
from ..notice import Notice
from ..waiting import waited_for

__all__ = ["Outgoing"]


class Outgoing:
    """Copies and saves judgements, and says what became of it."""

    def __init__(self, work: ClassWork, document: Document, notice: Notice) -> None:
        self._work = work
        self._document = document
        self._notice = notice

    def copy_lines(self, attempts: Sequence[Attempt]) -> None:
        """Copy a line of plain words on each attempt."""
        lines = [f"{label_of(each)}: {sentences_on(each, self._work.points)}" for each in attempts]
        copy_text("\n".join(lines))
        self._notice.say(f"Copied: {words.counted(len(lines), 'line')}.", good=True)

    def save_table(self, window: QWidget) -> None:
        """Ask for a file and write all judgements to it."""
        path = self._goal(window, "Save the judgements", "Table (*.csv)", ".csv")
        if path is None:
            return
        try:
            work = self._work
            write_text(path, table_of(work.model, work.attempts, work.missing, work.points))
        except FileFault as fault:
            self._notice.say(str(fault))
        else:
            self._notice.say(f"The table is {path}.", good=True)

    def save_pages(self, window: QWidget, attempts: Sequence[Attempt]) -> None:
        """Ask for a PDF, and put a page in it for each attempt, the first difference marked."""
        path = self._goal(window, "Save a page for each", "Pages (*.pdf)", ".pdf")
        if path is None:
            return
        model = self._work.model
        voice = model.chosen[0] if len(model.chosen) == 1 else None
        sheets = waited_for(
            window, "Laying out the attempts", Work(sheets_of, (model, self._work.points), [attempts], count=1)
        )
        if sheets is None:
            return
        try:
            if isinstance(sheets, Lost):
                raise FileFault(path, "laying out the attempts took more than this computer has")
            pages = attempt_pages(model.song, Request(voice=voice), sheets)
            if not pages:
                self._notice.say("None of these attempts could be read, so there are no pages.")
                return
            write_pages(path, pages, model.song.title or "Attempts")
        except InputFault as fault:
            self._notice.say(str(fault))
        else:
            self._notice.say(f"{words.counted(len(pages), 'page')} in {path}.", good=True)

    def _goal(self, window: QWidget, title: str, kinds: str, suffix: str) -> Path | None:
        return ask_for_goal(window, self._document, self._document.folder, title, kinds, suffix, kind=" - class")
