"""The Recording panel: a recording laid under the tune, and what is heard in it, taken into the sheet."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QDoubleSpinBox,
    QFileDialog,
    QProgressBar,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
)

from ...display.heard_notes import AlignedNotes
from ...display.scene import Scene
from ...display.words import counted
from ...files import is_file
from ...formats.forms import SOUND_SUFFIXES
from ...hearing.alignment import Alignment
from ...hearing.listening import Heard, doubts
from ...hearing.overview import Overview
from ...hearing.tempo import Beat
from ...player import Recorded, Together
from ...sheet import CannotEdit, Reading, read
from ...sheet.properties import RecordingUnderTune
from ...sheet.tempos import set_tempos
from ..clicks import on_click
from ..flowing_row import FlowingRow
from ..parts import describe
from ..pauses import after_pause
from ..plain_text import PlainLabel
from ..theme import Look
from ..working.panel import Panel, PanelContext
from .band import RecordingBand
from .heard_table import HeardTable
from .singing import Singing
from .together import TogetherRow
from .work import ListeningWork

__all__ = ["RecordingPanel"]

_SUFFIXES = " ".join(f"*{suffix}" for suffix in SOUND_SUFFIXES)
_PAUSE_MILLISECONDS = 150
# seconds between two taps that belong together
_FEW_TAPS = 4
_LONGEST_TAP = 3.0
_SAME_TEMPO = 0.12  # by how much a tune's tempo may differ from the one that was heard, as a part of it


class RecordingPanel(Panel):
    """Shows the band under the timeline's bars, and what is heard as dashed notes on the roll."""

    def __init__(self, context: PanelContext) -> None:
        super().__init__(context)
        self._reading: Reading = read("")
        self.heard: Heard | None = None
        """The notes heard in the recording that is open."""
        self.path: Path | None = None
        """Its file."""
        self.overview = Overview(np.zeros(0, np.float32))
        """Its wave, as much as was read."""
        self.anchors: tuple[tuple[int, float], ...] = ()
        """(bar, second) of bars that were found by ear, after the first."""
        self.beats: Sequence[Beat] = [Beat(100.0, 0.0)]
        """The beats that were guessed, the likeliest first."""
        self.laid = AlignedNotes((), ())
        """The heard notes on the tune's time."""
        self.work: ListeningWork | None = None
        self._taps: list[float] = []
        self._kept: RecordingUnderTune | None = None  # what the tune last said of its recording
        self.band = RecordingBand(context.appearance.look, context.time_axis)
        self.open = QPushButton("Open a recording…")
        self.cancel = QPushButton("Cancel")
        self.progress = QProgressBar()
        self.first = QDoubleSpinBox()
        self.first.setRange(-4 * 3600, 4 * 3600)  # one that was recorded from a later bar on begins after bar 1
        self.first.setDecimals(3)
        self.first.setSingleStep(0.01)
        self.first.setSuffix(" s")
        self.use_tempo = QPushButton()
        self.use_other = QPushButton()
        self.tap = QPushButton("Tap the beat")
        self.together = TogetherRow()
        self.singing = Singing(context)
        self.write_tempos = QPushButton("Write tempo changes")
        self.clear_anchors = QPushButton("Clear anchors")
        self.bars_said = PlainLabel()
        self.take_all = QPushButton("Take all")
        self.take_bars = QPushButton("Take the selected bars")
        self.take_one = QPushButton("Take the note")
        self.said = PlainLabel()
        self.said.setWordWrap(True)
        self.said.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        self._heard_notes = HeardTable()
        self.table = self._heard_notes.widget
        self._due = after_pause(self, _PAUSE_MILLISECONDS, self._lay)
        self._describe()
        self._lay_out()
        self._connect()
        self._show_state()

    # Building

    def _describe(self) -> None:
        describe(
            (self.open, "Open a sound file, or a video for its sound"),
            (self.cancel, "Stop listening"),
            (self.progress, "How far listening is"),
            (self.first, "The second of the recording where bar 1 begins"),
            (self.use_tempo, "Give the tune the tempo that was found"),
            (self.use_other, "Give the tune the other tempo that fits"),
            (self.tap, "Press it on every beat: the tune gets that tempo"),
            (self.write_tempos, "Write tempos into the sheet so that these bars sound when they do in the recording"),
            (self.clear_anchors, "Clear where these bars sound; the tune's tempo says it again"),
            (self.take_all, "Write all that is heard and not in the tune yet as a voice of it"),
            (self.take_bars, "Write what is heard in the bars of the selected notes"),
            (self.take_one, "Write the marked note into the voice in front (Return)"),
        )

    def _lay_out(self) -> None:
        self._column = QVBoxLayout(self)
        self._first_name = PlainLabel("Bar 1 begins at")
        head = FlowingRow(
            self.open,
            self.progress,
            self.cancel,
            self._first_name,
            self.first,
            self.use_tempo,
            self.use_other,
            self.tap,
            self.together,
            self.singing,
        )
        done = FlowingRow(
            self.bars_said, self.write_tempos, self.clear_anchors, self.take_one, self.take_bars, self.take_all
        )
        self._rows = head, done
        self._column.addLayout(head)
        self._column.addWidget(self.band)
        self._column.addWidget(self.said)
        self._column.addLayout(done)
        self._column.addWidget(self.table, 1)
        self._column.addStretch()

    def _connect(self) -> None:
        self.open.clicked.connect(self.choose)
        self.cancel.clicked.connect(self.stop_work)
        self.first.valueChanged.connect(self._move)
        self.band.moved.connect(self.first.setValue)
        self.band.bar_moved.connect(self.set_bar)
        self.write_tempos.clicked.connect(self._write_tempos)
        on_click(self.clear_anchors, self._set_anchors, ())
        self.together.changed.connect(self._let_hear)
        self.singing.recorded.connect(self.listen_to)
        self.singing.now_changed.connect(self.readout_wanted)
        self.context.selection.changed.connect(self._follow_selection)
        on_click(self.use_tempo, self._use_beat, 0)
        on_click(self.use_other, self._use_beat, 1)
        self.tap.pressed.connect(self._tap_beat)
        self.take_all.clicked.connect(lambda: self.take(self.laid.missing(self._reading.song)))
        self.take_bars.clicked.connect(self._take_bars)
        self.take_one.clicked.connect(self.take_marked)
        self.table.itemSelectionChanged.connect(self._hear_marked)

    def set_look(self, look: Look) -> None:
        """Draw with another theme or size."""
        self._column.setContentsMargins(*(look.px(side) for side in (10, 6, 10, 6)))
        for layout in (self._column, *self._rows):
            layout.setSpacing(look.px(6))
        self.band.set_look(look)
        self._heard_notes.set_look(look)
        self.together.set_look(look)
        self.singing.set_look(look)

    # A recording

    def switch_microphone(self) -> None:
        """Show the note that the microphone hears, or no longer."""
        self.singing.listen.toggle()

    def record(self) -> None:
        """Record from the selected note's bar on, or stop."""
        if not self.isVisible():
            self.wanted.emit()
        self.singing.record_or_stop()

    def choose(self) -> None:
        """Ask for a sound file and listen to it."""
        name, _ = QFileDialog.getOpenFileName(
            self.window(), "Open a recording", str(self.context.document.folder), f"Recordings ({_SUFFIXES})"
        )
        if name:
            self.listen_to(Path(name))

    def listen_to(self, path: Path, kept: RecordingUnderTune | None = None) -> None:
        """Listen to a file, which lies where it was kept, or with bar 1 where its first beat is found."""
        self.stop_work()
        if not self.isVisible():
            self.wanted.emit()
        self.path = path
        self.heard = None
        self.laid = AlignedNotes((), ())
        self.overview = Overview(np.zeros(0, np.float32))
        self.anchors = kept.anchors if kept is not None else ()
        first = kept.first if kept is not None else None
        self.first.setValue(first or 0.0)
        work = self.work = ListeningWork(path, self._reading.song.tuning, self)
        work.seen.connect(lambda overview: self._show_seen(work, overview))
        work.noticed.connect(self.context.notice.say)
        work.progressed.connect(lambda done: self.progress.setValue(round(100 * done)))
        work.heard.connect(lambda heard, beats: self._show_heard(work, heard, beats, first))
        work.failed.connect(lambda sentence: self._fail(work, sentence))
        work.start()
        self.progress.setValue(0)
        self._show_state()

    def take_file(self, path: Path) -> None:
        """A sound file was dropped on the window."""
        self.listen_to(path)

    def stop_work(self) -> None:
        """Stop listening."""
        if self.work is not None:
            self.work.cancel()
            self.work.wait()
            self.work = None
            self._show_state()

    def _show_seen(self, work: ListeningWork, overview: Overview) -> None:
        if work is self.work:
            self.overview = overview
            self._show_band()
            self._let_hear()

    def _show_heard(self, work: ListeningWork, heard: Heard, beats: Sequence[Beat], first: float | None) -> None:
        if work is not self.work:
            return
        self.work = None
        self.heard = heard
        self.overview = Overview(heard.power)
        self.beats = beats
        self.first.setValue(self._first_line() if first is None else first)
        self._lay()

    def _first_line(self) -> float:
        """The second at which bar 1 begins, if the recording has the tune's tempo, or else the likeliest one."""
        song = self._reading.song
        near = [each for each in self.beats if abs(each.tempo / song.tempo_in_beats - 1) < _SAME_TEMPO]
        return (near if song.notes and near else self.beats)[0].first

    def _fail(self, work: ListeningWork, sentence: str) -> None:
        if work is self.work:
            self.work = self.path = None
            self._let_hear()
            self.context.notice.say(sentence)
            self._show_state()

    def show_scene(self, scene: Scene) -> None:
        """Follow the tune; one that remembers its recording lays it under itself."""
        if scene.reading is self._reading:
            return
        self._reading = scene.reading
        self._find_remembered()
        self._due.start()

    def _find_remembered(self) -> None:
        """Listen to the recording that the tune keeps, once the panel is seen."""
        kept = self._reading.sheet.settings.recording
        home = self.context.document.path
        if kept is None or home is None or kept == self._kept:
            return
        self._kept = kept
        path = home.parent / kept.path
        if path == self.path:
            self.anchors = kept.anchors
            if self.heard is not None and abs(kept.first - self.first.value()) > 0.0005:
                self.first.setValue(kept.first)
        elif is_file(path):
            self.listen_to(path, kept)
        elif path != self.path:
            self.said.setText(f"{kept.path} is not there; open it again from where it is now.")

    # On the tune's time

    @property
    def alignment(self) -> Alignment:
        """Where the recording lies under the tune as it is now."""
        return Alignment(self._reading.song, self.first.value(), self.anchors)

    def _move(self) -> None:
        """Bar 1 begins elsewhere in the recording."""
        self._show_band()
        self._due.start()

    def set_bar(self, bar: int, second: float) -> None:
        """A bar sounds at a second of the recording. Where it is the only one, a tune of one tempo takes it over."""
        song = self._reading.song
        if bar <= 1:
            self.first.setValue(second)
            return
        if second <= self.first.value():
            self.context.notice.say(f"Bar {bar} comes after bar 1, which begins at {self.first.value():g} seconds.")
            return
        self._set_anchors(tuple(sorted((dict(self.anchors) | {bar: second}).items())))
        if len(self.anchors) == 1 and len(song.tempo.tempos) == 1:
            self._give_tempo(*self.alignment.tempos().values())

    def _set_anchors(self, anchors: tuple[tuple[int, float], ...]) -> None:
        self.anchors = anchors
        self._lay()

    def _write_tempos(self) -> None:
        """Give the tune the tempos that its bars have in the recording."""
        try:
            self.context.document.apply(set_tempos(self._reading, self.alignment.tempos()))
        except CannotEdit as refused:
            self.context.notice.say(str(refused))

    def _let_hear(self) -> None:
        """Whatever is played from now on is heard with the recording."""
        there = self.isVisible() and self.path is not None and len(self.overview.power) > 0
        recorded = Recorded(
            str(self.path),
            self.first.value(),
            self.anchors,
            self.together.level(self.overview.usual),
            self.together.together,
        )
        self.context.playback.hear_with(recorded if there and recorded.together is not Together.TUNE else None)

    def _follow_selection(self) -> None:
        """The chosen bar's line is the one that keys move."""
        notes = self.context.selection.notes
        song = self._reading.song
        here = [index for index in notes if index < len(song.notes)]
        self.band.chosen_bar = song.grid.number_at(song.notes[here[0]].start) if here else 0

    def _lay(self) -> None:
        """Lay what was heard under the tune as it is now, and remember where."""
        self._due.stop()
        if self.heard is not None:
            self.laid = AlignedNotes.of(self.heard.notes, self._reading.song, self.alignment)
            self._remember()
        self._show_state()
        self._let_hear()

    def _remember(self) -> None:
        """Keep the file and its place with the tune."""
        home = self.context.document.path
        if home is None or self.path is None or not self.isVisible():
            return
        path = str(self.path.relative_to(home.parent)) if self.path.is_relative_to(home.parent) else str(self.path)
        old = self._reading.sheet.settings.recording
        new = RecordingUnderTune(path, round(self.first.value(), 3), self.anchors)
        if new != old and "," not in path:
            self._kept = new
            self.context.editing.set_property("recording", new.text)

    def _show_state(self) -> None:
        busy = self.work is not None
        there = self.heard is not None
        self.progress.setVisible(busy)
        self.cancel.setVisible(busy)
        self.open.setVisible(not busy)
        self.band.setVisible(there or busy)
        for widget in (self._first_name, self.first, self.use_tempo, self.tap, self.table, self.together):
            widget.setVisible(there)
        for widget in (self.bars_said, self.write_tempos, self.clear_anchors):
            widget.setVisible(there and bool(self.anchors))
        self.write_tempos.setVisible(there and len(self.anchors) > 1)
        self.bars_said.setText(f"Bars by ear: {', '.join(str(bar) for bar, _ in self.anchors)}")
        missing = self.laid.missing(self._reading.song)
        for button in (self.take_one, self.take_bars, self.take_all):
            button.setVisible(there)
            button.setEnabled(bool(missing))
        self._show_tempos()
        if busy:
            self.said.setText(f"Listening to {self.path.name if self.path else ''}")
        elif there and self.heard is not None and self.path is not None:
            found = counted(len(self.heard.notes), "note")
            left = f"{len(missing):,} not in the tune yet" if missing else "all in the tune"
            self.said.setText(
                f"{self.path.name}: {found} heard, {left}. {doubts(self.heard)}".rstrip()
                if self.heard.notes
                else f"{self.path.name}: no notes were heard. {doubts(self.heard)}"
            )
        elif not self.said.text() or self.path is None:
            self.said.setText(
                "Open a recording of one voice: its wave and pitch are shown under the bars, and the "
                "notes heard on the timeline, to be taken into the sheet."
            )
        self._show_band()
        self._heard_notes.fill(self.laid, missing, self._reading.song)
        self._show_dashed(missing)

    def _show_tempos(self) -> None:
        """Offer the two tempos that fit best."""
        self.use_other.setVisible(self.heard is not None and len(self.beats) > 1)
        for button, beat, words in zip(
            (self.use_tempo, self.use_other), self.beats, ("Use {} beats a minute", "or {}"), strict=False
        ):
            shown = (
                f"{beat.tempo:g} in {beat.meter.text}"
                if beat.meter != self._reading.song.meter
                else f"{beat.tempo:g}"
            )
            button.setText(words.format(shown))
            button.setEnabled(abs(beat.tempo - self._reading.song.tempo_in_beats) > 0.01)

    def _show_band(self) -> None:
        hertz = self.heard.hertz if self.heard is not None else np.zeros(0, np.float32)
        self.band.show_recording(self.overview, hertz, self._reading.song, self.alignment)

    def _show_dashed(self, missing: Sequence[int]) -> None:
        song = self._reading.song
        if not self.isVisible():
            return  # what another panel shows stays
        if not missing:
            self.context.preview.show(None)
            return
        front = min(self.context.selection.front, max(0, len(song.voices) - 1))
        notes = tuple(self.laid.notes[place]._replace(voice=front) for place in missing)
        voices = song.voices or read("rest").song.voices
        self.context.preview.show(replace(song, voices=voices, notes=notes))

    def showEvent(self, event: object) -> None:
        self._due.start()

    def hideEvent(self, event: object) -> None:
        self.context.preview.show(None)
        self._let_hear()

    # Taking

    def take(self, places: Sequence[int]) -> None:
        """Write some of what is heard as a voice of the tune."""
        edits = self.laid.taken(self._reading, places)
        if edits:
            self.context.preview.show(None)
            self.context.document.apply(edits)
            self.context.notice.say(f"{counted(len(places), 'note')} written. Undo takes them back.", good=True)

    def _take_bars(self) -> None:
        grid = self._reading.song.grid
        song = self._reading.song
        bars = {grid.number_at(song.notes[index].start) for index in self.context.selection.notes}
        places = [place for place in self.laid.missing(song) if grid.number_at(self.laid.notes[place].start) in bars]
        if places:
            self.take(places)
        else:
            self.context.notice.say(
                "Select notes in the bars to take; nothing new is heard in those bars.", good=True
            )

    def take_marked(self) -> None:
        """Write the marked note, or the first, into the voice in front."""
        row = max(0, self.table.currentRow())
        note = self._heard_notes.marked
        if note is not None:
            length = self._reading.song.grid.beats(note.start, note.length)
            if self.context.editing.draw(self.context.selection.front, note.number, note.start, length):
                self._reading = self.context.document.reading
                self._lay()
                self.table.selectRow(min(row, self.table.rowCount() - 1))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Return takes the marked note."""
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.heard is not None:
            self.take_marked()
        else:
            super().keyPressEvent(event)

    def _hear_marked(self) -> None:
        note = self._heard_notes.marked
        if note is not None and self.table.currentRow() >= 0:
            self.context.audition.notes([note.number])

    # The beat

    def _tap_beat(self) -> None:
        """After a few taps the tune has their tempo."""
        now = time.monotonic()
        self._taps = [*(self._taps if self._taps and now - self._taps[-1] < _LONGEST_TAP else []), now]
        if len(self._taps) >= _FEW_TAPS:
            self._give_tempo(60 * (len(self._taps) - 1) / (self._taps[-1] - self._taps[0]))

    def _use_beat(self, place: int) -> None:
        """Give the tune one of the beats that were found; an empty tune gets its meter too."""
        beat = self.beats[place]
        if not self._reading.song.notes:
            self.context.editing.set_property("meter", beat.meter.text)
        self._give_tempo(beat.tempo)
        self.first.setValue(beat.first)

    def _give_tempo(self, tempo: float) -> None:
        self.context.editing.set_property("tempo", f"{min(1000.0, max(5.0, tempo)):.1f}".removesuffix(".0"))
