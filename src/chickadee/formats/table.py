"""Tables of notes, a row each: comma-separated values and their relatives, with headings in any order and wording."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator, Sequence
from fractions import Fraction

from ..csv_text import written
from ..song import Note, Song, Voice
from ..theory import Naming
from .columns import COLUMNS, PITCH_KINDS, kind_of, roles_of
from .imported import Form, Imported, ImportFault
from .parts import Part, Whole, tune_of
from .signs import number_of, pitches_of

__all__ = ["COLUMNS", "TableFault", "is_table", "read", "rows_of", "write"]

_MOST_ROWS = 30_000
_MOST_CELLS = 300_000
_MOST_ABOVE = 5  # rows above the headings
_SAMPLE = 20_000  # characters
_MARKS = "\t;,|"  # between cells
_GERMAN = ("ton", "töne", "note", "länge", "dauer", "tonhöhe")  # what headings begin with where H is a name
_VALUE = re.compile(r"[={}\[\]\"0-9]|//|\(\)")


class TableFault(ImportFault):
    """A text is no table of notes."""


class _Line:
    """A row of a table: its cells, and where it stands in the text."""

    def __init__(self, cells: list[str], span: tuple[int, int]) -> None:
        self.cells = cells
        self.span = span


def is_table(text: str) -> bool:
    """Return whether a text is a table whose headings name a pitch and something else."""
    lines = _lines(text[: text.find("\n", _SAMPLE)] if len(text) > _SAMPLE else text)
    return any(_kinds(line.cells) for line in lines[:_MOST_ABOVE]) and len(lines) > 1


def read(text: str, naming: Naming = Naming.LETTERS) -> Imported:
    """The tune that a table lists; a further row of the same headings begins another voice. Raises TableFault."""
    lines = _lines(text)
    first = next((place for place, line in enumerate(lines[:_MOST_ABOVE]) if _kinds(line.cells)), None)
    if first is None:
        raise TableFault(
            "The headings of this table name no pitch; one column is to be a name, a number or a frequency."
        )
    if len(lines) > _MOST_ROWS or sum(len(line.cells) for line in lines) > _MOST_CELLS:
        raise TableFault(f"This table has more than {_MOST_ROWS:,} rows or {_MOST_CELLS:,} cells.")
    headings = lines[first].cells
    blocks = _blocks(lines, first, text)
    parts = [_part(headings, block, row, naming) for row, block in blocks]
    if not parts:
        raise TableFault("This table has no notes.")
    if len(parts) == 1 or parts[0].columns.keys() & {"voice", "start", "start_seconds", "start_ms"}:
        whole = Whole([_part(headings, [line for _, block in blocks for line in block], first + 2, naming)])
    else:
        whole = Whole(parts, any(_begins_with_rest(part) for part in parts[1:]), is_clear=False)
    is_german = any(heading.strip().lower().startswith(_GERMAN) for heading in headings)
    return tune_of(whole, Form.TABLE, text, naming, is_german=is_german)


def _blocks(lines: Sequence[_Line], first: int, text: str) -> list[tuple[int, list[_Line]]]:
    """The rows below the headings, parted where a row is left empty or the headings come again; each with the number
    of its first row."""
    headings = lines[first].cells
    found: list[tuple[int, list[_Line]]] = []
    begins = True
    for place, line in enumerate(lines[first + 1 :], first + 1):
        if line.cells == headings:
            begins = True
            continue
        between = text[lines[place - 1].span[1] : line.span[0]]
        if begins or between.count("\n") > 1:
            found.append((place + 1, []))
        found[-1][1].append(line)
        begins = False
    return found


def _begins_with_rest(part: Part) -> bool:
    cells = [part.cells(kind)[0] for kind in ("name", "number", "hz") if kind in part.columns]
    return not any(pitches_of(cell) for cell in cells)


def _lines(text: str) -> list[_Line]:
    """The rows of a table by the separator that its first lines use most."""
    found: list[tuple[str, tuple[int, int]]] = []
    at = 0
    for line in text.split("\n"):
        if line.strip():
            found.append((line.rstrip("\r"), (at, at + len(line))))
        at += len(line) + 1
    if not found:
        return []
    marked = next((line for line, _ in found[:_MOST_ABOVE] if any(mark in line for mark in _MARKS)), "")
    mark = max(_MARKS, key=marked.count)
    if not marked:
        rows = [_Line(line.split(), span) for line, span in found]
        return rows if len({len(row.cells) for row in rows}) == 1 else []
    try:
        cells = list(csv.reader(io.StringIO("\n".join(line for line, _ in found)), delimiter=mark))
    except csv.Error:
        return []
    spans = [span for _, span in found] if len(cells) == len(found) else [(0, 0)] * len(cells)
    return [_Line(row, span) for row, span in zip(cells, spans, strict=True) if any(cell.strip() for cell in row)]


def _kinds(headings: Sequence[str]) -> list[str | None]:
    """Return the kinds of the columns by their headings; none where these are no headings of a table of notes."""
    kinds = [kind_of(heading) for heading in headings]
    if sum(bool(heading.strip()) for heading in headings) < 2 or any(_is_value(heading) for heading in headings):
        return []
    known = {kind for kind in kinds if kind is not None}
    pitched = known & (PITCH_KINDS | {"index"})
    return kinds if (pitched and len(known) > 1) or (known & PITCH_KINDS and len(headings) > 1) else []


def _is_value(heading: str) -> bool:
    """Return whether a cell is a value or a part of a program, and no heading."""
    word = heading.strip()
    return _VALUE.search(word) is not None or word.count("(") != word.count(")")


def _part(headings: Sequence[str], lines: Sequence[_Line], first_row: int, naming: Naming) -> Part:
    rows = [line.cells for line in lines]
    columns: dict[str, int] = {}
    called: dict[str, str] = {}
    for place, (kind, heading) in enumerate(zip(_kinds(headings), headings, strict=True)):
        if kind is not None and kind not in columns:
            columns[kind] = place
            called[kind] = heading
    cells = [[row[place] if place < len(row) else "" for row in rows] for place in range(len(headings))]
    if not columns.keys() & PITCH_KINDS:
        columns |= _pitch_by_content(columns, cells, naming)
    columns.pop("index", None)
    if "beat" in columns and not columns.keys() & {"bar", "length", "length_seconds", "length_ms"}:
        columns["length"] = columns.pop("beat")
        called["length"] = "beats"
    if (
        "time" in columns
        and not columns.keys() & {"start", "start_seconds", "start_ms"}
        and _is_rising(cells[columns["time"]])
    ):
        columns["start_seconds"] = columns.pop("time")
    if "voice" in columns and len(set(cells[columns["voice"]])) * 2 > max(8, len(rows)):
        del columns["voice"]  # it counts something else
    return Part(columns, rows, [line.span for line in lines], called, first_row=first_row)


def _pitch_by_content(columns: dict[str, int], cells: Sequence[Sequence[str]], naming: Naming) -> dict[str, int]:
    """The column of pitches, where no heading says which it is."""
    taken = {place for kind, place in columns.items() if kind != "index"}
    free = [place for place in range(len(cells)) if place not in taken]
    roles = roles_of([cells[place] for place in free], naming) if free else None
    return {kind: free[roles[kind]] for kind in PITCH_KINDS & roles.keys()} if roles else {}


def _is_rising(cells: Sequence[str]) -> bool:
    numbers = [number for cell in cells if (number := number_of(cell)) is not None]
    return len(numbers) > 2 and numbers == sorted(numbers) and len(set(numbers)) * 2 > len(numbers)


def rows_of(song: Song, rests: bool = True) -> Iterator[dict[str, object]]:
    """A row for each note of a song by voice and start, and for each rest between them; numbers are plain values."""
    beat = song.meter.beat_ticks
    for index, voice in enumerate(song.voices):
        mine = [song.notes[place] for place in song.by_voice[index].tolist()]
        here = 0
        for note in mine:
            if rests and note.start > here:
                yield _row(song, voice, here, note.start, beat, None)
            yield _row(song, voice, note.start, note.end, beat, note)
            here = max(here, note.end)
        if rests and voice.end > here:
            yield _row(song, voice, here, voice.end, beat, None)


def _row(song: Song, voice: Voice, start: int, end: int, beat: int, note: Note | None) -> dict[str, object]:
    place = song.grid.place(start)
    first, last = (float(song.tempo.seconds(tick)) for tick in (start, end))
    known: dict[str, object] = {
        "voice": voice.name,
        "bar": place.bar,
        "beat": str(place.beat),
        "start_beats": str(Fraction(start, beat)),
        "length_beats": str(Fraction(end - start, beat)),
        "start_seconds": round(first, 3),
        "length_seconds": round(last - first, 3),
        "name": "rest",
    }
    if note is None:
        return dict.fromkeys(COLUMNS, None) | known
    name = voice.name_of(note) if voice.is_drums else note.pitch.text
    return known | {
        "name": name,
        "number": note.number,
        "hz": round(song.frequency(note.number), 4),
        "loudness": note.loudness,
        "short": "yes" if note.short else "",
        "word": note.syllable,
    }


def write(song: Song) -> str:
    """The song as comma-separated values with headings, a row for each note and each rest."""
    return written([COLUMNS, *([row[name] for name in COLUMNS] for row in rows_of(song))])
