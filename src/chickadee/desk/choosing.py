"""Which notes are chosen, and which voice is in front: one choice, which every view follows."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from ..song import Note
from .document import Document
from .timeline.scene import Scene

__all__ = ["Choosing"]


class Choosing(QObject):
    """The chosen notes of the document as it now reads.

    The caret and the choice are one: choosing a note asks for its text to be selected, and
    :meth:`follow_text` chooses what the selected text writes.
    """

    changed = pyqtSignal()
    front_changed = pyqtSignal()
    text_wanted = pyqtSignal(int, int)
    """Offsets of the text that is to be selected."""

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self._document = document
        self.notes: list[int] = []
        """Indices of the chosen notes; the one that is meant first stands first."""
        self.scene = Scene(document.reading)

    @property
    def front(self) -> int:
        """The voice that is edited."""
        return self.scene.front

    def follow_reading(self) -> None:
        """The document reads otherwise; the choice is made anew from the text that is selected."""
        reading = self._document.reading
        self.scene = Scene(reading, min(self.front, max(0, len(reading.song.voices) - 1)))
        self.notes = []

    def follow_text(self, start: int, end: int) -> None:
        """Choose the notes whose ink a caret touches, or that some selected text writes."""
        self.notes = self._document.reading.notes_at(start, end)
        if self.notes:
            self._bring_to_front(self._document.reading.song.notes[self.notes[0]].voice)
        self.changed.emit()

    def choose_note(self, index: int) -> None:
        """Choose a note by its index, with the others of its ink behind it."""
        self.text_wanted.emit(*self._document.reading.song.notes[index].ink[0])
        if self.notes[:1] != [index] and index in self.notes:
            self._choose([index, *(other for other in self.notes if other != index)])

    def choose_notes(self, notes: list[int]) -> None:
        """Choose some notes by their indices, wherever they are written; the caret goes to the first."""
        if notes:
            self.choose_note(notes[0])
        self._choose(list(notes))

    def choose_more(self, what: str) -> None:
        """Choose what belongs with the chosen note: its ``bar``, ``voice``, ``pitch`` or ``ink``, everywhere."""
        song = self._document.reading.song
        if not self.notes:
            return
        first = song.notes[self.notes[0]]
        likenesses: dict[str, Callable[[Note], object]] = {
            "bar": lambda note: (note.voice, song.grid.number_at(note.start)),
            "voice": lambda note: note.voice,
            "pitch": lambda note: note.number,
            "ink": lambda note: note.ink[0],
        }
        of = likenesses[what]
        self.choose_notes([index for index, note in enumerate(song.notes) if of(note) == of(first)])

    def bring_forward(self, voice: int) -> None:
        """Edit another voice: its first note is chosen, or where it has none nothing is."""
        notes = self._document.reading.song.notes
        first = next((index for index, note in enumerate(notes) if note.voice == voice), None)
        self.choose_notes([] if first is None else [first])
        self._bring_to_front(voice)

    def step(self, by: int) -> None:
        """Choose the front voice's note before or after the chosen one."""
        notes = self._document.reading.song.notes
        mine = [index for index, note in enumerate(notes) if note.voice == self.front]
        if not mine:
            return
        if not self.notes:
            self.choose_note(mine[0] if by > 0 else mine[-1])
            return
        here = notes[self.notes[0]].start
        ahead = [index for index in mine if (notes[index].start - here) * by > 0]
        if ahead:
            self.choose_note(min(ahead, key=lambda index: abs(notes[index].start - here)))

    def _choose(self, notes: list[int]) -> None:
        self.notes = notes
        self.changed.emit()

    def _bring_to_front(self, voice: int) -> None:
        if voice != self.front:
            self.scene = Scene(self._document.reading, voice)
            self.front_changed.emit()
