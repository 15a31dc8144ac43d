"""Notes that were heard, on the tune's time: where each stands, and which are in the tune already."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

from ..formats.snapping import snapped
from ..hearing.notes import HeardNote
from ..hearing.tempo import Beat, as_imported
from ..sheet import Reading, TextEdit
from ..sheet.new_voice import music_lines, voice_block
from ..song import Note, Song

__all__ = ["LaidNotes"]


@dataclass(frozen=True, slots=True)
class LaidNotes:
    """What was heard, where it would stand in the tune."""

    heard: tuple[HeardNote, ...]
    notes: tuple[Note, ...]
    """One for each that was heard, on the beats that were meant, spelled in the tune's key."""

    @classmethod
    def of(cls, heard: Sequence[HeardNote], song: Song, first: float) -> LaidNotes:
        """Lay notes under a song whose bar 1 begins at a second of the recording; what is before that is left out."""
        later = [note for note in heard if note.start + note.length / 2 > first]
        if not later:
            return cls((), ())
        moved = [replace(note, start=max(first, note.start)) for note in later]
        exact = as_imported(moved, Beat(song.tempo_in_beats, first), song.meter).song
        on_beats = snapped(exact).song
        start = song.grid.start(1)
        notes = [
            note._replace(start=note.start + start, pitch=song.key_at(note.start + start).spell(note.number))
            for note in on_beats.notes
        ]
        return cls(tuple(later), tuple(notes)) if len(notes) == len(later) else cls((), ())

    def missing(self, song: Song) -> list[int]:
        """Which of them the tune does not have yet, in any voice."""
        there = {(note.start, note.number) for note in song.notes}
        return [place for place, note in enumerate(self.notes) if (note.start, note.number) not in there]

    def taken(self, reading: Reading, places: Collection[int]) -> list[TextEdit]:
        """Some of them as a voice of the tune."""
        notes = sorted((self.notes[place] for place in places), key=lambda note: (note.start, note.number))
        if not notes:
            return []
        grid = reading.song.grid
        last = grid.end(grid.number_at(max(note.end for note in notes) - 1))
        return voice_block(reading, "Heard", music_lines(reading.song, grid, notes, last))
