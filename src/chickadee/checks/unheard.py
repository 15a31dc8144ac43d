"""Notes too low for ears are more likely lengths or rests."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterator

import numpy as np

from ..sheet import Finding, Fix, Reading, Rule, Severity, TextEdit
from ..sheet.tree import BarLine, Block, Direction, Group, Item, Node, is_written_so
from ..sheet.written import Number
from .check import Check
from .profile import Profile

__all__ = ["Unheard"]

_LOWEST = 20.0  # Hz, below which no tone is heard
_LOWEST_TRIED = 32  # a MIDI number that is heard in any tuning


class Unheard(Check):
    """Reports numbers that are too low to be heard. Its fixes make them lengths or rests."""

    rule = Rule("unheard", Severity.WARNING, "A number too low to be heard as a pitch, perhaps meant as a length.")
    why = "Ears hear no tone below about 20 Hz; 1, 2 or 0 as a number is usually a length or a rest."

    def findings(self, reading: Reading, profile: Profile) -> Iterator[Finding]:
        """One finding for each place in the text."""
        seen = set()
        song = reading.song
        low = [number for number in range(_LOWEST_TRIED) if song.frequency(number) < _LOWEST]
        for index in np.flatnonzero(song.arrays.number < len(low)).tolist():
            note = song.notes[index]
            start = note.spans[0][0]
            if start in seen or song.voices[note.voice].is_drums:
                continue
            if not reading.text_of(note).lstrip(">'").isdigit():
                continue
            seen.add(start)
            block = reading.block_at(start)
            place = _place_of(block, start) if block is not None else None
            fixes = _fixes(reading, *place) if place is not None else ()
            message = f"The number {note.number} is too low to be heard; perhaps a length or a rest was meant."
            yield self.rule.at(*note.spans[0], message, *fixes)


def _place_of(block: Block, offset: int) -> tuple[tuple[Node, ...], int] | None:
    """The body that an item stands in, and its index there."""
    body = block.body
    while True:
        index = bisect_right(body, offset, key=_start) - 1
        node = body[index] if index >= 0 else None
        if node is None or offset >= node.end:
            return None
        if isinstance(node, Item):
            return body, index
        if not isinstance(node, Group):
            return None
        body = node.body


def _start(node: Node) -> int:
    """Where a node starts. The nodes of a body stand in this order."""
    return node.start


def _fixes(reading: Reading, body: tuple[Node, ...], index: int) -> Iterator[Fix]:
    item = body[index]
    assert isinstance(item, Item)
    if len(item.word.signs) != 1:
        return
    laid = _laid_over(reading, body, item)
    if laid is not None:
        yield laid
    sign = item.word.signs[0].what
    before = body[index - 1] if index else None
    if isinstance(sign, Number) and sign.number and item.word.length is None and before is not None:
        yield from _as_length(reading, before, item, sign.number)
    rest = reading.text[item.start + item.word.length_start : item.end]
    yield Fix("Make it a rest", (TextEdit(item.start, item.end, f"rest{rest}"),))


def _as_length(reading: Reading, before: Node, item: Item, number: int) -> Iterator[Fix]:
    """Make a number the length of what stands before it, where that has none."""
    note = isinstance(before, Item) and before.word.length is None and before.word.signs
    if isinstance(before, Item) and not is_written_so(reading.text, before):
        return  # its own fix comes first
    group = isinstance(before, Group) and before.length is None and not before.changes
    if note or group:
        edits = TextEdit(before.end, before.end, f"={number}"), TextEdit(before.end, item.end, "")
        yield Fix("Make it the length before it", edits)


def _laid_over(reading: Reading, body: tuple[Node, ...], item: Item) -> Fix | None:
    """A line of numbers under a line of as many notes without lengths, as their lengths."""
    numbers = _on_line(reading, body, item.start)
    start = reading.text.rfind("\n", 0, item.start)
    above = _on_line(reading, body, start) if start > 0 else []
    if not numbers or len(numbers) != len(above) or any(each.word.length is not None for each in (*numbers, *above)):
        return None
    lengths = [each.word.signs[0].what if each.word.signs else None for each in numbers]
    if not all(isinstance(each, Number) and 0 < each.number < 16 for each in lengths):
        return None
    edits = [
        TextEdit(note.end, note.end, f"={length.number}")
        for note, length in zip(above, lengths, strict=True)
        if isinstance(length, Number) and length.number != 1
    ]
    end = reading.text.find("\n", item.start)
    edits.append(TextEdit(start, end if end >= 0 else len(reading.text), ""))
    return Fix("Lay the line over the notes above as lengths", tuple(edits))


def _on_line(reading: Reading, body: tuple[Node, ...], offset: int) -> list[Item]:
    """The items of a body on the line of an offset; none where anything but bar lines stands among them."""
    first = reading.text.rfind("\n", 0, offset) + 1
    last = reading.text.find("\n", offset)
    last = len(reading.text) if last < 0 else last
    line = body[bisect_left(body, first, key=_start) : bisect_left(body, last, key=_start)]
    nodes = [node for node in line if not isinstance(node, BarLine | Direction)]
    items = [node for node in nodes if isinstance(node, Item)]
    return items if len(items) == len(nodes) else []
