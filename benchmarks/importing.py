"""A large MIDI file, and what it takes to tokenize it in plain Python: the measure for reading and writing it."""

from __future__ import annotations

import random
import struct

from chickadee.formats import smf
from chickadee.song import TICKS_PER_QUARTER, Note, Song, Voice
from chickadee.theory import Pitch

__all__ = ["events_in", "large_file"]

_VOICES = 6
_NOTES = 5_000
_DATA_BYTES = {0xC0: 1, 0xD0: 1}


def large_file(played: bool) -> bytes:
    """A file of 30,000 notes in six voices, exactly on half beats or as if played by hand."""
    chance = random.Random(1)
    half = TICKS_PER_QUARTER // 2
    notes = []
    for voice in range(_VOICES):
        for place in range(_NOTES):
            away = chance.randint(-9, 9) * 16_800 if played else 0
            loudness = chance.randint(60, 100) if played else 80
            number = chance.choice((60, 62, 64, 65, 67))
            start = max(0, place * half + away)
            notes.append(Note(start, voice, half * 9 // 10, Pitch("C", 0, 4), number, loudness, False, ()))
    notes.sort(key=lambda note: (note.start, note.voice, note.number))
    voices = tuple(Voice(f"Voice {voice + 1}", end=_NOTES * half) for voice in range(_VOICES))
    return smf.write(Song("Bench", voices=voices, notes=tuple(notes)))


def events_in(data: bytes) -> int:
    """Cut a file's tracks into events with the struct module, and count them."""
    at = 14
    events = 0
    byte = struct.Struct("B").unpack_from
    while at < len(data):
        (length,) = struct.unpack_from(">I", data, at + 4)
        at, end = at + 8, at + 8 + length
        while at < end:
            value = 0
            while True:
                (part,) = byte(data, at)
                at += 1
                value = value << 7 | part & 0x7F
                if part < 0x80:
                    break
            (status,) = byte(data, at)
            if status == 0xFF:
                _, size = struct.unpack_from("BB", data, at + 1)
                at += 3 + size
            else:
                struct.unpack_from("BB", data, at + 1)
                at += 1 + _DATA_BYTES.get(status & 0xF0, 2)
            events += 1
    return events
