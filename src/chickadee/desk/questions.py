"""Questions about the tune that a dialog asks: a phrase's other name, a key's letter, what is checked."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from ..sheet.lines import phrase_at, phrase_renamed, rename_fault
from .actions import ActionSpec
from .document import Document
from .editing import MusicEditing
from .file_commands import FileCommands
from .notice import Notice
from .plain_dialogs import ask_for_text
from .selection import Selection
from .theme import Look

__all__ = ["Questions"]

_MOST_ON_A_KEY = 8


class Questions(QObject):
    """Asks over a window, and does what is answered."""

    def __init__(
        self,
        document: Document,
        selection: Selection,
        editing: MusicEditing,
        files: FileCommands,
        notice: Notice,
        window: QWidget,
        look: Callable[[], Look],
        caret: Callable[[], int],
    ) -> None:
        """``look`` and ``caret`` tell what to draw with, and the offset of the caret, when asked."""
        super().__init__(window)
        self._look = look
        self._caret = caret
        self._document = document
        self._selection = selection
        self._editing = editing
        self._files = files
        self._notice = notice
        self._window = window

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Return the actions that open a question."""
        return (
            ActionSpec("phrase.rename", "edit/sheet", "R&ename the phrase…", "Shift+F2",
                       "Rename the phrase at the caret everywhere", self.rename_phrase),
            ActionSpec("note.key", "notes/keep", "Assign a &key…", "Ctrl+Shift+H",
                       "A letter that plays the selected notes, kept in the tune", self.give_key),
            ActionSpec("checks.choose", "edit/findings", "Chec&ks…", "Shift+F8",
                       "Switch checks on and off for this folder", self.choose_checks),
        )  # fmt: skip

    def rename_phrase(self) -> None:
        """Ask for another name of the phrase at the caret, and give it that everywhere."""
        reading = self._document.reading
        old = phrase_at(reading, self._caret())
        if old is None:
            self._notice.say("Put the caret on a phrase’s name to rename it.", good=True)
            return
        new = ask_for_text(self._window, "Rename the phrase", f"A new name for {old}:", old)
        new = old if new is None else new.strip()
        if new == old:
            return
        fault = rename_fault(reading, new)
        if fault:
            self._notice.say(fault)
        else:
            self._document.apply(phrase_renamed(reading, old, new))

    def give_key(self) -> None:
        """Ask for the letter that is to play the chosen notes, and keep that with the tune."""
        reading = self._document.reading
        chosen = "&".join(reading.song.notes[index].pitch.text for index in self._selection.notes[:_MOST_ON_A_KEY])
        if not chosen:
            self._notice.say("Select the notes that a computer key is to play.", good=True)
            return
        letter = ask_for_text(self._window, "Assign a key", f"The letter that plays {chosen}:") or ""
        letter = letter.strip().lower()
        if letter:
            own = [key for key in reading.sheet.settings.keys or () if key.letter != letter]
            pairs = [(key.letter, key.written) for key in own] + [(letter, chosen)]
            self._editing.set_property("keys", ", ".join(" ".join(pair) for pair in pairs))

    def choose_checks(self) -> None:
        """Ask what is checked, and keep that with the tune's folder."""
        folder = self._document.path.parent if self._document.path else None
        from .checks_dialog import ChecksDialog

        dialog = ChecksDialog(self._document.profile, folder.name if folder else "", self._look(), self._window)
        if dialog.exec():
            self._document.check_by(dialog.profile)
            if folder:
                self._files.keep_profile(folder, dialog.profile)
