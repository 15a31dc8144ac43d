"""Writing another pitch in the place of a note's sign."""

from __future__ import annotations

from collections.abc import Iterable

from ..sheet import CannotEdit, Fix, Reading, TextEdit
from ..sheet.edits import site_of
from ..sheet.written import Named, Number
from ..song import Note
from ..theory import Pitch

__all__ = ["pitch_fixes"]


def pitch_fixes(reading: Reading, note: Note, pitches: Iterable[Pitch]) -> list[Fix]:
    """Fixes that each write a pitch instead of a note's: as a number where a number stands, else by its name.

    None where the sign does not write the note's own pitch (a chord symbol, a step, a phrase that is moved), or where
    it writes other pitches elsewhere too, which would not be mended.
    """
    try:
        site = site_of(reading, note)
        own = [pitch.number for pitch in site.pitches(reading.song.tuning)]
    except CannotEdit:
        return []
    if not isinstance(site.sign.what, Named | Number) or own != [note.number]:
        return []
    if any(other.number != note.number for other in reading.song.notes if other.ink[0] == note.ink[0]):
        return []
    number = isinstance(site.sign.what, Number)
    return [
        Fix(f"Use {pitch.pretty}", (TextEdit(site.start, site.end, str(pitch.number) if number else pitch.text),))
        for pitch in pitches
    ]
