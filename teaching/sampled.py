"""Melodies of sampled instruments, read from sound fonts: some to teach the hearing with, others to examine it."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from pathlib import Path

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray
from scipy.signal import butter, decimate, sosfilt

from made_up import bent, recorded
from melodies import RATE, Piece, Played, between, chords, phrase, with_seconds
from sound_font import SoundFont, Zone

__all__ = ["EXAMINED", "FONTS", "TAUGHT", "fonts_are_there", "performed", "sampled_piece"]

FONTS = tuple(Path("/usr/share/sounds/sf2") / name for name in ("FluidR3_GM.sf2", "TimGM6mb.sf2"))
"""The font that is taught with, and the one that only examines; of the packages that `sound_font` names."""

_MIDDLE = 60
_HIGH = 74
TAUGHT = {
    4: _MIDDLE, 6: _MIDDLE, 9: _HIGH, 11: _MIDDLE, 13: _HIGH, 14: 65, 15: _MIDDLE, 16: _MIDDLE, 19: _MIDDLE,
    20: _MIDDLE, 26: _MIDDLE, 28: _MIDDLE, 32: 40, 34: 40, 36: 40, 41: _MIDDLE, 43: 43, 44: _MIDDLE, 45: _MIDDLE,
    48: _MIDDLE, 49: _MIDDLE, 50: 62, 53: 62, 54: 62, 85: 62, 89: 62, 91: 62, 57: 52, 59: 67, 61: _MIDDLE, 65: 64,
    67: 50, 69: 64, 70: 47, 73: _HIGH, 75: _HIGH, 77: 67, 79: _HIGH, 80: 67, 104: 57, 105: _MIDDLE, 106: 62,
    107: _MIDDLE, 109: 67, 111: 67,
}  # fmt: skip
"""The programs (from 0) of the first font that lessons are made with, and the middle of their melodies. None of their
samples is used by a program that examines."""
_HARD = 41, 43, 44, 48, 49, 50, 53, 54, 85, 89, 91, 57, 59, 67, 70, 73, 75
"""Those that are hard to hear, in half of all melodies."""
_PLUCKED = 4, 6, 11, 13, 15, 26, 28, 104, 105, 106, 107
EXAMINED = {
    "piano": (0, _MIDDLE), "electric piano": (5, _MIDDLE), "celesta": (8, _HIGH), "music box": (10, _HIGH),
    "marimba": (12, _MIDDLE), "tubular bells": (14, 65), "drawbar organ": (17, _MIDDLE),
    "church organ": (19, _MIDDLE), "accordion": (21, 64), "harmonica": (22, 70), "nylon guitar": (24, _MIDDLE),
    "steel guitar": (25, 57), "clean guitar": (27, 57), "finger bass": (33, 38), "fretless bass": (35, 38),
    "violin": (40, 69), "cello": (42, 48), "harp": (46, 64), "string section": (48, 62), "choir": (52, 62),
    "trumpet": (56, 67), "tuba": (58, 40), "horn": (60, 57), "soprano saxophone": (64, 69),
    "tenor saxophone": (66, 56), "oboe": (68, 70), "clarinet": (71, 64), "piccolo": (72, 84), "recorder": (74, 76),
    "whistle": (78, 81), "thumb piano": (108, 65),
}  # fmt: skip
"""The programs that examine: of the first font those that are not taught, of the second all."""
_DOUBLE = 2 * RATE  # samples a second, in which notes are made
_LONGEST_RING = 2.5  # seconds after a note is let go
_SECONDS = 15.0
_BELOW = 6.0, 12.0  # dB, by which chords are softer than the melody over them
_FLAT = 15_000.0  # Hz, from which on a filter does nothing


def fonts_are_there() -> bool:
    """Return whether the sound fonts are installed."""
    return all(font.exists() for font in FONTS)


@cache
def _font(place: int) -> SoundFont:
    return SoundFont(FONTS[place])


@cache
def _zones(font: int, program: int, number: int, velocity: int) -> list[Zone]:
    return _font(font).zones(program, number, velocity)


def sampled_piece(seed: int, lines: bool = False) -> Piece:
    """A melody of some fifteen seconds on an instrument that is taught; with ``lines`` two of them at once, or one
    over softer chords, whose notes do not count."""
    draw = np.random.default_rng(seed)
    if lines:
        program = int(draw.choice(_PLUCKED))
    else:
        program = int(draw.choice(_HARD if draw.random() < 0.5 else list(TAUGHT)))
    middle = TAUGHT[program] + int(draw.integers(-6, 7))
    slow = program in _HARD and draw.random() < 0.7
    played = phrase(draw, _SECONDS, middle, between(draw, 0.25 if slow else 0.115, 1.1))
    gate = float(draw.choice([1.0, 0.95, draw.uniform(0.4, 1.0), draw.uniform(1.0, 1.1)]))
    played = [each._replace(lasts=each.lasts * gate) for each in played]
    kind = draw.random() if lines else 1.0
    beside: list[Played] = []
    if kind < 0.35:
        played = with_seconds(draw, played)
    elif kind < 0.6:
        played = sorted(played + phrase(draw, _SECONDS, middle - 12, between(draw, 0.25, 1.2)))
    elif lines:
        beside = chords(draw, played)
    samples = performed(0, program, played, draw)
    if beside:
        below = performed(0, program, beside, draw)[: len(samples)]
        loud = 10 ** (-draw.uniform(*_BELOW) / 20) * np.sqrt((samples**2).mean() / max(1e-12, (below**2).mean()))
        samples[: len(below)] += loud * below
    return Piece(recorded(draw, samples), [each.sounding for each in played])


def performed(
    font: int, program: int, played: Sequence[Played], draw: Generator | None = None
) -> NDArray[np.float64]:
    """Notes on an instrument, RATE samples a second; with ``draw`` it is out of tune and wavers now and then."""
    seconds = max(each.start + each.lasts for each in played) + _LONGEST_RING + 0.5
    samples = np.zeros(round(seconds * _DOUBLE))
    cents = 0.0
    depth = 0.0
    velocity = 90
    if draw is not None:
        cents = draw.normal(0, 10)
        depth = between(draw, 5, 50) if draw.random() < 0.3 else 0.0
        velocity = int(draw.choice([60, 90, 110]))
    for each in played:
        bend = np.zeros(round((each.lasts + _LONGEST_RING) * _DOUBLE)) + cents / 100
        if draw is not None and depth:
            bend = bend + bent(draw, len(bend), _DOUBLE, draw.uniform(4, 7), depth)
        for zone in _zones(font, program, each.number, velocity):
            note = each.loud * _sound(zone, each.number, each.lasts, bend)
            place = round(each.start * _DOUBLE)
            samples[place : place + len(note)] += note[: len(samples) - place]
    return decimate(samples, 2, ftype="fir")


def _sound(zone: Zone, number: int, lasts: float, bend: NDArray[np.float64]) -> NDArray[np.float64]:
    """A note of a zone that is held so many seconds; ``bend`` is by how many semitones it is off, at each sample."""
    count = min(len(bend), round((zone.delay + lasts + min(zone.release, _LONGEST_RING)) * _DOUBLE))
    speed = zone.rate / _DOUBLE * 2 ** (((number - zone.root) * zone.scale + bend[:count]) / 12)
    places = np.cumsum(speed) - speed[0]
    if zone.loop is not None:
        first, end = zone.loop
        places = np.where(places < end, places, first + (places - first) % (end - first))
    tone = np.interp(places, np.arange(len(zone.samples)), zone.samples, right=0.0)
    if zone.cutoff < _FLAT:
        tone = sosfilt(butter(2, max(1500.0, zone.cutoff), fs=_DOUBLE, output="sos"), tone)
    return tone * 10 ** (-_envelope(zone, count, lasts) / 20)


def _envelope(zone: Zone, count: int, lasts: float) -> NDArray[np.float64]:
    """dB below the loudest at each sample."""
    seconds = np.arange(count) / _DOUBLE - zone.delay
    attack = -20 * np.log10(np.clip(seconds / zone.attack, 1e-5, 1))
    falls = np.clip((seconds - zone.attack - zone.hold) * 100 / zone.decay, 0, min(zone.sustain, 100))
    gone = np.clip((seconds + zone.delay - lasts) * 100 / max(zone.release, 0.03), 0, 120)
    return np.where(seconds < 0, 120, zone.attenuation + attack + falls + gone)
