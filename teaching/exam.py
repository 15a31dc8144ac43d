"""How well notes are found in melodies that the network was not taught with: of sampled instruments that it does
not know, two at once and over chords, of singers, of made-up instruments, and of our own sounds, which it knows from
other melodies.

    python teaching/exam.py [how many of each] [sampled] [lines] [made-up] [ours]

F1 of notes with the right number that begin at most 50 ms off, the mean and the least of so many random melodies. One
note in six to eight repeats the one before it; ``again`` is the part of those that are found.
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
from chickadee.hearing.notes import HeardNote
from chickadee.sheet import read
from chickadee.sound.room import Room
from made_up import piece
from marks import f1, found_again, sounding, with_noise
from melodies import RATE, Played, Sounding, chords, with_seconds
from ours import PITCHED, played, wavering
from sampled import EXAMINED, FONTS, performed
from singers import singer_piece

_NEW = 500_000, 1_500_000  # the first seeds of pieces of one player and of several that were not learned from
_SPEEDS = {"single": 90, "slow": 60, "2 a second": 120, "3": 180, "6": 360, "8": 480, "-40 dB": 120, "noise": 120,
           "room": 120, "vibrato": 120}  # fmt: skip
"""Beats a minute, each a note."""


_ONLY_OF_THE_SECOND = "church organ", "accordion", "string section", "tubular bells"
"""Those whose samples in the first font are taught."""
_KEYBOARDS = "piano", "electric piano", "nylon guitar", "steel guitar", "marimba", "celesta", "harp"
"""Sampled instruments that play two notes at once in the exam."""
_LINES = "thirds", "fifths", "octaves", "mixed", "over chords"
_APART = {"thirds": (3, 4), "fifths": (7,), "octaves": (12,), "mixed": (3, 4, 5, 7, 8, 9, 12, 16)}
"""Semitones between two notes at once."""
_BELOW = 6.0  # dB, of the chords under a melody


def exam(count: int, parts: Sequence[str]) -> None:
    """Print how well it went."""
    with ProcessPoolExecutor() as pool:
        for part in parts or _PARTS:
            _PARTS[part](pool, count)


def _examine_sampled(pool: ProcessPoolExecutor, count: int) -> None:
    every = []
    for font in range(len(FONTS)):
        for name in EXAMINED:
            if font or name not in _ONLY_OF_THE_SECOND:
                marks = list(pool.map(_sampled, [(font, name, seed) for seed in range(count)]))
                every += marks
                again = [each[1] for each in marks if each[1] >= 0]
                print(
                    f"{font + 1} {name:18}",
                    _told([each[0] for each in marks]),
                    f"again {np.mean(again):.2f}",
                    flush=True,
                )
    print(
        f"{'all':20}",
        _told([each[0] for each in every]),
        f"again {np.mean([each[1] for each in every if each[1] >= 0]):.2f}",
    )
    print(f"{'singers':20}", _told(list(pool.map(_singer, range(_NEW[0], _NEW[0] + 8 * count)))), flush=True)


def _examine_lines(pool: ProcessPoolExecutor, count: int) -> None:
    print(" " * 20, "".join(f"{each:14}" for each in _LINES))
    for name in _KEYBOARDS:
        for font in range(len(FONTS)):
            row = [list(pool.map(_lines, [(font, name, kind, seed) for seed in range(count)])) for kind in _LINES]
            print(f"{font + 1} {name:18}", "".join(f"{_told(each):14}" for each in row), flush=True)


def _examine_made_up(pool: ProcessPoolExecutor, count: int) -> None:
    for name, first in zip(("one player", "together"), _NEW, strict=True):
        print(f"{name:16}", _told(list(pool.map(_made_up, range(first, first + 10 * count)))), flush=True)


def _examine_ours(pool: ProcessPoolExecutor, count: int) -> None:
    print(" " * 16, "".join(f"{each:12}" for each in _SPEEDS))
    for sound in PITCHED:
        marks = pool.map(_ours, [(sound, speed, seed) for speed in _SPEEDS for seed in range(count)])
        table = np.array(list(marks)).reshape(-1, count).tolist()
        print(f"{sound:16}", "".join(f"{_told(each):12}" for each in table), flush=True)


_PARTS = {"sampled": _examine_sampled, "lines": _examine_lines, "made-up": _examine_made_up, "ours": _examine_ours}


def _told(marks: Sequence[float]) -> str:
    return f"{np.mean(marks):.2f} ({min(marks):.2f})"


def _made_up(seed: int) -> float:
    made = piece(seed, seed >= _NEW[1])
    return mark(made.notes, made.samples)


def _singer(seed: int) -> float:
    made = singer_piece(seed)
    return mark(made.notes, made.samples)


def _sampled(asked: tuple[int, str, int]) -> tuple[float, float]:
    """F1, and the part of the repeated notes that is found."""
    font, name, seed = asked
    played = _lesson_in_time(name, seed)
    notes = [each.sounding for each in played]
    heard = _heard(performed(font, EXAMINED[name][0], played))
    return f1(notes, heard), found_again(notes, heard)


def _lines(asked: tuple[int, str, str, int]) -> float:
    font, name, kind, seed = asked
    program, _ = EXAMINED[name]
    played = _lesson_in_time(name, seed)
    draw = np.random.default_rng(seed)
    if kind == "over chords":
        melody = performed(font, program, played)
        below = performed(font, program, chords(draw, played))
        below = below * 10 ** (-_BELOW / 20) * np.sqrt((melody**2).mean() / (below**2).mean())
        size = min(len(melody), len(below))
        return f1([each.sounding for each in played], _heard(melody[:size] + below[:size]))
    played = with_seconds(draw, played, _APART[kind])
    return f1([each.sounding for each in played], _heard(performed(font, program, played)))


def _lesson_in_time(name: str, seed: int) -> list[Played]:
    """A melody as a pupil plays it: notes of several lengths, one in six as the one before it."""
    draw = random.Random(f"{name} {seed}")
    middle = EXAMINED[name][1]
    numbers = [middle]
    while len(numbers) < 24:
        number = numbers[-1] + draw.choice([-7, -5, -4, -3, -2, -1, 1, 2, 3, 4, 5, 7])
        number = numbers[-1] if draw.random() < 1 / 6 else number
        if abs(number - middle) <= 11:
            numbers.append(number)
    now = 0.3
    beat = draw.choice([0.35, 0.5, 0.65])
    found = []
    for number in numbers:
        lasts = beat * draw.choice([0.5, 1, 1, 1, 2])
        found.append(Played(now, number, 0.95 * lasts, 0.5))
        now += lasts
    return found


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
    return f1(notes, _heard(samples))


def _heard(samples: NDArray[np.floating]) -> Sequence[HeardNote]:
    blocks = np.array_split(samples.astype(np.float32), max(1, len(samples) // (2 * RATE)))
    return heard_in(lambda part: blocks, RATE).notes


if __name__ == "__main__":
    exam(int(sys.argv[1]) if sys.argv[1:] else 4, sys.argv[2:])
