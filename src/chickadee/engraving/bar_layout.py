"""The items of one bar with their layouts, those that share a staff kept off one another."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from ..notation import NotatedBar, NotatedItem
from .chord import ItemLayout, layout_of, offset_beside

__all__ = ["LaidOut", "lay_out_bar"]


class LaidOut(NamedTuple):
    """An item with its layout."""

    staff: int
    line: int
    """The number of its line in its voice."""
    item: NotatedItem
    layout: ItemLayout
    offset: float
    """Staff spaces that it is drawn further right than what else sounds at its tick."""
    shared: bool
    """True if another line sounds on its staff in its bar."""


def lay_out_bar(bar: NotatedBar) -> Iterator[LaidOut]:
    """The items of each line of a bar, line by line."""
    on_staves = [line.staff for line in bar.lines]
    taken: dict[tuple[int, int], list[tuple[ItemLayout, float]]] = {}  # by staff and tick
    for line in bar.lines:
        shared = on_staves.count(line.staff) > 1
        stem = next((item.stem for item in line.items if item.stem is not None), None)
        for item in line.items:
            layout = layout_of(item, stem, shared)
            beside = taken.setdefault((line.staff, item.start), [])
            offset = offset_beside(layout, beside)
            beside.append((layout, offset))
            yield LaidOut(line.staff, line.number, item, layout, offset, shared)
