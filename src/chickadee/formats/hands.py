"""Two lines that one voice plays, such as the two hands at a keyboard, as two voices."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from ..song import Note, Song, Voice

__all__ = ["with_hands"]

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

    notes = sorted(map(renumbered, song.notes), key=lambda note: (note.start, note.voice, note.number))
    return replace(song, voices=tuple(voices), notes=tuple(notes))


def _split(song: Song, index: int) -> int | None:
    """The lowest MIDI number of the upper hand; None for a voice that is better left alone."""
    mine = [song.notes[place] for place in song.by_voice[index].tolist()]
    beat = song.meter.beat_ticks
    if song.voices[index].is_drums or len(mine) > _MOST_NOTES:
        return None
    together = _lines(mine, beat)
    if together < 2:
        return None
    pitches = sorted({note.number for note in mine})
    found = []
    for low, high in pairwise(pitches):
        below, above = ([note for note in mine if (note.number < high) is is_low] for is_low in (True, False))
        lines, share = _lines(below, beat) + _lines(above, beat), _together(below, above, beat)
        if lines <= together and share >= _TOGETHER:
            found.append((lines, -share, low - high, high))
    return min(found)[-1] if found else None


def _slots(note: Note, beat: int) -> range:
    """The parts of beats in which a note sounds."""
    start = round(note.start * _PARTS / beat)
    return range(start, max(start + 1, round((note.start + note.length * _HELD) * _PARTS / beat)))


def _lines(notes: Sequence[Note], beat: int) -> int:
    """How many lines some notes need at most at a time; what begins and ends together needs one."""
    spans = {(slots.start, slots.stop) for slots in (_slots(note, beat) for note in notes)}
    most = now = 0
    for _, step in sorted([(start, 1) for start, _ in spans] + [(end, -1) for _, end in spans]):
        now += step
        most = max(most, now)
    return most


def _together(below: Sequence[Note], above: Sequence[Note], beat: int) -> float:
    """How much of the time that the one that plays less plays, the other does too."""
    low, high = ({slot for note in notes for slot in _slots(note, beat)} for notes in (below, above))
    return len(low & high) / max(1, min(len(low), len(high)))
