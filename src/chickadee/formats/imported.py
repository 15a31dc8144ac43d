"""What was found in a file from elsewhere: its music as a song, and what has no place in one."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import Enum

from ..faults import InputFault
from ..song import Note, Song, Voice

__all__ = ["Form", "ImportFault", "Imported", "counted", "song_of"]


class Form(Enum):
    """What a file is, by the name that the command line gives it."""

    SHEET = "sheet"
    MIDI = "midi"
    MUSICXML = "musicxml"
    TABLE = "table"
    LIST = "list"


class ImportFault(InputFault):
    """A file or text holds no music that can be read; its text says why in one sentence."""


@dataclass(frozen=True, slots=True)
class Imported:
    """A file's music, to the tick."""

    song: Song
    form: Form
    left_out: tuple[str, ...] = ()
    """A sentence for each thing that has no place in a sheet."""
    text: str | None = None
    """The sheet, where the file is one."""


def song_of(voices: Iterable[Voice], notes: Iterable[Note], song: Song) -> Song:
    """A song with some voices and notes, without the voices that have none; the notes' voices are renumbered.

    Names of voices are made different from one another.
    """
    every, found = list(voices), sorted(notes, key=lambda note: (note.start, note.voice, note.number))
    used = sorted({note.voice for note in found})
    numbers = {old: new for new, old in enumerate(used)}
    names: Counter[str] = Counter()
    kept = []
    for old in used:
        name = every[old].name
        names[name.lower()] += 1
        again = names[name.lower()]
        kept.append(replace(every[old], name=f"{name} {again}" if again > 1 else name))
    return replace(song, voices=tuple(kept), notes=tuple(note._replace(voice=numbers[note.voice]) for note in found))


def counted(counts: Counter[str]) -> tuple[str, ...]:
    """A sentence for each kind of thing that was left out: ``12 pitch bends have no place in a sheet.``"""
    return tuple(
        f"{count} {what}{'s' if count != 1 else ''} {'have' if count != 1 else 'has'} no place in a sheet."
        for what, count in counts.items()
    )
