"""Imported music: the song of a file from elsewhere, and what has no place in one."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import Enum
from operator import attrgetter
from typing import NamedTuple

from ..faults import InputFault
from ..sheet import Reading
from ..sheet.tree import items_in
from ..sheet.walk import EventKind
from ..sheet.word import Kind, word_reader
from ..song import Note, Song, Voice
from .traced import TracedProgram

__all__ = [
    "AUTOMATIC",
    "Form",
    "ImportFault",
    "Imported",
    "LengthsIn",
    "Unread",
    "counted",
    "found_in_sheet",
    "song_of",
]


AUTOMATIC = "auto"
"""Snapping to the coarsest parts of each beat that were surely meant."""


class Form(Enum):
    """The forms of files, by the names that the command line gives them."""

    SHEET = "sheet"
    MIDI = "midi"
    MUSICXML = "musicxml"
    TABLE = "table"
    LIST = "list"
    PROGRAM = "program"


class ImportFault(InputFault):
    """A file or text holds no music that can be read; its text says why in one sentence."""


class LengthsIn(Enum):
    """How a file counts the lengths of notes."""

    BEATS = "beats"
    SECONDS = "seconds"
    """The song's beats are a guess then."""
    NOTHING = "nothing"
    """None is given: every note has a beat."""


class Unread(NamedTuple):
    """A sign in the place of a note that names no pitch: it is silent in the song."""

    voice: int
    start: int
    """Ticks."""
    length: int
    """Ticks."""
    span: tuple[int, int]
    """Offsets of the sign in the text."""


@dataclass(frozen=True, slots=True)
class Imported:
    """A file's music, to the tick."""

    song: Song
    form: Form
    left_out: tuple[str, ...] = ()
    """A sentence for each thing that has no place in a sheet."""
    text: str | None = None
    """The sheet, where the file is one."""
    source: str | None = None
    """The text that the notes' source spans lie in; None for MIDI files and scores."""
    lengths: LengthsIn = LengthsIn.BEATS
    unread: tuple[Unread, ...] = ()
    others: tuple[Imported, ...] = ()
    """The other ways in which the file can be read, where that is not clear."""
    program: TracedProgram | None = None
    """How it was traced, where it is a program."""
    played: bool = False
    """True if somebody played it: notes begin on the parts of beats that were meant, and last as they were held."""


def found_in_sheet(reading: Reading, form: Form, lengths: LengthsIn | None = None) -> Imported:
    """Return the music of a sheet's reading; without ``lengths`` the sheet itself tells how they are counted."""
    read = word_reader(reading.song.naming)
    silent = [
        Unread(voice, event.tick, event.length, (event.start, event.end))
        for voice, events in enumerate(reading.events)
        for event in events
        if event.kind is EventKind.REST and read(reading.text[event.start : event.end]).kind is Kind.SILENT
    ]
    text = reading.text if form is Form.SHEET else None
    return Imported(reading.song, form, (), text, reading.text, lengths or _lengths_of(reading), tuple(silent))


def _lengths_of(reading: Reading) -> LengthsIn:
    blocks = (*reading.sheet.phrases.values(), *reading.sheet.voices)
    words = (item.word for block in blocks for item in items_in(block.body))
    given = any(word.length is not None or word.kind is Kind.HOLD for word in words)
    return LengthsIn.BEATS if given else LengthsIn.NOTHING


def song_of(voices: Iterable[Voice], notes: Iterable[Note], song: Song) -> Song:
    """A song with some voices and notes, without the voices that have none; the notes' voices are renumbered.

    Names of voices are made different from one another.
    """
    every = list(voices)
    found = sorted(notes, key=attrgetter("start", "voice", "number"))
    used = sorted({note.voice for note in found})
    numbers = {old: new for new, old in enumerate(used)}
    names: Counter[str] = Counter()
    kept = []
    for old in used:
        name = every[old].name
        names[name.lower()] += 1
        again = names[name.lower()]
        kept.append(replace(every[old], name=f"{name} {again}" if again > 1 else name))
    moved = (
        note if numbers[note.voice] == note.voice else note._replace(voice=numbers[note.voice]) for note in found
    )
    return replace(song, voices=tuple(kept), notes=tuple(moved))


def counted(counts: Counter[str]) -> tuple[str, ...]:
    """A sentence for each kind of thing that was left out: ``12 pitch bends have no place in a sheet.``"""
    return tuple(
        f"{count} {what}{'s' if count != 1 else ''} {'have' if count != 1 else 'has'} no place in a sheet."
        for what, count in counts.items()
        if count
    )
