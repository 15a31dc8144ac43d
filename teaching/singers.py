"""Singers that are made up: a glottal source with formants, breath, jitter, glides and a wide vibrato.

The source is as in Klatt and Klatt, Analysis, synthesis, and perception of voice quality variations (1990), reduced
to the slope of its spectrum; formants are resonances at the frequencies of five vowels, after Peterson and Barney
(1952), moved by the size of the singer.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from made_up import recorded
from melodies import RATE, Piece, Played, between, phrase

__all__ = ["singer_piece"]

_SECONDS = 15.0
_VOWELS = (
    (730, 1090, 2440, 3400, 4200),
    (530, 1840, 2480, 3500, 4300),
    (270, 2290, 3010, 3600, 4400),
    (570, 840, 2410, 3300, 4100),
    (300, 870, 2240, 3300, 4100),
)
_WIDTHS = 80, 90, 120, 160, 200
"""Hz, of vowels' formants."""
_HIGHEST = 6500.0  # Hz, of a partial
_CONTROL = 200  # times a second that what moves slowly is worked out
_DEEPEST = 100.0  # cents, of a vibrato


def singer_piece(seed: int) -> Piece:
    """A melody of some fifteen seconds, sung by one singer or by a few."""
    draw = np.random.default_rng(seed)
    middle = int(draw.integers(48, 75))
    played = phrase(draw, _SECONDS, middle, between(draw, 0.22, 1.1))
    legato = draw.random() < 0.6
    gate = 1.0 if legato else draw.uniform(0.7, 0.97)
    played = [each._replace(lasts=each.lasts * gate) for each in played]
    count = round((played[-1].start + played[-1].lasts + 0.6) * RATE)
    singers = 1 if draw.random() < 0.6 else int(draw.integers(2, 7))
    style = draw.integers(1 << 30), between(draw, 8, _DEEPEST), draw.uniform(0.9, 1.25)
    samples = np.zeros(count)
    for _ in range(singers):
        samples += _sung(draw, played, count, legato, style)
    return Piece(recorded(draw, samples), [each.sounding for each in played])


def _sung(
    draw: Generator, played: Sequence[Played], count: int, legato: bool, style: tuple[int, float, float]
) -> NDArray[np.float64]:
    """One singer's voice; the style of all is (seed of the vowels, cents of vibrato, size)."""
    vowels, cents, size = style
    pitch = _pitch(draw, played, count, cents)
    hertz = 440 * 2 ** ((pitch - 69) / 12)
    turns = np.cumsum(hertz) / RATE
    loud = _loudness(draw, played, count, legato)
    words = np.random.default_rng(vowels)
    every = np.arange(0, count, RATE // _CONTROL)
    formants = _slowly([words.choice(len(_VOWELS)) for _ in played], played, every, draw.normal(size, 0.03))
    slope = draw.uniform(0.8, 1.8)
    wave = np.exp(2j * np.pi * turns)
    partial = np.ones(count, complex)
    sound = np.zeros(count)
    for order in range(1, 1 + int(_HIGHEST / hertz.min())):
        partial *= wave
        moved = hertz[every] * order
        level = _resonance(formants, moved) * order**-slope * (moved < _HIGHEST)
        sound += np.interp(np.arange(count), every, level) * partial.imag
    breath = between(draw, 0.002, 0.08) * np.abs(sound).max()
    return (sound + breath * draw.normal(0, 1, count)) * loud


def _pitch(draw: Generator, played: Sequence[Played], count: int, cents: float) -> NDArray[np.float64]:
    """MIDI numbers with parts: steps with glides, a vibrato that sets in, slow wander and jitter."""
    seconds = np.arange(count) / RATE
    wander = np.interp(seconds, np.arange(count // 2000 + 2) * 2000 / RATE, draw.normal(0, 0.07, count // 2000 + 2))
    jitter = np.interp(seconds, np.arange(count // 150 + 2) * 150 / RATE, draw.normal(0, 0.05, count // 150 + 2))
    pitch = np.full(count, float(played[0].number))
    glide = between(draw, 0.02, 0.12)
    speed = draw.uniform(4.5, 7)
    early = draw.uniform(0.2, 0.6)
    delay = draw.uniform(0, 0.35)
    scoop = draw.uniform(0.5, 2.5) if draw.random() < 0.3 else 0.0
    for before, each in zip([played[0], *played], played, strict=False):
        here = slice(max(0, round((each.start - early * glide) * RATE)), count)
        since = seconds[here] - seconds[here.start]
        risen = np.clip(since / glide, 0, 1)
        pitch[here] = before.number + (each.number - before.number) * (0.5 - 0.5 * np.cos(np.pi * risen))
        pitch[here] -= scoop * np.exp(-since / 0.05) * (each.number == before.number or each is played[0])
        grown = np.clip((since - delay) / 0.25, 0, 1)
        pitch[here] += cents / 100 * grown * np.sin(2 * np.pi * speed * since + draw.uniform(0, 1))
    return pitch + wander + jitter + draw.normal(0, 0.05)


def _loudness(draw: Generator, played: Sequence[Played], count: int, legato: bool) -> NDArray[np.float64]:
    """The amplitude at each sample; a pitch that is sung again is begun anew."""
    places = np.arange(0, count, RATE // _CONTROL) / RATE
    loud = np.zeros(len(places))
    attack = between(draw, 0.015, 0.12)
    release = between(draw, 0.03, 0.2)
    dip = draw.uniform(0.1, 0.7)
    for each, after in zip(played, [*played[1:], None], strict=True):
        joined = legato and after is not None and after.start - each.start - each.lasts < 0.03
        again = after is not None and after.number == each.number
        ends = np.clip((places - each.start - each.lasts) / release, 0, 1)
        own = np.clip((places - each.start) / attack, 0, 1) * (1 - ends)
        loud = np.maximum(loud, own)
        if joined and after is not None:
            depth = dip if again else dip * draw.choice([0.0, 0.3, 0.7])
            loud *= 1 - depth * np.exp(-(((places - after.start + 0.02) / 0.03) ** 2))
    return np.interp(np.arange(count) / RATE, places, loud)


def _slowly(
    vowels: Sequence[int], played: Sequence[Played], every: NDArray[np.intp], size: float
) -> list[tuple[NDArray[np.float64], float]]:
    """(Hz at some samples, Hz of its width) of each formant; vowels change within some hundredths of a second."""
    starts = np.array([each.start for each in played])
    places = np.sort(np.concatenate((starts, starts + 0.06)))
    seconds = every / RATE
    found = []
    for order, width in enumerate(_WIDTHS):
        every = np.array([_VOWELS[vowel][order] for vowel in vowels]) * size
        values = np.repeat(every, 2)
        values[2::2] = every[:-1]
        found.append((np.interp(seconds, places, values), float(width)))
    return found


def _resonance(
    formants: Sequence[tuple[NDArray[np.float64], float]], hertz: NDArray[np.float64]
) -> NDArray[np.float64]:
    """How loud a frequency is through the formants side by side."""
    level = np.zeros(len(hertz))
    for place, (middle, width) in enumerate(formants):
        level += 0.6**place / (1 + ((hertz - middle) / width) ** 2)
    return level + 0.02
