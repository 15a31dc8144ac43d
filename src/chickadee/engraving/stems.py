"""Stems, flags and beams of a line's notes at their places."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from ..notation import Beam, NotatedItem, Stem
from .chord import FLAGGED, ItemLayout
from .distances import BEAM, BEAM_STEP, MOST_SLANT, SHORTEST_STEM, STEM, STEM_LENGTH
from .marks import Mark, Rule, Sign, polygon

__all__ = ["PlacedItem", "beam_runs", "stem_marks", "stem_x"]

_FLAG_ROOM = {"32nd": 0.6, "64th": 1.3}  # staff spaces that a flag reaches beyond the usual stem
_MIDDLE = 2.0  # staff spaces below the top line
_HOOK = 1.1


class PlacedItem(NamedTuple):
    """An item on a page: its layout, the left edge of its heads, and the top line of its staff."""

    item: NotatedItem
    layout: ItemLayout
    x: float
    top: float
    line: int
    """The number of its line in its voice."""
    bar: int
    """The first tick of its bar."""
    shared: bool = False
    """True if another line sounds on the staff in its bar."""

    @property
    def right(self) -> float:
        """The right edge of its main heads."""
        return self.x + self.layout.width


def stem_x(placed: PlacedItem) -> float:
    """The middle of its stem."""
    return placed.x + STEM / 2 if placed.item.stem is Stem.DOWN else placed.right - STEM / 2


def _outer_y(placed: PlacedItem) -> float:
    """Where its stem leaves the last head that it passes."""
    ys = [head.y for head in placed.layout.heads]
    return placed.top + (min(ys) if placed.item.stem is Stem.UP else max(ys))


def _inner_y(placed: PlacedItem) -> float:
    ys = [head.y for head in placed.layout.heads]
    return placed.top + (max(ys) if placed.item.stem is Stem.UP else min(ys))


def _stem_end(placed: PlacedItem) -> float:
    """The y at which the stem of a note without a beam ends: at the middle line, for one far from it."""
    outer = _outer_y(placed)
    middle = placed.top + _MIDDLE
    length = STEM_LENGTH + _FLAG_ROOM.get(placed.item.length.type, 0.0)
    if placed.item.stem is Stem.UP:
        short = outer < middle and placed.item.length.type not in FLAGGED
        end = outer - (max(SHORTEST_STEM, length - (middle - outer) / 2) if short else length)
        return min(end, middle)
    short = outer > middle and placed.item.length.type not in FLAGGED
    end = outer + (max(SHORTEST_STEM, length - (outer - middle) / 2) if short else length)
    return max(end, middle)


def beam_runs(placed: Sequence[PlacedItem]) -> Iterator[list[PlacedItem]]:
    """The notes of each beam."""
    run: list[PlacedItem] = []
    for each in placed:
        if not each.item.beams:
            continue
        if each.item.beams[0] is Beam.BEGIN:
            run = []
        run.append(each)
        if each.item.beams[0] is Beam.END and len(run) > 1:
            yield run
            run = []


def stem_marks(placed: Sequence[PlacedItem]) -> tuple[list[Mark], dict[int, float]]:
    """Stems, flags and beams, and the y of each stem's end by the place of its item."""
    marks: list[Mark] = []
    ends: dict[int, float] = {}
    beamed: dict[int, float] = {}
    by_id = {id(each): place for place, each in enumerate(placed)}
    for run in beam_runs(placed):
        line = _beam_line(run)
        for each in run:
            beamed[by_id[id(each)]] = line.y(stem_x(each))
        marks += _beams(run, line)
    for place, each in enumerate(placed):
        if each.item.stem is None or each.item.is_rest:
            continue
        end = beamed.get(place)
        if end is None:
            end = _stem_end(each)
            if each.item.length.type in FLAGGED:
                name = f"flag-{each.item.stem.value}-{each.item.length.type}"
                marks.append(Sign(name, stem_x(each) - STEM / 2, end, part="flag"))
        ends[place] = end
        x = stem_x(each)
        marks.append(Rule(x, _inner_y(each), x, end, STEM, part="stem"))
    return marks, ends


class _BeamLine(NamedTuple):
    """The outer edge of the outermost beam."""

    x: float
    start: float
    slope: float

    def y(self, x: float) -> float:
        return self.start + self.slope * (x - self.x)


def _beam_line(run: Sequence[PlacedItem]) -> _BeamLine:
    """A beam that leans as its outer notes go, at most a space, and leaves every stem long enough."""
    up = run[0].item.stem is Stem.UP
    sign = -1 if up else 1
    outer = [_outer_y(each) for each in run]
    xs = [stem_x(each) for each in run]
    lean = max(-MOST_SLANT, min(MOST_SLANT, (outer[-1] - outer[0]) / 2))
    inner = outer[1:-1]
    extreme = min(outer[0], outer[-1]) if up else max(outer[0], outer[-1])
    if any((y <= extreme if up else y >= extreme) for y in inner):
        lean = 0.0
    width = xs[-1] - xs[0]
    slope = max(-0.4, min(0.4, lean / width)) if width > 0 else 0.0
    most = max(len(each.item.beams) for each in run)
    least = SHORTEST_STEM + BEAM_STEP * (most - 1)
    usual = STEM_LENGTH + (BEAM_STEP * (most - 2) if most > 2 else 0)
    flat = _BeamLine(xs[0], 0.0, slope)
    ends = [y + sign * (usual if place in (0, len(run) - 1) else least) for place, y in enumerate(outer)]
    starts = [end - flat.y(x) for end, x in zip(ends, xs, strict=True)]
    start = min(starts) if up else max(starts)
    nearest = run[0].top + _MIDDLE  # far from the staff, the beam comes to its middle line
    ys = [start + flat.y(x) for x in xs]
    if up and min(ys) > nearest:
        start -= min(ys) - nearest
    if not up and max(ys) < nearest:
        start += nearest - max(ys)
    return _BeamLine(xs[0], start, slope)


def _beams(run: Sequence[PlacedItem], line: _BeamLine) -> Iterator[Mark]:
    inward = 1 if run[0].item.stem is Stem.UP else -1
    for level in range(max(len(each.item.beams) for each in run)):
        offset = inward * BEAM_STEP * level
        begin: float | None = None
        for each in run:
            if len(each.item.beams) <= level:
                continue
            x = stem_x(each)
            kind = each.item.beams[level]
            if kind is Beam.BEGIN:
                begin = x - STEM / 2
            elif kind is Beam.END and begin is not None:
                yield _bar(line, begin, x + STEM / 2, offset, inward)
            elif kind is Beam.FORWARD_HOOK:
                yield _bar(line, x - STEM / 2, x + _HOOK, offset, inward)
            elif kind is Beam.BACKWARD_HOOK:
                yield _bar(line, x - _HOOK, x + STEM / 2, offset, inward)


def _bar(line: _BeamLine, left: float, right: float, offset: float, inward: int) -> Mark:
    one = line.y(left) + offset
    other = line.y(right) + offset
    deep = inward * BEAM
    return polygon((left, one), (right, other), (right, other + deep), (left, one + deep), part="beam")
