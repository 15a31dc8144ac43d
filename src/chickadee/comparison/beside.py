"""An attempt laid over the model's time, to be seen beside it."""

from __future__ import annotations

from operator import attrgetter
from typing import NamedTuple

from ..formats.imported import Imported
from .differences import Kind
from .match import Match, matched
from .model import Model

__all__ = ["Beside", "laid_beside"]


class Beside(NamedTuple):
    """A moment of an attempt at its place in the model."""

    start: int
    """The tick in the model."""
    length: int
    """Ticks in the model."""
    numbers: tuple[int, ...]
    """MIDI numbers as the attempt has them; none for a sign that cannot be read."""
    names: tuple[str, ...]
    """Their names in the attempt."""
    kind: Kind | None
    """The kind of its mistake; None where it is right."""
    own: int
    """Its tick in the attempt."""


def laid_beside(model: Model, found: Imported) -> tuple[Beside, ...]:
    """Every moment of an attempt in order of time; what was added stands after what it follows. Raises TooLong."""
    match = matched(model, found)
    beside = [each for voice in range(len(match.voices)) for each in _of_voice(match, voice)]
    return tuple(sorted(beside, key=attrgetter("start")))


def _of_voice(match: Match, voice: int) -> list[Beside]:
    (mine, theirs) = match.voices[voice]
    pairs = match.pairs[voice]
    kinds = {each.start: each.kind for each in match.differences if each.voice == voice and each.expected}
    tick = mine.moments[0].start
    found = []
    for one, other in pairs:
        if other is None:
            continue
        moment = theirs.moments[other]
        length = round(moment.length / match.times)
        tick = tick if one is None else mine.moments[one].start
        kind = Kind.ADDED if one is None else kinds.get(tick)
        found.append(Beside(tick, length, moment.numbers, moment.names, kind, round(moment.start / theirs.scale)))
        tick += length
    return found
