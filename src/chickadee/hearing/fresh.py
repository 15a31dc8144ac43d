"""What is new at a moment: the sound after it, less what rang before it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .pitch import HOP, Picker, worth_of
from .sound_file import Signal

__all__ = ["Fresh", "fresh_at"]

_AFTER = 0.012  # seconds after a moment at which its sound is looked at
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


def fresh_at(blocks: Iterable[Signal], rate: float, frames: Sequence[int]) -> list[Fresh]:
    """What is new at some moments, given as frames in order, of samples that come in blocks."""
    picker = Picker(rate, spare=True)
    found: list[Fresh] = []
    known: Signal = np.zeros(2 * picker.length, np.float32)
    first, waiting = -len(known), list(frames)[::-1]
    for block in (*blocks, np.zeros(2 * picker.length, np.float32)):
        known = np.concatenate((known, block))
        while waiting:
            moment = round(waiting[-1] * HOP * rate) - first
            start = moment + round(_AFTER * rate)
            if start + picker.length > len(known):
                break
            waiting.pop()
            before = known[max(0, moment - picker.length) :][: picker.length]
            found.append(_fresh(picker, before, known[start : start + picker.length]))
        keep = (round(waiting[-1] * HOP * rate) - first if waiting else len(known)) - 2 * picker.length
        keep = max(0, min(keep, len(known) - 2 * picker.length))
        known, first = known[keep:], first + keep
    return found


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
