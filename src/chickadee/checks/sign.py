"""Writing another pitch in the place of a note's sign."""

from __future__ import annotations

from collections.abc import Iterable

from ..sheet import Fix, Reading, TextEdit
from ..song import Note
from ..theory import Pitch, read_pitch_name

__all__ = ["pitch_fixes"]


def pitch_fixes(reading: Reading, note: Note, pitches: Iterable[Pitch]) -> list[Fix]:
    """Fixes that each write a pitch instead of a note's: as a number where a number stands, else by its name.

    None where the sign does not write the note's own pitch: a chord symbol, a step, a phrase that is moved.
    """
    start, end = note.ink[0]
    sign = reading.text[start:end].partition("=")[0].lstrip(">'")
    if not _writes(sign, note):
        return []
    at = reading.text.index(sign, start)
    return [
        Fix(
            f"Use {pitch.pretty}",
            (TextEdit(at, at + len(sign), str(pitch.number) if sign.isdigit() else pitch.text),),
        )
        for pitch in pitches
    ]


def _writes(sign: str, note: Note) -> bool:
    if sign.isascii() and sign.isdigit():
        return int(sign) == note.number
    named = read_pitch_name(sign)
    if named is None:
        return False
    name, octave = named
    return name.pitch_class == note.number % 12 and octave in (None, note.pitch.octave)
