"""A set of tunes made in the background, and the dialog that asks for it."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QObject, Qt, QThread, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from ...display import words
from ...files import FileFault, is_there
from ...ideas.recipe import Recipe, RecipeFault
from ...ideas.sets import FORMS, SetWriting, TuneSet, files_in
from ..notice import Notice
from ..parts import answers, describe
from ..plain_dialogs import PlainForm, PlainProgress
from ..plain_text import PlainLabel

__all__ = ["SetDialog", "SetMaking", "SetWork", "Wanted"]

_MOST = 10_000
_SOON = 300  # milliseconds after which long work shows its progress
_FORM_NAMES = {"chick": "sheets (.chick)", "mid": "MIDI files (.mid)", "wav": "sound (.wav)"}


@dataclass(frozen=True, slots=True)
class Wanted:
    """The user's choices for a set."""

    recipe: Recipe
    seed: int
    count: int
    form: str
    folder: Path


class SetDialog(QDialog):
    """Asks how many, in which form, and where."""

    def __init__(self, recipe: Recipe, seed: int, folder: Path, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Make a set of tunes")
        self._recipe = recipe
        self.count = QSpinBox()
        self.seed = QSpinBox()
        self.form = QComboBox()
        self.count.setRange(1, _MOST)
        self.count.setValue(30)
        self.seed.setRange(1, 2**31 - 1)
        self.seed.setValue(seed)
        self.form.addItems([_FORM_NAMES[form] for form in FORMS])
        self.folder = QLineEdit(str(folder))
        self.choose = QPushButton("Choose…")
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        buttons, self.go_on = answers(self, "Make them")
        describe(
            (self.count, "How many tunes"),
            (self.form, "Form of the files"),
            (self.folder, "Folder for the files"),
            (self.seed, "Number of the set: the same tunes again from the same number"),
            (self.choose, "Choose the folder"),
            (self.said, "What will be written"),
        )
        row = QHBoxLayout()
        form = PlainForm()
        column = QVBoxLayout(self)
        row.addWidget(self.folder, 1)
        row.addWidget(self.choose)
        form.addRow("Tunes", self.count)
        form.addRow("Form", self.form)
        form.addRow("Folder", row)
        form.addRow("Number of the set", self.seed)
        column.addLayout(form)
        column.addWidget(self.said)
        column.addWidget(buttons)
        self.setMinimumWidth(460)
        self.choose.clicked.connect(self._choose_folder)
        for number in (self.count, self.seed):
            number.valueChanged.connect(self._follow)
        self.form.currentTextChanged.connect(self._follow)
        self.folder.textChanged.connect(self._follow)
        self._follow()

    @property
    def wanted(self) -> Wanted:
        """The values of the fields."""
        form = FORMS[self.form.currentIndex()]
        folder = Path(self.folder.text().strip()).expanduser()
        return Wanted(self._recipe, self.seed.value(), self.count.value(), form, folder)

    def _choose_folder(self) -> None:
        found = QFileDialog.getExistingDirectory(self, "Folder for the tunes", self.folder.text())
        if found:
            self.folder.setText(found)

    def _follow(self) -> None:
        """Say what will be written, or why it cannot be."""
        wanted = self.wanted
        paths = files_in(wanted.folder, wanted.count, wanted.form)
        there = next((path for path in paths if is_there(path)), None)
        if not self.folder.text().strip():
            said = "Name a folder for the files."
        elif there is not None:
            said = f"{there.name} is in this folder already; choose another folder, so that nothing is replaced."
        else:
            several = f"{paths[0].name} to {paths[-1].name}" if len(paths) > 1 else paths[0].name
            said = f"{words.counted(wanted.count, 'different tune')}: {several}."
        self.said.setText(said)
        self.go_on.setEnabled(bool(self.folder.text().strip()) and there is None)


class SetWork(QThread):
    """Makes a set. ``progressed`` carries how many steps are done of how many; ``ended`` a sentence, and whether it
    is good news."""

    progressed = pyqtSignal(int, int)
    ended = pyqtSignal(str, bool)

    def __init__(self, wanted: Wanted, parent: QObject) -> None:
        super().__init__(parent)
        self._wanted = wanted
        self._tunes = TuneSet(wanted.recipe, wanted.seed, wanted.count)
        self._files: SetWriting | None = None
        self._cancelled = False

    def cancel(self) -> None:
        """Stop at once; the files that are written stay."""
        self._cancelled = True
        self._tunes.stop()
        if self._files is not None:
            self._files.stop()

    def run(self) -> None:
        """Make the tunes and write them."""
        wanted = self._wanted
        texts: list[str] = []
        written = 0
        try:
            for text in self._tunes.tunes():
                texts.append(text)
                self.progressed.emit(len(texts), 2 * wanted.count)
            if not self._cancelled:
                self._files = SetWriting(texts, files_in(wanted.folder, wanted.count, wanted.form)[: len(texts)])
                for written in self._files.written():
                    self.progressed.emit(wanted.count + written, 2 * wanted.count)
        except (RecipeFault, FileFault) as fault:
            self.ended.emit(str(fault), False)
            return
        if self._cancelled:
            said = f"Cancelled: {words.counted(written, 'tune')} written, in {wanted.folder}." if written else ""
            self.ended.emit(said or "Cancelled; no tune was written.", True)
        elif len(texts) < wanted.count:
            self.ended.emit(
                f"This recipe has only {words.counted(len(texts), 'different tune')}: they are in {wanted.folder}.",
                True,
            )
        else:
            self.ended.emit(f"{words.counted(len(texts), 'tune')} written, in {wanted.folder}.", True)


class SetMaking(QObject):
    """Asks for sets and makes them, one after the other, with progress that can be cancelled."""

    def __init__(self, notice: Notice, parent: QObject) -> None:
        super().__init__(parent)
        self._notice = notice
        self.work: SetWork | None = None
        """A set that is being made."""

    def ask(self, recipe: Recipe, seed: int, folder: Path, window: QWidget) -> None:
        """Ask how many, in which form and where, and make them."""
        if self.work is not None:
            return
        dialog = SetDialog(recipe, seed, folder, window)
        accepted = dialog.exec()
        wanted = dialog.wanted
        dialog.deleteLater()
        if accepted:
            self._make(wanted, window)

    def _make(self, wanted: Wanted, window: QWidget) -> None:
        work = self.work = SetWork(wanted, self)
        progress = PlainProgress(f"Making {wanted.count:,} tunes", 2 * wanted.count, window)
        progress.setWindowTitle("Make a set of tunes")
        progress.setWindowModality(Qt.WindowModality.WindowModal)
        progress.setMinimumDuration(_SOON)
        progress.canceled.connect(work.cancel)
        work.progressed.connect(lambda done, of: progress.setValue(min(done, of - 1)))
        work.ended.connect(lambda said, good: self._end(progress, said, good))
        work.start()

    def _end(self, progress: PlainProgress, said: str, good: bool) -> None:
        progress.close()
        progress.deleteLater()
        self.stop()
        self._notice.say(said, good)

    def stop(self) -> None:
        """Stop making a set, before the window goes."""
        if self.work is not None:
            self.work.cancel()
            self.work.wait()
            self.work = None
