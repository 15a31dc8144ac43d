"""Writing another pitch in the place of a note's sign."""

from __future__ import annotations

from collections.abc import Iterable

from ..sheet import CannotEdit, Fix, Reading, TextEdit
from ..sheet.written import Named, Number
from ..song import Note
from ..theory import Key, Pitch

__all__ = ["beside_in_key", "pitch_fixes"]


def beside_in_key(key: Key, number: int) -> list[Pitch]:
    """The pitches of a key a semitone below and above a MIDI number."""
    return [key.spell(near) for near in (number - 1, number + 1) if 0 <= near <= 127 and key.contains(near)]


def pitch_fixes(reading: Reading, note: Note, pitches: Iterable[Pitch]) -> list[Fix]:
    """Fixes that each write a pitch instead of a note's: as a number where a number stands, else by its name.

    None where the sign does not write the note's own pitch (a chord symbol, a step, a phrase that is moved), or where
    it writes other pitches elsewhere too, which would not be mended.
    """
    site = reading.site_at(note)
    if site is None or not isinstance(site.sign.what, Named | Number) or reading.numbers_of(note) != {note.number}:
        return []
    try:
        own = [pitch.number for pitch in site.pitches(reading.song.tuning)]
    except CannotEdit:
        return []
    if own != [note.number]:
        return []
    number = isinstance(site.sign.what, Number)
    return [
        Fix(f"Use {pitch.pretty}", (TextEdit(site.start, site.end, str(pitch.number) if number else pitch.text),))
        for pitch in pitches
    ]
