"""Input from the keyboard, written into the sheet: step by step, or recorded in time."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from PyQt6.QtCore import QObject

from ...display import words
from ...display.take import Taken, written_take
from ...sheet import read
from ...sheet.grammar import header_at, property_at
from ...sheet.properties import OwnKey
from ..document import Document
from ..editing import MusicEditing
from ..notice import Notice
from ..playback import Playback
from ..selection import Selection
from .panel import JUST_PLAY, KeyboardPanel

__all__ = ["KeyboardInput"]


class KeyboardInput(QObject):
    """Follows a keyboard panel that is used for writing or recording."""

    def __init__(
        self,
        panel: KeyboardPanel,
        document: Document,
        selection: Selection,
        editing: MusicEditing,
        playback: Playback,
        notice: Notice,
    ) -> None:
        super().__init__(panel)
        self._panel = panel
        self._document = document
        self._selection = selection
        self._editing = editing
        self._playback = playback
        self._notice = notice
        panel.wrote.connect(self._write)
        panel.carrying_wrote.connect(self._write_own)
        panel.phrase_wanted.connect(self._hear_phrase)
        panel.recording_wanted.connect(self._record)
        playback.player.finished.connect(lambda: panel.use_for(JUST_PLAY))

    def _write(self, numbers: tuple[int, ...], voice: str | None) -> None:
        """Write what a key asks for after the selected note: MIDI numbers, or none for a rest."""
        self._editing.write_next(self._selection.place_of(voice), numbers, self._editing.grid)

    def _write_own(self, own: OwnKey) -> None:
        """Write what an own key carries: a chord as its symbol, a phrase by its name."""
        if own.kind == "phrase":
            self._editing.write_phrase(self._selection.front, own.written)
        else:
            self._editing.write_next(self._selection.front, own.numbers, self._editing.grid, own.written)

    def _hear_phrase(self, name: str) -> None:
        """Play a phrase by itself; stop where none is named."""
        if not name:
            self._playback.player.stop()
            return
        sound, _ = self._selection.front_sound
        lines = [*_without_voices(self._document.text), "voice Key", f"  sound: {sound}", f"  {name}"]
        self._playback.play_apart(read("\n".join(lines)))

    def _record(self, on: bool) -> None:
        """Count in and keep what is played in time, or end that and offer to write it."""
        if on:
            self._panel.held_keys.take()
            self._playback.play_for_recording()
            return
        self._playback.player.stop()
        taken = self._panel.held_keys.end_take()
        if taken:
            self._notice.say(
                f"{words.counted(len(taken), 'note')} recorded.",
                False,
                "Write them into the sheet",
                lambda: self._write_take(taken),
            )

    def _write_take(self, taken: Sequence[Taken]) -> None:
        """Write what was played: a voice for each that was played."""
        lines = []
        for voice in dict.fromkeys(each.voice for each in taken):
            mine = [each for each in taken if each.voice == voice]
            line = written_take(self._document.reading, mine, self._editing.grid)
            lines.append((f"Take {voice}" if voice else "Take", line))
        self._editing.add_voices(lines)


def _without_voices(text: str) -> Iterator[str]:
    """The lines of a sheet that are the song's properties, or of phrases."""
    place = ""
    for line in text.split("\n"):
        if (header := header_at(line, 0, len(line))) is not None:
            place = header.place
        if place == "phrase" or (not place and property_at(line, 0, len(line)) is not None):
            yield line
