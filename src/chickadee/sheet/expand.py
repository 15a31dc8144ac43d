"""Tree to song: every sign placed at its exact tick, with the text it came from."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum
from fractions import Fraction
from typing import NamedTuple, TypeVar

from ..song import BarGrid, Meter, Note, Song, Tempo, TempoMap, Voice
from ..song.sounds import DEFAULT_SOUND
from ..song.tempo import DEFAULT_TEMPO
from ..theory import Key, Pitch, read_key
from ..theory.frequency import STANDARD_A4
from . import rules
from .direction import LOUDNESS
from .finding import Finding, Fix, TextEdit
from .length import ONE_BEAT
from .tree import BarLine, Block, Direction, Item, Sheet
from .word import Kind, Word, octave_fixes, third_of

__all__ = ["MOST_EVENTS", "MOST_HOURS", "Event", "EventKind", "Expansion", "expand"]

_T = TypeVar("_T")

MOST_EVENTS = 1_000_000
MOST_HOURS = 24
_MOST_TICKS = MOST_HOURS * 60 * 1000 * 8_064_000  # at a thousand quarters a minute
_DEFAULT_OCTAVE = 4
_DEFAULT_GAP = 0.03
_ACCENT = 16


class EventKind(Enum):
    """What happens in a voice."""

    STRIKE = "strike"
    REST = "rest"
    HOLD = "hold"
    BAR = "bar"


class Event(NamedTuple):
    """One thing a voice does, where it is written and when it happens."""

    tick: int
    length: int
    """Ticks until the next event; 0 for a bar line."""
    kind: EventKind
    start: int
    """Offsets of the text."""
    end: int
    notes: int
    """How many notes it strikes."""


@dataclass(frozen=True, slots=True)
class Expansion:
    """A song, and for each of its voices what the text does there."""

    song: Song
    events: tuple[tuple[Event, ...], ...]
    findings: tuple[Finding, ...]


class _Struck(NamedTuple):
    """A pitch of a word, settled for one voice, meter and key; offsets count inside the word."""

    pitch: Pitch
    number: int
    start: int
    end: int
    accent: bool
    short: bool


class _Settled(NamedTuple):
    """A word, settled for one voice, meter and key."""

    kind: EventKind
    ticks: int
    struck: tuple[_Struck, ...]
    findings: tuple[Finding, ...]


class TooLarge(Exception):  # noqa: N818 - it never leaves this module
    """The tune goes beyond its bounds."""

    def __init__(self, start: int, end: int, what: str) -> None:
        super().__init__(what)
        self.finding = rules.TOO_LARGE.at(start, end, f"This tune is {what}; please make it shorter.")


def expand(sheet: Sheet) -> Expansion:
    """The song that a sheet writes. A tune beyond its bounds gives an empty song and one finding."""
    settings = sheet.settings
    meter, key = settings.meter or Meter(), settings.key or read_key("C major")
    mark = settings.tempo
    tempo = Tempo(0, mark.quarters_per_minute(meter) if mark else DEFAULT_TEMPO * 4 / meter.lower)
    frame = Song(
        settings.title or "",
        settings.composer or "",
        grid=BarGrid.of(meter),
        keys=((0, key),),
        tempo=TempoMap([tempo]),
        tuning=settings.tuning or STANDARD_A4,
    )
    walks: list[_VoiceWalk] = []
    try:
        _check_count(sheet)
        for index, block in enumerate(sheet.voices):
            walk = _VoiceWalk(index, block, sheet, meter, key)
            walk.run()
            walks.append(walk)
        song = _finished(frame, walks)
        _check_hours(song, sheet)
    except TooLarge as too_large:
        return Expansion(frame, (), (too_large.finding,))
    findings = tuple(finding for walk in walks for finding in walk.findings)
    return Expansion(song, tuple(tuple(walk.events) for walk in walks), findings)


def _finished(frame: Song, walks: list[_VoiceWalk]) -> Song:
    notes = [note for walk in walks for note in walk.notes]
    notes.sort(key=lambda note: (note.start, note.voice, note.number))
    return Song(
        frame.title,
        frame.composer,
        tuple(walk.voice() for walk in walks),
        tuple(notes),
        frame.grid,
        frame.keys,
        frame.tempo,
        frame.tuning,
    )


def _check_count(sheet: Sheet) -> None:
    left = MOST_EVENTS
    for block in sheet.voices:
        left -= len(block.body)
        if left < 0:
            raise TooLarge(block.start, block.end, "longer than a million notes and signs")


def _check_hours(song: Song, sheet: Sheet) -> None:
    if song.seconds > MOST_HOURS * 3600:
        longest = max(range(len(song.voices)), key=lambda index: song.voices[index].end)
        raise TooLarge(sheet.voices[longest].start, sheet.voices[longest].end, "longer than twenty-four hours")


class _VoiceWalk:
    """Goes through one voice from its start, keeping time."""

    def __init__(self, index: int, block: Block, sheet: Sheet, meter: Meter, key: Key) -> None:
        self.index, self.block = index, block
        self.settings, self.song_settings = block.settings, sheet.settings
        self.meter, self.key = meter, key
        self.octave = _first(block.settings.octave, sheet.settings.octave, _DEFAULT_OCTAVE)
        self.level = _first(block.settings.level, LOUDNESS["mf"])
        self.loudness = self.level
        self.tick = 0
        self.notes: list[Note] = []
        self.events: list[Event] = []
        self.findings: list[Finding] = []
        self.last_notes = 0  # how many of the newest notes a hold makes longer
        self.started = False
        self._settled: dict[Word, _Settled] = {}

    def run(self) -> None:
        for node in self.block.body:
            if type(node) is Item:
                self._item(node)
            elif type(node) is BarLine:
                self.events.append(Event(self.tick, 0, EventKind.BAR, node.start, node.end, 0))
            elif type(node) is Direction:
                self.loudness = node.what.level

    def voice(self) -> Voice:
        """The voice as the song knows it."""
        mine, song = self.settings, self.song_settings
        return Voice(
            self.block.name,
            mine.sound or DEFAULT_SOUND,
            mine.pan or 0.0,
            self.level,
            _first(mine.gap, song.gap, _DEFAULT_GAP),
            mine.range,
            self.tick,
        )

    def _item(self, item: Item) -> None:
        start, end, word = item
        settled = self._settled.get(word)
        if settled is None:
            settled = self._settled[word] = self._settle(word)
        kind, ticks, struck, findings = settled
        if findings:
            self.findings += [finding.moved(start) for finding in findings]
        if kind is EventKind.STRIKE:
            for pitch, number, first, last, accent, short in struck:
                loudness = min(127, self.loudness + _ACCENT) if accent else self.loudness
                self.notes.append(
                    Note(
                        self.tick, self.index, ticks, pitch, number, loudness, short, ((start + first, start + last),)
                    )
                )
            self.last_notes = len(struck)
        elif kind is EventKind.HOLD:
            self._hold(ticks, start, end)
        else:
            self.last_notes = 0
        self.started = True
        self.events.append(Event(self.tick, ticks, kind, start, end, len(struck)))
        self.tick += ticks
        if self.tick > _MOST_TICKS:
            raise TooLarge(start, end, "longer than twenty-four hours")

    def _hold(self, ticks: int, start: int, end: int) -> None:
        if not self.started:
            self.findings.append(
                rules.HOLD.at(
                    start,
                    end,
                    "Nothing sounds before this hold, so it is silent.",
                    Fix("Make it a rest", (TextEdit(start, start + 1, "rest"),)),
                )
            )
        for place in range(len(self.notes) - self.last_notes, len(self.notes)):
            note = self.notes[place]
            self.notes[place] = note._replace(length=note.length + ticks, ink=(*note.ink, (start, end)))

    def _settle(self, word: Word) -> _Settled:
        findings: list[Finding] = []
        ticks = self._ticks(word, findings)
        struck: dict[int, _Struck] = {}
        for sign in word.signs:
            if sign.number is not None:
                pitch = self.key.spell(sign.number)
            elif sign.name is not None:
                octave = self.octave if sign.octave is None else sign.octave
                pitch = sign.name.at(octave)
                if not 0 <= pitch.number <= 127:
                    findings.append(
                        rules.PITCH_RANGE.at(
                            sign.start,
                            sign.end,
                            f"{pitch.pretty} is outside the pitches MIDI has, C-1 to G9.",
                            *octave_fixes(sign.name, octave, sign.start, sign.end),
                        )
                    )
                    continue
            else:
                continue
            if pitch.number in struck:
                findings.append(_twice(word, sign.start, sign.end, pitch))
                continue
            alone = len(word.signs) == 1 and "&" not in word.text
            first, last = (0, len(word.text)) if alone else (sign.start, sign.end)
            struck[pitch.number] = _Struck(pitch, pitch.number, first, last, sign.accent, sign.short)
        kind = {Kind.HOLD: EventKind.HOLD, Kind.STRIKE: EventKind.STRIKE}.get(word.kind, EventKind.REST)
        if kind is EventKind.STRIKE and not struck:
            kind = EventKind.REST
        return _Settled(kind, ticks, tuple(struck.values()), tuple(findings))

    def _ticks(self, word: Word, findings: list[Finding]) -> int:
        exact = (word.length or ONE_BEAT).ticks(self.meter)
        if exact.denominator == 1:
            return exact.numerator
        start, end = word.length_start + 1, len(word.text)
        written = word.text[start:end]
        nearest = third_of(written) or str(_nearest_part(Fraction(written)))
        findings.append(
            rules.LENGTH_FIT.at(
                start,
                end,
                f"A beat cannot be cut exactly into {written}; use a fraction such as 1/3 or 1/16.",
                Fix(f"Use {nearest}", (TextEdit(start, end, nearest),)),
            )
        )
        return round(Fraction(nearest) * self.meter.beat_ticks)


def _nearest_part(beats: Fraction) -> Fraction:
    """The closest number of beats, above zero, that common parts of a beat can write."""
    parts = (Fraction(max(1, round(beats * lower)), lower) for lower in (1, 2, 3, 4, 5, 6, 7, 8, 10, 12, 16))
    return min(parts, key=lambda part: abs(part - beats))


def _twice(word: Word, start: int, end: int, pitch: Pitch) -> Finding:
    first = word.text[start - 1] == "&"
    cut = TextEdit(start - 1, end, "") if first else TextEdit(start, end + 1, "")
    return rules.TWICE.at(
        start, end, f"{pitch.pretty} is already struck here; once is enough.", Fix("Take it out", (cut,))
    )


def _first(*values: _T | None) -> _T:
    """The first value that is set."""
    return next(value for value in values if value is not None)
