"""Beams and stems of a line's notes."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from .bar import Beam, NotatedItem, Stem
from .beats import Level

__all__ = ["flags_of", "with_beams"]

_FLAGS = {"eighth": 1, "16th": 2, "32nd": 3, "64th": 4}
_MIDDLE = 4  # the middle line's place
_STEMLESS = ("whole", "breve", "long", "maxima")


def flags_of(item: NotatedItem) -> int:
    """How many flags, or beams, an item has; a rest has none."""
    return 0 if item.is_rest else _FLAGS.get(item.length.type, 0)


def with_beams(
    items: Sequence[NotatedItem], groups: Level, origin: int, stem: Stem | None
) -> tuple[NotatedItem, ...]:
    """Items with beams inside the groups of their meter, and with stems.

    ``origin`` is the tick at which the whole bar would begin; ``stem`` is where all stems go, where several lines
    share a staff, and None where each goes by its place.
    """
    found: list[NotatedItem] = []
    for run in _runs(items, groups, origin):
        direction = stem or _direction(run)
        flags = [flags_of(item) for item in run]
        for place, item in enumerate(run):
            if item.is_rest or item.length.type in _STEMLESS:
                found.append(item)
            else:
                beams = _beams(flags, place) if len(run) > 1 else ()
                found.append(item._replace(beams=beams, stem=direction))
    return tuple(found)


def _runs(items: Sequence[NotatedItem], groups: Level, origin: int) -> Iterator[list[NotatedItem]]:
    """Items that a beam joins, and the others one by one."""
    run: list[NotatedItem] = []
    last = None
    for item in items:
        group = groups.around(item.start - origin), item.tuplet
        if run and (not flags_of(item) or group != last):
            yield run
            run = []
        if flags_of(item):
            run.append(item)
            last = group
        else:
            yield [item]
    if run:
        yield run


def _direction(run: Sequence[NotatedItem]) -> Stem:
    """Down where the head that is farthest from the middle line is above it, or on it."""
    places = [head.place - _MIDDLE for item in run for head in item.heads]
    return Stem.UP if min(places, default=0) + max(places, default=0) < 0 else Stem.DOWN


def _beams(flags: Sequence[int], place: int) -> tuple[Beam, ...]:
    before = flags[place - 1] if place else 0
    after = flags[place + 1] if place + 1 < len(flags) else 0
    return tuple(_beam(level, before, after, place) for level in range(flags[place]))


def _beam(level: int, before: int, after: int, place: int) -> Beam:
    if before > level and after > level:
        return Beam.CONTINUE
    if after > level:
        return Beam.BEGIN
    if before > level:
        return Beam.END
    return Beam.BACKWARD_HOOK if place else Beam.FORWARD_HOOK
