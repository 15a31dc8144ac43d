"""Standard MIDI Files 1.0, format 1: a track of tempo, meter and key, then a track for each voice."""

from __future__ import annotations

import struct
from collections.abc import Iterable, Iterator
from typing import NamedTuple

from ..faults import InputFault
from ..song import TICKS_PER_QUARTER, Meter, Song, Voice
from ..song.sounds import DEFAULT_SOUND, SOUNDS
from ..theory import Key

__all__ = ["DRUM_CHANNEL", "InexactError", "tempo_steps", "write"]

DRUM_CHANNEL = 9
"""The channel, counted from 0, that General MIDI keeps for percussion."""

_CHANNELS = [channel for channel in range(16) if channel != DRUM_CHANNEL]
_SLOWEST = 0xFFFFFF
_OFF, _ON, _CONTROL, _PROGRAM = 0x80, 0x90, 0xB0, 0xC0
_PAN, _PEDAL = 10, 64
_TEXT_NAME, _LYRIC, _END_OF_TRACK, _TEMPO, _METER, _KEY = 0x03, 0x05, 0x2F, 0x51, 0x58, 0x59


class InexactError(InputFault):
    """No division of a quarter note up to 32767 holds the song exactly."""


class _Event(NamedTuple):
    """An event and its order among those of one tick: offs come before ons."""

    tick: int
    order: int
    data: bytes


def write(song: Song) -> bytes:
    """The song as the bytes of a MIDI file.

    The division is the smallest of at least 480 in which every time is whole. Raises InexactError where there
    is none. A voice's track ends where its last note or rest does. More than fifteen voices share channels.
    """
    division = song.division
    if division is None:
        raise InexactError("the lengths differ too finely for a MIDI file")
    tracks = [_conductor(song), *(_voice(song, index) for index in range(len(song.voices)))]
    header = b"MThd" + struct.pack(">IHHH", 6, 1, len(tracks), division)
    return header + b"".join(_chunk(track, division) for track in tracks)


def _conductor(song: Song) -> list[_Event]:
    events = [_Event(0, 0, _meta(_TEXT_NAME, song.title.encode("utf-8", "replace")))]
    events += (_Event(tick, 1, _meta(_TEMPO, micros.to_bytes(3, "big"))) for tick, micros in tempo_steps(song))
    events += (_Event(tick, 2, _meter(meter)) for tick, meter in song.grid.changes if tick <= song.end)
    events += (_Event(tick, 3, _key(key)) for tick, key in song.keys if tick <= song.end)
    return [*sorted(events), _Event(song.end, 9, _meta(_END_OF_TRACK))]


def tempo_steps(song: Song) -> list[tuple[int, int]]:
    """(tick, microseconds to a quarter note): steps that put every onset at its second.

    Where the tempo is even there is one step. On a ramp, or where the song swings, there is a step at each onset
    and each end, as long as the stretch to the next really takes; what rounding loses the next step makes up for.
    """
    if song.tempo.constant:
        return [(0, _micros(60 / song.tempo.tempo_at(0)))]
    marks = {0, song.end, *song.times.tolist(), *(tempo.tick for tempo in song.tempo.tempos)}
    times = sorted(tick for tick in marks if tick <= song.end)
    seconds = song.tempo.seconds(times).tolist()
    steps: list[tuple[int, int]] = []
    written = 0.0  # seconds that a reader of the file has counted
    for place, tick in enumerate(times[:-1]):
        quarters = (times[place + 1] - tick) / TICKS_PER_QUARTER
        micros = _micros((seconds[place + 1] - written) / quarters)
        written += quarters * micros / 1e6
        if not steps or steps[-1][1] != micros:
            steps.append((tick, micros))
    return steps or [(0, _micros(60 / song.tempo.tempo_at(0)))]


def _micros(seconds: float) -> int:
    return min(_SLOWEST, max(1, round(1e6 * seconds)))


def _voice(song: Song, index: int) -> list[_Event]:
    voice = song.voices[index]
    channel = DRUM_CHANNEL if voice.is_drums else _CHANNELS[index % len(_CHANNELS)]
    events = [*_preparation(voice, channel)]
    for note in song.notes:
        if note.voice == index:
            if note.syllable:
                events.append(_Event(note.start, 3, _meta(_LYRIC, note.syllable.encode("utf-8", "replace"))))
            events.append(_Event(note.start, 6, bytes((_ON | channel, note.number, note.loudness))))
            events.append(_Event(note.start + note.sounding, 4, bytes((_OFF | channel, note.number, 64))))
    return [*sorted(events), _Event(max(voice.end, max(events).tick), 9, _meta(_END_OF_TRACK))]


def _preparation(voice: Voice, channel: int) -> Iterator[_Event]:
    yield _Event(0, 0, _meta(_TEXT_NAME, voice.name.encode("utf-8", "replace")))
    for tick, sound in {0: voice.sound, **dict(voice.sounds)}.items():
        program = SOUNDS.get(sound, SOUNDS[DEFAULT_SOUND]).program - 1
        yield _Event(tick, 1, bytes((_PROGRAM | channel, program)))
    yield _Event(0, 2, bytes((_CONTROL | channel, _PAN, round(63.5 + 63.5 * voice.pan + 0.01))))
    for down, up in voice.pedals:
        yield _Event(up, 2, bytes((_CONTROL | channel, _PEDAL, 0)))
        yield _Event(down, 5, bytes((_CONTROL | channel, _PEDAL, 127)))


def _chunk(events: Iterable[_Event], division: int) -> bytes:
    data = bytearray()
    before = 0
    for event in events:
        now = event.tick * division // TICKS_PER_QUARTER
        data += _variable(now - before) + event.data
        before = now
    return b"MTrk" + struct.pack(">I", len(data)) + data


def _variable(value: int) -> bytes:
    """A variable-length quantity: seven bits a byte, the highest first, all but the last with bit 7 set."""
    found = [value & 0x7F]
    while value := value >> 7:
        found.append(value & 0x7F | 0x80)
    return bytes(reversed(found))


def _meta(kind: int, data: bytes = b"") -> bytes:
    return bytes((0xFF, kind)) + _variable(len(data)) + data


def _meter(meter: Meter) -> bytes:
    click = 24 * 4 * meter.pulse_beats // meter.lower  # MIDI clocks, 24 to a quarter note
    return _meta(_METER, bytes((meter.upper, meter.lower.bit_length() - 1, max(1, click), 8)))


def _key(key: Key) -> bytes:
    return _meta(_KEY, struct.pack(">bB", key.signature, key.scale.minor))
