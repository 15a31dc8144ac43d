"""Undo, the clipboard and the layout of the sheet."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QKeySequence

from ..sheet import TextEdit
from ..sheet.renaming import renamed
from ..sheet.tidy import tidy
from ..theory import Naming
from .actions import ActionSpec
from .clipboard import clipboard_text, copy_text
from .document import Document
from .editing import MusicEditing
from .notice import Notice
from .sheet.editor import SheetEditor
from .timeline.view import TimelineView

__all__ = ["EditCommands"]

_NAMINGS = {
    "letters": (Naming.LETTERS, "&Letters: C D E … A B♭ B"),
    "h": (Naming.H, "Letters with &H: C D E … A B H"),
    "syllables": (Naming.SYLLABLES, "&Syllables: do re mi … la si"),
    "moving": (Naming.MOVING, "Syllables with a &moving do"),
}


class EditCommands(QObject):
    """Cuts, copies and pastes text in the sheet, or notes where the timeline has the focus."""

    def __init__(
        self,
        document: Document,
        editing: MusicEditing,
        notice: Notice,
        editor: SheetEditor,
        timeline: TimelineView,
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self._document = document
        self._editing = editing
        self._notice = notice
        self._editor = editor
        self._timeline = timeline

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Undo, the clipboard, tidying."""
        keys = QKeySequence.StandardKey
        return (
            ActionSpec("edit.undo", "edit/undo", "&Undo", keys.Undo, "Undo the last change", self.undo),
            ActionSpec("edit.redo", "edit/undo", "&Redo", keys.Redo, "Make the change again", self.redo),
            ActionSpec(
                "edit.cut",
                "edit/clipboard",
                "Cu&t",
                keys.Cut,
                "Cut the selected text, or the selected notes",
                self.cut,
            ),
            ActionSpec(
                "edit.copy", "edit/clipboard", "&Copy", keys.Copy, "Copy the selected text or notes", self.copy
            ),
            ActionSpec("edit.paste", "edit/clipboard", "&Paste", keys.Paste, "Paste at the caret", self.paste),
            ActionSpec(
                "sheet.tidy",
                "edit/sheet",
                "Tid&y",
                "Ctrl+Shift+Y",
                "Lay the sheet out evenly; nothing that sounds changes",
                self.tidy,
            ),
            *(
                ActionSpec(
                    f"names.{name}",
                    "edit/sheet",
                    text,
                    None,
                    "Write every name of the sheet so; no note changes",
                    partial(self.rename, naming),
                    submenu="&Names of pitches",
                )
                for name, (naming, text) in _NAMINGS.items()
            ),
            ActionSpec(
                "rows.copy",
                "notes/keep",
                "Copy the rows as a table",
                "Ctrl+Shift+C",
                "Copy the reading rows, for a worksheet or a spreadsheet",
                self.copy_rows,
            ),
        )

    def rename(self, naming: Naming) -> None:
        """Write every name of the sheet in a tradition."""
        self._document.apply(renamed(self._document.reading, naming))

    def undo(self) -> None:
        """Undo the last change; the notes that were selected then are selected again."""
        self._editor.undo()
        self._editing.recall_choice()

    def redo(self) -> None:
        """Make the change again."""
        self._editor.redo()
        self._editing.recall_choice()

    def copy(self) -> None:
        """Copy the selected text, or the selected notes where the timeline has the focus."""
        if self._timeline.hasFocus():
            copy_text(self._editing.copy())
        else:
            self._editor.copy()

    def cut(self) -> None:
        """Cut the selected text; where the timeline has the focus, copy the selected notes and delete them."""
        if self._timeline.hasFocus():
            self.copy()
            self._editing.delete()
        else:
            self._editor.cut()

    def paste(self) -> None:
        """Paste at the caret, or after the selected note where the timeline has the focus."""
        if self._timeline.hasFocus():
            self._editing.paste(clipboard_text())
        else:
            self._editor.paste()

    def copy_rows(self) -> None:
        """Copy the reading rows as a table."""
        copy_text(self._timeline.rows_as_table())
        self._notice.say("The rows are on the clipboard, as a table.", good=True)

    def tidy(self) -> None:
        """Lay the sheet out, as one step of the undo."""
        text = self._document.reading.text
        if tidy(text) != text:
            self._document.apply([TextEdit(0, len(text), tidy(text))])

    def offer_sheet(self, start: int, end: int, sheet: str) -> None:
        """A list of notes from elsewhere was pasted between two offsets: offer to write it as a sheet."""
        self._notice.say(
            "This looks like a list of notes from elsewhere.",
            True,
            "Write it as a sheet",
            lambda: self._document.apply([TextEdit(start, end, sheet)]),
        )
