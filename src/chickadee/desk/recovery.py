"""Recovery of unsaved work: feeds the journal, offers what an earlier desk left, notices files changed by others."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, pyqtSignal
from PyQt6.QtWidgets import QWidget

from ..files import FileFault, is_there, read_text
from ..sheet import TextEdit
from .actions import ActionSpec
from .document import Document
from .earlier_work import EarlierWorkDialog
from .journal import Journal, LeftBehind, date_in_words, earlier_work, forget, left_behind, put_by, set_aside
from .notice import Notice
from .pauses import after_pause
from .theme import Look
from .versions import VersionsDialog, Wording

__all__ = ["Recovery"]

_KEEP_MILLISECONDS = 100
_SETTLE_MILLISECONDS = 200  # programs write a file in several steps
_GONE_MILLISECONDS = 600  # after which a file that is not there is gone


class Recovery(QObject):
    """Watches over one document. ``fault_changed`` tells that the journal can no longer be written, or can again."""

    fault_changed = pyqtSignal()

    def __init__(self, document: Document, notice: Notice, window: QWidget, look: Callable[[], Look]) -> None:
        super().__init__(window)
        self._document = document
        self._notice = notice
        self._window = window
        self._look = look
        self.may_leave: Callable[[], bool] = lambda: True
        """Asked before another tune takes the place of this one: whether to go on."""
        self.save: Callable[[], object] = lambda: None
        """Saves the tune to its file."""
        self.journal = Journal()
        self.fault = ""
        """Why unsaved work is not written down at this time; empty where it is."""
        self._refused = ""  # what the file held when the user chose to keep the version on the screen
        self._due = after_pause(self, _KEEP_MILLISECONDS, self._keep)
        self._written = after_pause(self, _KEEP_MILLISECONDS, self._look_at_journal)
        self._settled = after_pause(self, _SETTLE_MILLISECONDS, self.look_at_file)
        self._gone = after_pause(self, _GONE_MILLISECONDS, self.look_at_file)
        self._seen_gone = False
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(self._settled.start)
        self._watcher.directoryChanged.connect(self._settled.start)
        document.reading_changed.connect(self._changed)
        document.file_changed.connect(self._changed)
        document.file_changed.connect(self._watch)

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Finding earlier work."""
        return (
            ActionSpec(
                "work.earlier",
                "song/open",
                "Earlier &work…",
                None,
                "Tunes that were not saved, and not brought back when they were offered",
                self.show_earlier,
            ),
        )

    # The journal

    def offer_left_behind(self) -> None:
        """Offer what desks that are gone did not get to save, the newest first; each waits until it is answered."""
        unreadable = set_aside()
        for file, what in reversed(left_behind()):
            if self._is_saved(what):
                forget(file)
            else:
                self._offer(file, what)
        if unreadable:  # said last, since it would not wait behind an offer
            names = " and ".join(map(str, unreadable))
            self._notice.say(f"A safety copy of unsaved work cannot be read. It is kept as {names}.")

    def _offer(self, file: Path, what: LeftBehind) -> None:
        self._notice.say(
            f"Work on {what.name} from {what.date} was not saved when Chickadee ended.",
            False,
            "Bring it back",
            partial(self.bring_back, file, what),
            partial(self._put_by, file),
        )

    def _put_by(self, file: Path) -> None:
        put_by(file)
        self._notice.say("It is kept for a year: Song, Earlier work.", good=True)

    def show_earlier(self) -> None:
        """Show what was offered and not wanted, and bring back what is chosen."""
        dialog = EarlierWorkDialog(earlier_work(), self._look(), self._window)
        chosen = dialog.chosen if dialog.exec() else None
        dialog.deleteLater()
        if chosen is not None:
            self.bring_back(*chosen, is_earlier=True)

    def bring_back(self, file: Path, what: LeftBehind, is_earlier: bool = False) -> None:
        """Go on with what was left behind, as a tune with unsaved changes; undo goes back to what its file holds.

        Where the file holds something else, both are shown side by side first. What is open is left as it would be
        for any other tune. Whatever is not decided is offered again.
        """
        path = Path(what.path) if what.path else None
        answer = self._which_version(what, path) if self.may_leave() else 0
        if answer == VersionsDialog.MINE:
            self._document.recover(what.text, path)
            self.journal.keep(what.text, path)
            self.journal.wait()
            if not self.journal.fault:
                forget(file)
        elif answer == VersionsDialog.FILE and path is not None:
            try:
                self._document.open(path)
            except FileFault as fault:
                self._notice.say(str(fault))
            else:
                if not is_earlier:
                    put_by(file)
        elif not is_earlier:
            self._offer(file, what)

    def _which_version(self, what: LeftBehind, path: Path | None) -> int:
        """Ask which to go on with: what was left behind, or its file; 0 to decide later."""
        try:
            there = read_text(path) if path is not None else what.text
            changed = path.stat().st_mtime if path is not None else 0.0
        except (FileFault, OSError):
            return VersionsDialog.MINE  # there is no file to choose
        if there == what.text:
            return VersionsDialog.MINE
        wording = Wording(
            f"Not saved, from {what.date}",
            f"In the file, from {date_in_words(changed)}",
            "Bring back the unsaved one",
            "Take the file's",
        )
        return self._choose(VersionsDialog(what.text, there, what.name, self._look(), self._window, wording))

    def keep_at_once(self) -> None:
        """Write unsaved work down now, and come back when it is done."""
        self._due.stop()
        self._keep()
        self.journal.wait()

    def close(self, forget: bool = True) -> None:
        """The window closes; what is unsaved by now is not wanted, unless it is to be offered again."""
        self._due.stop()
        self._written.stop()
        self.journal.close(forget)

    @staticmethod
    def _is_saved(what: LeftBehind) -> bool:
        try:
            return what.path is not None and read_text(what.path) == what.text
        except FileFault:
            return False

    def _changed(self) -> None:
        if not self._due.isActive():
            self._due.start()

    def _keep(self) -> None:
        if self._document.modified:
            self.journal.keep(self._document.text, self._document.path)
        else:
            self.journal.forget()
        self._written.start()

    def _look_at_journal(self) -> None:
        """See whether the journal could be written, and say when that changes."""
        if self.journal.working:
            self._written.start()
            return
        fault = self.journal.fault if self._document.modified else ""
        if bool(fault) != bool(self.fault):
            self.fault = fault
            if fault:
                self._notice.say(f"No safety copy can be written: {fault} Please save the tune often.")
            self.fault_changed.emit()

    # The file

    def look_at_file(self) -> None:
        """See whether another program changed the tune's file."""
        self._watch()
        path = self._document.path
        if path is not None and self._is_gone(path):
            self._note_gone(path)
            return
        self._seen_gone = False
        if self._document.kept is None and self._is_back():
            self._document.note_kept(self._document.text)
            self._notice.clear()
            return
        there = self.changed_elsewhere()
        if path is None or there is None:
            return
        if not self._document.modified:
            self.take(there)
            self._notice.say(f"{path.name} was changed by another program; this is the new version.", good=True)
        else:
            self._notice.say(
                f"{path.name} was changed by another program, and here too.",
                False,
                "Compare both",
                partial(self._compare_with, path),
            )

    def _is_gone(self, path: Path) -> bool:
        """Return whether the tune's file is no longer there, or holds nothing of a tune that is not empty."""
        try:
            return not is_there(path) or (bool(self._document.text.strip()) and path.stat().st_size == 0)
        except OSError:
            return True

    def _is_back(self) -> bool:
        """Return whether the file, which was gone, holds the tune as it is here."""
        try:
            return self._document.path is not None and read_text(self._document.path) == self._document.text
        except FileFault:
            return False

    def _note_gone(self, path: Path) -> None:
        """Say once that the file is gone; a program that writes it anew gets a moment for that."""
        if self._document.kept is None:
            return
        if not self._seen_gone:
            self._seen_gone = True
            self._gone.start()
            return
        self._seen_gone = False
        what = "emptied" if is_there(path) else "deleted or moved"
        self._document.note_kept(None)
        self._notice.say(
            f"Another program {what} {path.name}. The tune is still here; save it to keep it.",
            False,
            "Save it again",
            self.save,
        )

    def take(self, there: str) -> None:
        """Take the file's version; undo brings the other back."""
        self._document.apply([TextEdit(0, len(self._document.text), there)])
        self._document.note_kept(there)

    def refuse(self, there: str) -> None:
        """Keep the version on the screen; saving will replace the file's."""
        self._refused = there

    def changed_elsewhere(self) -> str | None:
        """Return the file's text, where that is neither what was opened or saved here nor what was refused."""
        path = self._document.path
        try:
            there = read_text(path) if path is not None and not self._is_gone(path) else None
        except FileFault:
            return None
        known = (self._document.kept, self._document.text, self._refused)
        return there if there is not None and there not in known else None

    def settle(self) -> bool:
        """Before saving: let the user choose where the file was changed elsewhere. Whether to go on."""
        there = self.changed_elsewhere()
        return there is None or self._compare(there)

    def _compare_with(self, path: Path) -> None:
        """Compare with the file as it is by now, if its tune is still open."""
        if path == self._document.path and (there := self.changed_elsewhere()) is not None:
            self._compare(there)

    def _compare(self, there: str) -> bool:
        mine = self._document.text
        name = self._document.name
        answer = self._choose(VersionsDialog(mine, there, name, self._look(), self._window))
        if answer == VersionsDialog.FILE:
            self.take(there)
        elif answer == VersionsDialog.MINE:
            self.refuse(there)
        return answer == VersionsDialog.MINE

    @staticmethod
    def _choose(dialog: VersionsDialog) -> int:
        answer = dialog.exec()
        dialog.deleteLater()
        return answer

    def _watch(self) -> None:
        """Watch the tune's file, and its folder: a file that comes back there is seen by that alone."""
        path = self._document.path
        wanted = [str(each) for each in (path, path.parent) if is_there(each)] if path is not None else []
        watched = [*self._watcher.files(), *self._watcher.directories()]
        if sorted(watched) != sorted(wanted):
            if watched:
                self._watcher.removePaths(watched)
            if wanted:
                self._watcher.addPaths(wanted)
