"""Lists and tables that are pasted into a sheet."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from itertools import groupby
from operator import attrgetter

from ..song import Note
from . import anything
from .arranging import arranged
from .imported import Form, Imported, ImportFault, LengthsIn

__all__ = ["pasted"]

_LONGEST = 200_000  # characters of a paste that is looked at
_IN_A_LINE = 8


def pasted(text: str, alone: bool) -> str | None:
    """Return a list or table as it is written in a sheet; None for any other text.

    Several voices are written only where the text is ``alone`` in its sheet.

    >>> pasted("notes = [60, 'D4']\\nbeats = [1, 2]", alone=False)
    '60 D4=2'
    """
    if len(text) > _LONGEST:
        return None
    try:
        found = anything.read_text(text)
    except ImportFault:
        return None
    if found.form not in (Form.LIST, Form.TABLE):
        return None
    if len(found.song.voices) > 1 or _overlaps(found):
        return arranged(found, snap=None).text if alone else None
    words = list(_words(found))
    lines = [" ".join(words[place : place + _IN_A_LINE]) for place in range(0, len(words), _IN_A_LINE)]
    if found.lengths is LengthsIn.SECONDS and alone:
        lines.insert(0, f"tempo: {found.song.tempo_in_beats:g}")
    sheet = "\n".join(lines)
    return sheet if sheet != text.strip() else None


def _overlaps(found: Imported) -> bool:
    end = start = 0
    for note in found.song.notes:
        if start < note.start < end or (note.start == start and end and note.end != end):
            return True
        start = note.start
        end = note.end
    return False


def _words(found: Imported) -> Iterator[str]:
    """The signs of a voice, rests between them; numbers stay numbers."""
    song = found.song
    beat = song.meter.beat_ticks
    here = 0
    for start, group in groupby(song.notes, key=attrgetter("start")):
        notes = list(group)
        if start > here:
            yield _sign("rest", Fraction(start - here, beat))
        yield _sign("&".join(_name(found, note) for note in notes), Fraction(notes[0].length, beat))
        here = notes[0].end
    if song.end > here:
        yield _sign("rest", Fraction(song.end - here, beat))


def _name(found: Imported, note: Note) -> str:
    written = (found.source or "")[slice(*note.spans[0])] if note.spans else ""
    return written if written == str(note.number) else note.pitch.text


def _sign(name: str, beats: Fraction) -> str:
    return name if beats == 1 else f"{name}={beats}"
