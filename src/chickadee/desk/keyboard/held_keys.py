"""Keys held on the screen, the computer's keyboard or a MIDI port: they sound, and can be recorded."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from ...display.take import Taken
from ...player import Player

__all__ = ["HeldKeys"]


class HeldKeys(QObject):
    """Sounds what is played on the screen, the computer's keys or a MIDI port.

    A key that is held sounds once, whatever repeats it, and stops when it is let go; a second strike before that
    always speaks. ``lit_changed`` carries the MIDI numbers that are held, ``struck`` those that
    one key strikes and the name of the voice they are for, None for the one in front.
    """

    lit_changed = pyqtSignal(set)
    struck = pyqtSignal(tuple, object)

    def __init__(self, player: Player, sound: Callable[[str | None], tuple[str, float]], parent: QObject) -> None:
        """``sound`` tells what to play a voice with, by its name or None for the front one: a sound's name and the
        tuning."""
        super().__init__(parent)
        self._player = player
        self._sound = sound
        self._held: dict[object, tuple[tuple[int, ...], float, int, str | None]] = {}
        self._taking = False
        self.taken: list[Taken] = []
        """The notes played since :meth:`take`, in order of their ends."""

    @property
    def lit(self) -> set[int]:
        """The MIDI numbers that are held."""
        return {number for numbers, *_ in self._held.values() for number in numbers}

    def press(
        self, key: object, *numbers: int, loudness: int = 90, sound: str | None = None, voice: str | None = None
    ) -> None:
        """A key goes down, for one MIDI number or several. The same key again lets the first strike go.

        ``voice`` is the name of the voice that it plays, the front one where none is given; ``sound`` is that voice's
        where none is given.
        """
        if key in self._held:
            self.release(key)
        usual, tuning = self._sound(voice)
        sound = sound or usual
        self._held[key] = numbers, self._player.tick, loudness, voice
        for number in numbers:
            self._player.strike(f"hand {key} {number}", sound, number, loudness, tuning)
        self.lit_changed.emit(self.lit)
        self.struck.emit(numbers, voice)

    def release(self, key: object) -> None:
        """A key comes up."""
        held = self._held.pop(key, None)
        if held is None:
            return
        numbers, start, loudness, voice = held
        for number in numbers:
            self._player.let_go(f"hand {key} {number}")
        if self._taking and self._player.playing:
            self.taken += [Taken(number, start, self._player.tick, loudness, voice) for number in numbers]
        self.lit_changed.emit(self.lit)

    def release_all(self) -> None:
        """Every key comes up: the window lost the keyboard, or playing is left."""
        for key in list(self._held):
            self.release(key)

    def take(self) -> None:
        """Begin to keep what is played."""
        self.taken = []
        self._taking = True

    def end_take(self) -> list[Taken]:
        """End keeping, and give what was played."""
        self.release_all()
        self._taking = False
        return self.taken
