"""What is new at a moment: the sound after it, less what rang before it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

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
    for block in (*blocks, np.zeros(needed[0] + needed[1], np.float32)):
        known = np.concatenate((known, block))
        while waiting:
            moment = round(waiting[-1].frame * HOP * rate) - first
            start = moment + round(_AFTER * rate)
            if moment + needed[1] > len(known):
                break
            asked = waiting.pop()
            before = known[max(0, moment - picker.length) :][: picker.length]
            new = _fresh(picker, before, known[start : start + picker.length])
            found.append(replace(new, course=course_at(known, moment, asked, rate)) if asked.hertz else new)
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
