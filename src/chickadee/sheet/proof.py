"""Edits are tried before they are made: the notes must change as asked, and no others may change."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable
from typing import TypeAlias

from ..song import Note, Song
from .finding import Severity, TextEdit, apply_edits
from .reading import Reading, read
from .sites import CannotEdit
from .tree import Item

__all__ = ["elsewhere", "has_besides", "proven", "sound", "sounds", "struck", "verified"]


def proven(reading: Reading, edits: list[TextEdit], right: Callable[[Song], bool]) -> list[TextEdit]:
    """Edits, once the sheet that they make was read and sounds as was asked. Raises CannotEdit."""
    if not right(read(apply_edits(reading.text, edits)).song):
        raise CannotEdit(
            "A group or a phrase around this note would change the result; please edit the sheet instead."
        )
    return edits


def verified(reading: Reading, edits: Iterable[TextEdit], semitones: int | None = None) -> list[TextEdit]:
    """Those of some edits that change anything, once the sheet they make has been read.

    ``semitones`` is how far every note but drums is to have moved, where that is known. Raises CannotEdit where a
    note would be lost, something would be an error that was none, or a note would be another than it should.
    """
    made = [edit for edit in edits if reading.text[edit.start : edit.end] != edit.text]
    after = read(apply_edits(reading.text, made))
    if len(after.song.notes) < len(reading.song.notes):
        raise CannotEdit("Some notes would be outside the range of MIDI, C-1 to G9.")
    known = {finding.code for finding in reading.findings}
    for finding in after.findings:
        if finding.severity is Severity.ERROR and finding.code not in known:
            raise CannotEdit(f"That would cause an error: {finding.message}")
    if semitones is not None and _numbers(after.song, 0) != _numbers(reading.song, semitones):
        raise CannotEdit(
            "A phrase here sounds different in each key or octave it is used in; "
            "please write it out where it is used, and then move the tune."
        )
    return made


Sound: TypeAlias = tuple[int, int, int, int, int]
"""A note's voice, tick, ticks, MIDI number and loudness."""


def sound(note: Note, semitones: int = 0) -> Sound:
    """How a note sounds, some semitones away."""
    return note.voice, note.start, note.length, note.number + semitones, note.loudness


def sounds(notes: Iterable[Note]) -> Counter[Sound]:
    """How often each sounds."""
    return Counter(map(sound, notes))


def elsewhere(reading: Reading, *items: Item) -> Counter[Sound]:
    """Count the sounds of the notes that are not written in some items."""
    written = reading.song.notes
    return sounds(note for note in written if not any(item.start <= note.spans[0][0] < item.end for item in items))


def has_besides(song: Song, stay: Counter[Sound], *others: Note) -> bool:
    """Return whether a song has all that is to stay and, besides, other notes.

    Those may be louder or softer than they were. A note that was moved onto a beat may be stressed there.
    """
    left = sounds(song.notes)
    left.subtract(stay)
    places = {each[:-1] for each, count in left.items() if count > 0}
    return min(left.values(), default=0) >= 0 and all(sound(note)[:-1] in places for note in others)


def struck(notes: Iterable[Note]) -> Counter[tuple[int, int]]:
    """How often each voice strikes each number."""
    return Counter((note.voice, note.number) for note in notes)


def _numbers(song: Song, semitones: int) -> list[tuple[int, int, int]]:
    """Voice, tick and MIDI number of every note, those of pitched voices moved."""
    drums = [voice.is_drums for voice in song.voices]
    return sorted(
        (note.voice, note.start, note.number + (0 if drums[note.voice] else semitones)) for note in song.notes
    )
