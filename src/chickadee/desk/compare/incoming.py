"""Attempts that come in: pasted, from files and folders, with the list of the class and the rule of points."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMenu, QPushButton, QWidget

from ...comparison.points import read_points
from ...faults import InputFault
from ..class_work import ClassWork
from ..clipboard import clipboard_text
from ..document import Document
from ..notice import Notice
from ..plain_dialogs import ask_for_text
from ..settings import Settings

__all__ = ["Incoming"]

_POINTS = "points"  # in the settings


class Incoming:
    """Asks for attempts and for what belongs to them, over a widget."""

    def __init__(
        self, work: ClassWork, document: Document, notice: Notice, settings: Settings, widget: QWidget
    ) -> None:
        self._work = work
        self._document = document
        self._notice = notice
        self._settings = settings
        self._widget = widget
        work.points = settings.read(_POINTS, None, lambda words: read_points(words) if words else None)

    def paste_text(self) -> None:
        """Take what is in the clipboard as an attempt."""
        text = clipboard_text()
        if text.strip():
            self._work.add_text(text)
        else:
            self._notice.say("There is no text in the clipboard to take as an attempt.", good=True)

    def offer(self, button: QPushButton) -> None:
        """Offer the ways to add something, under a button."""
        menu = QMenu(self._widget)
        ways = (
            ("Add &files or zips…", self.add_files), ("Add a f&older…", self.add_folder),
            ("The c&lass, a list of names…", self.add_names),
        )  # fmt: skip
        for text, slot in ways:
            action = menu.addAction(text)
            assert action is not None
            action.triggered.connect(slot)
        menu.popup(button.mapToGlobal(button.rect().bottomLeft()))

    def add_files(self) -> None:
        """Ask for files of attempts."""
        names, _ = QFileDialog.getOpenFileNames(self._widget, "Attempts", str(self._document.folder))
        self._work.add_paths(map(Path, names))

    def add_folder(self) -> None:
        """Ask for a folder of attempts."""
        name = QFileDialog.getExistingDirectory(self._widget, "A folder of attempts", str(self._document.folder))
        if name:
            self._work.add_paths([Path(name)])

    def add_names(self) -> None:
        """Ask for the list of the class."""
        name, _ = QFileDialog.getOpenFileName(
            self._widget, "The class, a name in each line", str(self._document.folder)
        )
        if name:
            self._work.read_names(Path(name))

    def ask_for_points(self) -> None:
        """Ask for the rule of points."""
        points = self._work.points
        now = (
            ""
            if points is None
            else ", ".join(f"{float(each):g}" for each in (points.pitches, points.lengths, points.all_right))
        )
        label = "Points for the pitches, for the lengths and for all right, such as 6, 3, 1; nothing for no points:"
        text = ask_for_text(self._widget.window() or self._widget, "Points", label, now)
        if text is None:
            return
        try:
            self._work.give_points(read_points(text.split(",")) if text.strip() else None)
        except InputFault as fault:
            self._notice.say(str(fault))
            return
        self._settings.set_words(_POINTS, text.split(",") if text.strip() else [])
