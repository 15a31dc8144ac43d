"""The selected notes and the voice in front: one selection, which every view follows."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from operator import attrgetter

from PyQt6.QtCore import QObject, pyqtSignal

from ..display.scene import Scene
from ..song import Note
from ..song.sounds import DEFAULT_SOUND
from .actions import ActionSpec
from .document import Document

__all__ = ["Selection"]


class Selection(QObject):
    """The selected notes of the document as it now reads.

    The caret and the selection are one: selecting a note asks for its text to be selected, and
    :meth:`follow_text` selects what the selected text writes.
    """

    scene_changed = pyqtSignal(object)
    """The document reads otherwise, or another voice is in front: carries the new Scene."""
    changed = pyqtSignal()
    """Other notes are selected, or the scene is new."""
    text_wanted = pyqtSignal(int, int)
    """Offsets of the text that is to be selected."""
    sheet_wanted = pyqtSignal(int, int)
    """The same, and the user wants to write there."""

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self._document = document
        self.notes: list[int] = []
        """Indices of the chosen notes; the one that is meant first stands first."""
        self.text = (0, 0)
        """The offsets of the text that is selected; both the same at a caret."""
        self.scene = Scene(document.reading)
        document.reading_changed.connect(self._follow_reading)

    @property
    def front(self) -> int:
        """The voice that is edited."""
        return self.scene.front

    @property
    def front_sound(self) -> tuple[str, float]:
        """The name of the front voice's sound, and the frequency of A4 in Hz."""
        return self.sound_of(None)

    def sound_of(self, voice: str | None) -> tuple[str, float]:
        """The name of a voice's sound, by the voice's name, and the frequency of A4 in Hz."""
        song = self.scene.song
        return (song.voices[self.place_of(voice)].sound if song.voices else DEFAULT_SOUND), song.tuning

    def place_of(self, voice: str | None) -> int:
        """Which of the song's voices has a name; the front one where none has, or none is given."""
        names = [each.name for each in self.scene.song.voices]
        return names.index(voice) if voice in names else self.front

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Selecting more notes, and going from note to note."""

        def more(what: str, text: str, keys: str, hint: str) -> ActionSpec:
            return ActionSpec(f"select.{what}", "notes/select", text, keys, hint, lambda: self.choose_more(what))

        return (
            more("bar", "Select the &bar", "Ctrl+B", "Select the notes of this bar"),
            more("voice", "Select the &voice", "Ctrl+Shift+B", "Select all notes of the voice"),
            more("pitch", "Select this pitch &everywhere", "Ctrl+Shift+P", "Select all notes of this number"),
            more("source", "Select what is written &here", "Ctrl+Shift+N", "Select all notes of the same text"),
            ActionSpec("mark.back", "listen/step", "The mark &before", "Shift+F3", "Go to the mark before",
                       partial(self.step_to_mark, -1)),
            ActionSpec("mark.on", "listen/step", "The next &mark", "Shift+F4", "Go to the next mark",
                       partial(self.step_to_mark, 1)),
            ActionSpec("step.back", "listen/step", "&Last note", "F3", "Go to the note before",
                       partial(self.step, -1), short="Last note"),
            ActionSpec("step.on", "listen/step", "Next &note", "F4", "Go to the note after",
                       partial(self.step, 1), short="Next note"),
        )  # fmt: skip

    def follow_text(self, start: int, end: int) -> None:
        """Choose the notes whose source spans a caret touches, or that some selected text writes."""
        self.text = start, end
        self.notes = self._document.reading.notes_at(start, end)
        if self.notes:
            self._bring_to_front(self._document.reading.song.notes[self.notes[0]].voice)
        self.changed.emit()

    def step_to_mark(self, by: int) -> None:
        """Select the first note at the next mark, or at the one before."""
        song = self.scene.song
        here = song.notes[self.notes[0]].start if self.notes else -1
        ticks = [tick for tick, _ in song.marks if (tick > here if by > 0 else tick < here)]
        if not ticks:
            return
        tick = ticks[0] if by > 0 else ticks[-1]
        later = [index for index, note in enumerate(song.notes) if note.start >= tick]
        first = [index for index in later if song.notes[index].start == song.notes[later[0]].start] if later else []
        mine = [index for index in first if song.notes[index].voice == self.front]
        if first:
            self.choose_note((mine or first)[0])

    def choose_note(self, index: int) -> None:
        """Choose a note by its index, with the others of its source span behind it."""
        self.text_wanted.emit(*self._document.reading.song.notes[index].spans[0])
        if self.notes[:1] != [index] and index in self.notes:
            self._choose([index, *(other for other in self.notes if other != index)])

    def choose_notes(self, notes: list[int]) -> None:
        """Choose some notes by their indices, wherever they are written; the caret goes to the first."""
        if notes:
            self.choose_note(notes[0])
        self._choose(list(notes))

    def choose_more(self, what: str) -> None:
        """Choose what shares the chosen note's ``bar``, ``voice``, ``pitch`` or ``source`` span, everywhere."""
        reading = self._document.reading
        song = reading.song
        faulty = [bar for bar in reading.bars if not bar.full]
        if not self.notes:
            return

        def bar_of(note: Note) -> object:
            """A faulty bar holds what is written in it; any other what the meter puts there."""
            mine = (bar for bar in faulty if bar.voice == note.voice and 0 <= note.start - bar.tick < bar.length)
            written = next(mine, None)
            return note.voice, written and written.tick, None if written else song.grid.number_at(note.start)

        first = song.notes[self.notes[0]]
        likenesses: dict[str, Callable[[Note], object]] = {
            "bar": bar_of,
            "voice": attrgetter("voice"),
            "pitch": attrgetter("number"),
            "source": lambda note: note.spans[0],
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

    def _follow_reading(self) -> None:
        """The document reads otherwise; the notes are selected anew once the editor says where the caret is."""
        reading = self._document.reading
        self.scene = Scene(reading, min(self.front, max(0, len(reading.song.voices) - 1)))
        self.notes = []
        self.scene_changed.emit(self.scene)

    def _choose(self, notes: list[int]) -> None:
        self.notes = notes
        self.changed.emit()

    def _bring_to_front(self, voice: int) -> None:
        if voice != self.front:
            self.scene = Scene(self._document.reading, voice)
            self.scene_changed.emit(self.scene)
