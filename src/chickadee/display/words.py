"""How the window says numbers and names."""

from __future__ import annotations

from fractions import Fraction

from ..song import Note, Song
from ..song.beats import beats, read_beats
from ..theory import PitchName

__all__ = ["beats", "both_names", "clock", "counted", "counted_beats", "counts", "read_beats"]

_FEW_PARTS = 16  # of a beat, that are written as a fraction in the status line


def clock(seconds: float) -> str:
    """Minutes and seconds: ``1:05``."""
    whole = round(seconds)
    return f"{whole // 60}:{whole % 60:02}"


def counted(count: int, one: str, many: str | None = None) -> str:
    """``1 note``, ``2 notes``."""
    return f"{count:,} {one if count == 1 else many or one + 's'}"


def both_names(song: Song, note: Note) -> str:
    """A black key under both its names, the written one first; any other pitch, and any drum, by its name."""
    if song.voices[note.voice].is_drums:
        return song.voices[note.voice].name_of(note)
    name = note.pitch.name
    if name.accidental not in (1, -1) or note.number % 12 in (0, 2, 4, 5, 7, 9, 11):
        return song.naming.pitch_pretty(note.pitch)
    other = PitchName.from_fifths(name.fifths - 12 * name.accidental).nearest(note.number)
    return f"{song.naming.pitch_pretty(note.pitch)} / {song.naming.pitch_pretty(other)}"


def counts(song: Song) -> str:
    """The status line's facts about a song."""
    few_parts = song.beats.denominator <= _FEW_PARTS
    lasts = counted_beats(song.beats) if few_parts else f"{float(song.beats):.2f} beats"
    length = f"{lasts} · {song.seconds:.1f} s"
    if not song.notes:
        return f"No notes yet · {length}" if song.end else "No notes yet"
    pitched = [note for note in song.notes if not song.voices[note.voice].is_drums]
    if not pitched:
        return f"{counted(len(song.notes), 'note')} · {length}"
    by_number = {note.number: note.pitch for note in pitched}
    low, high = (song.naming.pitch_pretty(by_number[end(by_number)]) for end in (min, max))
    return " · ".join(
        [
            counted(len(song.notes), "note"),
            counted(len(by_number), "different pitch", "different pitches"),
            low if low == high else f"{low} to {high}",
            length,
        ]
    )


def counted_beats(length: Fraction) -> str:
    """``24 beats``, ``1½ beats``."""
    return f"{beats(length)} beat{'' if length == 1 else 's'}"
