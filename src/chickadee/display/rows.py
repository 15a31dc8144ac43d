"""The reading rows: what each says of a cell, and what typing into it does."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction

from ..sheet import CannotEdit, Reading, TextEdit, edits
from ..sheet.meaning import nearest_part
from ..song import Song
from ..theory import Naming, nearest_number
from . import words
from .cells import Cell

__all__ = ["ROWS", "STAFF_TITLE", "USUAL_ROWS", "Row"]

_MOST_SECONDS = 3600.0  # that a note can be given
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
    plain: Callable[[Cell, Song], str] | None = None
    """The text as a spreadsheet takes it, where that differs."""


def _numbers(cell: Cell, song: Song) -> str:
    return " ".join(str(note.number) for note in reversed(cell.notes))


def _decimal_beats(cell: Cell, song: Song) -> str:
    return f"{float(cell.beats):.6g}"


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


def _moving_do(cell: Cell, song: Song) -> str:
    """The syllables with do on the tonic of the key."""
    naming = Naming.MOVING.in_key(song.key_at(cell.tick))
    return " ".join(naming.pretty(note.pitch.name) for note in reversed(cell.notes))


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
    found = []
    for note, name in _one_each(notes, typed.replace("♯", "#").replace("♭", "b"), "name"):
        read = reading.song.naming.read(name)
        if read is None:
            raise CannotEdit(f"“{name}” is not the name of a pitch; names are like F#4, Bb3 or C.")
        octave = reading.song.notes[note].pitch.octave if read[1] is None else read[1]
        found += edits.set_pitch(reading, note, reading.song.naming.pitch_text(read[0].at(octave)))
    return found


def _whole(text: str, most: int) -> int | None:
    """A whole number from 0 to the most there can be, written in digits; None for any other text."""
    return int(text) if re.fullmatch("[0-9]{1,3}", text) and int(text) <= most else None


def _set_numbers(reading: Reading, notes: list[int], typed: str) -> list[TextEdit]:
    if typed[:1] in ("+", "-") and (by := _whole(typed[1:], 127)) is not None:
        return edits.move_pitch(reading, notes, by if typed[0] == "+" else -by)
    numbers = [number for word in typed.split() if (number := _whole(word, 127)) is not None]
    if len(numbers) != len(notes) or len(numbers) != len(typed.split()):
        raise CannotEdit("Please give a MIDI number from 0 to 127 for each note here, or +2 or -2 to move them.")
    found = []
    for note, number in zip(notes, numbers, strict=True):
        semitones = number - reading.song.notes[note].number
        found += edits.move_pitch(reading, [note], semitones) if semitones else []
    return found


def _set_beats(reading: Reading, notes: list[int], typed: str) -> list[TextEdit]:
    try:
        beats = words.read_beats(typed.lstrip("+"))
    except ValueError:
        raise CannotEdit(f"“{typed}” is not a number of beats; beats are like 2, 3/2, 0.5 or 1½.") from None
    if typed.startswith("+"):
        note = reading.song.notes[notes[0]]
        beats += reading.song.grid.beats(note.start, note.length)
    return edits.set_length(reading, notes[:1], beats)


def _set_steps(reading: Reading, notes: list[int], typed: str) -> list[TextEdit]:
    """``3`` or ``4#``: the step of the key nearest to where each note is."""
    found = []
    for note, word in _one_each(notes, typed, "step"):
        old = reading.song.notes[note]
        key = reading.song.key_at(old.start)
        step = re.fullmatch(r"([1-9][0-9]?)([#♯b♭]?)", word)
        if step is None or int(step[1]) > len(key.names):
            raise CannotEdit(f"“{word}” is not a step of {key.pretty}; it has 1 to {len(key.names)}, and 4# or 7b.")
        raised = {"": 0, "#": 1, "♯": 1, "b": -1, "♭": -1}[step[2]]
        pitch = key.at_step(int(step[1]), 4, raised).name.nearest(old.number)
        found += edits.set_pitch(reading, note, reading.song.naming.pitch_text(pitch))
    return found


def _set_moving_do(reading: Reading, notes: list[int], typed: str) -> list[TextEdit]:
    """``la`` or ``fa#``: the pitch of that syllable nearest to where each note is."""
    found = []
    for note, word in _one_each(notes, typed, "syllable"):
        old = reading.song.notes[note]
        sung = Naming.MOVING.in_key(reading.song.key_at(old.start)).read(word)
        if sung is None or sung[1] is not None:
            raise CannotEdit(f"“{word}” is not a syllable; they are do re mi fa sol la ti, and fa# or tib.")
        found += edits.set_pitch(reading, note, reading.song.naming.pitch_text(sung[0].nearest(old.number)))
    return found


def _set_above_tonic(reading: Reading, notes: list[int], typed: str) -> list[TextEdit]:
    """Semitones above the tonic, nearest to where each note is."""
    found = []
    for note, word in _one_each(notes, typed, "number of semitones"):
        if (semitones := _whole(word, 11)) is None:
            raise CannotEdit(f"“{word}” is not a number of semitones above the tonic; they go from 0 to 11.")
        old = reading.song.notes[note]
        away = (reading.song.key_at(old.start).tonic.pitch_class + semitones - old.number + 6) % 12 - 6
        found += edits.move_pitch(reading, [note], away) if away else []
    return found


def _set_hertz(reading: Reading, notes: list[int], typed: str) -> list[TextEdit]:
    """The pitches nearest to some frequencies."""
    found = []
    for note, word in _one_each(notes, typed, "frequency"):
        try:
            number = nearest_number(float(re.sub("(?i)hz$", "", word).replace(",", ".")), reading.song.tuning)
        except (ValueError, OverflowError):
            raise CannotEdit(f"“{word}” is not a frequency; they are like 440 or 261.63.") from None
        away = number - reading.song.notes[note].number
        found += edits.move_pitch(reading, [note], away) if away else []
    return found


def _set_seconds(reading: Reading, notes: list[int], typed: str) -> list[TextEdit]:
    """The length whose seconds come nearest, in common parts of a beat."""
    try:
        seconds = float(typed.replace(",", "."))
        if not 0 < seconds <= _MOST_SECONDS:
            raise ValueError(typed)
    except ValueError:
        raise CannotEdit(f"“{typed}” is not a number of seconds; they are like 0.5, up to an hour.") from None
    song = reading.song
    note = reading.song.notes[notes[0]]
    ticks = song.tempo.tick(float(song.tempo.seconds(note.start)) + seconds) - note.start
    return edits.set_length(reading, notes[:1], nearest_part(song.grid.beats(note.start, Fraction(ticks))))


def _set_interval(reading: Reading, notes: list[int], typed: str) -> list[TextEdit]:
    """``↑M3``, ``+4`` or ``-P5``: the highest note so far from the highest struck before it in its voice."""
    found = re.fullmatch(r"([+↑↓-]?)\s*(\S+)", typed.strip())
    name = found[2] if found else ""
    size = _whole(name, 127)
    if size is None and name in _INTERVALS:
        size = _INTERVALS.index(name)
    if found is None or size is None:
        raise CannotEdit(f"“{typed}” is not an interval; they are like ↑M3, -P5 or +4 semitones.")
    note = reading.song.notes[notes[-1]]
    before = [
        (other.start, other.number)
        for other in reading.song.notes
        if other.voice == note.voice and other.start < note.start
    ]
    if not before:
        raise CannotEdit("There is no note before this one.")
    away = max(before)[1] + (-size if found[1] in ("-", "↓") else size) - note.number
    return edits.move_pitch(reading, notes[-1:], away) if away else []


def _set_words(reading: Reading, notes: list[int], typed: str) -> list[TextEdit]:
    return edits.set_syllable(reading, notes[0], typed)


def _one_each(notes: list[int], typed: str, what: str) -> list[tuple[int, str]]:
    words_typed = typed.split()
    if len(words_typed) != len(notes):
        raise CannotEdit(f"There are {words.counted(len(notes), 'note')}; please give a {what} for each.")
    return list(zip(notes, words_typed, strict=True))


ROWS = {
    row.title: row
    for row in (
        Row("Name", lambda cell, song: cell.name, _set_names),
        Row("Number", _numbers, _set_numbers),
        Row("Beats", lambda cell, song: words.beats(cell.beats), _set_beats, _decimal_beats),
        Row("Words", _words, _set_words),
        Row("Seconds", _seconds, _set_seconds),
        Row("Frequency", _hertz, _set_hertz),
        Row("Step", _steps, _set_steps),
        Row("Sol-fa", _moving_do, _set_moving_do),
        Row("Above tonic", _above_tonic, _set_above_tonic),
        Row("Interval", _interval, _set_interval),
    )
}
"""The reading rows by their titles, from the top."""

STAFF_TITLE = "Staff"
"""The row that is drawn and not written: the notes on five lines."""
USUAL_ROWS = ("Name", "Number", "Beats")
