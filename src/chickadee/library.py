"""The library: reads, checks, moves, lists, renders and writes tunes."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from fractions import Fraction
from operator import itemgetter
from pathlib import Path
from typing import TYPE_CHECKING

from .checks import USUAL, checked_reading
from .files import is_file
from .formats.arranging import arranged
from .formats.imported import Form, Imported, found_in_sheet
from .incoming import read as read_any
from .notebook import draw_with
from .outgoing import check_rate, song_of
from .outgoing import write as write_tune
from .reshape import Towards, by_interval, by_octaves, by_semitones, by_steps, mended
from .reshape import to_key as moved_to_key
from .sheet import Finding, Reading, TextEdit, apply_edits
from .sheet import read as read_sheet
from .sheet.walk import Event, EventKind
from .song import Note, Song
from .theory import Interval, Key, Naming, Pitch, read_interval, read_key

if TYPE_CHECKING:
    from .checks import Profile
    from .comparison import Comparison
    from .sound.samples import Samples

__all__ = ["NoteRow", "check", "compare", "notes", "open", "read", "render", "scale", "transpose", "write"]

_SUFFIX = ".chick"
_PAGE = ".html"


def read(text: str) -> Reading:
    """The reading of a sheet's text: its song, and its findings. Never fails, whatever the text says.

    >>> reading = read("C4 D4 H4")
    >>> len(reading.song.notes), reading.findings[0].message
    (2, '“H4” is not a note or sign that Chickadee knows.')

    Raises TypeError for anything but a text, and for the name of a file that is there.
    """
    if not isinstance(text, str):
        raise TypeError(f"read takes the text of a sheet, not {_kind(text)}; open takes a file's name")
    if text.endswith(_SUFFIX) and "\n" not in text and is_file(text):
        raise TypeError(f"read takes the text of a sheet, and {text} is a file; open reads it")
    return checked_reading(text.removeprefix("\ufeff"))


def open(
    path: str | Path,
    *,
    form: str | None = None,
    snap: str | Fraction | None = None,
    phrases: bool = False,
    voices: Collection[int] | None = None,
) -> Reading:
    """The reading of a tune's file: a sheet, or a file of any other form, which is written as a sheet.

    ``form`` names the form where the content does not say: sheet, midi, musicxml, table, list or program. Times stay
    as they are unless ``snap`` is ``"auto"`` or a part of a beat; bars that come again become ``phrases`` if wanted;
    ``voices`` are those to take, counted from 1. Raises FileFault, with one sentence, where it cannot be read.
    """
    if not isinstance(path, str | Path):
        raise TypeError(f"open takes a file's name, not {_kind(path)}")
    found = read_any(path, Form(form) if form is not None else None)
    return checked_reading(arranged(found, snap, phrases, voices).text)


def transpose(
    reading: Reading,
    *,
    semitones: int | None = None,
    steps: int | None = None,
    octaves: int | None = None,
    interval: str | Interval | None = None,
    to_key: str | Key | None = None,
) -> Reading:
    """A tune moved by one of these, the rest of its text as it is; near misses are written out as they were meant.

    >>> transpose(read("C4 E4 G4"), interval="up a minor third").text
    'Eb4 G4 Bb4'

    ``steps`` are of the key in force, ``to_key`` is reached the nearest way. Raises CannotEdit where the text cannot
    take it, KeyNameError and IntervalNameError for names that say nothing, TypeError unless exactly one is given.
    """
    given = [each for each in (semitones, steps, octaves, interval, to_key) if each is not None]
    if not isinstance(reading, Reading):
        raise TypeError(f"transpose takes a reading, not {_kind(reading)}; read and open give one")
    if len(given) != 1:
        raise TypeError("transpose takes one of semitones, steps, octaves, interval and to_key")
    if any(not isinstance(count, int) for count in (semitones, steps, octaves) if count is not None):
        raise TypeError(f"semitones, steps and octaves are whole numbers, not {_kind(given[0])}")
    sheet = read_sheet(mended(reading.text))
    return checked_reading(apply_edits(sheet.text, _moves(sheet, semitones, steps, octaves, interval, to_key)))


def check(reading: Reading, profile: Profile = USUAL) -> tuple[Finding, ...]:
    """Return the findings in a tune by a profile of checks, in order of place.

    >>> [finding.code for finding in check(read("meter: 3/4\\nC4 D4 |"))]
    ['bar-length']
    """
    if not isinstance(reading, Reading):
        raise TypeError(f"check takes a reading, not {_kind(reading)}; read and open give one")
    return checked_reading(reading.text, profile).findings


def compare(model: Reading | Song, attempts: Iterable[Reading | Song | str | Path]) -> list[Comparison]:
    """Judge attempts against a model, each by itself; a file's name stands for that file, of any form.

    >>> model, attempt = read("C4 D4 E4=2"), read("C4 D4 F4=2")
    >>> [(judged.verdict.value, judged.sentence) for judged in compare(model, [attempt])]
    [('differs', '1 difference, at bar 1 beat 3: F4 for E4.')]

    Raises TypeError for anything but readings, songs and files' names, FileFault for files that cannot be read.
    """
    from .comparison import Model, best_reading

    if isinstance(attempts, str | bytes) or not isinstance(attempts, Iterable):
        raise TypeError(f"compare takes a list of readings, songs or files, not {_kind(attempts)}")
    wanted = Model(song_of(model, "compare"))
    return [best_reading(wanted, _as_found(attempt, wanted.song.naming))[1] for attempt in attempts]


def _as_found(attempt: Reading | Song | str | Path, naming: Naming) -> Imported:
    """The music of an attempt; ``naming`` is how pitches in a file are probably named."""
    if isinstance(attempt, str | Path):
        return read_any(attempt, naming=naming)
    if isinstance(attempt, Reading):
        return found_in_sheet(attempt, Form.SHEET)
    return Imported(song_of(attempt, "compare"), Form.SHEET)


def render(tune: Reading | Song, rate: int = 48_000) -> Samples:
    """A tune as sound: an array of shape (frames, 2), 32-bit floats from -1 to 1, ``rate`` frames a second.

    Raises TypeError and ValueError for a rate that is none.
    """
    from .sound.render import Renderer

    renderer = Renderer(song_of(tune, "render"), check_rate(rate))
    return renderer.read(renderer.frames)


@dataclass(frozen=True, slots=True)
class NoteRow:
    """A sounding note in plain values.

    >>> row = notes(read("tempo: 60\\nrest C4=1/2"))[0]
    >>> row.name, row.number, row.beat, row.length_beats, row.start_seconds
    ('C4', 60, Fraction(2, 1), Fraction(1, 2), 1.0)
    """

    voice: str
    bar: int
    """The first whole bar is 1, a pickup 0."""
    beat: Fraction
    """Inside its bar, counted from 1."""
    start_beats: Fraction
    """From the tune's start, in beats of the opening meter."""
    length_beats: Fraction
    """As written, holds joined."""
    start_seconds: float
    length_seconds: float
    name: str
    """``rest`` for a rest, whose number, hertz and loudness are None."""
    number: int | None
    """The MIDI number."""
    hz: float | None
    loudness: int | None
    """The MIDI velocity."""
    line: int
    """Where it is written, counted from 1."""
    column: int


def notes(reading: Reading, rests: bool = False) -> list[NoteRow]:
    """Every sounding note, and every rest if wanted, in order of start, then voice, then number."""
    if not isinstance(reading, Reading):
        raise TypeError(f"notes takes a reading, not {_kind(reading)}; read and open give one")
    song = reading.song
    starts = song.tempo.seconds([note.start for note in song.notes]).tolist()
    ends = song.tempo.seconds([note.end for note in song.notes]).tolist()
    rows = [_row(reading, note, start, end) for note, start, end in zip(song.notes, starts, ends, strict=True)]
    if not rests:
        return rows
    keyed = [((note.start, note.voice, note.number), row) for note, row in zip(song.notes, rows, strict=True)]
    for index, events in enumerate(reading.events):
        for event in events:
            if event.kind is EventKind.REST:
                keyed.append(((event.tick, index, -1), _rest_row(reading, index, event)))
    return [row for _, row in sorted(keyed, key=itemgetter(0))]


def scale(key: str | Key, octave: int = 4) -> tuple[Pitch, ...]:
    """The pitches of a key from its tonic, at or above the C of an octave, to the next tonic.

    >>> [pitch.text for pitch in scale("D dorian")]
    ['D4', 'E4', 'F4', 'G4', 'A4', 'B4', 'C5', 'D5']

    Raises KeyNameError for a name that is no key.
    """
    found = read_key(key) if isinstance(key, str) else key
    if not isinstance(found, Key):
        raise TypeError(f"scale takes a key or its name, not {_kind(key)}")
    return tuple(found.at_step(step, octave) for step in range(1, len(found.names) + 2))


def _moves(
    sheet: Reading,
    semitones: int | None,
    steps: int | None,
    octaves: int | None,
    interval: str | Interval | None,
    key: str | Key | None,
) -> list[TextEdit]:
    if semitones is not None:
        return by_semitones(sheet, semitones)
    if steps is not None:
        return by_steps(sheet, steps)
    if octaves is not None:
        return by_octaves(sheet, octaves)
    if interval is not None:
        return by_interval(sheet, read_interval(interval) if isinstance(interval, str) else interval)
    assert key is not None
    return moved_to_key(sheet, read_key(key) if isinstance(key, str) else key, Towards.NEAREST)


def write(
    tune: Reading | Song,
    path: str | Path,
    *,
    rate: int = 48_000,
    bits: int | str = "16",
    room: bool = False,
    fade: float = 0.0,
) -> None:
    """Write a tune to a file, in place of one that is there; the suffix names the form.

    ``.chick`` is the sheet, ``.mid`` a MIDI file, ``.musicxml`` and ``.mxl`` a score, ``.csv`` a table, ``.html`` a
    page that plays. ``.wav``, ``.flac``, ``.ogg`` and ``.mp3`` are sound of ``rate`` frames a second and ``bits``
    ``16``, ``24`` or ``32f``, in a small ``room`` if wanted, with a ``fade`` of so many seconds at the end. A song
    without text is written as a sheet that reads as that song. Raises FileFault, and then an old file is whole;
    TypeError and ValueError for other values than these.
    """
    if isinstance(path, str | Path) and Path(path).suffix.lower() == _PAGE and isinstance(tune, Reading | Song):
        from .web.files import write_page

        write_page(tune, Path(path))
    else:
        write_tune(tune, path, rate=rate, bits=bits, room=room, fade=fade)


def _row(reading: Reading, note: Note, start: float, end: float) -> NoteRow:
    song = reading.song
    place = song.grid.place(note.start)
    beat = song.meter.beat_ticks
    line, column = reading.place(note.spans[0][0])
    voice = song.voices[note.voice]
    return NoteRow(
        voice=voice.name,
        bar=place.bar,
        beat=place.beat,
        start_beats=Fraction(note.start, beat),
        length_beats=Fraction(note.length, beat),
        start_seconds=round(start, 3),
        length_seconds=round(end - start, 3),
        name=voice.name_of(note) if voice.is_drums else note.pitch.text,
        number=note.number,
        hz=round(song.frequency(note.number), 4),
        loudness=note.loudness,
        line=line,
        column=column,
    )


def _rest_row(reading: Reading, index: int, rest: Event) -> NoteRow:
    song = reading.song
    end = rest.tick + rest.length
    place = song.grid.place(rest.tick)
    beat = song.meter.beat_ticks
    first, last = (float(song.tempo.seconds(tick)) for tick in (rest.tick, end))
    line, column = reading.place(rest.start)
    starts = Fraction(rest.tick, beat)
    lasts = Fraction(rest.length, beat)
    seconds = round(first, 3), round(last - first, 3)
    name = song.voices[index].name
    return NoteRow(name, place.bar, place.beat, starts, lasts, *seconds, "rest", None, None, None, line, column)


def _kind(thing: object) -> str:
    return type(thing).__name__


def _html_of(tune: object) -> str:
    """A tune for a notebook: a page that plays in a frame of its own, and under it the findings."""
    from .web.frame import framed

    return framed(tune) if isinstance(tune, Reading | Song) else ""


draw_with(_html_of)
