"""Made-up instruments and melodies, to teach the hearing with: sums of sines, none of them one of our own sounds.

Every draw is from a seeded generator, so a piece is the same wherever it is made.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from melodies import RATE, Piece, between, phrase, with_seconds

__all__ = ["bent", "piece", "recorded"]

# of a piece, and of what rings on after it
_SECONDS = 15.0
_REST = 1.0
_HIGHEST = 9500.0  # Hz, of a partial
_SIXTY = -np.log(1000.0)  # 60 dB fainter


@dataclass(frozen=True, slots=True)
class _Instrument:
    """An instrument as it was drawn."""

    held: bool
    """True if it sounds as long as it is played, and does not fade by itself."""
    ratios: NDArray[np.float64]
    """Partials over the fundamental."""
    amplitudes: NDArray[np.float64]
    players: list[tuple[float, float]]
    """(cents, amplitude) of players together."""
    in_phase: bool
    """True if all partials of all players begin together."""
    attack: float
    """Seconds, as all that follow but what is said."""
    shape: str
    release: float
    gate: float
    """How much of its time a note is held."""
    opening: float = 0.0
    """In which a note goes from dull to bright."""
    tilt: float = 1.0
    """How much duller it begins: the power of the partial's number."""
    sustain: float = 1.0
    """How loud it is held, beside the loudest."""
    fade: float = 1.0
    """In which what is struck fades by 60 dB."""
    damping: float = 0.1
    """How much sooner each partial above fades."""
    vibrato: tuple[float, float, float] = (5.0, 0.0, 0.0)
    """Hz, cents, and seconds until it sets in."""
    tremolo: tuple[float, float] = (5.0, 0.0)
    """Hz and part of the amplitude."""
    cents: float = 0.0
    """By how much all is out of tune."""
    air: float = 0.0
    slide: float = 0.0
    """Semitones from below which it slides into notes."""
    knock: float = 0.0
    dynamics: float = 0.0
    """dB by which notes differ in loudness."""
    highest: float = _HIGHEST
    """Hz, of its partials."""


def piece(seed: int, together: bool = False, lines: bool = False) -> Piece:
    """A melody of some fifteen seconds; with ``together`` it is played by several players who begin softly, with
    ``lines`` on something struck or plucked, with a second note to most notes."""
    draw = np.random.default_rng(seed)
    instrument = _instrument(draw, together)
    while lines and instrument.held:
        instrument = _instrument(draw, together)
    samples = np.zeros(round((_SECONDS + 6) * RATE))
    notes = []
    played = phrase(draw, _SECONDS, int(draw.integers(44, 90)), between(draw, 0.115, 1.1))
    for each in with_seconds(draw, played) if lines else played:
        louder = 10 ** (draw.normal(0, max(instrument.dynamics, 1e-9)) / 20)
        sound = louder * _note(draw, instrument, each.number, each.lasts * instrument.gate)
        place = round(each.start * RATE)
        room = samples[place : place + len(sound)]
        room += sound[: len(room)]
        notes.append(each.sounding)
    return Piece(recorded(draw, samples[: round((_SECONDS + _REST) * RATE)]), notes)


# Instruments


def _instrument(draw: Generator, together: bool) -> _Instrument:
    held = together or draw.random() < 0.6
    ratios, amplitudes = _partials(draw, held)
    several = together or draw.random() < (0.45 if held else 0.1)
    if together:
        attack = between(draw, 0.02, 0.3)
        release = between(draw, 0.05, 0.7)
    elif held:
        attack = between(draw, 0.002, 0.28)
        release = between(draw, 0.006, 0.6)
    else:
        attack = between(draw, 0.001, 0.012)
        release = 5.0 if draw.random() < 0.3 else between(draw, 0.006, 0.6)
    often = held and draw.random() < 0.4
    seldom = draw.random() < 0.1
    return _Instrument(
        held,
        ratios,
        amplitudes,
        players=_players(draw, together) if several else [(0.0, 1.0)],
        in_phase=draw.random() < 0.5,
        attack=attack,
        shape=str(draw.choice(["cosine", "straight", "curve"])),
        release=release,
        gate=float(draw.choice([1.0, 1.0, 1.0, draw.uniform(0.4, 1.0), draw.uniform(1.0, 1.1)])),
        opening=between(draw, 0.03, 0.7) if held and draw.random() < 0.4 else 0.0,
        tilt=draw.uniform(0.3, 1.8),
        sustain=draw.uniform(0.3, 1.0) if draw.random() < 0.5 else 1.0,
        fade=between(draw, 0.4, 6),
        damping=draw.uniform(0.05, 0.4),
        vibrato=(draw.uniform(4, 7.5), between(draw, 3, 50) if often else 0.0, draw.uniform(0, 0.5)),
        tremolo=(draw.uniform(3, 7), draw.uniform(0.05, 0.35) if held and seldom else 0.0),
        cents=draw.uniform(-45, 45) if draw.random() < 0.15 else draw.normal(0, 8),
        air=between(draw, 0.001, 0.06) if draw.random() < 0.4 else 0.0,
        slide=draw.uniform(0.3, 2) if held and draw.random() < 0.12 else 0.0,
        knock=between(draw, 0.02, 0.3) if not held and draw.random() < 0.5 else 0.0,
        dynamics=draw.uniform(0, 5) if draw.random() < 0.3 else 0.0,
        highest=between(draw, 2000, 6000) if draw.random() < 0.1 else _HIGHEST,
    )


def _partials(draw: Generator, held: bool) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Partials over the fundamental, and their amplitudes."""
    if not held and draw.random() < 0.2:  # bars and bells
        above = int(draw.integers(1, 5))
        ratios = np.concatenate(([1.0], 1 + np.cumsum(draw.uniform(1.2, 3.2, above))))
        return ratios, np.concatenate(([1.0], draw.uniform(0.05, 0.6, above)))
    numbers = np.arange(1.0, 1 + max(1, int(between(draw, 1.2, 24))))
    uneven = draw.normal(0, 4, len(numbers)) * (draw.random() < 0.7)
    amplitudes = numbers ** -draw.uniform(0.3, 2.4) * 10 ** (uneven / 20)
    if draw.random() < 0.25:  # hollow: the odd ones stand out
        amplitudes *= np.where(numbers % 2 == 1, 1, draw.uniform(0, 0.2))
    if draw.random() < 0.08:
        amplitudes[0] *= draw.uniform(0.15, 0.6)
    if held or draw.random() < 0.5:
        return numbers, amplitudes
    stiffness = between(draw, 2e-5, 8e-4)
    return numbers * np.sqrt((1 + stiffness * numbers**2) / (1 + stiffness)), amplitudes


def _players(draw: Generator, together: bool) -> list[tuple[float, float]]:
    apart = draw.uniform(3, 12)
    if draw.random() < (0.6 if together else 0.4):  # evenly about the pitch: they beat most
        beside = draw.uniform(0.2, 0.6)
        return [(0.0, draw.uniform(0.4, 1)), (apart, beside), (-apart, beside)]
    count = int(draw.integers(2, 5))
    return list(zip(draw.uniform(-apart, apart, count), draw.uniform(0.3, 1, count), strict=True))


# Notes


def _note(draw: Generator, instrument: _Instrument, number: int, lasts: float) -> NDArray[np.float64]:
    """The samples of a note that is held so many seconds."""
    hertz = 440 * 2 ** ((number - 69 + instrument.cents / 100) / 12)
    pace = 2 ** ((60 - number) / 24)  # high notes fade sooner
    ring = lasts + min(instrument.release, 2.5)
    if not instrument.held:
        ring = min(ring, 1.1 * instrument.fade * pace + 0.05, 5)
    seconds = np.arange(round(ring * RATE)) / RATE
    turned = hertz * _bent(draw, instrument, seconds)
    opened = np.clip(seconds / instrument.opening, 0, 1) if instrument.opening else np.ones_like(seconds)
    tone = np.zeros_like(seconds)
    for place, (ratio, amplitude) in enumerate(zip(instrument.ratios, instrument.amplitudes, strict=True)):
        if hertz * ratio > instrument.highest:
            break
        wave = np.zeros_like(seconds)
        for cents, loud in instrument.players:
            phase = 0.0 if instrument.in_phase else draw.uniform(0, 2 * np.pi)
            wave += loud * np.sin(2 * np.pi * ratio * 2 ** (cents / 1200) * turned + phase)
        wave *= amplitude * (place + 1.0) ** (-instrument.tilt * (1 - opened))
        if not instrument.held:
            wave *= np.exp(_SIXTY * seconds * (1 + instrument.damping * place) / (instrument.fade * pace))
        tone += wave
    speed, depth = instrument.tremolo
    tone *= 1 - depth * (0.5 + 0.5 * np.sin(2 * np.pi * speed * seconds + draw.uniform(0, 2 * np.pi)))
    tone += instrument.air * draw.normal(0, 1, len(tone)) * (1 + 4 * np.exp(-seconds / 0.04))
    tone += instrument.knock * draw.normal(0, 1, len(tone)) * np.exp(-seconds / 0.012)
    return tone * _envelope(instrument, seconds, lasts)


def bent(draw: Generator, count: int, rate: float, hertz: float, cents: float) -> NDArray[np.float64]:
    """A vibrato that sets in: by how many semitones the pitch is off at each of so many samples."""
    seconds = np.arange(count) / rate
    delay = draw.uniform(0, 0.4)
    grown = np.clip((seconds - delay) / max(delay, 0.05), 0, 1)
    return cents / 100 * grown * np.sin(2 * np.pi * hertz * seconds + draw.uniform(0, 2 * np.pi))


def _bent(draw: Generator, instrument: _Instrument, seconds: NDArray[np.float64]) -> NDArray[np.float64]:
    """Seconds, run through as fast as vibrato and slides bend the pitch."""
    speed, cents, delay = instrument.vibrato
    grown = np.clip((seconds - delay) / max(delay, 0.05), 0, 1)
    semitones = cents / 100 * grown * np.sin(2 * np.pi * speed * seconds + draw.uniform(0, 2 * np.pi))
    if draw.random() < 0.6:
        semitones -= instrument.slide * np.exp(-seconds / draw.uniform(0.015, 0.05))
    return np.cumsum(2 ** (semitones / 12)) / RATE


def _envelope(instrument: _Instrument, seconds: NDArray[np.float64], lasts: float) -> NDArray[np.float64]:
    risen = np.clip(seconds / instrument.attack, 0, 1)
    gone = np.clip((seconds - lasts) / instrument.release, 0, 1)
    if instrument.shape == "cosine":
        shape = (0.5 - 0.5 * np.cos(np.pi * risen)) * (0.5 + 0.5 * np.cos(np.pi * gone))
    elif instrument.shape == "straight":
        shape = risen * (0.5 + 0.5 * np.cos(np.pi * gone))
    else:
        fallen = np.exp(_SIXTY * np.maximum(0, seconds - lasts) / instrument.release)
        shape = (1 - np.exp(-4 * seconds / instrument.attack)) * fallen
    if not instrument.held:
        return shape
    held = np.exp(-np.maximum(0, seconds - instrument.attack) / 0.12)
    return shape * (instrument.sustain + (1 - instrument.sustain) * held)


# Recordings


def recorded(draw: Generator, samples: NDArray[np.float64]) -> NDArray[np.float32]:
    """Samples in a room or none, with noise or none, as loud or as soft as a recording may be."""
    if draw.random() < 0.3:
        samples = samples + draw.uniform(0.1, 0.5) * _echoes(draw, samples)
    heard = np.abs(samples) > 1e-3 * np.abs(samples).max()
    loud = float(np.sqrt(np.mean(samples[heard] ** 2)))
    kind = draw.random()
    if kind < 0.25:
        samples = samples + loud * 10 ** (-draw.uniform(14, 55) / 20) * draw.normal(0, 1, len(samples))
    elif kind < 0.35:
        samples = samples + loud * 10 ** (-draw.uniform(12, 45) / 20) * _pink(draw, len(samples))
    elif kind < 0.4:
        samples = samples + loud * 10 ** (-draw.uniform(15, 40) / 20) * _hum(draw, len(samples))
    return (samples / np.abs(samples).max() * 10 ** (-draw.uniform(1, 40) / 20)).astype(np.float32)


def _echoes(draw: Generator, samples: NDArray[np.float64]) -> NDArray[np.float64]:
    """The echo of a room: noise that fades, through which the sound goes."""
    fades = draw.uniform(0.3, 1.2)
    seconds = np.arange(round(fades * RATE)) / RATE
    echo = draw.normal(0, 1, len(seconds)) * np.exp(_SIXTY * seconds / fades) * (seconds > 0.012)
    echo /= np.sqrt((echo**2).sum())
    size = 1 << (len(samples) + len(echo)).bit_length()
    return np.fft.irfft(np.fft.rfft(samples, size) * np.fft.rfft(echo, size), size)[: len(samples)]


def _pink(draw: Generator, count: int) -> NDArray[np.float64]:
    """Noise as loud in every octave."""
    spectrum = np.fft.rfft(draw.normal(0, 1, count))
    spectrum[1:] /= np.sqrt(np.arange(1, len(spectrum)))
    spectrum[0] = 0
    noise = np.fft.irfft(spectrum, count)
    return noise / noise.std()


def _hum(draw: Generator, count: int) -> NDArray[np.float64]:
    """Of the mains: 50 or 60 Hz and three partials."""
    turned = 2 * np.pi * float(draw.choice([50, 60])) * np.arange(count) / RATE
    return sum(np.sin(order * turned + draw.uniform(0, 2 * np.pi)) / order for order in range(1, 5))
