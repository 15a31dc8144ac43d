"""The outcome of a reshaping: the tune as it would be, beside the tune as it is."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ..sheet import Reading, TextEdit, apply_edits, read
from ..song import Note, Song
from . import words

__all__ = ["Outcome", "outcome_of"]


@dataclass(frozen=True)
class Outcome:
    """A tune before and after."""

    edits: tuple[TextEdit, ...]
    before: Song
    after: Song
    changed: tuple[tuple[Note, Note], ...]
    """The notes that would not stay what they are, before and after."""
    outside: frozenset[int]
    """Indices of the notes that would be outside their voice's range."""

    @property
    def table(self) -> list[tuple[str, int, str, int]]:
        """Every pitch that would become another: name and number, before and after, from the lowest up."""
        name = self.before.naming.pitch_pretty
        found = {
            (old.number, new.number): (name(old.pitch), old.number, name(new.pitch), new.number)
            for old, new in self.changed
            if (old.number, old.pitch) != (new.number, new.pitch)
        }
        return [found[numbers] for numbers in sorted(found)]

    @property
    def said(self) -> str:
        """The outcome in words."""
        if not self.edits:
            return "Nothing would change."
        parts = [f"{words.counted(len(self.changed), 'note')} would change"]
        if self.before.key != self.after.key:
            parts.append(f"{self.before.key.pretty} becomes {self.after.key.pretty}")
        if self.before.end != self.after.end:
            parts.append(f"{_beats(self.before)} become {_beats(self.after)}")
        said = "; ".join(parts) + "."
        return f"{said} {words.counted(len(self.outside), 'note')} outside the range." if self.outside else said


def outcome_of(reading: Reading, edits: Iterable[TextEdit]) -> Outcome:
    """Return the outcome of some edits."""
    made = tuple(edits)
    before = reading.song
    after = read(apply_edits(reading.text, made)).song
    pairs = zip(sorted(before.notes, key=_place), sorted(after.notes, key=_place), strict=False)
    changed = tuple((old, new) for old, new in pairs if _sounding(old) != _sounding(new))
    ranges = [voice.range for voice in after.voices]
    outside = frozenset(
        index
        for index, note in enumerate(after.notes)
        if (span := ranges[note.voice]) and not span[0] <= note.number <= span[1]
    )
    return Outcome(made, before, after, changed, outside)


def _beats(song: Song) -> str:
    return words.counted_beats(song.beats)


def _place(note: Note) -> tuple[int, int, int]:
    return note.voice, note.start, note.number


def _sounding(note: Note) -> tuple[object, ...]:
    return note.start, note.length, note.number, note.pitch
