"""Standard MIDI Files 1.0, format 1: a track of tempo, meter and key, then a track for each voice."""

from __future__ import annotations

import math
import struct
from collections.abc import Iterator, Sequence
from fractions import Fraction
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...faults import InputFault
from ...song import TICKS_PER_QUARTER, Meter, Note, Song, Voice
from ...song.drums import DRUM_SOUND
from ...song.song import DEFAULT_GAP
from ...song.sounds import DEFAULT_SOUND, SOUNDS
from ...theory import Key

__all__ = ["DRUM_CHANNEL", "InexactError", "channel_messages", "crowded", "tempo_steps", "write"]

DRUM_CHANNEL = 9
"""The channel, counted from 0, that General MIDI keeps for percussion."""

_CHANNELS = [channel for channel in range(16) if channel != DRUM_CHANNEL]
_SLOWEST = 0xFFFFFF
_OFF = 0x80
_ON = 0x90
_CONTROL = 0xB0
_PROGRAM = 0xC0
_PAN = 10
_PEDAL = 64
_TEXT = 0x01
_TRACK_NAME = 0x03
_LYRIC = 0x05
_MARKER = 0x06
_END_OF_TRACK = 0x2F
_TEMPO = 0x51
_METER = 0x58
_KEY = 0x59
# of a quarter note: what usual swing moves notes by, and what a file can have
_SWING_PARTS = 200
_FINEST = 32_767
_LOWER = (1, 2, 4, 8, 16, 32, 64)


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
    is none. A voice's track ends where its last note or rest does. More than fifteen voices share channels, those
    that are alike first; :func:`crowded` says where they are not. Swing
    moves notes to the nearest tick, under a steady tempo, but in a quarter note that a pickup cuts off: there the
    tempo swings. A gap longer than usual shortens notes.
    """
    clock = _Clock(song)
    tracks = [_conductor(song), *(_voice(song, index, channel) for index, channel in enumerate(_channels(song)))]
    header = b"MThd" + struct.pack(">IHHH", 6, 1, len(tracks), clock.division)
    return header + b"".join(_chunk(track, clock) for track in tracks)


def channel_messages(song: Song) -> list[tuple[int, bytes]]:
    """(tick, message) of every channel message that the song's file has, in order; swing is not in these ticks."""
    channels = _channels(song)
    events = [event for index in range(len(song.voices)) for event in _voice(song, index, channels[index])]
    return [(event.tick, event.data) for event in sorted(events) if event.data[0] < 0xF0]


def crowded(song: Song) -> str:
    """A sentence about the voices that have no channel of their own in a file and share one with others that sound
    different; empty where there are none."""
    channels = _channels(song)
    owner = dict[int, int]()
    shared = list[str]()
    for index, voice in enumerate(song.voices):
        first = owner.setdefault(channels[index], index)
        if not voice.is_drums and _manner(song.voices[first]) != _manner(voice):
            shared.append(voice.name)
    if not shared:
        return ""
    return (
        f"A MIDI file has channels for {len(_CHANNELS)} different voices besides drums; "
        f"{', '.join(shared)} {'shares' if len(shared) == 1 else 'share'} channels with others, and their sounds."
    )


def _channels(song: Song) -> list[int]:
    """The channel of each voice: its own while there are enough, else that of a voice that sounds alike."""
    pitched = [index for index, voice in enumerate(song.voices) if not voice.is_drums]
    first: dict[object, int] = {}  # the number of the first channel of each manner
    spare = len(_CHANNELS) - len({_manner(song.voices[index]) for index in pitched})
    found = [DRUM_CHANNEL] * len(song.voices)
    taken = 0
    for index in pitched:
        number = first.setdefault(_manner(song.voices[index]), taken)
        if number != taken and spare > 0:
            number = taken
            spare = spare - 1
        taken += number == taken
        found[index] = _CHANNELS[number % len(_CHANNELS)]
    return found


def _manner(voice: Voice) -> tuple[object, ...]:
    """All that a channel is set to for a voice."""
    return voice.sound, voice.pan, voice.sounds, voice.pedals


class _Clock:
    """The song's ticks as those of the file."""

    def __init__(self, song: Song) -> None:
        division = song.division
        if division is None:
            raise InexactError("the lengths differ too finely for a MIDI file")
        self._song = song
        fine = math.lcm(division, _SWING_PARTS) if song.tempo.swings else division
        self.division = fine if fine <= _FINEST else division
        """Ticks of the file to a quarter note."""

    def at(self, ticks: list[int]) -> list[int]:
        """The file's ticks for some of the song's, all from the start."""
        if self._song.tempo.swings:
            moved = _swung(self._song, ticks) * self.division / TICKS_PER_QUARTER
            found: list[int] = np.rint(moved).astype(np.int64).tolist()
            return found
        return [tick * self.division // TICKS_PER_QUARTER for tick in ticks]


def _swung(song: Song, ticks: Sequence[int]) -> NDArray[np.float64]:
    """Where swing moves ticks to in a file.

    A quarter note that the pickup cuts off stays straight: swung, it would begin with silence, and bars would not
    begin where the meter says.
    """
    straight = np.asarray(ticks, dtype=np.float64)
    return np.where(straight < _cut_off(song), straight, song.tempo.swung(straight))


def _cut_off(song: Song) -> int:
    """The tick at which a swung quarter note ends whose beginning the pickup leaves out; 0 where there is none."""
    return song.tempo.origin % TICKS_PER_QUARTER if float(song.tempo.swung(0)) else 0


def _conductor(song: Song) -> list[_Event]:
    events = [_Event(0, 0, _meta(_TRACK_NAME, _encoded(song.title)))]
    if song.composer:
        events.append(_Event(0, 1, _meta(_TEXT, _encoded(song.composer))))
    events += (_Event(tick, 1, _meta(_TEMPO, micros.to_bytes(3, "big"))) for tick, micros in tempo_steps(song))
    events += (_Event(tick, 2, _meter(meter)) for tick, meter in _meters(song) if tick <= song.end)
    events += (_Event(tick, 3, _key(key)) for tick, key in song.keys if tick <= song.end)
    events += (_Event(tick, 4, _meta(_MARKER, _encoded(words))) for tick, words in song.marks if tick <= song.end)
    return [*sorted(events), _Event(song.end, 9, _meta(_END_OF_TRACK))]


def _meters(song: Song) -> list[tuple[int, Meter]]:
    """(tick, meter) so that bars begin where they do in the song: a pickup is a bar of its own meter."""
    changes = list(song.grid.changes)
    pickup = song.grid.pickup
    short = Fraction(pickup, 4 * TICKS_PER_QUARTER)
    lower = max(short.denominator, song.meter.lower)
    if not pickup or lower not in _LOWER or not 1 <= short * lower <= 255:
        return changes
    return [(0, Meter(int(short * lower), lower)), (pickup, song.meter), *changes[1:]]


def tempo_steps(song: Song) -> list[tuple[int, int]]:
    """(tick, microseconds to a quarter note): a step for each tempo, and one at each onset where time is uneven.

    That is on ramps, and in a swung quarter note that the pickup cuts off. Each step there lasts as long as the
    stretch to the next really takes; what rounding loses, the next step makes up for.
    """
    tempos = song.tempo.tempos
    end = song.end
    uneven = _cut_off(song)
    steps: list[tuple[int, int]] = []
    for index, tempo in enumerate(tempos):
        if tempo.tick > end:
            break
        following = min(tempos[index + 1].tick, end) if index + 1 < len(tempos) else end
        even_from = min(following, max(tempo.tick + tempo.ramp, uneven))
        if even_from > tempo.tick:
            steps += _uneven_steps(song, tempo.tick, even_from)
        if even_from < following or even_from <= tempo.tick:
            held = tempo.target if tempo.ramp and even_from > tempo.tick else tempo.quarters_per_minute
            steps.append((max(tempo.tick, even_from), _micros(60 / held)))
    return [step for place, step in enumerate(steps) if not place or step[1] != steps[place - 1][1]]


def _uneven_steps(song: Song, start: int, end: int) -> list[tuple[int, int]]:
    inside = [tick for tick in song.times.tolist() if start < tick < end]
    marks = [start, *inside, end]
    seconds = song.tempo.seconds(marks).tolist()
    quarters = (_swung(song, marks) / TICKS_PER_QUARTER).tolist()
    steps = []
    written = seconds[0]  # seconds that a reader of the file has counted
    for place in range(len(marks) - 1):
        lasts = quarters[place + 1] - quarters[place]
        micros = _micros((seconds[place + 1] - written) / lasts)
        written += lasts * micros / 1e6
        steps.append((marks[place], micros))
    return steps


def _micros(seconds: float) -> int:
    return min(_SLOWEST, max(1, round(1e6 * seconds)))


def _voice(song: Song, index: int, own: int) -> list[_Event]:
    voice = song.voices[index]
    events = [*_preparation(voice, own)]
    sung = -1  # the tick of the last syllable: it is sung once, however many notes are struck with it
    for place in song.by_voice[index].tolist():
        note = song.notes[place]
        channel = DRUM_CHANNEL if voice.sound_at(note.start) == DRUM_SOUND else own
        if note.syllable and note.start != sung:
            sung = note.start
            events.append(_Event(note.start, 3, _meta(_LYRIC, _encoded(note.syllable))))
        events.append(_Event(note.start, 6, bytes((_ON | channel, note.number, note.loudness))))
        events.append(_Event(_let_go(song, note, voice.gap), 4, bytes((_OFF | channel, note.number, 64))))
    return [*sorted(events), _Event(max(voice.end, max(events).tick), 9, _meta(_END_OF_TRACK))]


def _let_go(song: Song, note: Note, gap: float) -> int:
    """The tick at which a note ends in the file: where it is written to end, or a long gap before that."""
    end = note.start + note.sounding
    if gap <= DEFAULT_GAP or note.short:
        return end
    least = note.start + TICKS_PER_QUARTER // 64
    return max(min(least, end), int(song.tempo.tick(float(song.tempo.seconds(end)) - gap)))


def _preparation(voice: Voice, channel: int) -> Iterator[_Event]:
    yield _Event(0, 0, _meta(_TRACK_NAME, _encoded(voice.name)))
    for tick, sound in {0: voice.sound, **dict(voice.sounds)}.items():
        if sound == DRUM_SOUND and not voice.is_drums:
            continue  # those notes are in the channel of percussion
        program = SOUNDS.get(sound, SOUNDS[DEFAULT_SOUND]).program - 1
        yield _Event(tick, 1, bytes((_PROGRAM | channel, program)))
    yield _Event(0, 2, bytes((_CONTROL | channel, _PAN, round(63.5 + 63.5 * voice.pan + 0.01))))
    for down, up in voice.pedals:
        yield _Event(up, 2, bytes((_CONTROL | channel, _PEDAL, 0)))
        yield _Event(down, 5, bytes((_CONTROL | channel, _PEDAL, 127)))


def _encoded(text: str) -> bytes:
    return text.encode("utf-8", "replace")


def _chunk(events: Sequence[_Event], clock: _Clock) -> bytes:
    data = bytearray()
    before = 0
    for event, now in zip(events, clock.at([event.tick for event in events]), strict=True):
        data += _variable(now - before) + event.data
        before = now
    return b"MTrk" + struct.pack(">I", len(data)) + data


def _variable(value: int) -> bytes:
    """A variable-length quantity: seven bits a byte, the highest first, all but the last with bit 7 set.

    Raises ValueError for a negative one, which would have no end.
    """
    if value < 0:
        raise ValueError(f"{value} ticks: an event comes before the one it follows")
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
