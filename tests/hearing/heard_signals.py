"""Signals to listen to: our own sounds, tones and noise; and how well their notes are found."""

from __future__ import annotations

from chickadee.hearing.listening import heard_in
from chickadee.sheet import read
from chickadee.sound.room import Room
from made_up import RATE
from marks import f1, sounding, with_noise
from ours import played

__all__ = ["RATE", "heard", "score", "sound_of", "with_noise"]


def sound_of(notes, sound="flute", tempo=120, room=False):
    """A tune's song and its samples."""
    song = read(f"tempo: {tempo}\nvoice A\n  sound: {sound}\n  {notes} rest").song
    stereo = played(song)
    return song, (Room(RATE).process(stereo) if room else stereo).mean(axis=0)


def heard(samples, rate=RATE, block=40_000, tuning=440.0):
    """The notes heard in samples."""

    def blocks(part):
        yield from (samples[start : start + block] for start in range(0, len(samples), block))

    return heard_in(blocks, rate, tuning).notes


def score(song, notes, within=0.05):
    """F1 of notes that were heard in a song."""
    return f1(sounding(song), notes, within)
