"""Imported music as a sheet that a person would have written."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, replace
from fractions import Fraction

from ..sheet.reading import collector_paused
from ..sheet.writing import write_song
from ..song import Song
from .hands import with_hands
from .imported import AUTOMATIC, Imported, song_of
from .key_finding import with_key
from .snapping import snapped, usual_level

__all__ = ["Arranged", "arranged"]


@dataclass(frozen=True, slots=True)
class Arranged:
    """A sheet, and what became of the file on the way."""

    text: str
    song: Song
    left_out: tuple[str, ...] = ()
    """A sentence for each thing that has no place in a sheet, or was changed."""
    moved_mean: float = 0.0
    """Milliseconds by which strikes were moved, in the mean."""
    moved_worst: float = 0.0
    """Milliseconds."""


@collector_paused()
def arranged(
    found: Imported,
    snap: str | Fraction | None = AUTOMATIC,
    phrases: bool = True,
    voices: Collection[int] | None = None,
) -> Arranged:
    """The sheet of what was found in a file; a sheet is as it is.

    ``snap`` is AUTOMATIC, a part of a beat, or None to keep every time and loudness. ``voices`` are those to take,
    counted from 1; None for all.
    """
    if found.text is not None:
        return Arranged(found.text, found.song, found.left_out)
    if phrases and voices is None and found.program is not None and found.program.sheet:
        return Arranged(found.program.sheet, found.song, found.left_out)
    song = found.song
    if voices is not None:
        kept = [note for note in song.notes if note.voice + 1 in voices]
        song = song_of(song.voices, kept, song)
    song = with_key(song)
    if snap is None:
        levels = [replace(voice, level=usual_level(song.notes, index)) for index, voice in enumerate(song.voices)]
        song = replace(song, voices=tuple(levels))
        return Arranged(write_song(song, phrases), song, found.left_out)
    song = with_hands(song)
    on_beat = snapped(song, None if snap == AUTOMATIC else Fraction(snap), played=found.played)
    said = (*found.left_out, *on_beat.said)
    return Arranged(write_song(on_beat.song, phrases), on_beat.song, said, on_beat.mean, on_beat.worst)
