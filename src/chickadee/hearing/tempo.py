"""The tempo and the first beat of some notes: a guess, which the user can set right."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from ..formats.imported import Form, Imported, song_of
from ..song import TICKS_PER_QUARTER, BarGrid, Meter, Note, Song, Tempo, TempoMap, Voice
from ..theory import read_key
from .notes import HeardNote

__all__ = ["Beat", "as_imported", "guessed_beat"]

# beats a minute
_SLOWEST = 45.0
_FASTEST = 200.0
_STEP = 0.25
# beats a minute, and octaves about it
_LIKELY = 100.0
_SPREAD = 0.55
_OFF_BEAT = 0.5  # how much less it counts that notes are on the beat than on its halves


@dataclass(frozen=True, slots=True)
class Beat:
    """Where the beats are."""

    tempo: float
    """Beats a minute."""
    first: float
    """The second at which bar 1 begins."""


def guessed_beat(notes: Sequence[HeardNote], tempo: float | None = None) -> Beat:
    """The beat that the starts of notes keep to best; of a tempo that is known, the first beat alone.

    The measure is the resultant of the starts as phases of the beat and of half of it, as in Mardia, Statistics of
    directional data (1972), with the tempos that people tap liked better.
    """
    starts = np.array([note.start for note in notes])
    if not len(starts):
        return Beat(tempo or _LIKELY, 0.0)
    if tempo is None:
        tempos = np.arange(_SLOWEST, _FASTEST + _STEP, _STEP)
        liked = np.exp(-0.5 * (np.log2(tempos / _LIKELY) / _SPREAD) ** 2)
        halves, beats = (_kept(starts, tempos * times) for times in (2, 1))
        tempo = float(tempos[int(np.argmax((halves + _OFF_BEAT * beats) * liked))])
        tempo = _exact(starts, tempo)
    period = 60 / tempo
    phase = np.angle(np.exp(2j * np.pi * starts / period * 2).sum()) / (2 * np.pi) * period / 2
    first = float(starts[0])
    near = phase + round((first - phase) / (period / 2)) * period / 2
    return Beat(tempo, round(max(0.0, near), 3))


def _kept(starts: NDArray[np.float64], tempos: NDArray[np.float64]) -> NDArray[np.float64]:
    """How well starts keep to the beats of each tempo, from 0 to 1."""
    turns = np.exp(2j * np.pi * starts[:, None] * tempos[None, :] / 60)
    found: NDArray[np.float64] = np.abs(turns.mean(axis=0))
    return found


def _exact(starts: NDArray[np.float64], tempo: float) -> float:
    """A tempo by a straight line through the half beats that the starts are next to; rounded where it is as good."""
    half = 30 / tempo
    places = np.rint((starts - starts[0]) / half)
    if len(set(places.tolist())) < 3:
        return tempo
    slope = float(np.polyfit(places, starts, 1)[0])
    exact = 30 / slope if slope > 0 else tempo
    return float(round(exact)) if abs(exact - round(exact)) < 0.3 else round(exact, 2)


def as_imported(notes: Sequence[HeardNote], beat: Beat, meter: Meter | None = None) -> Imported:
    """Notes as a tune that came from elsewhere, each when it was heard; what is before bar 1 has bars of its own."""
    meter = meter or Meter()
    quarters = beat.tempo * 4 / meter.lower
    per_second = Fraction(quarters).limit_denominator(10_000) / 60 * TICKS_PER_QUARTER
    early = -min([0, *(round((note.start - beat.first) * per_second) for note in notes)])
    bars = -(-early // meter.bar_ticks) if early > meter.beat_ticks // 8 else 0
    key = read_key("C major")
    made = []
    for note in notes:
        tick = max(0, round((note.start - beat.first) * per_second) + bars * meter.bar_ticks)
        length = max(1, round(note.length * per_second))
        made.append(Note(tick, 0, length, key.spell(note.number), note.number, note.loudness, False, ()))
    end = max((note.end for note in made), default=0)
    frame = Song(grid=BarGrid.of(meter), tempo=TempoMap([Tempo(0, quarters)]))
    return Imported(song_of([Voice("Heard", end=end)], made, frame), Form.LIST)
