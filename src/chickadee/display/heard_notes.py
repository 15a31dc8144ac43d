"""Notes that were heard, on the tune's time: where each stands, and which are in the tune already."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from operator import attrgetter

from ..formats.snapping import snapped
from ..hearing.alignment import Alignment
from ..hearing.notes import HeardNote
from ..sheet import Reading, TextEdit
from ..sheet.new_voice import music_lines, voice_block
from ..song import Note, Song, Voice

__all__ = ["AlignedNotes"]


@dataclass(frozen=True, slots=True)
class AlignedNotes:
    """Heard notes, at their places in the tune."""

    heard: tuple[HeardNote, ...]
    notes: tuple[Note, ...]
    """One for each that was heard, on the beats that were meant, spelled in the tune's key."""

    @classmethod
    def of(cls, heard: Sequence[HeardNote], song: Song, alignment: Alignment) -> AlignedNotes:
        """Lay notes under a song where its recording lies; what is before the tune's start is left out."""
        begins = float(alignment.second(0))
        later = [note for note in heard if note.start + note.length / 2 > begins]
        if not later:
            return cls((), ())
        starts = alignment.tick([max(begins, note.start) for note in later])
        ends = alignment.tick([note.start + note.length for note in later])
        exact = [
            Note(
                round(start),
                0,
                max(1, round(end - start)),
                key.spell(note.number),
                note.number,
                note.loudness,
                False,
                (),
            )
            for note, start, end in zip(later, starts.tolist(), ends.tolist(), strict=True)
            for key in (song.key_at(round(start)),)
        ]
        last = max(note.end for note in exact)
        on_beats = snapped(replace(song, voices=(Voice("Heard", end=last),), notes=tuple(exact))).song
        notes = [note._replace(pitch=song.key_at(note.start).spell(note.number)) for note in on_beats.notes]
        return cls(tuple(later), tuple(notes))

    def missing(self, song: Song) -> list[int]:
        """Which of them the tune does not have yet, in any voice."""
        there = {(note.start, note.number) for note in song.notes}
        return [place for place, note in enumerate(self.notes) if (note.start, note.number) not in there]

    def taken(self, reading: Reading, places: Collection[int]) -> list[TextEdit]:
        """Some of them as a voice of the tune."""
        notes = sorted((self.notes[place] for place in places), key=attrgetter("start", "number"))
        if not notes:
            return []
        grid = reading.song.grid
        last = grid.end(grid.number_at(max(note.end for note in notes) - 1))
        return voice_block(reading, "Heard", music_lines(reading.song, grid, notes, last))
