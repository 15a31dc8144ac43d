"""A tune as a target takes it, ready to be shown: the text of each board, and which entry is which note."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from operator import attrgetter

from ..boards.cells import Cell, CellKind
from ..boards.fitting import Fitted
from ..boards.packing import packed
from ..boards.simulation import simulation
from ..boards.unpacking import Step, UnpackFault, steps_of
from ..song import Note, Song, Voice
from . import words

__all__ = ["ExportView", "as_it_would_sound"]


@dataclass(frozen=True)
class ExportView:
    """A fit, its texts, and the way from entries to notes and back."""

    fit: Fitted

    @cached_property
    def texts(self) -> tuple[str, ...]:
        """The text of each board."""
        return tuple(packed(self.fit, board) for board in self.fit.boards)

    @cached_property
    def steps(self) -> tuple[tuple[tuple[Step, ...], ...], ...]:
        """For each board and each of its lines, the entries in the order in which they are played."""
        return tuple(tuple(tuple(line) for line in self._steps(text)) for text in self.texts)

    def _steps(self, text: str) -> Sequence[Sequence[Step]]:
        try:
            return steps_of(text, self.fit.target, self.fit.song.tuning)
        except UnpackFault:  # a template that writes what cannot be told apart again
            return []

    def heard(self) -> Song:
        """Return the sound of the boards, from their texts alone. Raises UnpackFault."""
        return simulation(self.texts, self.fit)

    def spans_of(self, board: int, notes: Sequence[Note]) -> list[tuple[int, int]]:
        """Where in a board's text the entries of some notes stand."""
        wanted = set(notes)
        found = []
        for line, steps in zip(self.fit.boards[board].lines, self.steps[board], strict=False):
            cells = [place for place, cell in enumerate(line) if cell.note in wanted]
            places = {step.cell: (step.start, step.end) for step in steps}
            found += [places[place] for place in cells if place in places]
        return found

    def note_at(self, board: int, offset: int) -> Note | None:
        """The note whose entry stands at an offset of a board's text."""
        for line, steps in zip(self.fit.boards[board].lines, self.steps[board], strict=False):
            for step in steps:
                if step.start <= offset < step.end and step.cell < len(line):
                    return line[step.cell].note
        return None

    @property
    def summary(self) -> str:
        """The use of boards, cells and ticks, in a line."""
        fit = self.fit
        entries = "cell" if fit.target.is_board else "entry"
        total = sum(board.cells for board in fit.boards)
        said = [words.counted(total, entries, "entries" if entries == "entry" else None)]
        if fit.target.is_board:
            said.insert(0, words.counted(len(fit.boards), "board"))
        if fit.target.is_in_ticks:
            said.append(f"a tick is {fit.tick_in_beats} beat, {fit.tick_seconds * 1000:.1f} ms")
        return " · ".join(said)


def as_it_would_sound(fit: Fitted) -> Song | None:
    """The song with its notes as the boards play them; None where no note is changed."""
    if not any(loss.notes for loss in fit.lost):
        return None
    song = fit.song
    voices = {voice.name: place for place, voice in enumerate(song.voices)}
    notes = []
    for board in fit.boards:
        for name, line in zip(board.voices, board.lines, strict=True):
            notes += _notes(line, voices[name])
    order = sorted(notes, key=attrgetter("start", "voice", "number"))
    ends: list[Voice] = [replace(voice) for voice in song.voices]
    return replace(song, voices=tuple(ends), notes=tuple(order))


def _notes(line: Sequence[Cell], voice: int) -> list[Note]:
    found: list[Note] = []
    for cell in line:
        if cell.kind is CellKind.NOTE and cell.note is not None and cell.pitch is not None:
            found.append(
                cell.note._replace(
                    start=cell.start, length=cell.length, voice=voice, pitch=cell.pitch, number=cell.number
                )
            )
        elif cell.kind is CellKind.HELD and found:
            found[-1] = found[-1]._replace(length=found[-1].length + cell.length)
    return found
