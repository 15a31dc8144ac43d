"""Signals to listen to: our own sounds, tones and noise; and how well their notes are found."""

from __future__ import annotations

import numpy as np

from chickadee.hearing.listening import heard_in
from chickadee.sheet import read
from chickadee.sound.render import rendered
from chickadee.sound.room import Room
from marks import f1, sounding, with_noise

__all__ = ["RATE", "heard", "score", "sound_of", "with_noise"]

RATE = 22_050


def sound_of(notes, sound="flute", tempo=120, room=False):
    """A tune's song and its samples."""
    song = read(f"tempo: {tempo}\nvoice A\n  sound: {sound}\n  {notes} rest").song
    stereo = np.concatenate(list(rendered(song, RATE)))
    if room:
        stereo = Room(RATE).process(stereo.T.astype(np.float32)).T
    return song, stereo.mean(axis=1).astype(np.float32)


def heard(samples, rate=RATE, block=40_000, tuning=440.0):
    """The notes heard in samples."""

    def blocks(part):
        yield from (samples[start : start + block] for start in range(0, len(samples), block))

    return heard_in(blocks, rate, tuning).notes


def score(song, notes, within=0.05):
    """F1 of notes that were heard in a song."""
    return f1(sounding(song), notes, within)
