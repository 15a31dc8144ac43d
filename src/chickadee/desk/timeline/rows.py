"""The reading rows: what each says of a cell, and what typing into it does. No Qt."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction

from ...sheet import CannotEdit, Reading, TextEdit, edits
from ...song import Song
from ...theory import read_pitch_name
from .. import words
from .cells import Cell

__all__ = ["ROWS", "USUAL_ROWS", "Row"]

_INTERVALS = ("same", "m2", "M2", "m3", "M3", "P4", "TT", "P5", "m6", "M6", "m7", "M7", "P8")
"""By semitones, as theory books shorten them: minor second, major second … tritone … perfect octave."""


@dataclass(frozen=True, slots=True)
class Row:
    """One of the reading rows."""

    title: str
    text: Callable[[Cell, Song], str]
    edit: Callable[[Reading, list[int], str], list[TextEdit]] | None = None
    """The edits that a text typed into a cell asks for, given the cell's notes from the lowest up by their indices.
    Raises CannotEdit. None for a row that only tells."""


def _numbers(cell: Cell, song: Song) -> str:
    return " ".join(str(note.number) for note in reversed(cell.notes))


def _seconds(cell: Cell, song: Song) -> str:
    start, end = song.tempo.seconds([cell.tick, cell.tick + cell.length])
    return f"{end - start:.2f}"


def _hertz(cell: Cell, song: Song) -> str:
    return " ".join(f"{song.frequency(note.number):.0f}" for note in reversed(cell.notes))


def _steps(cell: Cell, song: Song) -> str:
    """The step of the scale, with an arrow where a note is raised or lowered from it."""
    key = song.key_at(cell.tick)
    by_class = {name.pitch_class: place + 1 for place, name in enumerate(key.names)}
    found = []
    for note in reversed(cell.notes):
        pitch_class = note.number % 12
        if pitch_class in by_class:
            found.append(str(by_class[pitch_class]))
        else:
            found.append(f"{by_class.get((pitch_class - 1) % 12, by_class.get((pitch_class + 1) % 12, '?'))}♯")
    return " ".join(found)


def _above_tonic(cell: Cell, song: Song) -> str:
    tonic = song.key_at(cell.tick).tonic.pitch_class
    return " ".join(str((note.number - tonic) % 12) for note in reversed(cell.notes))


def _interval(cell: Cell, song: Song) -> str:
    if not cell.notes or cell.before is None:
        return ""
    semitones = cell.notes[0].number - cell.before
    name = _INTERVALS[abs(semitones)] if abs(semitones) <= 12 else str(abs(semitones))
    return name if semitones == 0 else f"{'↑' if semitones > 0 else '↓'}{name}"


def _words(cell: Cell, song: Song) -> str:
    return cell.notes[0].syllable if cell.notes else ""


def _set_names(reading: Reading, notes: list[int], typed: str) -> list[TextEdit]:
    names = typed.replace("♯", "#").replace("♭", "b").split()
    if len(names) != len(notes):
        raise CannotEdit(f"Here stand {words.counted(len(notes), 'note')}; please give as many names.")
    found = []
    for note, name in zip(notes, names, strict=True):
        read = read_pitch_name(name)
        if read is None:
            raise CannotEdit(f"“{name}” is not the name of a pitch; names are like F#4, Bb3 or C.")
        octave = reading.song.notes[note].pitch.octave if read[1] is None else read[1]
        found += edits.set_pitch(reading, note, read[0].at(octave).text)
    return found


def _set_numbers(reading: Reading, notes: list[int], typed: str) -> list[TextEdit]:
    if typed[:1] in "+-" and typed[1:].isdigit():
        return edits.move_pitch(reading, notes, int(typed))
    numbers = typed.split()
    if not all(number.isdigit() and int(number) <= 127 for number in numbers) or len(numbers) != len(notes):
        raise CannotEdit("Please give a MIDI number from 0 to 127 for each note here, or +2 or -2 to move them.")
    found = []
    for note, number in zip(notes, numbers, strict=True):
        semitones = int(number) - reading.song.notes[note].number
        found += edits.move_pitch(reading, [note], semitones) if semitones else []
    return found


def _set_beats(reading: Reading, notes: list[int], typed: str) -> list[TextEdit]:
    try:
        beats = words.read_beats(typed.lstrip("+"))
    except ValueError:
        raise CannotEdit(f"“{typed}” is not a number of beats; beats are like 2, 3/2, 0.5 or 1½.") from None
    if typed.startswith("+"):
        note = reading.song.notes[notes[0]]
        beats += Fraction(note.length, reading.song.grid.meter_at(note.start).beat_ticks)
    return edits.set_length(reading, notes[:1], beats)


ROWS = {
    row.title: row
    for row in (
        Row("Name", lambda cell, song: cell.name, _set_names),
        Row("Number", _numbers, _set_numbers),
        Row("Beats", lambda cell, song: words.beats(cell.beats), _set_beats),
        Row("Words", _words),
        Row("Seconds", _seconds),
        Row("Frequency", _hertz),
        Row("Step", _steps),
        Row("Above tonic", _above_tonic),
        Row("Interval", _interval),
    )
}
"""The reading rows by their titles, from the top."""

USUAL_ROWS = ("Name", "Number", "Beats")
