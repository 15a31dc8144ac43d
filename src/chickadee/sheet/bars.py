"""Bars as a voice writes them: between one bar line and the next."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from ..song import BarGrid
from .walk import Event, EventKind

__all__ = ["Bar", "bars_of"]


class Bar(NamedTuple):
    """The music before a bar line.

    ``full`` is whether it holds what the meter asks for: one bar, or several where one long note or rest fills
    a whole bar by itself.
    """

    voice: int
    number: int
    """The number of the first bar it holds."""
    spans: int
    """How many bars it holds, at least 1."""
    tick: int
    length: int
    """Ticks it holds."""
    expected: int
    """Ticks of one bar of the meter, or of the pickup."""
    full: bool
    start: int
    """Offsets of the closing bar line."""
    end: int
    events: tuple[Event, ...]


def bars_of(voice: int, events: tuple[Event, ...], grid: BarGrid) -> Iterator[Bar]:
    """The bars of a voice that a bar line closes; two bar lines that meet count once."""
    number = 0 if grid.pickup else 1
    tick = first = 0
    last_sign = len(events) - 1
    while last_sign >= 0 and events[last_sign].kind is EventKind.BAR:
        last_sign -= 1
    lines = [place for place, event in enumerate(events) if event[2] is EventKind.BAR]
    for place in lines:
        event = events[place]
        length = event.tick - tick
        if length:
            expected = grid.pickup if number == 0 else grid.meter_at(tick).bar_ticks
            held = events[first:place]
            last = place > last_sign
            full = (
                length == expected
                or (number > 0 and _several(length, expected, held))
                or (last and length == expected - grid.pickup)
            )
            count = max(1, length // expected) if number else 1
            yield Bar(voice, number, count, tick, length, expected, full, event.start, event.end, held)
            number += count
        tick = event.tick
        first = place + 1


def _several(length: int, expected: int, held: tuple[Event, ...]) -> bool:
    """Return whether whole bars are filled with the help of a note or rest that fills one by itself."""
    return length % expected == 0 and any(event.length >= expected for event in held)
