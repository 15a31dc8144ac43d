"""Tuplets: the stretches of a bar in which notes are thirds, fifths, sixths or sevenths."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

from ..song import TICKS_PER_QUARTER
from .beats import BarBeats, Level, LevelKind
from .lengths import FINEST

__all__ = ["NUMBERS", "Tuplet", "tuplet_beats", "tuplets_of"]

NUMBERS = (3, 5, 7)
"""Notes in a tuplet; six in the time of four are a three whose notes are all halved."""
_SIX = 6
_MOST_SHAPES = 500


class Tuplet(NamedTuple):
    """A stretch that ``actual`` notes fill where ``normal`` of their type would be.

    >>> half = 2 * TICKS_PER_QUARTER
    >>> Tuplet(0, half, 3, 2).unit == half // 2
    True
    """

    start: int
    """Ticks, in the whole bar."""
    end: int
    actual: int
    normal: int

    @property
    def unit(self) -> int:
        """Ticks of one of its notes as it would be written without the tuplet."""
        return (self.end - self.start) // self.normal

    @property
    def finest(self) -> int:
        """Ticks of the shortest note that can be written in it, as it sounds."""
        return FINEST * self.normal // self.actual

    def written(self, tick: int) -> int:
        """A tick of the bar as ticks from the tuplet's start that would be written without it."""
        return (tick - self.start) * self.actual // self.normal

    def sounding(self, written: int) -> int:
        """The inverse of :meth:`written`."""
        return self.start + written * self.normal // self.actual


def tuplets_of(boundaries: Sequence[int], start: int, end: int, beats: BarBeats) -> list[Tuplet]:
    """The tuplets that some boundaries between notes need, in order.

    ``boundaries`` are ticks of the whole bar, in order, of which ``start`` to ``end`` is there. Each tuplet is the
    shortest one whose ends are boundaries too and that, beyond a beat, has notes of one length; or else one of a
    beat, or nearly so, over whose ends notes are tied. Boundaries that no tuplet can write are left out of account.
    """
    odd = [tick for tick in boundaries if tick % FINEST and _can_be_written(tick)]
    if not odd:
        return []
    usable = [tick for tick in boundaries if _can_be_written(tick)]
    found: list[Tuplet] = []
    for only_whole in (True, False):
        for tick in odd:
            if any(tuplet.start < tick < tuplet.end for tuplet in found):
                continue
            tuplet = _shortest(tick, usable, (start, end), beats, found, only_whole)
            if tuplet is not None:
                found.append(_as_six(tuplet, usable, beats.beat))
    return sorted(found)


def _can_be_written(tick: int) -> bool:
    return any(tick % (FINEST // number) == 0 for number in (1, *NUMBERS))


def _shortest(
    tick: int, boundaries: Sequence[int], bar: tuple[int, int], beats: BarBeats, found: list[Tuplet], only_whole: bool
) -> Tuplet | None:
    """The shortest tuplet around a tick, beside those that were found; with ends that are boundaries if so wished."""
    spans = _spans(beats)
    if not only_whole:
        spans = tuple(sorted(spans, key=lambda each: (abs(each[0] - beats.beat), each[0])))
    for span, gap in spans:
        latest = tick - tick % gap
        for start in range(latest, max(bar[0], tick - span + 1) - 1, -gap):
            end = start + span
            if end <= tick or end > bar[1] or any(start < each.end and each.start < end for each in found):
                continue
            first = bisect_left(boundaries, start)
            last = bisect_right(boundaries, end)
            inside = boundaries[first:last]
            if only_whole and (inside[0], inside[-1]) != (start, end):
                continue
            for number in NUMBERS:
                tuplet = _tuplet(start, span, number)
                if tuplet is None:
                    continue
                step = span // number if only_whole and span > beats.beat else tuplet.finest
                if all((each - start) % step == 0 for each in inside):
                    return tuplet
    return None


@lru_cache(_MOST_SHAPES)
def _spans(beats: BarBeats) -> tuple[tuple[int, int], ...]:
    """(ticks, gap) of the stretches that may be tuplets, the shortest first; each begins at a multiple of its gap."""
    plain = []
    span = TICKS_PER_QUARTER // 4
    while span <= min(beats.end, 4 * TICKS_PER_QUARTER):
        plain.append((span, min(span, max(beats.beat, FINEST))))
        span *= 2
    groups = {end - start for level in beats.levels for start, end in pairwise(level.boundaries)}
    threes = [(span, beats.beat) for span in {*groups, beats.end} if _is_three_halves(span)]
    return tuple(sorted({*plain, *threes}))


def _is_three_halves(ticks: int) -> bool:
    """Return whether ticks are three times a note type."""
    third, rest = divmod(ticks, 3 * FINEST)
    return rest == 0 and third & (third - 1) == 0


@lru_cache(_MOST_SHAPES)
def _ratio(span: int, actual: int) -> int | None:
    """The most notes of one type, fewer than ``actual``, that fill a stretch."""
    parts = [4, 2, 1] if not _is_three_halves(span) else [6, 3]
    fitting = (normal for normal in parts if normal < actual and span // normal >= FINEST)
    return next(fitting, None)


def _tuplet(start: int, span: int, actual: int) -> Tuplet | None:
    normal = _ratio(span, actual)
    return None if normal is None else Tuplet(start, start + span, actual, normal)


def _as_six(tuplet: Tuplet, boundaries: Sequence[int], beat: int) -> Tuplet:
    """Threes in the time of two as six in the time of four, where six equal notes fill a tuplet or its beat."""
    for span in {tuplet.end - tuplet.start, beat}:
        start = tuplet.start - tuplet.start % span
        six = Tuplet(start, start + span, _SIX, 4)
        if tuplet.actual != NUMBERS[0] or tuplet.normal != 2 or span % _SIX or six.unit < FINEST:
            continue
        inside = boundaries[bisect_left(boundaries, start) : bisect_right(boundaries, start + span)]
        if list(inside) == list(range(start, start + span + 1, span // _SIX)):
            return six
    return tuplet


@lru_cache(_MOST_SHAPES)
def tuplet_beats(unit: int, actual: int) -> BarBeats:
    """The parts of a tuplet of so many notes, in ticks as they would be written without it, from its start."""
    ends = unit * actual
    levels = [Level(LevelKind.PART, tuple(range(0, ends + 1, unit)))]
    part = unit
    while part % 2 == 0 and part // 2 >= FINEST:
        part //= 2
        levels.append(Level(LevelKind.PART, tuple(range(0, ends + 1, part))))
    return BarBeats(tuple(levels), levels[0], unit)
