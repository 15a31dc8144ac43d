"""Lines: whether one note sounds at a time or two, and which of two lines each onset belongs to."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from .onsets import Onset

__all__ = ["Lines", "lines_of"]

_TOGETHER = 0.05  # seconds, within which onsets are of one strike
_SECOND = 0.75  # of the confidence of the clearest note of a strike, that another one needs
_AGAIN = 0.55  # the confidence of a note that repeats the one before it: what wavers or beats seems to begin again
_OFTEN = 0.12  # of all strikes that have two notes, from which on there are two lines
_CROWDED = 0.2  # of all strikes that have three notes or more, from which on there is more than can be heard


class Lines(NamedTuple):
    """The onsets of a recording by lines."""

    lines: tuple[tuple[Onset, ...], ...]
    """One line, or two, the upper one first."""
    crowded: bool
    """True if more than two notes begin together time and again."""


def lines_of(onsets: Sequence[Onset]) -> Lines:
    """Part onsets, in order, into one or two lines.

    Where two notes hardly ever begin together, there is one line: of two the clearer one is kept. Otherwise a single
    note belongs to the line whose last note it is nearest to.
    """
    strikes = [_clear(strike) for strike in _strikes(onsets)]
    doubles = sum(len(strike) > 1 for strike in strikes)
    crowded = sum(len(strike) > 2 for strike in strikes) > _CROWDED * len(strikes)
    if doubles <= _OFTEN * len(strikes):
        return Lines((_begun([max(strike, key=_confidence) for strike in strikes]),), crowded)
    upper: list[Onset] = []
    lower: list[Onset] = []
    for strike in strikes:
        high, *low = sorted(sorted(strike, key=_confidence)[-2:], key=lambda onset: -onset.number)
        if low:
            upper.append(high)
            lower.append(low[0])
        elif _is_lower(high, upper, lower):
            lower.append(high)
        else:
            upper.append(high)
    return Lines((_begun(upper), _begun(lower)), crowded)


def _clear(strike: list[Onset]) -> list[Onset]:
    """The onsets of a strike that are nearly as clear as the clearest."""
    least = _SECOND * max(map(_confidence, strike))
    return [onset for onset in strike if onset.confidence >= least]


def _begun(line: Sequence[Onset]) -> tuple[Onset, ...]:
    """A line without the repeats that are in doubt."""
    found: list[Onset] = []
    for onset in line:
        if not found or onset.number != found[-1].number or onset.confidence >= _AGAIN:
            found.append(onset)
    return tuple(found)


def _confidence(onset: Onset) -> float:
    return onset.confidence


def _is_lower(onset: Onset, upper: Sequence[Onset], lower: Sequence[Onset]) -> bool:
    """Return whether an onset is nearer to the lower line's last note than to the upper one's."""
    if not lower:
        return False
    return not upper or abs(onset.number - lower[-1].number) < abs(onset.number - upper[-1].number)


def _strikes(onsets: Sequence[Onset]) -> list[list[Onset]]:
    """The onsets that begin together."""
    strikes: list[list[Onset]] = []
    for onset in onsets:
        if strikes and onset.start - strikes[-1][0].start <= _TOGETHER:
            strikes[-1].append(onset)
        else:
            strikes.append([onset])
    return strikes
