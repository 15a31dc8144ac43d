"""Notes that were heard, on the tune's time: where each stands, and which are in the tune already."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from operator import attrgetter

from ..formats.snapping import snapped
from ..hearing.alignment import Alignment
from ..hearing.notes import HeardNote
from ..hearing.tempo import guessed_beat
from ..sheet import Reading, TextEdit
from ..sheet.new_voice import music_lines, voice_block
from ..song import Meter, Note, Song, Voice

__all__ = ["AlignedNotes"]

_VOICES = "Heard", "Heard below"
"""The voices that are taken, by the lines that were heard."""


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
        later = tuple(note for note in heard if note.start + note.length / 2 > begins)
        if not later:
            return cls((), ())
        meant = _meant(_in_tune(later, song, alignment), song)
        pairs = sorted(
            zip(meant, later, strict=True), key=lambda pair: (pair[0].start, pair[0].voice, pair[0].number)
        )
        exact = [note for note, _ in pairs]
        last = max(note.end for note in exact)
        voices = tuple(Voice(name, end=last) for name in _VOICES)
        played = replace(song, voices=voices, notes=tuple(exact))
        notes = [
            note._replace(pitch=song.key_at(note.start).spell(note.number))
            for note in snapped(played, played=True).song.notes
        ]
        return cls(tuple(note for _, note in pairs), tuple(notes))

    def missing(self, song: Song) -> list[int]:
        """Which of them the tune does not have yet, in any voice: each of its notes is one that was heard at most.

        A note of the tune is the one that was heard where it has its number and begins a quarter of a beat away at
        most.
        """
        left: dict[int, list[int]] = {}
        for note in song.notes:
            left.setdefault(note.number, []).append(note.start)
        near = song.meter.beat_ticks // 4
        found = []
        for place, note in enumerate(self.notes):
            starts = left.get(note.number, [])
            first = bisect_left(starts, note.start - near)
            same = min(starts[first : first + 2], key=lambda start: abs(start - note.start), default=None)
            if same is None or abs(same - note.start) > near:
                found.append(place)
            else:
                starts.remove(same)
        return found

    def taken(self, reading: Reading, places: Collection[int]) -> list[TextEdit]:
        """Some of them as a voice of the tune."""
        text = ""
        for line, name in enumerate(_VOICES):
            notes = sorted(
                (self.notes[place] for place in places if self.notes[place].voice == line),
                key=attrgetter("start", "number"),
            )
            if notes:
                grid = reading.song.grid
                last = grid.end(grid.number_at(max(note.end for note in notes) - 1))
                (block,) = voice_block(reading, name, music_lines(reading.song, grid, notes, last))
                text += "\n" + block.text.lstrip("\n") if text else block.text
        end = len(reading.text)
        return [TextEdit(end, end, text)] if text else []


def _in_tune(heard: Sequence[HeardNote], song: Song, alignment: Alignment) -> tuple[HeardNote, ...]:
    """The notes as they would have been heard had the tune been played at its first tempo, from bar 1 on."""
    tempo = song.tempo_in_beats
    ticks = song.meter.beat_ticks
    begins = song.grid.start(1)
    starts, ends = (
        (alignment.tick(seconds) - begins) / ticks * 60 / tempo
        for seconds in ([note.start for note in heard], [note.start + note.length for note in heard])
    )
    return tuple(
        replace(note, start=start, length=max(0.0, end - start))
        for note, start, end in zip(heard, starts.tolist(), ends.tolist(), strict=True)
    )


def _meant(heard: tuple[HeardNote, ...], song: Song) -> list[Note]:
    """The notes on the beats of a song that were meant, as long as they were held."""
    starts, ends = _places(heard, song.tempo_in_beats, song.meter)
    begins = song.grid.start(1)
    found = []
    for note, start, end in zip(heard, starts, ends, strict=True):
        tick = max(0, begins + start)
        pitch = song.key_at(tick).spell(note.number)
        found.append(Note(tick, note.line, max(1, begins + end - tick), pitch, note.number, note.loudness, False, ()))
    return found


@lru_cache(maxsize=4)
def _places(heard: tuple[HeardNote, ...], tempo: float, meter: Meter) -> tuple[list[int], list[int]]:
    """(ticks from bar 1 on at which notes were meant to begin, at which they end)."""
    beat = guessed_beat(heard, tempo, meter, 0.0)
    return beat.meant_ticks([note.start for note in heard]), beat.ends(heard)
