"""Signals to listen to: our own sounds, tones and noise; and how well their notes are found."""

from __future__ import annotations

import numpy as np

from chickadee.hearing.listening import heard_in
from chickadee.sheet import read
from chickadee.sound.render import rendered
from chickadee.sound.room import Room

RATE = 22_050


def sound_of(notes, sound="flute", tempo=120, room=False):
    """A tune's song and its samples."""
    song = read(f"tempo: {tempo}\nvoice A\n  sound: {sound}\n  {notes} rest").song
    stereo = np.concatenate(list(rendered(song, RATE)))
    if room:
        stereo = Room(RATE).process(stereo.T.astype(np.float32)).T
    return song, stereo.mean(axis=1).astype(np.float32)


def with_noise(samples, decibels=20, seed=5):
    """The samples with white noise so many decibels below them."""
    loud = np.sqrt(np.mean(samples[np.abs(samples) > 1e-4] ** 2))
    noise = np.random.default_rng(seed).normal(0, loud * 10 ** (-decibels / 20), len(samples))
    return (samples + noise).astype(np.float32)


def heard(samples, rate=RATE, block=40_000, tuning=440.0):
    """The notes heard in samples."""

    def blocks(part):
        yield from (samples[start : start + block] for start in range(0, len(samples), block))

    return heard_in(blocks, rate, tuning).notes


def score(song, notes, within=0.05):
    """F1: how many notes are found with their number, within so many seconds, and how many of those told are right."""
    left, right = list(notes), 0
    for note in song.notes:
        start = float(song.tempo.seconds(note.start))
        near = [each for each in left if each.number == note.number and abs(each.start - start) <= within]
        if near:
            left.remove(min(near, key=lambda each: abs(each.start - start)))
            right += 1
    return 2 * right / max(1, len(notes) + len(song.notes))
