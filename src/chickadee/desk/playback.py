"""Playback of the tune: which part, how fast, round and round, with clicks, which voices."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QObject

from ..display.scene import Scene
from ..player import Player, Playing, Recorded, Together
from ..sheet import Reading
from ..song import Song, Voice
from .actions import ActionSpec
from .document import Document
from .selection import Selection

__all__ = ["Playback"]

_RECORDING_BARS = 200


class Playback(QObject):
    """Plays the document as it now reads: whatever changes while it plays is heard at once."""

    def __init__(self, document: Document, selection: Selection, parent: QObject) -> None:
        super().__init__(parent)
        self.player = Player(self)
        self._document = document
        self._selection = selection
        self._wanted = Playing(document.reading.song)
        self._next: Playing | None = None
        self._along = False  # whether somebody is recorded, who is not to be disturbed
        self._turn: Together | None = None  # which is heard now, where tune and recording are heard in turn
        self.other_scene: Scene | None = None
        """The scene that is heard, where it is a tune of its own and not the open one."""
        self._is_tune = False  # whether it is the open tune that is played, and no other
        self.in_room = False
        """True if everything is heard in a small room."""
        document.reading_changed.connect(self._follow_song)
        document.left.connect(self.player.stop)
        self.player.finished.connect(self._play_next)

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Playing, stopping, and how it is played."""

        def play(
            name: str, text: str, keys: str, hint: str, slot: Callable[[], object], short: str = ""
        ) -> ActionSpec:
            return ActionSpec(f"play.{name}", "listen/play", text, keys, hint, slot, short=short)

        def switch(
            name: str, text: str, keys: str, hint: str, switched: Callable[[bool], object], short: str = ""
        ) -> ActionSpec:
            return ActionSpec(f"play.{name}", "listen/switches", text, keys, hint, switched=switched, short=short)

        return (
            play("toggle", "&Play or stop", "F5", "Play from the selected note, or stop", self.play_or_stop),
            play("all", "Play from the &start", "Shift+F5", "Play the whole tune", self.play_all),
            play("bar", "Play this &bar", "Ctrl+F5", "Play the bar of the selected note alone", self.play_bar),
            play("selection", "Play the se&lection", "Ctrl+Shift+F5", "Play the selected notes alone",
                 self.play_chosen),
            play("marks", "Play from mar&k to mark", "Ctrl+Shift+F3", "Between the marks about the selected note",
                 self.play_between_marks),
            play("stop", "S&top", "Esc", "Stop all sound", self.player.silence, "Stop"),
            switch("round", "&Round and round", "Ctrl+R", "Begin again at the end, without a gap",
                   lambda on: self.wish(round=on), "Round"),
            switch("click", "Clic&k on each beat", "Ctrl+Shift+K", "A click at every beat, the first of a bar higher",
                   lambda on: self.wish(click=on)),
            switch("count-in", "C&ount a bar in", "Ctrl+Shift+I", "A bar of clicks before the music",
                   lambda on: self.wish(count_in=on)),
            switch("room", "Small roo&m", "Ctrl+Shift+M", "Hear everything in a small room", self._use_room),
        )  # fmt: skip

    @property
    def plays_tune(self) -> bool:
        """True while the open tune is played."""
        return self.player.playing and self._is_tune

    @property
    def wanted(self) -> Playing:
        """How the song is played, now or next."""
        return self._wanted

    def play(self, start: int, end: int | None = None) -> None:
        """Play from a tick on, or from one to another."""
        song = self._document.reading.song
        if song.end or self._wanted.recorded is not None:
            self._wanted = replace(self._wanted, song=song, start=min(start, song.end), end=end)
            self._take_turn(Together.RECORDING)

    def play_or_stop(self) -> None:
        """Play from the chosen note, or stop what plays."""
        if self.player.playing:
            self.player.stop()
        else:
            self.play(self._chosen_start)

    def play_all(self) -> None:
        """Play from the start."""
        self.play(0)

    def play_bar(self) -> None:
        """Play the bar of the chosen note, or the first."""
        grid = self._document.reading.song.grid
        number = grid.number_at(self._chosen_start)
        self.play(grid.start(number), grid.end(number))

    def play_chosen(self) -> None:
        """Play from the first of the chosen notes to the end of the last."""
        notes = [self._document.reading.song.notes[index] for index in self._selection.notes]
        if notes:
            self.play(min(note.start for note in notes), max(note.end for note in notes))

    def play_between_marks(self) -> None:
        """Play from the mark before the chosen note to the next; the ends of the song where there is none."""
        here = self._chosen_start
        song = self._document.reading.song
        before = [tick for tick, _ in song.marks if tick <= here]
        after = [tick for tick, _ in song.marks if tick > here]
        self.play(before[-1] if before else 0, after[0] if after else None)

    def play_in_turn(self, *stretches: tuple[Song, int, int | None]) -> None:
        """Play a stretch of one song and perhaps of another, from a tick to a tick; stopping ends both."""
        first, *after = (
            Playing(song, start=start, end=end, speed=self._wanted.speed) for song, start, end in stretches
        )
        self._start(first, *after)

    def play_apart(self, reading: Reading) -> None:
        """Play a tune that is not open: the views of the open one do not follow."""
        self._start(Playing(reading.song, speed=self._wanted.speed))
        self.other_scene = Scene(reading)

    def play_for_recording(self) -> None:
        """Play from the start with a bar counted in and clicks, and go on clicking beyond the song's end."""
        song = self._document.reading.song
        room = Voice("", end=song.end + _RECORDING_BARS * song.meter.bar_ticks)
        self._start(Playing(replace(song, voices=(*song.voices, room)), click=True, count_in=True))

    def hear_with(self, recorded: Recorded | None) -> None:
        """Hear a recording with the tune from now on, or none."""
        if recorded != self._wanted.recorded:
            self.wish(recorded=recorded)

    def play_along(self) -> None:
        """Play for somebody who plays along and is recorded: from the chosen bar to the end of the chosen notes where
        they are several, as fast as it is written, once, a bar counted in, without a recording."""
        song = self._document.reading.song
        chosen = self._selection.notes
        start = song.grid.start(song.grid.number_at(self._chosen_start))
        end = max(song.notes[index].end for index in chosen) if len(chosen) > 1 else None
        if end is None and not song.end:
            self.play_for_recording()
        else:
            self._start(
                replace(
                    self._wanted,
                    song=song,
                    start=start,
                    end=end,
                    speed=1.0,
                    round=False,
                    count_in=True,
                    recorded=None,
                )
            )
            self._along = True

    def wish(self, **wishes: Any) -> None:
        """Wish for other values of some fields of Playing; what is playing follows."""
        self._follow(replace(self._wanted, **wishes))

    def silence(self, voices: frozenset[int]) -> None:
        """Do not sound some voices, by their indices."""
        if voices != self._wanted.silent:
            self.wish(silent=voices)

    @property
    def _chosen_start(self) -> int:
        """The tick of the chosen note, or of the start where none is."""
        notes = self._selection.notes
        return self._document.reading.song.notes[notes[0]].start if notes else 0

    def _use_room(self, on: bool) -> None:
        self.in_room = on
        self.player.set_room(on)

    def _take_turn(self, turn: Together) -> None:
        """Play the tune with its recording; where they are heard in turn, one of them."""
        recorded = self._wanted.recorded
        in_turn = recorded is not None and recorded.together is Together.IN_TURN
        self._next = None
        self._turn = turn if in_turn else None
        self.other_scene = None
        self._along = False
        self._is_tune = True
        self.player.play(self._as_heard)

    @property
    def _as_heard(self) -> Playing:
        """The wish, as it is heard at its turn."""
        recorded = self._wanted.recorded
        if self._turn is None or recorded is None:
            return self._wanted
        return replace(self._wanted, round=False, recorded=replace(recorded, together=self._turn))

    def _start(self, playing: Playing, following: Playing | None = None) -> None:
        self._next = following
        self._turn = None
        self.other_scene = None
        self._along = False
        self._is_tune = False
        self.player.play(playing)

    def _play_next(self) -> None:
        if self._next is not None:
            self._start(self._next)
        elif self._turn is Together.RECORDING:
            self._take_turn(Together.TUNE)
        elif self._turn is Together.TUNE and self._wanted.round:
            self._take_turn(Together.RECORDING)

    def _follow_song(self) -> None:
        self._follow(replace(self._wanted, song=self._document.reading.song))

    def _follow(self, wanted: Playing) -> None:
        self._wanted = wanted
        if self.player.playing and self.other_scene is None and not self._along:
            self.player.change(self._as_heard)
