"""The tune being worked on: its text, its file and its reading. The text is the one truth."""

from __future__ import annotations

from collections.abc import Iterable
from operator import attrgetter
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QTextCursor, QTextDocument
from PyQt6.QtWidgets import QPlainTextDocumentLayout

from ..checks import USUAL, Profile, checked_reading, profile_for
from ..files import FileFault, read_text, storable, write_text
from ..sheet import Reading, TextEdit
from .utf16 import to_qt

__all__ = ["Document"]


class Document(QObject):
    """One sheet, in a text document whose undo is the undo of everything.

    ``reading_changed`` is sent at once when the text changes; views draw :attr:`reading` and keep nothing else. What
    is saved, journalled and counted as a change is :attr:`text`, which no failure of a reader can hold up.
    """

    reading_changed = pyqtSignal()
    left = pyqtSignal()
    """Another tune is about to take the place of this one."""
    begun = pyqtSignal()
    """Another tune has taken its place."""
    file_changed = pyqtSignal()
    """The path, or whether there are unsaved changes."""
    profile_faulty = pyqtSignal(str)
    """A sentence about a folder's profile that cannot be read."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.text_document = QTextDocument(self)
        self.text_document.setDocumentLayout(QPlainTextDocumentLayout(self.text_document))
        self.path: Path | None = None
        self.text = ""
        """The text in the editor, as a file can hold it."""
        self.profile: Profile = USUAL
        """The profile of the checks."""
        self.reading: Reading = checked_reading("")
        self.text_document.contentsChanged.connect(self._contents_changed)  # its layout is settled by then
        self._kept: str | None = ""  # the text that the file holds
        self._revision = self.text_document.revision()  # that was read
        self._is_loading = False

    @property
    def modified(self) -> bool:
        """True if there are changes that no file holds."""
        return self.text != self._kept

    @property
    def kept(self) -> str | None:
        """The text as the file held it when it was last opened or saved; None where the file is gone."""
        return self._kept

    @property
    def is_read(self) -> bool:
        """True if the reading is of the text as it stands. Within a change Qt tells of carets before it is read."""
        return self.text_document.revision() == self._revision

    @property
    def name(self) -> str:
        """The name of the tune in the window."""
        return self.path.name if self.path else "New tune"

    def new(self) -> None:
        """Begin an empty tune."""
        self._put("", None)

    def begin(self, text: str) -> None:
        """Begin with a text that need not be saved."""
        self._put(text, None)

    @property
    def folder(self) -> Path:
        """The folder of its file; the home folder as long as it has none."""
        return self.path.parent if self.path else Path.home()

    def open(self, path: Path) -> None:
        """Take a file's text. Raises FileFault, and then nothing has changed."""
        self._put(read_text(path), path)

    def save(self, path: Path) -> None:
        """Write the text to a file. Raises FileFault, and then the old file is whole."""
        text = self.text = self._text_now()
        write_text(path, text)
        self.path = path
        self._kept = text
        self.check_by(self._profile_for(path))
        self.file_changed.emit()

    def move_to(self, path: Path | None) -> None:
        """The tune's file has another name now, or, with None, is gone."""
        self.path = path
        if path is None:
            self._kept = ""
        self.file_changed.emit()

    def recover(self, text: str, path: Path | None) -> None:
        """Go on with a text that no file holds yet; undo goes back to what the file holds."""
        there = _text_of(path)
        self._put(there, path)
        if text != there:
            self.apply([TextEdit(0, len(there), text)])
        self.file_changed.emit()

    def note_kept(self, text: str | None) -> None:
        """The file is known to hold a text; None where it is gone."""
        self._kept = text
        self.file_changed.emit()

    def check_by(self, profile: Profile) -> None:
        """Check the tune by another profile from now on."""
        if profile != self.profile:
            self.profile = profile
            self._read()

    def apply(self, edits: Iterable[TextEdit], joined: bool = False) -> None:
        """Make edits, whose offsets count in :attr:`reading`'s text, as one step of the undo, or ``joined`` to the
        step before."""
        ordered = sorted(edits, key=attrgetter("start", "end"), reverse=True)
        text = self.reading.text
        cursor = QTextCursor(self.text_document)
        if ordered:
            cursor.setPosition(self.to_qt(ordered[-1].start, text))  # where the caret will be once it is undone
        cursor.joinPreviousEditBlock() if joined else cursor.beginEditBlock()
        for edit in ordered:
            cursor.setPosition(self.to_qt(edit.start, text))
            cursor.setPosition(self.to_qt(edit.end, text), QTextCursor.MoveMode.KeepAnchor)
            cursor.insertText(edit.text)
        cursor.endEditBlock()

    def to_qt(self, offset: int, text: str | None = None) -> int:
        """An offset in characters as Qt counts it, in UTF-16 units."""
        return to_qt(offset, self.reading.text if text is None else text)

    def from_qt(self, position: int) -> int:
        """The inverse of :meth:`to_qt`."""
        text = self.reading.text
        if text.isascii():
            return min(position, len(text))
        before = text.encode("utf-16-le", "surrogatepass")[: 2 * position]
        return min(len(before.decode("utf-16-le", "replace")), len(text))

    def _put(self, text: str, path: Path | None) -> None:
        """Take another tune's text, and then its path; only then is it read."""
        profile = self._profile_for(path)
        self.left.emit()
        self._is_loading = True
        try:
            self.text_document.setPlainText(text)
            self.text = self._text_now()
        finally:
            self._is_loading = False
        self.path = path
        self._kept = self.text
        self.profile = profile
        self.text_document.clearUndoRedoStacks()
        self._read()
        self.file_changed.emit()
        self.begun.emit()

    def _profile_for(self, path: Path | None) -> Profile:
        """Return the profile of a tune's folder; one that cannot be read is said, and counts for nothing."""
        try:
            return profile_for(path)
        except FileFault as fault:
            self.profile_faulty.emit(str(fault))
            return USUAL

    def _contents_changed(self) -> None:
        if self._is_loading:
            return
        text = self._text_now()
        if text == self.text:
            self._revision = self.text_document.revision()
            return
        was_modified = self.modified
        self.text = text
        self._read()
        if self.modified != was_modified:
            self.file_changed.emit()

    def _read(self) -> None:
        self._revision = self.text_document.revision()
        self.reading = checked_reading(self.text, self.profile)
        self.reading_changed.emit()

    def _text_now(self) -> str:
        """The text in the editor. (Qt's plain text has spaces where there are no-break spaces.)"""
        return storable(self.text_document.toRawText())


def _text_of(path: Path | None) -> str:
    """Return a file's text; nothing where it cannot be read."""
    try:
        return read_text(path) if path is not None else ""
    except FileFault:
        return ""
