"""Tables of notes, a row each: comma-separated values and their relatives, with headings in any order and wording."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator, Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

from ..csv_text import plain_cell, written
from ..song import TICKS_PER_QUARTER, BarGrid, Meter, Note, Song, Tempo, TempoMap, Voice
from ..song.song import DEFAULT_GAP
from ..song.tempo import playable
from ..theory import Pitch, read_key, read_pitch_name
from .imported import Form, Imported, ImportFault, LengthsIn, Unread, song_of
from .lists import commonest, length_of, pitch_sign

__all__ = ["COLUMNS", "TableFault", "is_table", "read", "rows_of", "write"]

COLUMNS = ("voice", "bar", "beat", "start_beats", "length_beats", "start_seconds", "length_seconds", "name", "number",
           "hz", "loudness", "short", "word")  # fmt: skip
"""The headings of a table that is written."""

_HEADINGS = {
    "voice": r"voice|part|track|instrument|staff|stimme",
    "word": r"word|lyric|syllable|text",
    "octave": r"octave|oct",
    "start_seconds": r"(start|onset|begin|at|when).*(sec|time|\bs\b)|(sec|time).*(start|onset)",
    "length_seconds": r"(length|duration|dur|len|hold|last).*(sec|\bs\b)|sec(ond)?s?|time|dauer",
    "length_ms": r".*(\bms\b|milli).*",
    "start": r"start|onset|begin.*|at|when|position",
    "length": r"(length|duration|dur|len|beats?|count|value|held|ticks?).*",
    "hz": r".*(hz|hertz|freq).*",
    "number": r"midi.*|(note )?(number|no|nr|num|key)|pitch number",
    "loudness": r"loud.*|vel.*|volume|level|dynamic.*",
    "short": r"short|staccato",
    "bar": r"bar|measure",
    "beat": r"beat",
    "name": r"name|note.*|pitch.*|tone|step",
}
_ORDER = ("voice", "word", "octave", "short", "loudness", "length_ms", "bar", "beat", "start_seconds",
          "length_seconds", "start", "length", "hz", "number", "name")  # fmt: skip
_EXACT = {name: name for name in COLUMNS} | {"start_beats": "start", "length_beats": "length"}
_MOST_ROWS = 30_000
_MOST_CELLS = 300_000
_DEFAULT_TEMPO = 120.0


class TableFault(ImportFault):
    """A text is no table of notes."""


def is_table(text: str) -> bool:
    """Whether a text is a table whose headings name a pitch and something else."""
    rows = _rows(text[:20_000])
    return len(rows) > 1 and _columns(rows[0]) is not None


def read(text: str) -> Imported:
    """The tune that a table lists. Raises TableFault."""
    rows = _rows(text)
    columns = _columns(rows[0]) if rows else None
    if columns is None:
        raise TableFault(
            "The headings of this table name no pitch; one column is to be a name, a number or a frequency."
        )
    if len(rows) > _MOST_ROWS or sum(map(len, rows)) > _MOST_CELLS:
        raise TableFault(f"This table has more than {_MOST_ROWS:,} rows or {_MOST_CELLS:,} cells.")
    return replace(_Table(columns, rows[1:], _inks(text, len(rows))[1:]).imported(), source=text)


def _inks(text: str, rows: int) -> list[tuple[int, int]]:
    """Where in a table's text each row stands; nowhere where a cell holds a line end."""
    found, at = [], 0
    for line in text.split("\n"):
        if line.strip():
            found.append((at, at + len(line)))
        at += len(line) + 1
    return found if len(found) == rows else [(0, 0)] * rows


def _rows(text: str) -> list[list[str]]:
    """The rows of a table by the separator that its first line uses most."""
    lines = [line for line in text.replace("\r\n", "\n").split("\n") if line.strip()]
    if not lines:
        return []
    mark = max("\t;,|", key=lines[0].count)
    if mark not in lines[0]:
        return [line.split() for line in lines]
    try:
        return [row for row in csv.reader(io.StringIO("\n".join(lines)), delimiter=mark) if any(map(str.strip, row))]
    except csv.Error:
        return []


def _columns(headings: Sequence[str]) -> dict[str, int] | None:
    """The place of each column by what it holds; None where none holds pitches."""
    found: dict[str, int] = {}
    for place, heading in enumerate(headings):
        plain = " ".join(re.sub(r"[^\w#]+|_", " ", heading.lower()).split())
        if re.search(r"[=0-9{}]|//", heading) or heading.count("(") != heading.count(")"):
            return None  # values or a program, and no headings
        kind = _EXACT.get(heading.strip().lower())
        kind = kind or next((kind for kind in _ORDER if re.fullmatch(_HEADINGS[kind], plain)), None)
        if kind is not None:
            found.setdefault(kind, place)
    if not found.keys() & {"name", "number", "hz"}:
        return None
    return found if len(headings) > 1 else None


class _Table:
    """Rows, read by what their columns hold."""

    def __init__(self, columns: dict[str, int], rows: list[list[str]], inks: list[tuple[int, int]]) -> None:
        self.columns, self.rows, self.inks = columns, rows, inks
        self.left: list[str] = []
        self.unread: list[Unread] = []

    def imported(self) -> Imported:
        tempo, meter = self._tempo(), self._meter()
        per_second = Fraction(tempo).limit_denominator(10_000) / 60 * TICKS_PER_QUARTER
        beat = meter.beat_ticks
        names: dict[str, int] = {}
        here: dict[int, int] = {}  # where a row without a start begins, by voice
        ends: dict[int, int] = {}
        notes: list[Note] = []
        for number, row in enumerate(self.rows, 2):
            voice = names.setdefault(self._cell(row, "voice") or "Melody", len(names))
            start = self._ticks(row, "start", "start_seconds", beat, per_second)
            length = self._ticks(row, "length", "length_seconds", beat, per_second)
            tick = start if start is not None else here.get(voice, 0)
            lasting = length if length is not None else beat
            numbers = self._numbers(row)
            if numbers is None:
                self.unread.append(Unread(voice, tick, lasting, self.inks[number - 2]))
                self.left.append(f"Row {number} of the table names no pitch that can be read, so it is a rest.")
            here[voice] = max(tick + lasting, here.get(voice, 0)) if start is None else tick + lasting
            ends[voice] = max(tick + lasting, ends.get(voice, 0))
            word = self._cell(row, "word").replace(" ", "")
            for each in numbers or ():
                notes.append(Note(tick, voice, max(1, lasting), self._spelled(row, each), each, self._loudness(row),
                                  self._is_short(row), (self.inks[number - 2],), word))  # fmt: skip
        if not notes:
            raise TableFault("This table has no notes.")
        voices = [Voice(name, gap=DEFAULT_GAP, end=ends[place]) for name, place in names.items()]
        frame = Song(grid=BarGrid.of(meter), tempo=TempoMap([Tempo(0, tempo * 4 / meter.lower)]))
        song, used = song_of(voices, notes, frame), sorted({note.voice for note in notes})
        unread = tuple(each._replace(voice=used.index(each.voice)) for each in self.unread if each.voice in used)
        return Imported(song, Form.TABLE, tuple(self.left[:20]), lengths=self._lengths(), unread=unread)

    def _lengths(self) -> LengthsIn:
        if self.columns.keys() & {"length", "start"}:
            return LengthsIn.BEATS
        timed = self.columns.keys() & {"length_seconds", "length_ms", "start_seconds"}
        return LengthsIn.SECONDS if timed else LengthsIn.NOTHING

    def _cell(self, row: Sequence[str], column: str) -> str:
        place = self.columns.get(column)
        return plain_cell(row[place].strip()) if place is not None and place < len(row) else ""

    def _ticks(self, row: Sequence[str], beats: str, seconds: str, beat: int, per_second: Fraction) -> int | None:
        exact = length_of(self._cell(row, beats))
        if exact is not None:
            return round(exact * beat)
        if beats == "length" and (ms := length_of(self._cell(row, "length_ms"))) is not None:
            return round(ms / 1000 * per_second)
        timed = length_of(self._cell(row, seconds))
        return round(timed * per_second) if timed is not None else None

    def _numbers(self, row: Sequence[str]) -> list[int] | None:
        """The MIDI numbers of a row; none for a rest, None where they cannot be read."""
        for column in ("number", "name", "hz"):
            cell = self._cell(row, column)
            if not cell or column not in self.columns:
                continue
            octave = self._cell(row, "octave")
            if column == "name" and re.fullmatch("-?[0-9]", octave) and cell[-1:].isalpha():
                cell += octave
            sign = pitch_sign(cell, hertz=column == "hz")
            if sign is None:
                continue
            return [] if sign == "rest" else [_number(part) for part in sign.split("&")]
        return [] if not any(self._cell(row, column) for column in ("number", "name", "hz")) else None

    def _spelled(self, row: Sequence[str], number: int) -> Pitch:
        named = read_pitch_name(self._cell(row, "name"))
        if named is not None:
            octave = named[1] if named[1] is not None else number // 12 - 1
            pitch = named[0].at(octave)
            if pitch.number == number:
                return pitch
        return read_key("C major").spell(number)

    def _is_short(self, row: Sequence[str]) -> bool:
        return self._cell(row, "short").lower() in ("1", "yes", "true", "x")

    def _loudness(self, row: Sequence[str]) -> int:
        level = length_of(self._cell(row, "loudness"))
        return max(1, min(127, round(level))) if level is not None else 80

    def _tempo(self) -> float:
        """Beats a minute, by rows that give a length in beats and in seconds."""
        for row in self.rows:
            beats, seconds = length_of(self._cell(row, "length")), length_of(self._cell(row, "length_seconds"))
            start, at = length_of(self._cell(row, "start")), length_of(self._cell(row, "start_seconds"))
            if start and at and start > 0 and at > 0:
                return _round(float(60 * start / at))
            if beats and seconds and not {"start", "start_seconds"} <= self.columns.keys():
                return _round(float(60 * beats / seconds))
        lengths = [length for row in self.rows if (length := length_of(self._cell(row, "length_seconds")))]
        if not lengths or any(self._cell(row, "length") for row in self.rows):
            return _DEFAULT_TEMPO
        tempo = float(60 / commonest(lengths))
        while tempo > 240:
            tempo /= 2
        while tempo < 40:
            tempo *= 2
        return _round(tempo)

    def _meter(self) -> Meter:
        """The meter, as far as the bars of the rows tell."""
        last: dict[int, Fraction] = {}
        for row in self.rows:
            bar, beat = length_of(self._cell(row, "bar")), length_of(self._cell(row, "beat"))
            start = length_of(self._cell(row, "start"))
            if bar is not None and beat is not None and start is not None and bar >= 1:
                last[int(bar)] = start - (beat - 1)
        bars = sorted(last)
        spans = [(last[two] - last[one]) / (two - one) for one, two in pairwise(bars)]
        usual = commonest(spans) if spans else Fraction(4)
        if usual.denominator != 1 or not 1 <= usual <= 32:
            return Meter()
        return Meter(int(usual), 8 if usual in (6, 9, 12) else 4)


def _number(sign: str) -> int:
    name, octave = read_pitch_name(sign) or (None, None)
    assert name is not None
    return name.at(4 if octave is None else octave).number


def _round(tempo: float) -> float:
    tempo = playable(tempo)
    return round(tempo) if abs(tempo - round(tempo)) < 0.05 else round(tempo, 2)


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
        "voice": voice.name, "bar": place.bar, "beat": str(place.beat), "start_beats": str(Fraction(start, beat)),
        "length_beats": str(Fraction(end - start, beat)), "start_seconds": round(first, 3),
        "length_seconds": round(last - first, 3), "name": "rest",
    }  # fmt: skip
    if note is None:
        return dict.fromkeys(COLUMNS, None) | known
    name = voice.name_of(note) if voice.is_drums else note.pitch.text
    return known | {
        "name": name, "number": note.number, "hz": round(song.frequency(note.number), 4), "loudness": note.loudness,
        "short": "yes" if note.short else "", "word": note.syllable,
    }  # fmt: skip


def write(song: Song) -> str:
    """The song as comma-separated values with headings, a row for each note and each rest."""
    return written([COLUMNS, *([row[name] for name in COLUMNS] for row in rows_of(song))])
