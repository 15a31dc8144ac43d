"""Part of a song, or all of it at another speed."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from ..faults import InputFault
from .grid import BarGrid
from .tempo import TempoMap

if TYPE_CHECKING:
    from .song import Note, Song, Voice

__all__ = ["at_speed", "bars_excerpt", "stretch_excerpt", "voice_excerpt"]


def voice_excerpt(song: Song, name: str) -> Song:
    """The song with one voice alone. Raises InputFault, with the names there are, when it has no such voice."""
    for index, voice in enumerate(song.voices):
        if voice.name.lower() == name.lower():
            notes = tuple(note._replace(voice=0) for note in song.notes if note.voice == index)
            return replace(song, voices=(voice,), notes=notes)
    names = ", ".join(voice.name for voice in song.voices) or "none"
    raise InputFault(f"there is no voice called {name}; the voices are: {names}")


def bars_excerpt(song: Song, first: int, last: int) -> Song:
    """Bars ``first`` to ``last``, both included, moved to the song's start.

    The excerpt lasts to the end of the last bar. Notes struck before it are left out, and notes that last longer
    are cut. Raises InputFault when the song has no such bars.
    """
    lowest = song.first_bar
    highest = song.last_bar
    if not lowest <= first <= last <= highest:
        raise InputFault(f"bars {first} to {last} are not all there; the tune has bars {lowest} to {highest}")
    return stretch_excerpt(song, song.grid.start(first), song.grid.end(last))


def stretch_excerpt(song: Song, start: int, end: int) -> Song:
    """Return the notes struck from one tick up to another, moved to the song's start; longer ones are cut.

    Where it begins inside a bar, the rest of that bar is a pickup.
    """
    bar = song.grid.number_at(start)
    inside = bar == 0 or start > song.grid.start(bar)
    notes = tuple(_moved(note, start, end) for note in song.notes if start <= note.start < end)
    voices = tuple(_cut(voice, start, end) for voice in song.voices)
    changes = [(max(0, tick - start), meter) for tick, meter in song.grid.changes if start < tick < end]
    return replace(
        song,
        voices=voices,
        notes=notes,
        grid=BarGrid(((0, song.grid.meter_at(start)), *changes), song.grid.end(bar) - start if inside else 0),
        keys=((0, song.key_at(start)), *((tick - start, key) for tick, key in song.keys if start < tick < end)),
        tempo=song.tempo.from_tick(start),
        marks=tuple((tick - start, words) for tick, words in song.marks if start <= tick < end),
    )


def at_speed(song: Song, speed: float) -> Song:
    """The song ``speed`` times as quick."""
    if speed == 1:
        return song
    tempos = [
        replace(each, quarters_per_minute=each.quarters_per_minute * speed, target=each.target * speed)
        for each in song.tempo.tempos
    ]
    return replace(song, tempo=TempoMap(tempos, song.tempo.swings, song.tempo.origin))


def _moved(note: Note, start: int, end: int) -> Note:
    return note._replace(start=note.start - start, length=min(note.length, end - note.start))


def _cut(voice: Voice, start: int, end: int) -> Voice:
    return replace(
        voice,
        sound=voice.sound_at(start),
        sounds=tuple((tick - start, sound) for tick, sound in voice.sounds if start < tick < end),
        pedals=tuple(
            (max(down, start) - start, min(up, end) - start) for down, up in voice.pedals if down < end and up > start
        ),
        end=end - start,
    )
