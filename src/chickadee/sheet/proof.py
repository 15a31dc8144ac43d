"""Edits tried out before they are made: what sounds afterwards is what was asked for, and nothing else is another."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable

from ..song import Note, Song
from .finding import TextEdit, apply_edits
from .reading import Reading, read
from .sites import CannotEdit
from .tree import Item

__all__ = ["elsewhere", "proven", "sound", "sounds", "struck"]


def proven(reading: Reading, edits: list[TextEdit], right: Callable[[Song], bool]) -> list[TextEdit]:
    """Edits, once the sheet that they make was read and sounds as was asked. Raises CannotEdit."""
    if not right(read(apply_edits(reading.text, edits)).song):
        raise CannotEdit("A group or a phrase around this note makes something else of that; change it in the sheet.")
    return edits


def sound(note: Note, semitones: int = 0) -> tuple[int, int, int, int]:
    """A note's voice, tick, ticks and MIDI number, some semitones away."""
    return note.voice, note.start, note.length, note.number + semitones


def sounds(notes: Iterable[Note]) -> Counter[tuple[int, int, int, int]]:
    """How often each sounds."""
    return Counter(map(sound, notes))


def elsewhere(reading: Reading, *items: Item) -> Counter[tuple[int, int, int, int]]:
    """What sounds of the notes that are not written in some items."""
    written = reading.song.notes
    return sounds(note for note in written if not any(item.start <= note.ink[0][0] < item.end for item in items))


def struck(notes: Iterable[Note]) -> Counter[tuple[int, int]]:
    """How often each voice strikes each number."""
    return Counter((note.voice, note.number) for note in notes)
