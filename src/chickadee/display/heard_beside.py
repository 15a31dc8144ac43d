"""An attempt to be heard beside the tune: in turn, from the same place in both, or together, left and right."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from operator import attrgetter

from ..comparison.beside import Beside
from ..song import Note, Song, Voice
from ..theory import Pitch

__all__ = ["left_and_right", "own_tick"]

_LEFT = -0.85
_RIGHT = 0.85


def own_tick(moments: Sequence[Beside], tick: int) -> int:
    """The tick in an attempt at which it has what stands at a tick of the tune, or what follows."""
    after = [moment for moment in moments if moment.start >= tick]
    if after:
        return after[0].own
    return moments[-1].own + moments[-1].length if moments else 0


def left_and_right(song: Song, moments: Sequence[Beside], sound: str) -> Song:
    """The tune at the left, and the attempt on the tune's time at the right with a sound of its own."""
    place = len(song.voices)
    notes = [
        Note(moment.start, place, max(1, moment.length), Pitch("C", 0, 4), number, 80, False, ())
        for moment in moments
        for number in moment.numbers
    ]
    voices = [replace(voice, pan=_LEFT) for voice in song.voices]
    end = max([song.end, *(note.end for note in notes)])
    every = sorted([*song.notes, *notes], key=attrgetter("start", "voice", "number"))
    return replace(song, voices=(*voices, Voice("Attempt", sound, pan=_RIGHT, end=end)), notes=tuple(every))
