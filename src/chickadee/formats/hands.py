"""Two lines that one voice plays, such as the two hands at a keyboard, as two voices."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise
from operator import attrgetter

import numpy as np
import numpy.typing as npt

from ..song import Note, Song, Voice

__all__ = ["with_hands"]

Spans = npt.NDArray[np.int64]

_PARTS = 4  # of a beat, to which times are rounded while lines are counted
_HELD = 0.85  # of a note's length, since players let go late
_TOGETHER = 0.6  # of the time that both hands play
_MOST_NOTES = 4_000  # of a voice that is looked at


def with_hands(song: Song) -> Song:
    """A song in which each voice that plays different lengths at once is two voices, where pitch parts it into lines.

    They are the high and the low one, and both play most of the time.
    """
    voices: list[Voice] = []
    numbers: dict[tuple[int, bool], int] = {}
    splits = [_split(song, index) for index in range(len(song.voices))]
    for index, (voice, split) in enumerate(zip(song.voices, splits, strict=True)):
        for low in (False,) if split is None else (False, True):
            numbers[index, low] = len(voices)
            name = voice.name if split is None else f"{voice.name} {'low' if low else 'high'}"
            voices.append(replace(voice, name=name))
    if len(voices) == len(song.voices):
        return song

    def renumbered(note: Note) -> Note:
        split = splits[note.voice]
        return note._replace(voice=numbers[note.voice, split is not None and note.number < split])

    notes = sorted(map(renumbered, song.notes), key=attrgetter("start", "voice", "number"))
    return replace(song, voices=tuple(voices), notes=tuple(notes))


def _split(song: Song, index: int) -> int | None:
    """The lowest MIDI number of the upper hand; None for a voice that is better left alone."""
    mine = [song.notes[place] for place in song.by_voice[index].tolist()]
    if song.voices[index].is_drums or len(mine) > _MOST_NOTES:
        return None
    spans = _spans(mine, song.meter.beat_ticks)
    together = _lines(spans)
    if together < 2:
        return None
    numbers = np.array([note.number for note in mine])
    found = []
    for low, high in pairwise(np.unique(numbers).tolist()):
        below = spans[numbers < high]
        above = spans[numbers >= high]
        lines = _lines(below) + _lines(above)
        share = _together(below, above)
        if lines <= together and share >= _TOGETHER:
            found.append((lines, -share, low - high, high))
    return min(found)[-1] if found else None


def _spans(notes: Sequence[Note], beat: int) -> Spans:
    """The first part of a beat in which each note sounds, and the one after its last."""
    starts = np.array([note.start for note in notes]) * _PARTS / beat
    ends = np.array([note.start + note.length * _HELD for note in notes]) * _PARTS / beat
    first = np.rint(starts).astype(np.int64)
    return np.column_stack((first, np.maximum(first + 1, np.rint(ends).astype(np.int64))))


def _sounding(spans: Spans, until: int) -> Spans:
    """How many of some spans each part of a beat lies in."""
    steps = np.bincount(spans[:, 0], minlength=until + 1) - np.bincount(spans[:, 1], minlength=until + 1)
    return steps.cumsum()


def _lines(spans: Spans) -> int:
    """How many lines some notes need at most at a time; what begins and ends together needs one."""
    return int(_sounding(np.unique(spans, axis=0), int(spans.max())).max()) if len(spans) else 0


def _together(below: Spans, above: Spans) -> float:
    """How much of the time that the one that plays less plays, the other does too."""
    until = int(max(below.max(), above.max()))
    low = _sounding(below, until) > 0
    high = _sounding(above, until) > 0
    return float((low & high).sum() / max(1, min(low.sum(), high.sum())))
