"""Musical edits from anywhere in the window: each becomes an edit of the text; the selected notes stay selected."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from fractions import Fraction
from functools import partial

from PyQt6.QtCore import QObject, pyqtSignal

from ..display.gestures import Proposal
from ..sheet import Reading, TextEdit, edits
from ..sheet.drawing import append, place_note
from ..sheet.new_voice import gap_before_block
from ..sheet.writing import pitch_text
from ..sheet.written import DEFAULT_OCTAVE
from ..song import Note
from .actions import ActionSpec
from .document import Document
from .notice import Notice

__all__ = ["MusicEditing"]

_Key = tuple[int, int, int]
_MOST_CHOICES = 200
_Make = Callable[[Sequence[int]], list[TextEdit]]


class MusicEditing(QObject):
    """Applies edits to the selected notes. ``chosen`` carries the indices that are to be selected afterwards, and
    ``heard`` MIDI numbers that are to be heard."""

    chosen = pyqtSignal(list)
    heard = pyqtSignal(list)

    def __init__(
        self, document: Document, notice: Notice, selection: Callable[[], Sequence[int]], parent: QObject
    ) -> None:
        super().__init__(parent)
        self._document = document
        self._notice = notice
        self._selection = selection
        self.grid = Fraction(1)
        """Beats by which notes are made longer and moved."""
        self._written: tuple[Reading, int, int] | None = None
        """After a step written: the reading, and the tick and offset where the next one goes."""
        self._choices: dict[int, list[_Key]] = {}
        """The selections before and after each edit, by the hash of the text as it then was."""

    def action_specs(self) -> tuple[ActionSpec, ...]:
        """Return the actions on the selected notes."""

        def note(name: str, section: str, text: str, keys: str, hint: str, slot: Callable[[], object]) -> ActionSpec:
            return ActionSpec(f"note.{name}", f"notes/{section}", text, keys, hint, slot)

        return (
            note("step-up", "pitch", "&Up a step", "Ctrl+Up", "Move the selected notes up in the key",
                 partial(self.move_by_steps, 1)),
            note("step-down", "pitch", "&Down a step", "Ctrl+Down", "Move the selected notes down in the key",
                 partial(self.move_by_steps, -1)),
            note("semitone-up", "pitch", "Up a se&mitone", "Ctrl+Shift+Up", "Move them up by one number",
                 partial(self.move, 1)),
            note("semitone-down", "pitch", "Down a sem&itone", "Ctrl+Shift+Down", "Move them down by one number",
                 partial(self.move, -1)),
            note("octave-up", "pitch", "Up an &octave", "Ctrl+PgUp", "Move the selected notes up by twelve",
                 partial(self.move, 12)),
            note("octave-down", "pitch", "Down an o&ctave", "Ctrl+PgDown", "Move the selected notes down by twelve",
                 partial(self.move, -12)),
            note("longer", "time", "&Longer", "Alt+Right", "Longer by a step of the grid",
                 lambda: self.lengthen(self.grid)),
            note("shorter", "time", "S&horter", "Alt+Left", "Shorter by a step of the grid",
                 lambda: self.lengthen(-self.grid)),
            note("later", "time", "L&ater", "Alt+Shift+Right", "Move the note later, into the rest after it",
                 lambda: self.shift(self.grid)),
            note("earlier", "time", "&Earlier", "Alt+Shift+Left", "Move the note earlier, into the rest before it",
                 lambda: self.shift(-self.grid)),
            note("louder", "loudness", "Loude&r", "Alt+PgUp", "Louder by eight", partial(self.louder, 8)),
            note("softer", "loudness", "So&fter", "Alt+PgDown", "Softer by eight", partial(self.louder, -8)),
            note("split", "split", "S&plit", "Ctrl+T", "Split the selected note in its middle", self.split),
            note("join", "split", "&Join", "Ctrl+Shift+T", "Join the selected note with the next", self.join),
            note("delete", "delete", "Dele&te", "Ctrl+Del", "Replace the selected notes by rests", self.delete),
            note("close-up", "delete", "Delete and close the gap", "Ctrl+Shift+Del",
                 "Delete the selected notes; what follows moves up", partial(self.delete, True)),
        )  # fmt: skip

    def use_grid(self, beats: Fraction) -> None:
        """Make notes longer and move them by so many beats from now on."""
        self.grid = beats

    def propose(self, notes: Sequence[int], proposal: Proposal) -> None:
        """Do what a drag asked for, as one step of the undo."""
        moved = proposal.semitones != 0 and self.move(proposal.semitones, notes)
        if moved:
            notes = self._selection()
        if proposal.beats and notes:
            self.shift(proposal.beats, notes, joined=moved)
        if proposal.longer and notes:
            self.lengthen(proposal.longer, notes)
        if proposal.louder and notes:
            self.louder(proposal.louder, notes)

    def move(self, semitones: int, notes: Sequence[int] | None = None) -> bool:
        """Move notes by semitones, and say whether that could be."""
        notes = self._these(notes)
        return self._do(notes, lambda these: edits.move_pitch(self._reading, these, semitones), move=semitones)

    def move_by_steps(self, steps: int) -> None:
        """Move the chosen notes by steps of the key."""
        notes = self._these(None)
        keys: list[_Key] = []

        def moved(these: Sequence[int]) -> list[TextEdit]:
            found: dict[int, TextEdit] = {}
            reading = self._reading
            for index in these:
                note = reading.song.notes[index]
                key = reading.song.key_at(note.start)
                by = key.moved_by_steps(note.pitch, steps).number - note.number
                keys.append((note.voice, note.start, note.number + by))
                for edit in edits.move_pitch(reading, [index], by):
                    found.setdefault(edit.start, edit)
            return list(found.values())

        self._do(notes, moved, keys=keys)

    def lengthen(self, beats: Fraction, notes: Sequence[int] | None = None) -> None:
        """Make notes longer, or shorter for a length below zero."""
        notes = self._these(notes)

        def longer(these: Sequence[int]) -> list[TextEdit]:
            found: dict[tuple[int, int], TextEdit] = {}
            for index in these:
                for edit in edits.set_length(self._reading, [index], self._beats(index) + beats):
                    found[edit.start, edit.end] = edit
            return list(found.values())

        self._do(notes, longer)

    def louder(self, by: int, notes: Sequence[int] | None = None) -> None:
        """Make notes louder or softer."""
        notes = self._these(notes)

        def changed(these: Sequence[int]) -> list[TextEdit]:
            levels = {index: max(1, min(127, self._song_note(index).loudness + by)) for index in these}
            return edits.set_loudness(self._reading, levels)

        self._do(notes, changed)

    def shift(self, beats: Fraction, notes: Sequence[int] | None = None, joined: bool = False) -> None:
        """Move the first of some notes later or earlier, into the rest beside it; ``joined`` makes one step of the
        undo of this and the edit before."""
        notes = self._these(notes)[:1]
        if notes:
            note = self._song_note(notes[0])
            ticks = self._reading.song.grid.ticks(note.start, beats)
            keys = [(note.voice, note.start + ticks, note.number)]
            self._do(
                notes, lambda these: edits.move_in_time(self._reading, these[0], beats), keys=keys, joined=joined
            )

    def delete(self, close_up: bool = False) -> None:
        """Take the chosen notes out: a rest stays in their place, or the rest of the voice closes up."""
        notes = self._these(None)
        self._do(notes, lambda these: edits.delete(self._reading, these, close_up))

    def split(self) -> None:
        """Split the first chosen note in its middle."""
        notes = self._these(None)[:1]
        self._do(notes, lambda these: edits.split(self._reading, these[0], self._beats(these[0]) / 2))

    def join(self) -> None:
        """Join the chosen note, or the first two, with what follows."""
        notes = self._these(None)

        def joined(these: Sequence[int]) -> list[TextEdit]:
            first = self._song_note(these[0])
            others = [index for index in these if self._song_note(index).spans[0] != first.spans[0]]
            if others:
                return edits.join(self._reading, these[0], others[0])
            after = [
                i
                for i, note in enumerate(self._reading.song.notes)
                if note.voice == first.voice and note.start >= first.end
            ]
            if not after:
                raise edits.CannotEdit("No note follows this one.")
            return edits.join(self._reading, these[0], after[0])

        self._do(notes, joined)

    def copy(self) -> str:
        """The chosen notes as they are written, to be pasted in the roll or the sheet."""
        seen = dict.fromkeys(self._song_note(index).spans[0] for index in self._these(None))
        spans = dict.fromkeys(self._word_at(start) for start, _ in seen)
        return " ".join(self._reading.text[start:end] for start, end in spans)

    def paste(self, text: str) -> None:
        """Write notes after the last chosen one."""
        notes = self._these(None)[-1:]
        self._do(notes, lambda these: edits.insert_after(self._reading, these[0], " ".join(text.split())))

    def draw(self, voice: int, number: int, tick: int, beats: Fraction) -> bool:
        """Put a note where there was none, and say whether that could be."""
        keys = [(voice, tick, number)]
        return self._do([], lambda these: place_note(self._reading, voice, tick, beats, number), keys=keys)

    def write_next(self, voice: int, numbers: Sequence[int], beats: Fraction, carried: str = "") -> None:
        """Write a note, a chord, or a rest for no number: after what was written last, the selected note, or all.

        What a key of the tune's own has ``carried`` is written as it is written there.
        """
        reading = self._reading
        notes = list(self._selection())[:1]
        end = reading.song.voices[voice].end if voice < len(reading.song.voices) else 0
        if self._written is not None and self._written[0] is reading:
            _, tick, offset = self._written
        elif notes:
            tick = self._song_note(notes[0]).end
            offset = edits.insert_after(reading, notes[0], "")[0].start
        else:
            tick = end
            offset = -1
        length = reading.song.grid.ticks(tick, beats)
        voices = reading.sheet.voices
        song_wide = reading.sheet.settings
        octave = voices[voice].settings.octave if voice < len(voices) else None
        octave = octave if octave is not None else song_wide.octave
        usual = octave in (None, DEFAULT_OCTAVE)  # what own keys are read in
        names = "&".join(pitch_text(reading.song, voice, tick, number) for number in numbers)
        sign = (carried if usual else "") or names or "rest"
        sign += edits.length_text(reading, tick, length)
        made = append(reading, voice, tick, sign) if tick >= end else [TextEdit(offset, offset, f" {sign}")]
        self._do(
            [],
            lambda these: made,
            keys=[(voice, tick, number) for number in numbers] or [(voice, tick, -1)],
            aloud=False,
        )
        self._written = self._reading, tick + length, made[0].start + len(made[0].text)

    def write_phrase(self, voice: int, name: str) -> None:
        """Write the use of a phrase at the end of a voice."""
        reading = self._reading
        end = reading.song.voices[voice].end if voice < len(reading.song.voices) else 0
        self._do([], lambda these: append(reading, voice, end, name), keys=[(voice, end, -1)], aloud=False)

    def set_property(self, name: str, value: str, voice: int | None = None) -> None:
        """Give the song, or a voice, a property."""
        self._do([], lambda these: edits.set_property(self._reading, name, value, voice), keys=[], aloud=False)

    def add_voices(self, lines: Sequence[tuple[str, str]]) -> None:
        """Write lines of music, each with a name, as voices of their own at the sheet's end."""
        text = self._reading.text
        names = {voice.name for voice in self._reading.song.voices}
        found = []
        for name, line in lines:
            free = next(f"{name} {count}" for count in range(1, 1000) if f"{name} {count}" not in names)
            found.append(f"voice {free}\n  {line}\n")
        self._document.apply([TextEdit(len(text), len(text), gap_before_block(text) + "\n".join(found))])

    def type_into(self, notes: Sequence[int], make: Callable[..., list[TextEdit]], text: str) -> bool:
        """Do what was typed into a cell, and say whether that could be."""
        first = [self._song_note(notes[0])] if notes else []
        keys = [(note.voice, note.start, -1) for note in first]
        return self._do(notes, lambda these: make(self._reading, list(these), text), keys=keys)

    # How it is done

    @property
    def _reading(self) -> Reading:
        return self._document.reading

    def _these(self, notes: Sequence[int] | None) -> Sequence[int]:
        return self._selection() if notes is None else notes

    def _song_note(self, index: int) -> Note:
        return self._reading.song.notes[index]

    def _beats(self, index: int) -> Fraction:
        note = self._song_note(index)
        return self._reading.song.grid.beats(note.start, note.length)

    def _word_at(self, offset: int) -> tuple[int, int]:
        """The whole word, its length and all, that a note's source span belongs to."""
        for events in self._reading.events:
            for event in events:
                if event.start <= offset < event.end:
                    return event.start, event.end
        return offset, offset

    def _do(
        self,
        notes: Sequence[int],
        make: _Make,
        move: int = 0,
        keys: list[_Key] | None = None,
        aloud: bool = True,
        joined: bool = False,
    ) -> bool:
        """Make edits and apply them as one step; a fault is said. Choose afterwards the notes that are the same."""
        if not notes and keys is None:
            return False
        reading = self._reading
        places = max((edits.sharing(reading, index) for index in notes), default=1)
        wanted = [(note.voice, note.start, note.number + move) for note in map(self._song_note, notes)]
        try:
            made = make(notes)
        except edits.CannotEdit as fault:
            self._notice.say(str(fault))
            return False
        if made:
            self._remember(reading, [(note.voice, note.start, note.number) for note in map(self._song_note, notes)])
            self._document.apply(made, joined)
        if made and (keys or wanted):
            self._remember(self._reading, keys or wanted)
            self._choose_again(keys or wanted, aloud)
        if made and places > 1:
            self._notice.say(
                f"This note is written once and sounds in {places} places; all of them changed.",
                True,
                "Only here",
                lambda: self._only_here(notes, make, move),
            )
        return bool(made)

    def recall_choice(self) -> None:
        """After undo or redo: choose what was chosen when the text was so."""
        if keys := self._choices.get(hash(self._reading.text)):
            self._choose_again(keys, aloud=False)

    def _remember(self, reading: Reading, keys: list[_Key]) -> None:
        self._choices[hash(reading.text)] = keys
        if len(self._choices) > _MOST_CHOICES:
            del self._choices[next(iter(self._choices))]

    def _choose_again(self, keys: list[_Key], aloud: bool = True) -> None:
        there = {(note.voice, note.start, note.number): i for i, note in enumerate(self._reading.song.notes)}
        found = [there[key] for key in keys if key in there]
        if not found:
            starts = {key[:2] for key in keys}
            found = [i for i, note in enumerate(self._reading.song.notes) if (note.voice, note.start) in starts]
        self.chosen.emit(found)
        if aloud:
            self.heard.emit(sorted({self._song_note(index).number for index in found[:6]}))

    def _only_here(self, notes: Sequence[int], make: _Make, move: int) -> None:
        """Take the change back, write the one use of the phrase out, and change that."""
        self._document.text_document.undo()
        use = edits.use_of(self._reading, notes[0])
        if use is None:
            self._notice.say("This note is repeated by a group; write the group out in the sheet first.")
            return
        one_each = {self._song_note(index).spans[0]: index for index in reversed(notes)}
        self._document.apply(edits.write_out(self._reading, use))  # the notes stay what and where they were
        self._do(sorted(one_each.values()), make, move)
