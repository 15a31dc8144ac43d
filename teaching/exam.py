"""How well notes are found in melodies that the network was not taught with: of made-up instruments that it does not
know, and of our own sounds, which it knows from other melodies.

    python teaching/exam.py [how many of each]

F1 of notes with the right number that begin at most 50 ms off, the mean and the least of so many random melodies. One
note in eight repeats the one before it.
"""

from __future__ import annotations

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import random
import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor

import numpy as np
from numpy.typing import NDArray

from chickadee.hearing.listening import heard_in
from chickadee.sheet import read
from chickadee.sound.room import Room
from made_up import RATE, Sounding, piece
from marks import f1, sounding, with_noise
from ours import PITCHED, played, wavering

_NEW = 500_000, 1_500_000  # the first seeds of pieces of one player and of several that were not learned from
_SPEEDS = {"single": 90, "slow": 60, "2 a second": 120, "3": 180, "6": 360, "8": 480, "-40 dB": 120, "noise": 120,
           "room": 120, "vibrato": 120}  # fmt: skip
"""Beats a minute, each a note."""


def exam(count: int) -> None:
    """Print how well it went."""
    with ProcessPoolExecutor() as pool:
        for name, first in zip(("one player", "together"), _NEW, strict=True):
            print(f"{name:16}", _told(list(pool.map(_made_up, range(first, first + 10 * count)))), flush=True)
        print(" " * 16, "".join(f"{each:12}" for each in _SPEEDS))
        for sound in PITCHED:
            marks = pool.map(_ours, [(sound, speed, seed) for speed in _SPEEDS for seed in range(count)])
            table = np.array(list(marks)).reshape(-1, count).tolist()
            print(f"{sound:16}", "".join(f"{_told(each):12}" for each in table), flush=True)


def _told(marks: Sequence[float]) -> str:
    return f"{np.mean(marks):.2f} ({min(marks):.2f})"


def _made_up(seed: int) -> float:
    made = piece(seed, seed >= _NEW[1])
    return mark(made.notes, made.samples)


def _ours(asked: tuple[str, str, int]) -> float:
    sound, speed, seed = asked
    numbers = _melody(random.Random(seed), 12 if speed == "slow" else 24)
    words = " rest ".join(map(str, numbers[:8])) if speed == "single" else " ".join(map(str, numbers))
    song = read(f"tempo: {_SPEEDS[speed]}\nvoice A\n  sound: {sound}\n  {words} rest").song
    stereo = played(song)
    samples = (Room(RATE).process(stereo) if speed == "room" else stereo).mean(axis=0)
    if speed == "noise":
        samples = with_noise(samples, seed=seed)
    if speed == "-40 dB":
        samples = samples * 0.01 / np.abs(samples).max()
    if speed == "vibrato":
        samples = wavering(samples)
    return mark(sounding(song), samples.astype(np.float32))


def _melody(draw: random.Random, count: int) -> list[int]:
    """MIDI numbers from G3 to G5, with leaps of all kinds."""
    found = [draw.randint(55, 79)]
    while len(found) < count:
        number = found[-1] + draw.choice([-12, -7, -5, -4, -3, -2, -1, 1, 2, 3, 4, 5, 7, 12, 19])
        number = found[-1] if draw.random() < 1 / 8 else draw.choice([number, draw.randint(55, 79)])
        if 55 <= number <= 79:
            found.append(number)
    return found


def mark(notes: Sequence[Sounding], samples: NDArray[np.float32]) -> float:
    """F1 of what is heard in samples that have such notes."""
    blocks = np.array_split(samples, max(1, len(samples) // (2 * RATE)))
    return f1(notes, heard_in(lambda part: blocks, RATE).notes)


if __name__ == "__main__":
    exam(int(sys.argv[1]) if sys.argv[1:] else 4)
