"""Where a voice uses the phrases of its sheet."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from ...sheet import Reading
from ...sheet.bounds import TooMany
from ...sheet.flatten import Flattener
from ...sheet.tree import Item
from ...sheet.walk import EventKind

__all__ = ["PhraseUse", "phrase_uses"]

_MOST_PHRASES = 60
_OCTAVE = 4  # of letters without one; it makes no difference to where they stand


class PhraseUse(NamedTuple):
    """A phrase, used as it is written."""

    name: str
    """The phrase's own, as its sheet writes it."""
    start: int
    """Ticks."""
    end: int
    """Ticks."""
    inside: tuple[PhraseUse, ...] = ()
    """The phrases that it uses itself, at their ticks."""


def phrase_uses(reading: Reading, voice: int) -> list[PhraseUse]:
    """Return the uses of phrases in a voice, in order of time. Those that are turned round are not among them."""
    if voice >= len(reading.events):
        return []
    events = [event for event in reading.events[voice] if event.kind is not EventKind.BAR]
    offsets = [event.start for event in events]
    ticks = [*(event.tick for event in events), events[-1].tick + events[-1].length] if events else [0]
    phrases = [(name, offsets_of) for name, offsets_of in _offsets(reading) if offsets_of]
    phrases.sort(key=lambda each: -len(each[1]))
    return _uses(offsets, ticks, phrases)


def _offsets(reading: Reading) -> list[tuple[str, list[int]]]:
    """The name of each phrase, and where each of its signs is written, in the order in which they sound."""
    flattener = Flattener(reading.sheet)
    found = []
    for block in list(reading.sheet.phrases.values())[:_MOST_PHRASES]:
        try:
            placed = flattener.voice(block, _OCTAVE)
        except TooMany:
            continue
        found.append((block.name, [each.node.start for each in placed if type(each.node) is Item]))
    return found


def _uses(offsets: Sequence[int], ticks: Sequence[int], phrases: list[tuple[str, list[int]]]) -> list[PhraseUse]:
    """The longest phrase that is used at each place; ``ticks`` has one more than there are ``offsets``."""
    found = []
    place = 0
    by_first: dict[int, list[tuple[str, list[int]]]] = {}
    for each in phrases:
        by_first.setdefault(each[1][0], []).append(each)
    while place < len(offsets):
        size = 1
        for name, signs in by_first.get(offsets[place], ()):
            if list(offsets[place : place + len(signs)]) == signs:
                size = len(signs)
                shorter = [each for each in phrases if len(each[1]) < size]
                inside = _uses(signs, ticks[place : place + size + 1], shorter)
                found.append(PhraseUse(name, ticks[place], ticks[place + size], tuple(inside)))
                break
        place += size
    return found
