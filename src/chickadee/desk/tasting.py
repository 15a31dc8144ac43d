"""Single notes to be heard while working: one just typed, a sound being looked at."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QObject

from ..player import Player
from ..sheet import Reading
from ..song.drums import DRUM_SOUND

__all__ = ["Taster"]

_SECONDS = 0.5


class Taster(QObject):
    """Sounds notes for a moment, beside whatever the window does."""

    def __init__(self, player: Player, parent: QObject) -> None:
        super().__init__(parent)
        self._player = player
        self._last: set[int] = set()

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

    def play(self, sound: str, numbers: Iterable[int], tuning: float = 440.0) -> None:
        """Sound some numbers together, for a moment."""
        for number in numbers:
            self._player.strike(f"taste {number}", sound, number, tuning=tuning, seconds=_SECONDS)
