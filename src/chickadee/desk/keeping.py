"""Nothing is lost: the journal fed, what was left behind offered, a file changed by others noticed."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer
from PyQt6.QtWidgets import QWidget

from ..files import FileFault, read_text
from ..sheet import TextEdit
from .document import Document
from .journal import Journal, LeftBehind, forget, left_behind
from .notice import Notice
from .theme import Look
from .versions import VersionsDialog

__all__ = ["Keeping"]

_KEEP_MILLISECONDS = 100
_SETTLE_MILLISECONDS = 200  # programs write a file in several steps


class Keeping(QObject):
    """Watches over one document."""

    def __init__(self, document: Document, notice: Notice, window: QWidget, look: Callable[[], Look]) -> None:
        super().__init__(window)
        self._document, self._notice, self._window, self._look = document, notice, window, look
        self.journal = Journal()
        self._warned = False
        self._refused = ""  # what the file held when the user chose to keep the version on the screen
        self._due = self._timer(_KEEP_MILLISECONDS, self._keep)
        self._settled = self._timer(_SETTLE_MILLISECONDS, self.look_at_file)
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(self._settled.start)
        document.reading_changed.connect(self._changed)
        document.file_changed.connect(self._changed)
        document.file_changed.connect(self._watch)

    # The journal

    def offer_left_behind(self) -> None:
        """Offer what a desk that is gone did not get to save."""
        for file, what in left_behind():
            if self._is_saved(what):
                forget(file)
                continue
            when = datetime.fromtimestamp(what.time).strftime("%d %B, %H:%M")
            self._notice.say(
                f"Work on {what.name} from {when} was not saved when Chickadee ended.",
                False,
                "Bring it back",
                partial(self.bring_back, file, what),
            )
            return

    def bring_back(self, file: Path, what: LeftBehind) -> None:
        """Go on with what was left behind, as a tune with unsaved changes; its file is as it was."""
        self._document.recover(what.text, Path(what.path) if what.path else None)
        self.journal.keep(what.text, self._document.path)
        self.journal.wait()
        if not self.journal.fault:
            forget(file)

    def close(self) -> None:
        """The window closes; what is unsaved by now is not wanted."""
        self._due.stop()
        self.journal.close()

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
        if self.journal.fault and not self._warned:
            self._warned = True
            self._notice.say(
                f"Unsaved work cannot be written down for safety: {self.journal.fault} Please save often."
            )
        if self._document.modified:
            self.journal.keep(self._document.reading.text, self._document.path)
        else:
            self.journal.forget()

    # The file

    def look_at_file(self) -> None:
        """See whether another program changed the tune's file."""
        self._watch()
        path = self._document.path
        if path is None or not path.exists():
            return
        try:
            there = read_text(path)
        except FileFault:
            return
        if there in (self._document.kept, self._document.reading.text, self._refused):
            return
        if not self._document.modified:
            self.take(there)
            self._notice.say(f"{path.name} was changed by another program; this is the new version.", good=True)
        else:
            self._notice.say(
                f"{path.name} was changed by another program, and here too.",
                False,
                "Compare both",
                lambda: self._compare(there),
            )

    def take(self, there: str) -> None:
        """Take the file's version; undo brings the other back."""
        self._document.apply([TextEdit(0, len(self._document.reading.text), there)])
        self._document.note_kept(there)

    def refuse(self, there: str) -> None:
        """Keep the version on the screen; saving will replace the file's."""
        self._refused = there

    def changed_elsewhere(self) -> str | None:
        """What the file holds, where that is neither what was opened or saved here nor what was refused."""
        path = self._document.path
        try:
            there = read_text(path) if path is not None and path.exists() else None
        except FileFault:
            return None
        known = (self._document.kept, self._document.reading.text, self._refused)
        return there if there is not None and there not in known else None

    def settle(self) -> bool:
        """Before saving: let the user choose where the file was changed elsewhere. Whether to go on."""
        there = self.changed_elsewhere()
        return there is None or self._compare(there)

    def _compare(self, there: str) -> bool:
        mine, name = self._document.reading.text, self._document.name
        dialog = VersionsDialog(mine, there, name, self._look(), self._window)
        answer = dialog.exec()
        dialog.deleteLater()
        if answer == VersionsDialog.FILE:
            self.take(there)
        elif answer == VersionsDialog.MINE:
            self.refuse(there)
        return answer == VersionsDialog.MINE

    def _watch(self) -> None:
        path = str(self._document.path) if self._document.path else ""
        if (watched := self._watcher.files()) != [path]:
            if watched:
                self._watcher.removePaths(watched)
            if path and Path(path).exists():
                self._watcher.addPath(path)

    def _timer(self, milliseconds: int, slot: object) -> QTimer:
        timer = QTimer(self)
        timer.setSingleShot(True)
        timer.setInterval(milliseconds)
        timer.timeout.connect(slot)  # type: ignore[arg-type]
        return timer
