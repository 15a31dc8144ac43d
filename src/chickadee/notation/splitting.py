"""A stretch of a bar as the notes that are tied, or the rests, which show its beats."""

from __future__ import annotations

from .beats import BarBeats, Level, LevelKind
from .lengths import plain_length

__all__ = ["split_note", "split_rest"]

Piece = tuple[int, int]


def split_note(start: int, end: int, beats: BarBeats) -> list[Piece]:
    """(start, end) of the notes that are tied together, in ticks of a whole bar.

    >>> from ..song import Meter
    >>> from .beats import bar_beats
    >>> quarter = Meter().beat_ticks
    >>> split_note(quarter, 3 * quarter, bar_beats(Meter())) == [(quarter, 2 * quarter), (2 * quarter, 3 * quarter)]
    True
    """
    return _split(start, end, beats.levels, (0, beats.end), is_rest=False)


def split_rest(start: int, end: int, beats: BarBeats) -> list[Piece]:
    """(start, end) of the rests, each exactly one of the parts that its bar is counted in."""
    return _split(start, end, beats.levels, (0, beats.end), is_rest=True)


def _split(start: int, end: int, levels: tuple[Level, ...], region: Piece, is_rest: bool) -> list[Piece]:
    """``region`` are the nearest boundaries of weightier levels around the stretch."""
    crossed = (place for place, level in enumerate(levels) if level.inside(start, end))
    place = next(crossed, None)
    if place is None:
        return [(start, end)]
    if place:
        region = levels[place - 1].around(start)
    level = levels[place]
    cuts = level.inside(start, end)
    if plain_length(end - start) is not None:
        finer = levels[place + 1] if place + 1 < len(levels) else level
        whole = (start, end) == region
        if whole or (not is_rest and _may_cross(start, end, level, finer, region, cuts)):
            return [(start, end)]
    cut = _cut(start, end, level, cuts)
    rest = levels[place:]
    return [*_split(start, cut, rest, region, is_rest), *_split(cut, end, rest, region, is_rest)]


def _may_cross(start: int, end: int, level: Level, finer: Level, region: Piece, cuts: tuple[int, ...]) -> bool:
    """Return whether a stretch that one note can write may be written so, across the boundaries in it."""
    length = plain_length(end - start)
    dots = length.dots if length is not None else 0
    on_start = level.has(start)
    on_end = level.has(end)
    if level.kind is LevelKind.GROUP:
        return on_start and on_end
    if level.kind is LevelKind.HALF:
        return on_start and (on_end or (start == region[0] and dots < 2 and finer.has(end)))
    if dots > 1:
        return start == region[0] or end == region[1]
    evenly = len(cuts) == 1 and dots == 0 and cuts[0] - start == end - cuts[0]
    if level.kind is LevelKind.BEAT:
        return finer.has(start) and finer.has(end) and (on_start or on_end or evenly)
    if on_start and on_end:
        return True
    return start == region[0] or end == region[1] or (evenly and finer.has(start))


def _cut(start: int, end: int, level: Level, cuts: tuple[int, ...]) -> int:
    """The boundary at which a stretch is parted first."""
    if not level.has(start):
        return cuts[0]
    if not level.has(end):
        return cuts[-1]
    single = (cut for cut in reversed(cuts) if plain_length(cut - start) is not None)
    return next(single, cuts[0])
