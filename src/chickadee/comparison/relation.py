"""How an attempt as a whole lies to the model: how many semitones higher, and how many times as long."""

from __future__ import annotations

from fractions import Fraction

import numpy as np

from .line import Line

__all__ = ["likely_semitones", "likely_times"]

_REACH = 8  # moments by which one line is moved against the other, beside what one is longer
_MOST_REACH = 64
_CHOICES = 3
_FEW = 3  # moments that tell how many times as long a tune is
_SHARE = 0.5  # of moments that agree on a length's ratio, from which on it is the tune's
_RUN = 4  # moments of a run
_WORTH = 0.6  # of what the best distance covers, what one worth trying does
_MOST_AWAY = 128  # semitones
_BINS = 24  # an octave of ratios is cut into: one holds what is the same but for rounding
# the largest denominator of a usual ratio, how near one is, and of others
_SIMPLE = 12
_CLOSE = 0.03
_EXACT = 1000


def likely_semitones(model: Line, attempt: Line) -> list[int]:
    """The few distances that are worth trying, the likeliest first; none at all is always among them.

    The lines are laid side by side, and one moved along the other; at each place the distances are counted. Of those
    that come most often, the best cover most of the model with runs of moments.
    """
    if model.is_drums or not len(model) or not len(attempt):
        return [0]
    shifts = _shifts(model, attempt)
    counts: dict[int, int] = {}
    for one, other in shifts:
        tops = model.tops[one]
        others = attempt.tops[other]
        away = np.bincount((others - tops)[(tops >= 0) & (others >= 0)] + _MOST_AWAY)
        for distance in np.argsort(away)[-_CHOICES:].tolist():
            counts[distance - _MOST_AWAY] = max(counts.get(distance - _MOST_AWAY, 0), int(away[distance]))
    ranked = sorted(counts, key=lambda distance: (-counts[distance], abs(distance)))[:_CHOICES]
    covered = {distance: _covered(model, attempt, shifts, distance) for distance in {*ranked, 0}}
    order = sorted(covered, key=lambda distance: (-covered[distance], abs(distance)))
    likely = [distance for distance in order if covered[distance] >= _WORTH * covered[order[0]]][:_CHOICES]
    return likely if 0 in likely else [*likely, 0]


def _covered(model: Line, attempt: Line, shifts: list[tuple[slice, slice]], distance: int) -> int:
    """How many moments of the model stand in runs that an attempt at a distance has too."""
    covered = np.zeros(len(model), dtype=bool)
    length = min(_RUN, len(model), len(attempt))
    for one, other in shifts:
        same = (attempt.tops[other] - model.tops[one] == distance) & (model.tops[one] >= 0)
        runs = np.flatnonzero(np.convolve(same, np.ones(length, dtype=int), "valid") == length)
        for step in range(length):
            covered[one.start + runs + step] = True
    return int(covered.sum())


def likely_times(model: Line, attempt: Line, semitones: int) -> Fraction:
    """How many times as long the attempt's moments are as the model's of the same pitch, where most agree; else 1."""
    ratios: list[float] = []
    for one, other in _shifts(model, attempt):
        same = (model.tops[one] == attempt.tops[other] - semitones) & (model.tops[one] >= 0)
        if same.sum() * 2 >= len(same):
            ratios += (attempt.lengths[other][same] / np.maximum(1, model.lengths[one][same])).tolist()
    if len(ratios) < min(_FEW, len(model)):
        return Fraction(1)
    bins = np.round(np.log2(np.maximum(1e-6, ratios)) * _BINS)
    kinds, counts = np.unique(bins, return_counts=True)
    if counts.max() < _SHARE * len(ratios) or abs(kinds[counts.argmax()]) < 1:
        return Fraction(1)
    usual = float(np.median(np.array(ratios)[bins == kinds[counts.argmax()]]))
    simple = Fraction(usual).limit_denominator(_SIMPLE)
    return simple if abs(float(simple) - usual) <= _CLOSE * usual else Fraction(usual).limit_denominator(_EXACT)


def _shifts(model: Line, attempt: Line) -> list[tuple[slice, slice]]:
    """Which parts of two lines lie side by side where one is moved along the other."""
    longer = len(attempt) - len(model)
    low = -_REACH + max(-_MOST_REACH, min(0, longer))
    high = _REACH + min(_MOST_REACH, max(0, longer))
    found = []
    for shift in range(low, high + 1):
        length = min(len(model) - max(0, -shift), len(attempt) - max(0, shift))
        if length > 0:
            first = max(0, -shift)
            found.append((slice(first, first + length), slice(first + shift, first + shift + length)))
    return found
