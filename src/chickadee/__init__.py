"""Chickadee: tunes as names and numbers, read, checked, moved, rendered and sent out.

>>> import chickadee
>>> reading = chickadee.read("C4 62 E4=2")
>>> [note.pitch.text for note in reading.song.notes]
['C4', 'D4', 'E4']
>>> chickadee.transpose(reading, semitones=2).text
'D4 64 F#4=2'

What ``dir(chickadee)`` lists is for programs to use; docs/python.md shows it at work. Each part is loaded when it is
first asked for.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING

from .version import VERSION

if TYPE_CHECKING:
    from .checks import Profile
    from .comparison import Verdict
    from .faults import InputFault
    from .files import FileFault
    from .lessons import (
        TargetTexts,
        handout_pages,
        listen,
        playing_page,
        practice_tunes,
        program,
        send,
        show,
        tidy,
    )
    from .library import NoteRow, check, compare, notes, open, read, render, scale, transpose, write
    from .sheet import CannotEdit, Finding, Reading
    from .song import Note, Song
    from .theory import Chord, Interval, Key, Pitch, frequency

__all__ = [
    "CannotEdit",
    "Chord",
    "FileFault",
    "Finding",
    "InputFault",
    "Interval",
    "Key",
    "Note",
    "NoteRow",
    "Pitch",
    "Profile",
    "Reading",
    "Song",
    "TargetTexts",
    "Verdict",
    "check",
    "compare",
    "frequency",
    "handout_pages",
    "listen",
    "notes",
    "open",
    "playing_page",
    "practice_tunes",
    "program",
    "read",
    "render",
    "scale",
    "send",
    "show",
    "tidy",
    "transpose",
    "write",
]  # fmt: skip
__version__ = VERSION

_HOMES = {
    "checks": ("Profile",),
    "comparison": ("Verdict",),
    "faults": ("InputFault",),
    "files": ("FileFault",),
    "lessons": (
        "TargetTexts",
        "handout_pages",
        "listen",
        "playing_page",
        "practice_tunes",
        "program",
        "send",
        "show",
        "tidy",
    ),
    "library": ("NoteRow", "check", "compare", "notes", "open", "read", "render", "scale", "transpose", "write"),
    "sheet": ("CannotEdit", "Finding", "Reading"),
    "song": ("Note", "Song"),
    "theory": ("Chord", "Interval", "Key", "Pitch", "frequency"),
}


def __getattr__(name: str) -> object:
    for home, names in _HOMES.items():
        if name in names:
            found: object = getattr(import_module(f".{home}", __name__), name)
            globals()[name] = found
            return found
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")


def __dir__() -> list[str]:
    return [*__all__, "__version__"]
