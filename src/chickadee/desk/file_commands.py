"""New, open and save: tunes into the desk, and back into their files."""

from __future__ import annotations

from collections.abc import Callable
from importlib.resources import files
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QFile, QObject, pyqtSignal
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import QFileDialog, QWidget

from ..checks import PROFILE_FILE, Profile, write_profile
from ..faults import InputFault
from ..files import LARGEST_SHEET, FileFault, is_small, is_there, read_bytes, replacing
from ..formats.forms import TUNE_SUFFIXES, is_a_sheet
from ..sheet.finding import shown
from ..workers import Lost, Work
from .actions import ActionSpec
from .arrivals import Arrivals
from .document import Document
from .goals import ask_for_goal
from .notice import Notice
from .plain_dialogs import Answer, ask_for_text, plain_question
from .settings import Settings
from .waiting import waited_for

if TYPE_CHECKING:
    from ..incoming import Brought

__all__ = ["FileCommands"]

_SHEETS = "Tunes (*.chick)"
_ALL_TUNES = f"Tunes of every form ({' '.join(f'*{suffix}' for suffix in TUNE_SUFFIXES)})"


class FileCommands(QObject):
    """Asks for files and moves the document in and out of them; a fault is said in the notice.

    ``folder_opened`` carries the folder whose tunes are wanted on the shelf.
    """

    folder_opened = pyqtSignal(object)
    worked_in = pyqtSignal(object)
    """Carries a folder that a tune was opened in, or that was put on the shelf."""

    def __init__(
        self,
        document: Document,
        arrivals: Arrivals,
        notice: Notice,
        window: QWidget,
        settings: Settings,
    ) -> None:
        super().__init__(window)
        self._document = document
        self._arrivals = arrivals
        self._notice = notice
        self._window = window
        self._settings = settings
        self.settle: Callable[[], bool] = lambda: True
        """Asked before a file is replaced: whether to go on."""
        self.folder = Path.home()
        """Where file dialogs begin."""

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Files and folders."""
        keys = QKeySequence.StandardKey
        return (
            ActionSpec("tune.new", "song/open", "&New tune", keys.New, "Begin an empty tune", self.new),
            ActionSpec("tune.open", "song/open", "&Open…", keys.Open, "Open a tune from a file", self.open),
            ActionSpec("shelf.folder", "song/open", "S&helf of a folder…", "Ctrl+Shift+O",
                       "Show another folder's tunes", self.choose_folder),
            ActionSpec("tune.save", "song/save", "&Save", keys.Save, "Save the tune in its file", self.save),
            ActionSpec("tune.save-as", "song/save", "Save &as…", "Ctrl+Shift+S", "Save the tune in another file",
                       self.save_as),
        )  # fmt: skip

    def new(self) -> None:
        """Begin an empty tune, once unsaved changes are settled."""
        if self.may_leave():
            self._document.new()

    def open(self) -> None:
        """Ask for a tune and open it."""
        name, _ = QFileDialog.getOpenFileName(
            self._window, "Open a tune", str(self.folder), f"{_ALL_TUNES};;{_SHEETS};;All files (*)"
        )
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> bool:
        """Open a tune, once unsaved changes are settled. Says whether it is open now."""
        if path == self._document.path and not self._document.modified:
            return True
        if not self.may_leave():
            return False
        self._notice.clear()
        try:
            if is_a_sheet(path):
                self._document.open(path)
            else:
                found = self._bring(path, f"Reading {path.name}")
                if found is None:
                    return False
                if found.found.text is not None:
                    self._document.open(path)
                else:
                    self._arrivals.bring(found, path.name)
        except InputFault as fault:
            self._notice.say(str(fault))
            return False
        self.folder = path.parent
        self._note_folder(path.resolve().parent)
        return True

    def begin_with(self, text: str) -> None:
        """Begin a new tune with a text of any form, once unsaved changes are settled."""
        if not self.may_leave():
            return
        try:
            found = self._bring(text, "Reading the text")
        except InputFault as fault:
            self._notice.say(str(fault))
            return
        if found is not None:
            self._document.recover(found.made.text, None)

    def _bring(self, source: Path | str, words: str) -> Brought | None:
        """Read a file or text from elsewhere; None where the user cancelled it. Raises InputFault.

        What is small is read at once, all else, and what may be a program, in a process of its own.
        """
        from ..incoming import brought
        from ..programs.languages import might_be_program

        text, name = (source, "") if isinstance(source, str) else ("", source.name)
        if is_small(source) and not might_be_program(text, name):
            found: Brought | str | Lost | None = brought(None, source)
        else:
            found = waited_for(self._window, words, Work(brought, None, [source], count=1))
        if isinstance(found, Lost):
            found = (
                f"{source if isinstance(source, Path) else 'The text'}: reading it took more than this computer has."
            )
        if isinstance(found, str):
            raise InputFault(found)
        return found

    def choose_folder(self) -> None:
        """Ask for a folder and put its tunes on the shelf."""
        name = QFileDialog.getExistingDirectory(self._window, "A folder for the shelf", str(self.folder))
        if name:
            self.open_folder(Path(name))

    def open_folder(self, folder: Path) -> None:
        """Put a folder's tunes on the shelf."""
        self.folder = folder
        self.folder_opened.emit(folder)
        self._note_folder(folder)

    def welcome(self) -> None:
        """The first time ever, begin with a tune that explains itself."""
        if not self._settings.is_on("welcomed", False):
            self._settings.set_on("welcomed", True)
            self._document.begin((files("chickadee.desk") / "welcome.chick").read_text("utf-8"))

    def _note_folder(self, folder: Path) -> None:
        self._settings.note_folder(folder)
        self.worked_in.emit(folder)

    def keep_profile(self, folder: Path, profile: Profile) -> None:
        """Keep what is checked beside a folder's tunes."""
        try:
            write_profile(folder / PROFILE_FILE, profile)
        except FileFault as fault:
            self._notice.say(str(fault))

    def save(self) -> bool:
        """Save to the tune's file, asking for one where there is none. Says whether it is saved."""
        path = self._document.path
        if path and not self.settle():
            return False
        return self._save_to(path) if path else self.save_as()

    def save_as(self) -> bool:
        """Ask for a file and save to it."""
        path = ask_for_goal(self._window, self._document, self.folder, "Save the tune", _SHEETS, ".chick")
        return path is not None and self._save_to(path)

    def may_leave(self) -> bool:
        """Return whether the tune may be left: it is saved, or the user says what becomes of its changes."""
        if not self._document.modified:
            return True
        question = plain_question(
            self._window,
            f"Save the changes in {self._document.name}?",
            "Otherwise what was written since the last save is lost.",
        )
        question.setStandardButtons(Answer.Save | Answer.Discard | Answer.Cancel)
        question.setDefaultButton(Answer.Save)
        answer = question.exec()
        return answer == Answer.Discard or (answer == Answer.Save and self.save())

    def do_on_shelf(self, what: str, path: Path) -> None:
        """Rename, duplicate or put away a tune of the shelf."""
        if what == "Duplicate":
            self.duplicate(path)
        elif what == "Move to the trash":
            self.put_away(path)
        else:
            name = ask_for_text(self._window, "Rename the file", "A new name for the file:", path.stem) or ""
            if name.strip():
                self.rename(path, name.strip())

    def duplicate(self, path: Path) -> None:
        """Lay a copy of a tune beside it."""
        free = (path.with_stem(f"{path.stem} {count}") for count in range(2, 10_000))
        goal = next(each for each in free if not is_there(each))
        try:
            content = read_bytes(path, LARGEST_SHEET)
            with replacing(goal) as new:
                new.write_bytes(content)
        except FileFault as fault:
            self._notice.say(str(fault))

    def rename(self, path: Path, name: str) -> None:
        """Give a tune's file another name; an open tune stays open."""
        if "/" in name or not name.isprintable():
            self._notice.say(f"{shown(name)}: this cannot be the name of a file; a name has no slash.")
            return
        goal = path.with_name(name if name.endswith(path.suffix) else f"{name}{path.suffix}")
        if is_there(goal):
            self._notice.say(f"{goal.name}: a file of this name already exists; choose another name.")
            return
        try:
            path.rename(goal)
        except OSError as error:
            self._notice.say(f"{path}: it could not be renamed: {error.strerror}.")
            return
        if self._document.path == path:
            self._document.move_to(goal)

    def put_away(self, path: Path) -> None:
        """Move a tune to the system's trash. What is open stays on the screen, as a tune without a file."""
        if not QFile.moveToTrash(str(path)) or is_there(path):
            self._notice.say(f"{path}: the system has no trash for it; nothing was moved.")
            return
        if self._document.path == path:
            self._document.move_to(None)
        self._notice.say(f"{path.name} is in the trash.", good=True)

    def _save_to(self, path: Path) -> bool:
        try:
            self._document.save(path)
        except FileFault as fault:
            self._notice.say(f"Not saved. {fault}")
            return False
        self.folder = path.parent
        self._notice.fade()
        return True
