"""Where a note is written: its sign in the text, and what stands beside it."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass
from fractions import Fraction
from operator import attrgetter

from ..song import Note
from .reading import Reading
from .sites import CannotEdit, Site
from .tree import BarLine, Block, Direction, Group, Item, Node, is_written_so
from .word import Kind, Sign

__all__ = ["Spot", "holds_after", "rest_beside", "site_of", "spot_of", "stretch_of"]


@dataclass(frozen=True, slots=True)
class Spot:
    """Where a note is written: its item in the tree, the sign inside it, and its neighbours."""

    block: Block
    item: Item
    sign: Sign
    body: tuple[Node, ...]
    index: int


def spot_of(reading: Reading, index: int) -> Spot:
    """Where a note is written, by its index in the song. Raises CannotEdit."""
    return _spot_of_note(reading, reading.song.notes[index])


def _spot_of_note(reading: Reading, note: Note) -> Spot:
    start, end = note.spans[0]
    block = reading.block_at(start)
    found = _find(reading.text, block, block.body, start, end) if block is not None else None
    if found is not None:
        return found
    raise CannotEdit("The text that writes this note was not found.")


def _find(text: str, block: Block, body: tuple[Node, ...], start: int, end: int) -> Spot | None:
    index = bisect_right(body, start, key=attrgetter("start")) - 1
    node = body[index] if index >= 0 else None
    if isinstance(node, Group) and start < node.end:
        return _find(text, block, node.body, start, end)
    if not isinstance(node, Item) or end > node.end:
        return None
    if not is_written_so(text, node):
        raise CannotEdit("This note is a near miss; apply its fix first.")
    signs = node.word.signs
    sign = next((sign for sign in signs if len(signs) == 1 or node.start + sign.start == start), None)
    return Spot(block, node, sign, body, index) if sign is not None else None


def site_of(reading: Reading, note: Note) -> Site:
    """Where a note is written, read as it is where that note sounds. Raises CannotEdit."""
    spot = _spot_of_note(reading, note)
    text = spot.item.word.text[spot.sign.start : spot.sign.end]
    places = reading.places[id(spot.block)]
    octave = min((each.octave for each in places), key=lambda octave: abs(octave - note.pitch.octave))
    mine = frozenset(each for each in places if each.octave == octave)
    return Site(spot.block, spot.item, spot.sign, text, reading.song.key_at(note.start), mine)


def holds_after(spot: Spot) -> list[Item]:
    """The holds right after an item, in its own body."""
    found = []
    for node in spot.body[spot.index + 1 :]:
        if isinstance(node, Item):
            if node.word.kind is not Kind.HOLD:
                break
            found.append(node)
        elif isinstance(node, Group) or not isinstance(node, BarLine | Direction):
            break
    return found


def rest_beside(reading: Reading, spot: Spot, after: bool) -> tuple[Item, Fraction] | None:
    """The rest right after a note and its holds, or right before it, and its beats."""
    if after:
        nodes = list(spot.body[spot.index + 1 + len(holds_after(spot)) :])
    else:
        nodes = list(spot.body[: spot.index][::-1])
    beside = next((node for node in nodes if not isinstance(node, BarLine)), None)
    if not isinstance(beside, Item) or beside.word.kind is not Kind.REST:
        return None
    for events in reading.events:
        for event in events:
            if event.start == beside.start:
                beat = reading.song.grid.meter_at(event.tick).beat_ticks
                return beside, Fraction(event.length, beat)
    return None


def stretch_of(reading: Reading, spot: Spot, index: int) -> Fraction:
    """How many times as long a note sounds as it is written: what the groups and phrases around it do to it."""
    note = reading.song.notes[index]
    lengths = [reading.own_ticks(item.word, note.start) for item in (spot.item, *holds_after(spot))]
    return note.length / sum(lengths, Fraction(0))
