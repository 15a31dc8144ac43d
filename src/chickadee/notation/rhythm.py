"""The rhythm of one line in one bar: its notes and rests as written lengths that add up."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from .beats import BarBeats
from .lengths import FINEST, WrittenLength, nearest_length, plain_length
from .splitting import split_note, split_rest
from .tuplets import Tuplet, tuplet_beats, tuplets_of

__all__ = ["Stretch", "WrittenPiece", "written_pieces"]


class Stretch(NamedTuple):
    """Sound or silence in a bar; ticks of the whole bar."""

    start: int
    end: int
    is_rest: bool


class WrittenPiece(NamedTuple):
    """One written note or rest of a stretch."""

    stretch: int
    """The place of the stretch among those that were given."""
    start: int
    """Ticks of the whole bar at which it sounds, or rests."""
    end: int
    length: WrittenLength
    tuplet: Tuplet | None
    exact: bool
    """False if the nearest that can be written stands for it."""


def written_pieces(stretches: Sequence[Stretch], beats: BarBeats) -> list[WrittenPiece]:
    """The written notes and rests of stretches that follow one another without a gap.

    Where a boundary between them has no notation, it is written at the nearest place that has one, so that the bar
    adds up all the same. Only where there are more notes than places does it not.
    """
    edges = [*(stretch.start for stretch in stretches), stretches[-1].end]
    tuplets = tuplets_of(edges, edges[0], edges[-1], beats)
    places = _places(edges, tuplets)
    if places is None:
        return [
            WrittenPiece(index, each.start, each.end, nearest_length(each.end - each.start), None, exact=False)
            for index, each in enumerate(stretches)
        ]
    found: list[WrittenPiece] = []
    for index, stretch in enumerate(stretches):
        first = places[index]
        last = places[index + 1]
        exact = (first, last) == (stretch.start, stretch.end)
        for start, end, length, tuplet in _written(first, last, stretch.is_rest, beats, tuplets):
            begins = _between(start, first, last, stretch)
            ends = _between(end, first, last, stretch)
            found.append(WrittenPiece(index, begins, ends, length, tuplet, exact))
    return found


def _between(tick: int, first: int, last: int, stretch: Stretch) -> int:
    """The tick of a stretch that one between the places at which it is written stands for."""
    return stretch.start + (tick - first) * (stretch.end - stretch.start) // (last - first)


def _places(edges: Sequence[int], tuplets: Sequence[Tuplet]) -> list[int] | None:
    """Where each boundary is written: the nearest place that can be, no two the same; None if there are too few."""
    if not tuplets and all(edge % FINEST == 0 for edge in edges):
        return list(edges)
    places = [_nearest(edge, tuplets) for edge in edges]
    for at in range(1, len(places)):
        if places[at] <= places[at - 1]:
            places[at] = _next(places[at - 1], tuplets)
    end = _nearest(edges[-1], tuplets)
    if len(edges) > 2 and places[-1] > end:  # pushed out of the bar
        places[-1] = end
        for at in range(len(places) - 2, 0, -1):
            if places[at] >= places[at + 1]:
                places[at] = _before(places[at + 1], tuplets)
        if places[1] <= places[0]:
            return None
    return places


def _grid(tick: int, tuplets: Sequence[Tuplet]) -> tuple[int, int]:
    """(where it begins, ticks from one place to the next) of the places around a tick."""
    for tuplet in tuplets:
        if tuplet.start <= tick < tuplet.end:
            return tuplet.start, tuplet.finest
    return 0, FINEST


def _nearest(tick: int, tuplets: Sequence[Tuplet]) -> int:
    origin, step = _grid(tick, tuplets)
    return origin + (tick - origin + step // 2) // step * step


def _next(place: int, tuplets: Sequence[Tuplet]) -> int:
    return place + _grid(place, tuplets)[1]


def _before(place: int, tuplets: Sequence[Tuplet]) -> int:
    return place - _grid(place - 1, tuplets)[1]


def _written(
    start: int, end: int, is_rest: bool, beats: BarBeats, tuplets: Sequence[Tuplet]
) -> Iterator[tuple[int, int, WrittenLength, Tuplet | None]]:
    """(start, end, length, tuplet) of the notes or rests from one written place to another."""
    split = split_rest if is_rest else split_note
    for first, last, tuplet in _segments(start, end, tuplets):
        if tuplet is None:
            for one, other in split(first, last, beats):
                yield one, other, plain_length(other - one) or nearest_length(other - one), None
            continue
        inside = tuplet_beats(tuplet.unit, tuplet.actual)
        for one, other in split(tuplet.written(first), tuplet.written(last), inside):
            plain = plain_length(other - one) or nearest_length(other - one)
            length = plain._replace(actual=tuplet.actual, normal=tuplet.normal)
            yield tuplet.sounding(one), tuplet.sounding(other), length, tuplet


def _segments(start: int, end: int, tuplets: Sequence[Tuplet]) -> Iterator[tuple[int, int, Tuplet | None]]:
    """Parts of a stretch, each inside one tuplet or outside all."""
    here = start
    for tuplet in tuplets:
        if tuplet.end <= here or tuplet.start >= end:
            continue
        if tuplet.start > here:
            yield here, tuplet.start, None
        yield max(here, tuplet.start), min(end, tuplet.end), tuplet
        here = min(end, tuplet.end)
    if here < end:
        yield here, end, None
