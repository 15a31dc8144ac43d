"""Songs joined: one after the other, together, repeated; and bars taken out as a slice."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from operator import attrgetter
from typing import TYPE_CHECKING

from .excerpt import bars_excerpt
from .grid import BarGrid
from .tempo import Tempo, TempoMap

if TYPE_CHECKING:
    from .song import Note, Song, Voice

__all__ = ["bars_by_slice", "one_after_the_other", "repeated", "together"]


def bars_by_slice(song: Song, bars: slice) -> Song:
    """Bars by their numbers, the last not included, as Python's slices have it; no step.

    Numbers outside the song are cut off at its ends. Raises ValueError for a step, and for no bars.
    """
    if bars.step not in (None, 1):
        raise ValueError("bars of a song are taken without a step, such as song[1:5]")
    first = song.first_bar if bars.start is None else max(song.first_bar, bars.start)
    end = song.last_bar + 1 if bars.stop is None else min(song.last_bar + 1, bars.stop)
    if first >= end:
        raise ValueError(f"there are no bars there; the song has bars {song.first_bar} to {song.last_bar}")
    return bars_excerpt(song, first, end - 1)


def one_after_the_other(song: Song, other: Song) -> Song:
    """A song and then another, which begins with the next bar and keeps its own tempo, meter and key.

    Voices of the same name and sound go on. A pickup of the other one stands at the end of the bar before, where
    there is room for it, or else in a bar of its own.
    """
    begins = _next_bar(song, other.grid.pickup)
    at = begins - other.grid.pickup
    voices = [replace(voice, end=begins) for voice in song.voices]
    places = {(voice.name, voice.sound): place for place, voice in enumerate(voices)}
    moved: dict[int, int] = {}
    for place, voice in enumerate(other.voices):
        own = places.get((voice.name, voice.sound))
        sounds = tuple((tick + at, sound) for tick, sound in voice.sounds)
        pedals = tuple((down + at, up + at) for down, up in voice.pedals)
        if own is None:
            moved[place] = len(voices)
            voices.append(replace(voice, sounds=sounds, pedals=pedals, end=voice.end + at))
        else:
            moved[place] = own
            before = voices[own]
            voices[own] = replace(
                before, sounds=before.sounds + sounds, pedals=before.pedals + pedals, end=voice.end + at
            )
    notes = [note._replace(start=note.start + at, voice=moved[note.voice]) for note in other.notes]
    return replace(
        song,
        voices=tuple(_apart(voices)),
        notes=_in_order([*song.notes, *notes]),
        grid=_grid(song, other, begins),
        keys=(*song.keys, *((tick + at, key) for tick, key in other.keys)),
        tempo=_tempo(song, other, at),
        marks=(*song.marks, *((tick + at, words) for tick, words in other.marks)),
    )


def together(song: Song, other: Song) -> Song:
    """Both songs at once, from their starts; meter, key and tempo are those of the first.

    Voices whose names are the same are told apart by numbers.
    """
    count = len(song.voices)
    notes = [note._replace(voice=note.voice + count) for note in other.notes]
    voices = _apart([*song.voices, *other.voices])
    return replace(song, voices=tuple(voices), notes=_in_order([*song.notes, *notes]))


def repeated(song: Song, times: int) -> Song:
    """The song so many times. Raises ValueError for fewer than once."""
    if times < 1:
        raise ValueError(f"a song is repeated once at least, not {times} times")
    found = song
    for _ in range(times - 1):
        found = one_after_the_other(found, song)
    return found


def _next_bar(song: Song, pickup: int) -> int:
    """The tick of the bar line from which on another song's first whole bar stands."""
    line = song.grid.end(song.last_bar) if song.end else song.grid.pickup
    last = max((note.end for note in song.notes), default=0)
    while line - pickup < last:
        line = song.grid.end(song.grid.number_at(line))
    return line


def _grid(song: Song, other: Song, begins: int) -> BarGrid:
    changes = list(song.grid.changes)
    for tick, meter in other.grid.changes:
        at = begins if tick == 0 else begins + tick - other.grid.pickup
        if meter != changes[-1][1]:
            changes.append((at, meter))
    return BarGrid(tuple(changes), song.grid.pickup)


def _tempo(song: Song, other: Song, at: int) -> TempoMap:
    tempos = [tempo for tempo in song.tempo.tempos if tempo.tick < at or not tempo.tick]
    later = [Tempo(tempo.tick + at, *_rest(tempo)) for tempo in other.tempo.tempos]
    swings = [*song.tempo.swings]
    starts = list(other.tempo.swings)
    if swings and (not starts or starts[0][0] > 0):
        swings.append((at, 0.5))
    swings += [(tick + at, part) for tick, part in starts]
    return TempoMap([*tempos, *later] if at else later, swings, song.tempo.origin)


def _rest(tempo: Tempo) -> tuple[float, int, float]:
    return tempo.quarters_per_minute, tempo.ramp, tempo.target


def _in_order(notes: list[Note]) -> tuple[Note, ...]:
    return tuple(sorted(notes, key=attrgetter("start", "voice", "number")))


def _apart(voices: list[Voice]) -> list[Voice]:
    """Voices whose names are told apart."""
    seen: Counter[str] = Counter()
    found = []
    for voice in voices:
        name = voice.name.lower()
        seen[name] += 1
        again = seen[name]
        found.append(replace(voice, name=f"{voice.name} {again}") if again > 1 else voice)
    return found
