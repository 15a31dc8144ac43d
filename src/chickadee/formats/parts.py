"""Parts of a tune as rows of signs, from lists and tables alike, and the song that they mean."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from itertools import pairwise, product

from ..csv_text import plain_cell
from ..song import BarGrid, Meter, Note, Song, Tempo, TempoMap, Voice
from ..song.song import DEFAULT_GAP
from ..song.tempo import playable
from ..theory import Naming, Pitch
from .imported import Form, Imported, ImportFault, LengthsIn, Unread, song_of
from .signs import is_hertz, length_of, likely_namings, pitches_of
from .units import LengthColumn, Unit, commonest, likely_units

__all__ = ["Part", "Whole", "tune_of"]

_DEFAULT_TEMPO = 120.0
_USUAL_TEMPOS = (40, 240)  # beats a minute
_FINEST = 96  # parts of a beat that decimals and seconds are rounded to
_MOST_SAID = 20  # sentences about rows
_MOST_OTHERS = 3
_LONGEST_SIGN = 20  # characters of a sign that are said
_MOST_NOTES = 30_000


@dataclass(slots=True)
class Part:
    """Rows of signs, a note or rest each, in order."""

    columns: dict[str, int]
    """The place of each kind of column in a row."""
    rows: list[list[str]]
    spans: list[tuple[int, int]]
    """Offsets of what stands for each row in the text."""
    headings: dict[str, str] = field(default_factory=dict)
    """How the columns are called, by kind."""
    name: str = ""
    """Of the voice that it is; empty where it has none."""
    first_row: int | None = None
    """The number of its first row, where rows are counted, as in a table."""

    def cells(self, kind: str) -> list[str]:
        """A column's cells; none where there is no such column."""
        place = self.columns.get(kind)
        return [] if place is None else [row[place] if place < len(row) else "" for row in self.rows]


@dataclass(slots=True)
class Whole:
    """All that a text says about a tune."""

    parts: list[Part]
    are_voices: bool = True
    """True if the parts sound together; else one follows the other."""
    is_clear: bool = True
    """True if that is said, or is a guess."""
    tempo: float | None = None
    """Beats a minute; None where none is given."""
    title: str = ""
    said: list[str] = field(default_factory=list)
    """Sentences about what is left out."""


def tune_of(
    whole: Whole, form: Form, source: str, naming: Naming, may_be_h: bool = True, is_german: bool = False
) -> Imported:
    """The tune that some parts mean, with the other ways in which they can be read. Raises ImportFault.

    ``naming`` is how pitches are probably named; ``may_be_h`` tells whether an H shows that B is B flat,
    ``is_german`` whether B may be that without one.
    """
    if sum(len(part.rows) for part in whole.parts) > _MOST_NOTES:
        raise ImportFault(f"This text has more than {_MOST_NOTES:,} notes.")
    for part in whole.parts:
        _know_hertz(part)
    texts = [text for part in whole.parts for text in part.cells("length")]
    heading = next((part.headings.get("length", "") for part in whole.parts if "length" in part.columns), "")
    hertz = any("hz" in part.columns for part in whole.parts)
    units = likely_units(texts, heading, hertz) if texts else [LengthColumn(Unit.BEATS)]
    names = [text for part in whole.parts for text in part.cells("name")]
    namings = likely_namings(names, naming, may_be_h, is_german)
    orders = (
        [whole.are_voices] if whole.is_clear or len(whole.parts) < 2 else [whole.are_voices, not whole.are_voices]
    )
    ways = list(product(orders, namings, units))[: _MOST_OTHERS + 1]
    found = [_Composer(whole, voices, name, unit).imported(form, source) for voices, name, unit in ways]
    return replace(
        found[0], others=tuple(found[1:]), left_out=(*found[0].left_out, *_ties(whole, orders, namings, units))
    )


def _know_hertz(part: Part) -> None:
    """Take a column that is called pitches for one of frequencies, where it holds those."""
    for kind in ("name", "number"):
        if "hz" not in part.columns and is_hertz(part.cells(kind)):
            part.columns["hz"] = part.columns.pop(kind)


def _ties(
    whole: Whole, orders: Sequence[bool], namings: Sequence[Naming], units: Sequence[LengthColumn]
) -> Iterator[str]:
    """A sentence for each thing that can be read in two ways."""
    if len(orders) > 1:
        first, other = (
            ("sound together", "follow one another") if whole.are_voices else ("follow one another", "sound together")
        )
        yield f"The {len(whole.parts)} parts of this text were taken to {first}; they may be meant to {other}."
    if len(units) > 1:
        yield f"The lengths were taken as {units[0].unit.value}; they may be meant as {units[1].unit.value}."
    if len(namings) > 1:
        yield f"B was taken as {'B flat' if namings[0] == Naming.H else 'B'}; where H is B, it is B flat."


class _Composer:
    """Turns rows into the notes of a song, read in one way."""

    def __init__(self, whole: Whole, are_voices: bool, naming: Naming, lengths: LengthColumn) -> None:
        self._whole = whole
        self._are_voices = are_voices
        self._naming = naming
        self._lengths = lengths
        self._tempo = whole.tempo or _tempo_of(whole.parts, lengths)
        self._meter = _meter_of(whole.parts)
        self._per_second = Fraction(self._tempo).limit_denominator(10_000) / 60  # beats
        self._names: dict[str, int] = {}
        self._ends: dict[int, int] = {}
        self._notes: list[Note] = []
        self._unread: list[Unread] = []
        self._said: list[str] = []

    def imported(self, form: Form, source: str) -> Imported:
        """The song, and what could not be read."""
        for place, part in enumerate(self._whole.parts):
            self._add(place, part)
        if not self._notes:
            raise ImportFault("This text has no notes.")
        voices = [Voice(name, gap=DEFAULT_GAP, end=self._ends.get(at, 0)) for name, at in self._names.items()]
        frame = Song(
            title=self._whole.title,
            grid=BarGrid.of(self._meter),
            tempo=TempoMap([Tempo(0, self._tempo * 4 / self._meter.lower)]),
            naming=self._naming,
        )
        song = song_of(voices, self._notes, frame)
        used = sorted({note.voice for note in self._notes})
        unread = tuple(each._replace(voice=used.index(each.voice)) for each in self._unread if each.voice in used)
        said = (*self._whole.said, *self._said[:_MOST_SAID])
        return Imported(song, form, said, source=source, lengths=self._lengths_in(), unread=unread)

    def _lengths_in(self) -> LengthsIn:
        kinds = {kind for part in self._whole.parts for kind in part.columns}
        if kinds & {"length", "end", "start"}:
            return LengthsIn.SECONDS if self._lengths.unit.is_time else LengthsIn.BEATS
        timed = any(kind.endswith(("_seconds", "_ms")) or kind == "time" for kind in kinds)
        return LengthsIn.SECONDS if timed else LengthsIn.NOTHING

    def _add(self, place: int, part: Part) -> None:
        usual = part.name or ("Melody" if place == 0 or not self._are_voices else f"Voice {place + 1}")
        here: dict[int, Fraction] = {}  # where a row without a start begins, in beats, by voice
        beat = self._meter.beat_ticks
        for number, row in enumerate(part.rows):
            voice = self._voice(_cell(part, row, "voice") or usual, part)
            begun = here.get(voice, Fraction(0) if self._are_voices else Fraction(self._ends.get(voice, 0), beat))
            given = self._start(part, row)
            start = begun if given is None else given
            length = self._length(part, row, start, number)
            span = part.spans[number]
            pitches = self._pitches(part, row)
            tick = round(start * beat)
            lasting = max(1, round(length * beat)) if length > 0 else 0
            if pitches is None:
                self._unread.append(Unread(voice, tick, lasting or beat, span))
                sign = _cell(part, row, *_PITCHES)[:_LONGEST_SIGN]
                self._said.append(f"{_where(part, number)}“{sign}” names no pitch, so it is a rest.")
            here[voice] = start + length
            self._ends[voice] = max(tick + lasting, self._ends.get(voice, 0))
            word = _cell(part, row, "word").replace(" ", "")
            for pitch in pitches or () if lasting else ():
                self._notes.append(
                    Note(
                        tick,
                        voice,
                        lasting,
                        pitch,
                        pitch.number,
                        self._loudness(part, row),
                        _is_short(part, row),
                        (span,),
                        word,
                    )
                )

    def _voice(self, name: str, part: Part) -> int:
        return self._names.setdefault(name if self._are_voices or part.name else "Melody", len(self._names))

    def _pitches(self, part: Part, row: Sequence[str]) -> tuple[Pitch, ...] | None:
        """The pitches of a row; none for a rest, None where they cannot be read."""
        found = {}
        for kind in _PITCHES:
            cell = _cell(part, row, kind)
            octave = _cell(part, row, "octave") if kind == "name" else ""
            if re.fullmatch("-?[0-9]", octave) and re.search(r"[^\W\d_]$|[#♯♭]$", cell):
                cell += octave
            if cell:
                naming = self._naming if kind == "name" else Naming.LETTERS
                found[kind] = pitches_of(cell, kind == "hz", naming)
        sounding = found.get("number") or found.get("name") or found.get("hz")
        if not sounding:
            return () if not found or any(each is not None for each in found.values()) else None
        named = found.get("name") or sounding
        is_same = [pitch.number for pitch in named] == [pitch.number for pitch in sounding]
        return named if is_same else sounding

    def _start(self, part: Part, row: Sequence[str]) -> Fraction | None:
        return self._time(part, row, "start")

    def _length(self, part: Part, row: Sequence[str], start: Fraction, number: int) -> Fraction:
        length = self._time(part, row, "length")
        if length is None and (end := self._time(part, row, "end")) is not None:
            length = end - start
        if length is None and (end := self._time(part, row, "time")) is not None:
            length = end
        if length is not None:
            return max(Fraction(0), length)
        sign = _cell(part, row, "length")
        if sign:
            self._said.append(f"{_where(part, number)}“{sign[:_LONGEST_SIGN]}” is no length, so it is one beat.")
        return Fraction(1)

    def _time(self, part: Part, row: Sequence[str], kind: str) -> Fraction | None:
        """A start, length or end in beats; None where it is not given."""
        if (cell := _cell(part, row, kind)) and (found := self._counted(cell, kind)) is not None:
            if self._lengths.unit.is_time or kind == "time":
                found *= self._per_second
            return found if "/" in cell else _meant(found)
        for ending, parts in (("_seconds", 1), ("_ms", 1000)):
            if (number := length_of(_cell(part, row, kind + ending))) is not None:
                return _meant(number / parts * self._per_second)
        return None

    def _counted(self, cell: str, kind: str) -> Fraction | None:
        counts_parts = self._lengths.unit in (Unit.PARTS, Unit.WHOLES)
        return (
            length_of(cell) if (kind != "length" and counts_parts) or kind == "time" else self._lengths.beats_of(cell)
        )

    def _loudness(self, part: Part, row: Sequence[str]) -> int:
        level = length_of(_cell(part, row, "loudness"))
        return max(1, min(127, round(level))) if level is not None else 80


_PITCHES = ("name", "number", "hz")


def _cell(part: Part, row: Sequence[str], *kinds: str) -> str:
    """The first of some kinds of cells that a row has."""
    for kind in kinds:
        place = part.columns.get(kind)
        if place is not None and place < len(row) and (cell := plain_cell(row[place].strip())):
            return cell
    return ""


def _where(part: Part, number: int) -> str:
    return f"Row {part.first_row + number}: " if part.first_row is not None else ""


def _is_short(part: Part, row: Sequence[str]) -> bool:
    return _cell(part, row, "short").lower() in ("1", "yes", "true", "x")


def _tempo_of(parts: Sequence[Part], lengths: LengthColumn) -> float:
    """Beats a minute, by rows that give a length in beats and in seconds; else that of the commonest length."""
    seconds: list[Fraction] = []
    for part in parts:
        for row in part.rows:
            beats = length_of(_cell(part, row, "length"))
            lasts = length_of(_cell(part, row, "length_seconds"))
            start = length_of(_cell(part, row, "start"))
            at = length_of(_cell(part, row, "start_seconds"))
            if start and at:
                return _rounded(float(60 * start / at))
            if beats and lasts and not {"start", "start_seconds"} <= part.columns.keys():
                return _rounded(float(60 * beats / lasts))
        seconds += _seconds_of(part, lengths)
    if not seconds:
        return _DEFAULT_TEMPO
    tempo = float(60 / commonest(seconds))
    while tempo > _USUAL_TEMPOS[1]:
        tempo /= 2
    while tempo < _USUAL_TEMPOS[0]:
        tempo *= 2
    return round(playable(tempo), 3)


def _seconds_of(part: Part, lengths: LengthColumn) -> list[Fraction]:
    """The lengths that a part gives in seconds."""
    if "length" in part.columns and not lengths.unit.is_time:
        return []
    if "length" in part.columns:
        found = [lengths.beats_of(text) for text in part.cells("length")]
    elif "end" in part.columns and lengths.unit.is_time:
        both = zip(part.cells("end"), part.cells("start"), strict=True)
        found = [(length_of(end) or Fraction(0)) - (length_of(start) or Fraction(0)) for end, start in both]
    else:
        found = [length_of(text) for text in (part.cells("length_seconds") or part.cells("time"))]
        found += [ms / 1000 for text in part.cells("length_ms") if (ms := length_of(text)) is not None]
    return [each for each in found if each is not None and each > 0]


def _rounded(tempo: float) -> float:
    tempo = playable(tempo)
    return round(tempo) if abs(tempo - round(tempo)) < 0.05 else round(tempo, 2)


def _meter_of(parts: Sequence[Part]) -> Meter:
    """The meter, as far as the bars of the rows tell."""
    last: dict[int, Fraction] = {}
    for part in parts:
        if not {"bar", "beat", "start"} <= part.columns.keys():
            continue
        for row in part.rows:
            bar, beat, start = (length_of(_cell(part, row, kind)) for kind in ("bar", "beat", "start"))
            if bar is not None and beat is not None and start is not None and bar >= 1:
                last[int(bar)] = start - (beat - 1)
    bars = sorted(last)
    spans = [(last[two] - last[one]) / (two - one) for one, two in pairwise(bars)]
    usual = commonest(spans) if spans else Fraction(4)
    if usual.denominator != 1 or not 1 <= usual <= 32:
        return Meter()
    return Meter(int(usual), 8 if usual in (6, 9, 12) else 4)


def _meant(beats: Fraction) -> Fraction:
    """The beats that rounded decimals mean; what is shorter than can be meant is the shortest."""
    return beats.limit_denominator(_FINEST) or Fraction(1, _FINEST) if beats > 0 else beats
