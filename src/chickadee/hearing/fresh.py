"""What is new at a moment: the sound after it, less what rang before it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import chain

import numpy as np
from numpy.typing import NDArray

from .partials import AFTER, BEFORE, UNKNOWN, Course, Moment, course_at
from .pitch import HOP, Picker, worth_of
from .sound_file import Signal

__all__ = ["Fresh", "fresh_at", "together"]

_AFTER = 0.012  # seconds after a moment at which its sound is looked at
_VAGUE, _SOME, _MANY = 0.88, 0.15, 0.4
"""How periodic one player's notes are; the part of the soft beginnings that beat, from which on it is players
together where it is less, and where it is more."""
_RANG = 1.15  # times what rang before is taken away, since it also beats


@dataclass(frozen=True, slots=True)
class Fresh:
    """What is new at a moment."""

    part: float
    """How much of the sound is new, by power, from 0 to 1."""
    hertz: float
    """The pitch of what is new; 0 where it has none."""
    strength: float
    """How periodic that is, to 1."""
    course: Course = UNKNOWN
    """What the partials of the moment's pitch do, where it is known."""


def fresh_at(blocks: Iterable[Signal], rate: float, moments: Sequence[Moment]) -> list[Fresh]:
    """What is new at some moments, in order, of samples that come in blocks."""
    picker = Picker(rate, spare=True)
    found: list[Fresh] = []
    needed = max(2 * picker.length, round(BEFORE * rate)), round(AFTER * rate) + picker.length
    known: Signal = np.zeros(needed[0], np.float32)
    first, waiting = -len(known), list(moments)[::-1]
    for block in chain(blocks, [np.zeros(needed[0] + needed[1], np.float32)]):
        known = np.concatenate((known, block))
        ready: list[tuple[Moment, int]] = []  # with their places in what is known
        while waiting and (place := round(waiting[-1].frame * HOP * rate) - first) + needed[1] <= len(known):
            ready.append((waiting.pop(), place))
        found += _fresh(picker, known, ready, rate)
        keep = (round(waiting[-1].frame * HOP * rate) - first if waiting else len(known)) - needed[0]
        keep = max(0, min(keep, len(known) - needed[0]))
        known, first = known[keep:], first + keep
    return found


def together(moments: Sequence[Moment], fresh: Sequence[Fresh], clear: float) -> bool:
    """Whether players together are heard at some moments, with what is new there; ``clear`` is how periodic the whole
    is, to 1."""
    followed = [new.course.beats for moment, new in zip(moments, fresh, strict=True) if moment.hertz]
    needed = _SOME * len(followed) if clear < _VAGUE else max(1, _MANY * len(followed))
    return sum(followed) > needed


def _fresh(picker: Picker, samples: Signal, moments: Sequence[tuple[Moment, int]], rate: float) -> list[Fresh]:
    """What is new at moments, each with its place in the samples."""
    if not moments:
        return []
    size, after = picker.length, round(_AFTER * rate)
    old = picker.spectrum(np.stack([samples[max(0, place - size) :][:size] for _, place in moments]))
    now = picker.spectrum(np.stack([samples[place + after :][:size] for _, place in moments]))
    power = now.astype(np.float64) ** 2
    new = np.maximum(0.0, power - (_RANG * old.astype(np.float64)) ** 2)
    part = new.sum(axis=1) / np.maximum(power.sum(axis=1), 1e-12)
    hertz, strength = picker.pick(_alike(picker, new), picker.below_top(np.sqrt(new).astype(np.float32)))
    best = np.where(hertz > 0, worth_of(hertz.astype(np.float64), strength), -1.0).argmax(axis=1)
    return [
        Fresh(float(part[row]), float(hertz[row, best[row]]), float(strength[row, best[row]]),
              course_at(samples, place, moment, rate) if moment.hertz else UNKNOWN)
        for row, (moment, place) in enumerate(moments)
    ]  # fmt: skip


def _alike(picker: Picker, power: NDArray[np.float64]) -> NDArray[np.float32]:
    """The autocorrelation that belongs to a power spectrum, by the window's own (Boersma 1993)."""
    own = np.fft.irfft(np.abs(np.fft.rfft(np.hanning(picker.length), 2 * picker.size)) ** 2)[: picker.longest]
    products = np.fft.irfft(power, picker.size)[:, : picker.longest]
    found = products / np.maximum(products[:, :1], 1e-15) / (own / own[0])
    return np.asarray(np.clip(found, -1.0, 1.0), np.float32)
