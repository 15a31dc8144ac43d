"""What is new at a moment: the sound after it, less what rang before it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from .pitch import HOP, Picker, worth_of
from .sound_file import Signal

__all__ = ["Fresh", "fresh_at"]

_AFTER = 0.012  # seconds after a moment at which its sound is looked at
_RANG = 1.15  # times what rang before is taken away, since it also beats
_BACK, _ON, _STEP, _WINDOW = 0.35, 0.1, 0.01, 0.046  # seconds before and after a moment, in which a note may grow
_PARTIALS = 4
_BEGUN = 0.08  # of how much a note grows, from which on it has begun
_OTHERS = 0.4  # of how large a partial is then, from which on it was there before
_LATE = 0.03  # seconds by which the moment must be late for that to count
_DIP_SECONDS, _AROUND = 0.05, 0.16  # in which a partial is softer, and with what that is compared
_SOFTER, _ALIKE, _HEARD = 0.85, 0.12, 0.06  # of what is before and after; of one another; of the loudest partial


@dataclass(frozen=True, slots=True)
class Fresh:
    """What is new at a moment."""

    part: float
    """How much of the sound is new, by power, from 0 to 1."""
    hertz: float
    """The pitch of what is new; 0 where it has none."""
    strength: float
    """How periodic that is, to 1."""
    late: float = 0.0
    """Seconds before the moment at which the pitch that is known of it had begun to grow."""
    again: bool = False
    """Whether that pitch is struck again just then: all its partials are softer for a moment."""


def fresh_at(blocks: Iterable[Signal], rate: float, moments: Sequence[tuple[int, float]]) -> list[Fresh]:
    """What is new at some moments of samples that come in blocks.

    A moment is a frame and the frequency in Hz that is heard after it, 0 where that is not known; they are in order.
    """
    picker = Picker(rate, spare=True)
    found: list[Fresh] = []
    needed = max(2 * picker.length, round((_BACK + _WINDOW) * rate)), round((_ON + _WINDOW) * rate) + picker.length
    known: Signal = np.zeros(needed[0], np.float32)
    first, waiting = -len(known), list(moments)[::-1]
    for block in (*blocks, np.zeros(needed[0] + needed[1], np.float32)):
        known = np.concatenate((known, block))
        while waiting:
            moment = round(waiting[-1][0] * HOP * rate) - first
            start = moment + round(_AFTER * rate)
            if moment + needed[1] > len(known):
                break
            _, hertz = waiting.pop()
            before = known[max(0, moment - picker.length) :][: picker.length]
            new = _fresh(picker, before, known[start : start + picker.length])
            found.append(_followed(new, known, moment, hertz, rate) if hertz else new)
        keep = (round(waiting[-1][0] * HOP * rate) - first if waiting else len(known)) - needed[0]
        keep = max(0, min(keep, len(known) - needed[0]))
        known, first = known[keep:], first + keep
    return found


def _followed(new: Fresh, samples: Signal, moment: int, hertz: float, rate: float) -> Fresh:
    """What is new at a moment, with what the partials of a frequency do about it."""
    size, step = round(_WINDOW * rate), round(_STEP * rate)
    middles = np.arange(max(size // 2, moment - round(_BACK * rate)), moment + round(_ON * rate), step)
    frames = np.stack([samples[middle - size // 2 : middle - size // 2 + size] for middle in middles])
    partials = hertz * np.arange(1, _PARTIALS + 1)
    waves = np.exp(-2j * np.pi * np.outer(np.arange(size), partials[partials < rate / 2]) / rate)
    sizes = np.abs((frames * np.hanning(size)) @ waves)
    before, long_before = middles < moment, middles < moment - round(_AROUND * rate)
    grows_to = sizes[~before].max(axis=0)
    own = (np.median(sizes[long_before], axis=0) < _OTHERS * grows_to) & (grows_to > _HEARD * grows_to.max())
    grown = sizes[:, own].sum(axis=1)  # of the partials that no other note had
    least = float(grown[before].min(initial=np.inf))
    begun = least + _BEGUN * (float(grown[~before].max(initial=0.0)) - least)
    early = np.flatnonzero(before & (grown < begun))
    late = (moment - float(middles[early[-1]])) / rate if len(early) else 0.0
    return replace(new, late=late if late > _LATE else 0.0, again=_again(sizes, (middles - moment) / rate))


def _again(sizes: NDArray[np.float64], seconds: NDArray[np.float64]) -> bool:
    """Whether all partials that are heard are as much softer at second 0 than before and after."""
    near = np.abs(seconds) <= _DIP_SECONDS
    lows = sizes[near].min(axis=0)
    highs = np.minimum(sizes[(seconds < 0) & (seconds > -_AROUND)].max(axis=0), sizes[seconds >= 0].max(axis=0))
    depths = (lows / np.maximum(highs, 1e-12))[highs > _HEARD * highs.max()]
    return bool(len(depths) > 1 and depths.max() < _SOFTER and np.ptp(depths) < _ALIKE)


def _fresh(picker: Picker, before: Signal, after: Signal) -> Fresh:
    old, now = picker.spectrum(before[None]), picker.spectrum(after[None])
    power = now.astype(np.float64) ** 2
    new = np.maximum(0.0, power - (_RANG * old.astype(np.float64)) ** 2)
    part = float(new.sum() / max(power.sum(), 1e-12))
    alike = _alike(picker, new)
    hertz, strength = picker.pick(alike, picker.below_top(np.sqrt(new).astype(np.float32)))
    liked = np.where(hertz[0] > 0, worth_of(hertz[0].astype(np.float64), strength[0]), -1.0)
    best = int(liked.argmax())
    return Fresh(part, float(hertz[0, best]), float(strength[0, best]))


def _alike(picker: Picker, power: NDArray[np.float64]) -> NDArray[np.float32]:
    """The autocorrelation that belongs to a power spectrum, by the window's own (Boersma 1993)."""
    own = np.fft.irfft(np.abs(np.fft.rfft(np.hanning(picker.length), 2 * picker.size)) ** 2)[: picker.longest]
    products = np.fft.irfft(power, picker.size)[:, : picker.longest]
    found = products / np.maximum(products[:, :1], 1e-15) / (own / own[0])
    return np.asarray(np.clip(found, -1.0, 1.0), np.float32)
