"""Notes that were heard in two ways, by their pitch and by what grows, made one list."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise
from operator import attrgetter

from .notes import HeardNote

__all__ = ["agreed"]

_SAME = 0.12  # seconds within which a note begins that is heard in both ways
_AT_ONCE, _AFTER = 0.06, 0.1  # seconds before and after a note in which no other begins
_STRONG = 0.6  # how sure a note is that begins while another is held
_LATE = 0.02  # seconds by which the pitch of a note is heard after it has grown
_CLEAR = 0.85  # how sure a note is that did not grow
_PLAIN = 0.98  # how sure a pitch is, whose octave may have grown more than itself
_START = attrgetter("start")


def agreed(pitched: Sequence[HeardNote], grown: Sequence[HeardNote]) -> list[HeardNote]:
    """The notes of two lists, each in order. A pitch tells which octave it is and whether a note is struck again;
    growth tells what begins while something else rings."""
    same = _same(pitched, grown)
    settled = set(same)  # places of notes heard by their pitch that are taken or beaten by others
    found = [_earlier(pitched[place], grown[other]) for place, other in same.items()]
    in_both = set(same.values())
    for note in (each for place, each in enumerate(grown) if place not in in_both):
        rivals = [each for each in _around(pitched, note, _AT_ONCE, _AT_ONCE) if each not in settled]
        an_octave = any(_is_octave_of(note, pitched[each]) and pitched[each].sure > _PLAIN for each in rivals)
        if not an_octave and (note.sure >= _STRONG or not _is_held(pitched, note)):
            found.append(note)
            settled.update(rivals)
    found.sort(key=_START)
    left = [note for place, note in enumerate(pitched) if place not in settled]
    found += [note for note in left if note.sure >= _CLEAR and not _has_rival(note, found)]
    found.sort(key=_START)
    cut = [replace(one, length=min(one.length, other.start - one.start)) for one, other in pairwise(found)]
    return cut + found[-1:]


def _same(pitched: Sequence[HeardNote], grown: Sequence[HeardNote]) -> dict[int, int]:
    """The places of notes in the first list that are in the second too, with their places there."""
    found: dict[int, int] = {}
    taken: set[int] = set()
    for place, note in enumerate(pitched):
        near = [each for each in _around(grown, note, _SAME, _SAME)
                if each not in taken and grown[each].number == note.number]  # fmt: skip
        if near:
            found[place] = min(near, key=lambda each: abs(grown[each].start - note.start))
            taken.add(found[place])
    return found


def _around(notes: Sequence[HeardNote], note: HeardNote, before: float, after: float) -> range:
    """The places of notes that begin less than so many seconds before another, or after it."""
    first = bisect_left(notes, note.start - before, key=_START)
    return range(first, bisect_left(notes, note.start + after, key=_START))


def _earlier(note: HeardNote, grown: HeardNote) -> HeardNote:
    """A note, from where it has grown on where it begins softly: its pitch is heard later."""
    return replace(note, start=grown.start) if note.start - grown.start > _LATE else note


def _has_rival(note: HeardNote, others: Sequence[HeardNote]) -> bool:
    """Whether a note of another pitch begins at about the same time, or shortly before."""
    return any(others[each].number != note.number for each in _around(others, note, _AFTER, _AT_ONCE))


def _is_held(pitched: Sequence[HeardNote], note: HeardNote) -> bool:
    """Whether a note begins well inside another."""
    place = bisect_left(pitched, note.start - _AT_ONCE, key=_START) - 1
    return place >= 0 and note.start < pitched[place].start + pitched[place].length - _AT_ONCE


def _is_octave_of(high: HeardNote, low: HeardNote) -> bool:
    return high.number > low.number and (high.number - low.number) % 12 == 0
