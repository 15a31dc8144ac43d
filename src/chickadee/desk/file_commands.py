"""New, open, save and export: everything that asks for a file."""

from __future__ import annotations

from collections.abc import Callable
from importlib.resources import files
from pathlib import Path

from PyQt6.QtCore import QFile, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QMessageBox, QProgressDialog, QWidget

from ..checks import PROFILE_FILE, Profile, write_profile
from ..display import words
from ..files import LARGEST_SHEET, FileFault, is_there, read_bytes, replacing
from ..formats.anything import SUFFIXES
from ..formats.anything import read as read_any
from ..formats.smf import crowded
from ..library import SCORES, write_midi, write_score
from ..sheet.finding import shown
from ..song import Song
from .actions import ActionSpec
from .arrivals import Arrivals
from .document import Document
from .export import SoundExport, SoundRequest
from .export_dialog import SoundDialog
from .notice import Notice
from .settings import Settings

__all__ = ["FileCommands"]

_SHEETS = "Tunes (*.chick)"
_ALL_TUNES = f"Tunes of every form ({' '.join(f'*{suffix}' for suffix in SUFFIXES)})"
_SCORES = {"Score (*.musicxml)": ".musicxml", "Compressed score (*.mxl)": ".mxl", "Table (*.csv)": ".csv"}
_LONGEST_NAME = 60  # characters of a name that is suggested


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
        in_room: Callable[[], bool],
    ) -> None:
        super().__init__(window)
        self._document, self._arrivals, self._notice = document, arrivals, notice
        self._window, self._settings = window, settings
        self.settle: Callable[[], bool] = lambda: True
        """Asked before a file is replaced: whether to go on."""
        self.in_room = in_room
        """Whether the listener hears a small room."""
        self.folder = Path.home()
        """Where file dialogs begin."""
        self.export: SoundExport | None = None
        """The sound export at work, if any."""

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Files and folders."""
        keys = QKeySequence.StandardKey
        return (
            ActionSpec("tune.new", "Song/open", "&New tune", keys.New, "Begin an empty tune", self.new),
            ActionSpec("tune.open", "Song/open", "&Open…", keys.Open, "Open a tune from a file", self.open),
            ActionSpec("shelf.folder", "Song/open", "S&helf of a folder…", "Ctrl+Shift+O",
                       "Show another folder's tunes", self.choose_folder),
            ActionSpec("tune.save", "Song/save", "&Save", keys.Save, "Save the tune in its file", self.save),
            ActionSpec("tune.save-as", "Song/save", "Save &as…", "Ctrl+Shift+S", "Save the tune in another file",
                       self.save_as),
            ActionSpec("tune.midi", "Song/export", "Export &MIDI file…", "Ctrl+M",
                       "Write the tune as a Standard MIDI File", self.export_midi),
            ActionSpec("tune.score", "Song/export", "Export s&core or table…", "Ctrl+Shift+E",
                       "Write the tune as MusicXML, or as a table of its notes", self.export_score),
            ActionSpec("tune.sound", "Song/export", "Export soun&d…", "Ctrl+E", "Render the tune into a sound file",
                       self.export_sound),
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
            found = read_any(path)
            if found.text is not None:
                self._document.open(path)
            else:
                self._arrivals.bring(found, path.name)
        except FileFault as fault:
            self._notice.say(str(fault))
            return False
        self.folder = path.parent
        self._note_folder(path.resolve().parent)
        return True

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
        start = self._document.path or self.folder / f"{self._suggested_name()}.chick"
        path = self._ask_for_goal("Save the tune", str(start), _SHEETS, ".chick")
        return path is not None and self._save_to(path)

    def may_leave(self) -> bool:
        """Whether the tune may be left: it is saved, or the user says what becomes of its changes."""
        if not self._document.modified:
            return True
        question = QMessageBox(self._window)
        question.setText(f"Save the changes in {self._document.name}?")
        question.setInformativeText("Otherwise what was written since the last save is lost.")
        buttons = QMessageBox.StandardButton
        question.setStandardButtons(buttons.Save | buttons.Discard | buttons.Cancel)
        question.setDefaultButton(buttons.Save)
        answer = question.exec()
        return answer == buttons.Discard or (answer == buttons.Save and self.save())

    def do_on_shelf(self, what: str, path: Path) -> None:
        """Rename, duplicate or put away a tune of the shelf."""
        if what == "Duplicate":
            self.duplicate(path)
        elif what == "Move to the trash":
            self.put_away(path)
        else:
            name, wanted = QInputDialog.getText(
                self._window, "Rename the file", "A new name for the file:", text=path.stem
            )
            if wanted and name.strip():
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

    def export_midi(self) -> None:
        """Ask for a file and write the tune to it as a MIDI file."""
        path = self._ask_for_goal("Export a MIDI file", self._start(".mid"), "MIDI file (*.mid)", ".mid")
        if path is not None:
            self.write_midi(path)

    def write_midi(self, path: Path) -> None:
        """Write the tune as a MIDI file."""
        self._write(write_midi, path, f"The MIDI file is {path}. {crowded(self._document.reading.song)}".strip())

    def export_score(self) -> None:
        """Ask for a file and write the tune to it as a score or a table."""
        name, kind = QFileDialog.getSaveFileName(
            self._window, "Export a score or a table", self._start(".musicxml"), ";;".join(_SCORES)
        )
        if name:
            path = Path(name)
            suffix = path.suffix.lower() if path.suffix.lower() in SCORES else _SCORES.get(kind, ".musicxml")
            self.write_score(path if path.suffix.lower() == suffix else path.with_name(path.name + suffix))

    def write_score(self, path: Path) -> None:
        """Write the tune as a score or a table, by the suffix."""
        self._write(write_score, path, f"The {'table' if path.suffix.lower() == '.csv' else 'score'} is {path}.")

    def _write(self, write: Callable[[Song, Path], None], path: Path, said: str) -> None:
        try:
            write(self._document.reading.song, path)
        except FileFault as fault:
            self._notice.say(str(fault))
        else:
            self._notice.say(said, good=True)

    def export_sound(self) -> None:
        """Ask how and where, and render the tune."""
        song = self._document.reading.song
        dialog = SoundDialog(song, self.in_room(), self._window)
        accepted = dialog.exec()
        dialog.deleteLater()
        if not accepted:
            return
        suffix, request = dialog.suffix, dialog.request
        kind = f"{suffix[1:].upper()} sound (*{suffix})"
        path = self._ask_for_goal(
            "Export sound",
            self._start(suffix),
            kind,
            suffix,
            lambda path: [job.path for job in request.jobs(path, song)],
        )
        if path is not None:
            self.write_sound(path, request)

    def write_sound(self, path: Path, request: SoundRequest | None = None) -> None:
        """Render the tune into a sound file or several, with progress that can be cancelled."""
        request = request or SoundRequest()
        jobs = request.jobs(path, self._document.reading.song)
        export = self.export = SoundExport(jobs, request.settings, self._window)
        progress = QProgressDialog(f"Rendering {path.name}", "Cancel", 0, 100, self._window)
        progress.setWindowTitle("Export sound")
        progress.setWindowModality(Qt.WindowModality.WindowModal)
        progress.setMinimumDuration(300)
        progress.canceled.connect(export.cancel)
        export.progressed.connect(lambda done, left: self._show_progress(progress, path, done, left))
        export.ended.connect(lambda sentence, good: self._exported(progress, sentence, good))
        export.start()

    @staticmethod
    def _show_progress(progress: QProgressDialog, path: Path, done: int, left: float) -> None:
        progress.setLabelText(f"Rendering {path.name}: about {words.counted(max(1, round(left)), 'second')} left")
        progress.setValue(min(99, done))

    def wait(self) -> None:
        """Cancel an export at work and wait for its end, before the window goes."""
        if self.export is not None:
            self.export.cancel()
            self.export.wait()

    def _exported(self, progress: QProgressDialog, sentence: str, good: bool) -> None:
        progress.close()
        progress.deleteLater()
        if sentence:
            self._notice.say(sentence, good)
        self.wait()
        self.export = None

    def _ask_for_goal(
        self,
        title: str,
        start: str,
        kinds: str,
        suffix: str,
        files: Callable[[Path], list[Path]] = lambda path: [path],
    ) -> Path | None:
        """Ask for a file to write, with a suffix of its own, and whether what is there may be replaced.

        ``files`` says which files come of the one that is named. The dialog does not ask that itself: it would before
        the suffix is added. None where the user does not go on.
        """
        name, _ = QFileDialog.getSaveFileName(
            self._window, title, start, kinds, options=QFileDialog.Option.DontConfirmOverwrite
        )
        if not name:
            return None
        path = Path(name) if Path(name).suffix.lower() == suffix else Path(f"{name}{suffix}")
        there = [each.name for each in files(path) if is_there(each) and each != self._document.path]
        if there:
            question = QMessageBox(self._window)
            question.setText(f"{' and '.join(there)}: this already exists.")
            question.setInformativeText(f"In {path.parent}. What it holds is lost if it is replaced.")
            buttons = QMessageBox.StandardButton
            question.setStandardButtons(buttons.Save | buttons.Cancel)
            question.setDefaultButton(buttons.Cancel)
            if (replace := question.button(buttons.Save)) is not None:
                replace.setText("Replace")
            if question.exec() != buttons.Save:
                return None
        return path

    def _save_to(self, path: Path) -> bool:
        try:
            self._document.save(path)
        except FileFault as fault:
            self._notice.say(f"Not saved. {fault}")
            return False
        self.folder = path.parent
        self._notice.fade()
        return True

    def _suggested_name(self) -> str:
        title = "".join(c if c.isalnum() else "-" for c in self._document.reading.song.title.lower())
        return title[:_LONGEST_NAME].strip("-") or "tune"

    def _start(self, suffix: str) -> str:
        path = self._document.path
        return str(path.with_suffix(suffix) if path else self.folder / (self._suggested_name() + suffix))
