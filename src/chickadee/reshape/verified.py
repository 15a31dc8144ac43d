"""Edits that were tried out: what a reshaping would lose or get wrong is said instead of done."""

from __future__ import annotations

from collections.abc import Iterable

from ..sheet import CannotEdit, Reading, Severity, TextEdit, apply_edits, read
from ..song import Song

__all__ = ["verified"]


def verified(reading: Reading, edits: Iterable[TextEdit], semitones: int | None = None) -> list[TextEdit]:
    """Those of some edits that change anything, once the sheet they make has been read.

    ``semitones`` is how far every note but drums is to have moved, where that is known. Raises CannotEdit where a
    note would be lost, something would be an error that was none, or a note would be another than it should.
    """
    made = [edit for edit in edits if reading.text[edit.start : edit.end] != edit.text]
    after = read(apply_edits(reading.text, made))
    if len(after.song.notes) < len(reading.song.notes):
        raise CannotEdit("Some notes would leave the pitches MIDI has, C-1 to G9.")
    known = {finding.code for finding in reading.findings}
    for finding in after.findings:
        if finding.severity is Severity.ERROR and finding.code not in known:
            raise CannotEdit(f"That would make a fault: {finding.message}")
    if semitones is not None and _numbers(after.song, 0) != _numbers(reading.song, semitones):
        raise CannotEdit(
            "A phrase here means other pitches in each key or octave it is used in; "
            "please write it out where it is used, and then move the tune."
        )
    return made


def _numbers(song: Song, semitones: int) -> list[tuple[int, int, int]]:
    """Voice, tick and MIDI number of every note, those of pitched voices moved."""
    drums = [voice.is_drums for voice in song.voices]
    return sorted(
        (note.voice, note.start, note.number + (0 if drums[note.voice] else semitones)) for note in song.notes
    )
