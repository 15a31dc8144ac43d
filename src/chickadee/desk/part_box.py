"""A box with the parts of the tune: the song, its voices and phrases, the selected notes."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import QComboBox, QWidget

from ..reshape import Part
from ..sheet import Reading
from .parts import fill, plain_box

__all__ = ["PartBox"]

_SELECTED = "the selected notes"
_WHOLE = "the whole song"


class PartBox(QComboBox):
    """Offers the parts of the tune as it now reads; ``chosen`` tells the selected notes, where they are offered."""

    def __init__(
        self, name: str, chosen: Callable[[], Sequence[int]] | None = None, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._chosen = chosen
        self._parts: list[Part | None] = []
        self.setAccessibleName(name)
        plain_box(self)

    def show_reading(self, reading: Reading) -> None:
        """Offer a reading's parts; what was named before stays named where it is still there."""
        parts: dict[str, Part | None] = {_WHOLE: Part()}
        if self._chosen is not None:
            parts[_SELECTED] = None
        parts |= {f"the voice {voice.name}": Part.of_voice(index) for index, voice in enumerate(reading.song.voices)}
        parts |= {f"the phrase {name}": Part.of_phrase(name) for name in reading.sheet.phrases}
        self._parts = list(parts.values())
        fill(self, list(parts))

    @property
    def is_selection(self) -> bool:
        """True while the selected notes are named."""
        return bool(self._parts) and self._parts[self.currentIndex()] is None

    @property
    def part(self) -> Part:
        """The part that is named."""
        part = self._parts[self.currentIndex()] if self._parts else Part()
        return Part.of_notes(self._chosen() if self._chosen else ()) if part is None else part
