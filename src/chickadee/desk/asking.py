"""Questions about the tune that a dialog asks: a phrase's other name, a key's letter, what is checked."""

from __future__ import annotations

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QInputDialog, QWidget

from .checks_dialog import ChecksDialog
from .choosing import Choosing
from .document import Document
from .editing import MusicEditing
from .filing import Filing
from .notice import Notice
from .sheet.lines import phrase_at, phrase_renamed, rename_fault
from .theme import Look

__all__ = ["Asking"]

_MOST_ON_A_KEY = 8


class Asking(QObject):
    """Asks over a window, and does what is answered."""

    def __init__(
        self, document: Document, choosing: Choosing, editing: MusicEditing, filing: Filing, notice: Notice,
        window: QWidget,
    ) -> None:  # fmt: skip
        super().__init__(window)
        self._document, self._choosing, self._editing = document, choosing, editing
        self._filing, self._notice, self._window = filing, notice, window

    def rename_phrase(self, offset: int) -> None:
        """Ask for another name of the phrase at an offset, and give it that everywhere."""
        reading = self._document.reading
        old = phrase_at(reading, offset)
        if old is None:
            self._notice.say("Put the caret on a phrase’s name to rename it.", good=True)
            return
        new, wanted = QInputDialog.getText(self._window, "Rename the phrase", f"A new name for {old}:", text=old)
        new = new.strip()
        if not wanted or new == old:
            return
        fault = rename_fault(reading, new)
        if fault:
            self._notice.say(fault)
        else:
            self._document.apply(phrase_renamed(reading, old, new))

    def give_key(self) -> None:
        """Ask for the letter that is to play the chosen notes, and keep that with the tune."""
        reading = self._document.reading
        chosen = "&".join(reading.song.notes[index].pitch.text for index in self._choosing.notes[:_MOST_ON_A_KEY])
        if not chosen:
            self._notice.say("Choose the notes that a computer key is to play.", good=True)
            return
        letter, wanted = QInputDialog.getText(self._window, "A key of its own", f"The letter that plays {chosen}:")
        letter = letter.strip().lower()
        if wanted and letter:
            own = [key for key in reading.sheet.settings.keys or () if key.letter != letter]
            pairs = [(key.letter, key.written) for key in own] + [(letter, chosen)]
            self._editing.set_property("keys", ", ".join(" ".join(pair) for pair in pairs))

    def choose_checks(self, look: Look) -> None:
        """Ask what is checked, and keep that with the tune's folder."""
        folder = self._document.path.parent if self._document.path else None
        dialog = ChecksDialog(self._document.profile, folder.name if folder else "", look, self._window)
        if dialog.exec():
            self._document.check_by(dialog.profile)
            if folder:
                self._filing.keep_profile(folder, dialog.profile)
