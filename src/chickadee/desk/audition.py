"""Single notes to be heard while working: one just typed, a sound being looked at."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QObject

from ..player import Player
from ..sheet import Reading
from ..song.drums import DRUM_SOUND
from .actions import ActionSpec
from .document import Document
from .selection import Selection

__all__ = ["Audition"]

_SECONDS = 0.5


class Audition(QObject):
    """Sounds notes for a moment, beside whatever the window does."""

    def __init__(self, player: Player, document: Document, selection: Selection, parent: QObject) -> None:
        super().__init__(parent)
        self._player = player
        self._document = document
        self._selection = selection
        self._wanted = True
        self._last: set[int] = set()

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """The switch that sounds notes as they are typed."""
        return (
            ActionSpec(
                "play.typed",
                "listen/switches",
                "&Hear notes as they are typed",
                "Ctrl+H",
                "Sound each note as it is written",
                switched=self._want,
                on=True,
                kept=True,
            ),
        )

    def follow_typing(self, caret: int) -> None:
        """Something was typed, and the caret is at an offset now: hear it."""
        if self._wanted and not self._player.playing:
            self.typed(self._document.reading, caret)

    def notes(self, numbers: Iterable[int]) -> None:
        """Hear MIDI numbers as the front voice would sound them, unless the tune plays."""
        if not self._player.playing:
            sound, tuning = self._selection.front_sound
            self.play(sound, numbers, tuning)

    def typed(self, reading: Reading, caret: int) -> None:
        """Hear the notes at the caret, unless they are those of the last key press."""
        notes = [reading.song.notes[index] for index in reading.notes_at(caret, caret)]
        struck = {note.number for note in notes if note.start == notes[0].start}
        if struck and struck != self._last:
            sound = reading.song.voices[notes[0].voice].sound_at(notes[0].start)
            self.play(sound, sorted(struck), reading.song.tuning)
        self._last = struck

    def sound(self, name: str) -> None:
        """Hear what a sound is like."""
        self.play(name, [38, 42] if name == DRUM_SOUND else [72])

    def _want(self, on: bool) -> None:
        self._wanted = on

    def play(self, sound: str, numbers: Iterable[int], tuning: float = 440.0) -> None:
        """Sound some numbers together, for a moment."""
        for number in numbers:
            self._player.strike(f"audition {number}", sound, number, tuning=tuning, seconds=_SECONDS)
