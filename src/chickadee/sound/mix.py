"""Tones sounding together."""

from __future__ import annotations

from copy import copy
from dataclasses import dataclass

import numpy as np

from .envelopes import fall, rise
from .instruments import INSTRUMENTS
from .samples import Samples
from .score import Score, Strike
from .stock import Stock

__all__ = ["Mix", "Tone", "new_tone", "tone_of", "tones_between"]


@dataclass(slots=True)
class Tone:
    """A note that is struck: where it stands in the stream of frames, and how much of it goes to either side."""

    start: int
    """The frame it is struck at."""
    held: int
    """Frames until it is let go."""
    sound: str
    strike: Strike
    left: float
    right: float
    end: int
    """The frame from which it is silent."""
    release: int
    entered: int = -1
    """The frame at which it is faded in, where it is joined in its middle; -1 where it is heard from its start."""
    key: tuple[object, ...] = ()
    """By which it is known again."""

    def hold_until(self, frame: int) -> None:
        """Let it go at a frame: sooner or later than it would have been. A drum rings on."""
        instrument = INSTRUMENTS[self.sound]
        if instrument.damped:
            self.held = max(0, frame - self.start)
            self.end = self.start + self.held + self.release

    def cut(self, frame: int, frames: int) -> None:
        """Take it to silence at a frame, within so many more."""
        if frame + frames < self.end:
            self.held = max(0, frame - self.start)
            self.release = frames
            self.end = self.start + self.held + frames


def new_tone(start: int, held: int, sound: str, strike: Strike, sides: tuple[float, float], rate: int) -> Tone:
    """A tone struck at a frame and held for so many."""
    instrument = INSTRUMENTS[sound]
    ring = instrument.ring(strike)
    release = max(1, round(instrument.release * rate))
    rings = held + release if ring == float("inf") else round(ring * rate)
    end = start + (min(held + release, rings) if instrument.damped else rings)
    return Tone(start, held if instrument.damped else rings, sound, strike, *sides, end, release)


def tones_between(score: Score, first: int, last: int, rate: int) -> list[Tone]:
    """The tones of a score struck from one frame up to another."""
    edges = (np.array([first, last]) - 0.5) / rate  # frames are the nearest to the seconds
    struck = range(*np.searchsorted(score.start, edges).tolist())
    return [tone_of(score, note, rate) for note in struck]


def tone_of(score: Score, note: int, rate: int) -> Tone:
    """One note of a score as a tone."""
    strike = Strike(int(score.number[note]), float(score.hertz[note]), float(score.strength[note]))
    held = max(1, round(float(score.held[note]) * rate))
    sides = float(score.left[note]), float(score.right[note])
    tone = new_tone(round(float(score.start[note]) * rate), held, score.sound_of(note), strike, sides, rate)
    tone.key = int(score.identity[note]), tone.sound, tone.strike, tone.left
    return tone


class Mix:
    """The tones that sound, added up."""

    def __init__(self, stock: Stock) -> None:
        self.stock = stock
        self.tones: list[Tone] = []

    def copy(self) -> Mix:
        """Another of the same tones; what is done to one's is not done to the other's."""
        other = Mix(self.stock)
        other.tones = [copy(tone) for tone in self.tones]
        return other

    def block(self, first: int, count: int) -> Samples:
        """Frames ``first`` to ``first + count``, shape (2, count); tones that are over by then are dropped."""
        block = np.zeros((2, count), np.float32)
        for tone in self.tones:
            self._add(tone, block, first, count)
        self.tones = [tone for tone in self.tones if tone.end > first + count]
        return block

    def _add(self, tone: Tone, block: Samples, first: int, count: int) -> None:
        start = max(first, tone.start, tone.entered)
        end = min(first + count, tone.end)
        if end <= start:
            return
        sound = self.stock.take(tone.sound, tone.strike, start - tone.start, end - start)
        if end > tone.start + tone.held:
            sound = sound * fall(start - tone.start, end - start, tone.held, tone.release)
        if tone.entered >= 0:
            sound = sound * rise(start - tone.entered, end - start, round(0.005 * self.stock.rate))
        place = slice(start - first, end - first)
        block[0, place] += np.float32(tone.left) * sound
        block[1, place] += np.float32(tone.right) * sound
