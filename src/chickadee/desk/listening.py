"""What the listener wants to hear: which part, how fast, round and round, with clicks, which voices."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QObject

from ..player import Player, Playing
from ..song import Voice
from .document import Document

__all__ = ["Listening"]

_RECORDING_BARS = 200


class Listening(QObject):
    """Plays the document as it now reads: whatever changes while it plays is heard at once."""

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self.player = Player(self)
        self._document = document
        self._wanted = Playing(document.reading.song)
        document.reading_changed.connect(self._follow_song)

    @property
    def wanted(self) -> Playing:
        """How the song is played, now or next."""
        return self._wanted

    def play(self, start: int, end: int | None = None) -> None:
        """Play from a tick on, or from one to another."""
        song = self._document.reading.song
        if song.end:
            self._wanted = replace(self._wanted, song=song, start=min(start, song.end), end=end)
            self.player.play(self._wanted)

    def play_for_recording(self) -> None:
        """Play from the start with a bar counted in and clicks, and go on clicking beyond the song's end."""
        song = self._document.reading.song
        room = Voice("", end=song.end + _RECORDING_BARS * song.meter.bar_ticks)
        self.player.play(Playing(replace(song, voices=(*song.voices, room)), click=True, count_in=True))

    def wish(self, **wishes: Any) -> None:
        """Wish for other values of some fields of Playing; what is playing follows."""
        self._follow(replace(self._wanted, **wishes))

    def _follow_song(self) -> None:
        self._follow(replace(self._wanted, song=self._document.reading.song))

    def _follow(self, wanted: Playing) -> None:
        self._wanted = wanted
        if self.player.playing:
            self.player.change(wanted)
