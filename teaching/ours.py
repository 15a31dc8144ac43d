"""Melodies of our own sounds, to teach the hearing with."""

from __future__ import annotations

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from chickadee.sheet import read
from chickadee.song import Song
from chickadee.song.drums import DRUM_SOUND
from chickadee.song.sounds import SOUNDS
from chickadee.sound.render import rendered
from made_up import recorded
from marks import sounding
from melodies import RATE, Piece, between, melody

__all__ = ["PITCHED", "our_piece", "played", "wavering"]

PITCHED = tuple(each for each in SOUNDS if each != DRUM_SOUND)
"""The sounds that have a pitch."""
_HARD = *["soft pad"] * 4, *["bowed string"] * 2, *["flute"] * 2, "brass horn"
"""Those that are hard to hear, in three of five melodies."""
_RINGING = "soft pad", "glass bell"
"""Those whose notes are long heard under the next ones."""
_DRUMS = 0.04  # of all melodies are played on drums: there are no notes to hear in them
_SECONDS = 15.0


def our_piece(seed: int, ringing: bool = False) -> Piece:
    """A melody of some fifteen seconds, of one of our sounds; with ``ringing`` a fast one of those that ring on."""
    draw = np.random.default_rng(seed)
    song = read(_sheet(draw, ringing)).song
    samples = played(song).mean(axis=0)
    if draw.random() < 0.5:
        samples = wavering(samples, draw.uniform(4, 7), draw.uniform(5, 50))
    return Piece(recorded(draw, samples.astype(np.float64)), sounding(song))


def _sheet(draw: Generator, ringing: bool) -> str:
    sound = draw.choice(_RINGING if ringing else _HARD if draw.random() < 0.6 else PITCHED)
    sound = DRUM_SOUND if draw.random() < _DRUMS else sound
    beat = between(draw, 0.115, 0.25 if ringing else 1.1)
    steady = draw.random() < 0.5
    lengths = ["1"] if steady else ["1", "1", "1", "2", "1.5", *["0.5"] * (beat > 0.23)]
    numbers = melody(draw, round(_SECONDS / beat), int(draw.integers(50, 75)), float(draw.choice([0, 0.1, 0.3, 0.5])))
    words = [f"{number}={draw.choice(lengths)}" + " rest" * (draw.random() < 0.06) for number in numbers]
    gap = draw.choice([0, 0.03, 0.03, 0.03, 0.03])
    differs = draw.choice([1, 1, 12])
    return f"tempo: {60 / beat:.3f}\ngap: {gap}\nvoice A\n  sound: {sound}\n  [vary {differs}] {' '.join(words)} rest"


def played(song: Song) -> NDArray[np.float32]:
    """The samples of a song, RATE a second, shape (2, samples)."""
    return np.concatenate(list(rendered(song, RATE))).T.astype(np.float32)


def wavering(samples: NDArray[np.float32], hertz: float = 5.5, cents: float = 30.0) -> NDArray[np.float32]:
    """Samples whose pitch wavers so many times a second by so many cents."""
    places = np.arange(len(samples))
    turns = 2 * np.pi * hertz / RATE
    bent = places + (2 ** (cents / 1200) - 1) / turns * np.sin(turns * places)
    return np.interp(bent, places, samples).astype(np.float32)
