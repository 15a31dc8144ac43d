"""The messages of a song, at the seconds at which it is heard."""

from __future__ import annotations

from collections.abc import Iterator
from operator import itemgetter
from typing import NamedTuple

import numpy as np

from ..formats.smf import channel_messages
from ..song import TICKS_PER_QUARTER, Song, TempoMap

__all__ = ["MidiMessage", "OscMessage", "midi_messages", "osc_messages", "song_position"]

_CLOCK = b"\xf8"
_CLOCKS = 24  # to a quarter note, as MIDI 1.0 has it
_SIXTEENTH = TICKS_PER_QUARTER // 4
_OFF, _MARK, _BAR, _NOTE = range(4)  # the order of what happens at once


class OscMessage(NamedTuple):
    """An Open Sound Control message: its address, its type tags, and its values."""

    second: float
    """When it is due, in seconds of the tune."""
    address: str
    tags: str
    values: tuple[str | int | float, ...]


class MidiMessage(NamedTuple):
    """A MIDI message."""

    second: float
    """When it is due, in seconds of the tune."""
    data: bytes


def osc_messages(song: Song, tempo: TempoMap | None = None) -> list[OscMessage]:
    """Notes on and off, beats and marks of a song, in order; ``tempo`` is the song's own unless another is given."""
    found = sorted(_osc(song, tempo or song.tempo), key=itemgetter(0, 1))
    return [message for _, _, message in found]


def _osc(song: Song, tempo: TempoMap) -> Iterator[tuple[float, int, OscMessage]]:
    for note in song.notes:
        voice = song.voices[note.voice]
        name = voice.name_of(note) if voice.is_drums else note.pitch.text
        end = note.start + note.sounding
        first = float(tempo.seconds(note.start))
        last = float(tempo.seconds(max(end, voice.released(end))))
        what = (voice.name, note.number, name)
        yield first, _NOTE, OscMessage(first, "/chickadee/note", ",sisfi", (*what, first, note.loudness))
        yield last, _OFF, OscMessage(last, "/chickadee/off", ",sisf", (*what, last))
    for tick, words in song.marks:
        second = float(tempo.seconds(tick))
        yield second, _MARK, OscMessage(second, "/chickadee/mark", ",sf", (words, second))
    for number, start in song.grid.starts(song.end) if song.end else ():
        beat = song.grid.meter_at(start).beat_ticks
        for place, tick in enumerate(range(start, min(song.end, song.grid.end(number)), beat), 1):
            second = float(tempo.seconds(tick))
            yield second, _BAR, OscMessage(second, "/chickadee/bar", ",if", (number, float(place)))


def midi_messages(song: Song, tempo: TempoMap | None = None) -> list[MidiMessage]:
    """The channel messages that the song's MIDI file has, and the clock, in order."""
    tempo = tempo or song.tempo
    clocks = [(tick, _CLOCK) for tick in range(0, song.end, TICKS_PER_QUARTER // _CLOCKS)]
    found = sorted([*clocks, *channel_messages(song)], key=itemgetter(0))
    seconds = np.maximum.accumulate(tempo.seconds([tick for tick, _ in found])).tolist()  # swing may begin anywhere
    return [MidiMessage(second, data) for second, (_, data) in zip(seconds, found, strict=True)]


def song_position(tick: float) -> bytes:
    """The song position pointer of a tick: sixteenths from the start, as MIDI 1.0 has it."""
    place = min(0x3FFF, int(tick // _SIXTEENTH))
    return bytes((0xF2, place & 0x7F, place >> 7))
