"""Pitches that agree when they sound together."""

from __future__ import annotations

from collections.abc import Sequence
from heapq import heappop, heappush

from ..song import Note, Song

__all__ = ["agree", "sounding_at_onsets"]

_CONSONANT = frozenset({0, 3, 4, 5, 7, 8, 9})  # semitones between two voices, octaves apart or not


def agree(number: int, other: int) -> bool:
    """Return whether two MIDI numbers are a consonance, octaves apart or not: no second, seventh or tritone."""
    return abs(number - other) % 12 in _CONSONANT


def sounding_at_onsets(song: Song, notes: Sequence[Note]) -> list[frozenset[int]]:
    """The MIDI numbers that sound in any voice with pitches when each of some notes is struck, in order of onset."""
    waiting = (note for note in song.notes if not song.voices[note.voice].is_drums)
    following = next(waiting, None)
    held: list[tuple[int, int]] = []  # (end in ticks, number) of what sounds
    found = []
    for note in notes:
        while following is not None and following.start <= note.start:
            heappush(held, (following.end, following.number))
            following = next(waiting, None)
        while held and held[0][0] <= note.start:
            heappop(held)
        found.append(frozenset(number for _, number in held))
    return found
