"""One line of notes at its places: heads, stems, beams, tuplets, ties and articulations."""

from __future__ import annotations

from collections.abc import Iterator, Sequence, Set
from itertools import groupby

from ..notation import NotatedItem, NoteHead, Stem
from .chord import rest_marks
from .distances import BRACKET, STAFF_HEIGHT, TIE_GAP
from .marks import Blot, Mark, Rule, Sign, moved
from .outlines import outline
from .prefix import figures
from .stems import PlacedItem, beam_runs, stem_marks

__all__ = ["line_marks"]

_TIE_THICK = 0.22
_TIE_OFF = 0.62  # staff spaces from the middle of a head
_LEAST_TIE = 0.9
_NUMBER = 0.6  # of a meter's figures, a tuplet's number
_NUMBER_ROOM = 0.9  # staff spaces that a bracket leaves on either side of its number
_NUMBER_GAP = 1.0
_BRACKET_HOOK = 0.7
_ARTICULATION_GAP = 1.0
_INEXACT_OVER = 1.8  # staff spaces over the staff, of the mark of what has no notation
_WAVE = 1.2


def line_marks(
    placed: Sequence[PlacedItem], accents: Set[int], left: float | None, right: float, bar_middles: dict[int, float]
) -> Iterator[Mark]:
    """The marks of a line.

    ``accents`` are the ticks of accented notes, ``left`` and ``right`` are where ties from and to what is not drawn
    end, None for no ties from it; ``bar_middles`` the middle of each bar by its first tick, for rests that fill one.
    """
    stems, ends = stem_marks(placed)
    yield from stems
    for place, each in enumerate(placed):
        item = each.item
        if item.is_rest:
            x = bar_middles.get(item.start, each.x) if item.whole_bar else each.x
            yield from rest_marks(item, x, each.top, each.layout.rest_shift)
        for head in each.layout.heads:
            x = each.x + head.x
            yield Sign(head.sign, x, each.top + head.y, note=head.head.note, part="head")
        yield from (moved(mark, each.x, each.top) for mark in each.layout.marks)
        yield from _articulations(each, accents)
        if not item.exact:
            yield from _inexact(each.x, each.top - _INEXACT_OVER)
        yield from _ties(placed, place, left, right)
    yield from _tuplets(placed, ends)


def _inexact(x: float, y: float) -> Iterator[Mark]:
    """Two waves: what is written is only near what sounds."""
    for top in (y, y + 0.45):
        third = _WAVE / 3
        curve = x + third, top - 0.55, x + 2 * third, top + 0.55, x + _WAVE, top
        back = x + 2 * third, top + 0.8, x + third, top - 0.3, x, top + 0.22
        yield Blot((("M", (x, top)), ("C", curve), ("L", (x + _WAVE, top + 0.22)), ("C", back), ("Z", ())), "inexact")


def _articulations(each: PlacedItem, accents: Set[int]) -> Iterator[Mark]:
    """An accent and a dot for a short note, on the side of the heads; over the staff where stems share it."""
    item = each.item
    if item.is_rest or not item.struck:
        return
    ys = [head.y for head in each.layout.heads]
    over = item.stem is Stem.DOWN or (each.shared and item.stem is Stem.UP)
    y = min(ys) - _ARTICULATION_GAP if over else max(ys) + _ARTICULATION_GAP
    middle = each.x + each.layout.width / 2
    if any(head.note.short for head in item.heads):
        if 0 <= y <= 4 and y == int(y):
            y += -0.5 if over else 0.5
        yield Sign("dot", middle - outline("dot").width / 2, each.top + y, part="articulation")
        y += -_ARTICULATION_GAP if over else _ARTICULATION_GAP
    if item.start in accents:
        y = min(y, -0.8) if over else max(y, 4.8)
        yield Sign("accent", middle - outline("accent").width / 2, each.top + y, part="articulation")


# Ties


def _ties(placed: Sequence[PlacedItem], place: int, left: float | None, right: float) -> Iterator[Mark]:
    """Ties from an item to the next of its line, and into the first item of a system."""
    each = placed[place]
    following = placed[place + 1] if place + 1 < len(placed) else None
    if following is not None and following.item.start != each.item.end:
        following = None
    for number, head in enumerate(each.layout.heads):
        above = _ties_above(each, number)
        if head.head.tied:
            end = following.x - 0.05 if following is not None else right
            if following is not None:
                end += min((other.x for other in following.layout.heads if _same(other.head, head.head)), default=0.0)
            yield _tie(each.x + head.box.right + 0.05, end, each.top + head.y, above)
        if not each.item.struck and place == 0 and left is not None:
            yield _tie(left, each.x + head.x - 0.05, each.top + head.y, above)


def _same(one: NoteHead, other: NoteHead) -> bool:
    return one.note is other.note


def _ties_above(each: PlacedItem, number: int) -> bool:
    """Return whether the tie of a head curves upwards: away from its stem, and outwards in a chord."""
    heads = each.layout.heads
    if each.shared and each.item.stem is not None:
        return each.item.stem is Stem.UP
    if len(heads) > 1:
        return number >= len(heads) / 2
    return each.item.stem is not Stem.UP if each.item.stem is not None else heads[0].head.place >= 4


def _tie(left: float, right: float, y: float, above: bool) -> Blot:
    """A crescent from one x to another."""
    sign = -1 if above else 1
    if right - left < _LEAST_TIE:
        middle = (left + right) / 2
        left = middle - _LEAST_TIE / 2
        right = middle + _LEAST_TIE / 2
    width = right - left
    y += sign * _TIE_OFF
    high = sign * min(1.0, 0.35 + TIE_GAP * width / 4)
    inset = min(width / 3, 2.0)
    return Blot(
        (
            ("M", (left, y)),
            (
                "C",
                (left + inset, y + high + sign * _TIE_THICK, right - inset, y + high + sign * _TIE_THICK, right, y),
            ),
            ("C", (right - inset, y + high, left + inset, y + high, left, y)),
            ("Z", ()),
        ),
        "tie",
    )


# Tuplets


def _tuplets(placed: Sequence[PlacedItem], ends: dict[int, float]) -> Iterator[Mark]:
    """The number of each tuplet, on its beam or in a bracket."""
    beams = [{id(each) for each in run} for run in beam_runs(placed)]
    for (_, tuplet), together in groupby(enumerate(placed), key=lambda pair: (pair[1].bar, pair[1].item.tuplet)):
        if tuplet is None:
            continue
        mine = list(together)
        first = mine[0][1]
        last = mine[-1][1]
        up = _stems_up([each.item for _, each in mine])
        edges = [ends[place] for place, _ in mine if place in ends and _goes(placed[place].item, up)]
        heads = [each.top + head.y for _, each in mine for head in each.layout.heads]
        edges += [y - 1.0 if up else y + 1.0 for y in heads]
        y = min([*edges, first.top]) - _NUMBER_GAP if up else max([*edges, first.top + STAFF_HEIGHT]) + _NUMBER_GAP
        middle = (first.x + last.right) / 2
        yield from figures(tuplet.actual, middle, y, _NUMBER)
        if not any({id(each) for _, each in mine} <= run for run in beams):
            yield from _bracket(first.x - 0.2, last.right + 0.2, middle, y, up)


def _goes(item: NotatedItem, up: bool) -> bool:
    return (item.stem is Stem.UP) == up and item.stem is not None


def _stems_up(items: Sequence[NotatedItem]) -> bool:
    """Return whether a tuplet's number stands over it: where most of its stems go."""
    stems = [item.stem for item in items if item.stem is not None]
    return stems.count(Stem.UP) * 2 >= len(stems)


def _bracket(left: float, right: float, middle: float, y: float, up: bool) -> Iterator[Mark]:
    hook = _BRACKET_HOOK if up else -_BRACKET_HOOK
    yield Rule(left, y + hook, left, y, BRACKET, "tuplet")
    yield Rule(left, y, max(left, middle - _NUMBER_ROOM), y, BRACKET, "tuplet")
    yield Rule(min(right, middle + _NUMBER_ROOM), y, right, y, BRACKET, "tuplet")
    yield Rule(right, y, right, y + hook, BRACKET, "tuplet")
