"""Songs, and parts of them, as the text of a sheet: lengths, pitches, marks, directions, whole voices."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import groupby
from operator import attrgetter
from typing import NamedTuple

from ..song import Meter, Note, Song, Tempo, Voice
from ..song.drums import DRUM_NAMES
from ..song.lines import Strike, into_lines
from ..song.song import DEFAULT_GAP
from ..theory import Naming, read_key
from ..theory.chord import recognized
from .direction import LOUDNESS
from .length import NOTE_VALUES, Lengths
from .names import free_name
from .phrasing import Bar, Piece, phrased
from .written import ACCENT, DEFAULT_OCTAVE

__all__ = ["pitch_text", "write_song"]

_BARS_A_LINE = 4
_LONGEST_LINE = 100
_LARGEST = 10**9  # a number of a length has fewer digits
_SHARPS = read_key("C major")  # by which pitches outside a tune are spelled
# beats a minute that a sheet can name
_SLOWEST = 5
_FASTEST = 1000


def pitch_text(song: Song, voice: int, tick: int, number: int) -> str:
    """How a MIDI number is written in a voice at a tick: by its name in the key, a drum by its own."""
    drums = voice < len(song.voices) and song.voices[voice].is_drums
    return DRUM_NAMES.get(number, str(number)) if drums else song.naming.pitch_text(song.key_at(tick).spell(number))


def write_song(song: Song, phrases: bool = False) -> str:
    """A sheet that reads as a song; bars that come again are ``phrases`` if wanted.

    Notes of one voice that no sheet can write in one voice, since they overlap or differ in loudness by more than
    an accent, go into further voices of like name. Tempos and swing are written with nine decimals, pans in
    hundredths. Signs that a title, a name or a syllable cannot have are left out.

    >>> print(write_song(Song(title="Rest", voices=(Voice("Horn", end=4 * 8_064_000),))), end="")
    title: Rest
    tempo: 120
    meter: 4/4
    key: C major
    <BLANKLINE>
    voice Horn
      rest=4 |
    """
    song = replace(song, naming=song.naming.in_key(song.key))
    lines = []
    names = set[str]()
    for index, voice in enumerate(song.voices):
        mine = [song.notes[place] for place in song.by_voice[index].tolist()]
        for strikes in _strikes(mine):
            name = free_name(_plain(voice.name).lstrip(": ") or "Voice", "voice", names)
            names.add(name.lower())
            lines.append(_Line(replace(voice, name=name), strikes))
    texts = [_VoiceText(song, line, mine) for line, mine in zip(lines, _carried(song, lines), strict=True)]
    bars = [[_bar(signs) for signs in text.bars] for text in texts]
    kept = [frozenset(text.sung if phrases else range(len(text.bars))) for text in texts]
    found, pieces = phrased(bars, kept, names)
    blocks = [_header(song)]
    for phrase in found:
        rows = _rows([Piece(bar) for bar in phrase.bars])
        blocks.append("\n".join([f"phrase {phrase.name}", *(f"  {' '.join(row)}" for row in rows)]))
    for line, text, mine in zip(lines, texts, pieces, strict=True):
        blocks.append("\n".join([*_voice_head(line.voice, song), *text.lines(mine)]))
    return "\n\n".join(blocks) + "\n"


class _Line(NamedTuple):
    """A voice as it is written, with what it strikes."""

    voice: Voice
    strikes: list[Strike]


# Whole songs


def _header(song: Song) -> str:
    grid = song.grid
    meter = song.meter
    tempo = song.tempo.tempos[0]
    swing = next((part for tick, part in song.tempo.swings if tick == 0), None)
    properties = {
        "title": _plain(song.title),
        "composer": _plain(song.composer),
        "tempo": _tempo(tempo.quarters_per_minute, meter),
        "meter": meter.text,
        "key": song.key.text,
        "pickup": str(Fraction(grid.pickup, meter.beat_ticks)) if grid.pickup else "",
        "swing": _percent(swing) if swing is not None else "",
        "names": song.naming.value if song.naming != Naming.LETTERS else "",
        "tuning": _decimal(song.tuning) if song.tuning != 440 else "",
    }
    return "\n".join(f"{name}: {value}" for name, value in properties.items() if value)


def _carried(song: Song, lines: Sequence[_Line]) -> list[dict[int, list[str]]]:
    """For each voice the directions by tick: its own, and the song's in the first voice that lasts so long."""
    found: list[dict[int, list[str]]] = [{} for _ in lines]
    for tick, text in _song_directions(song):
        bearer = next((place for place, line in enumerate(lines) if line.voice.end >= tick), None)
        if bearer is not None:
            found[bearer].setdefault(tick, []).append(text)
    for mine, line in zip(found, lines, strict=True):
        for tick, text in _own_directions(line.voice):
            mine.setdefault(tick, []).append(text)
    return found


def _song_directions(song: Song) -> Iterator[tuple[int, str]]:
    """(tick, direction) of what changes for the whole song: meters before what is counted in their beats."""
    yield from ((tick, f"[meter {meter.text}]") for tick, meter in song.grid.changes[1:])
    yield from ((tick, f"[key {key.text}]") for tick, key in song.keys[1:])
    before: Tempo | None = None
    for tempo in song.tempo.tempos:
        meter = song.grid.meter_at(tempo.tick)
        given = before.at(tempo.tick) if before is not None else tempo.quarters_per_minute
        if before is not None and (not tempo.ramp or abs(given - tempo.quarters_per_minute) > 1e-6):
            yield tempo.tick, f"[tempo {_tempo(tempo.quarters_per_minute, meter)}]"
        if tempo.ramp:
            word = "slow" if tempo.target < tempo.quarters_per_minute else "quicken"
            over = Fraction(tempo.ramp, meter.beat_ticks)
            yield tempo.tick, f"[{word} to {_tempo(tempo.target, meter)} over {over}]"
        before = tempo
    yield from ((tick, f"[swing {_percent(part)}]") for tick, part in song.tempo.swings if tick)
    marks = ((tick, " ".join(re.sub(r"[\[\]]|//", " ", _plain(words)).split())) for tick, words in song.marks)
    yield from ((tick, f"[mark {words}]") for tick, words in marks if words)


def _own_directions(voice: Voice) -> Iterator[tuple[int, str]]:
    yield from ((tick, f"[sound {sound}]") for tick, sound in voice.sounds)
    downs = {down for down, _ in voice.pedals}
    for down, up in voice.pedals:
        yield down, "[pedal]"
        if up not in downs and up < voice.end:
            yield up, "[lift]"


# Voices


def _voice_head(voice: Voice, song: Song) -> list[str]:
    pan = round(100 * voice.pan)
    side = "left" if pan < 0 else "right"
    properties = {
        "sound": voice.sound,
        "level": _loudness(voice.level),
        "pan": f"{side} {abs(pan)}%" if pan else "",
        "gap": _decimal(voice.gap) if voice.gap != DEFAULT_GAP else "",
        "range": " to ".join(_pitch(end, song.naming) for end in voice.range) if voice.range else "",
        "allow": " ".join(_allowed(number, song.naming) for number in sorted(voice.allow or ())),
    }
    usual = {"sound": Voice("").sound, "level": _loudness(Voice("").level)}
    written = [f"  {name}: {value}" for name, value in properties.items() if value and usual.get(name) != value]
    return [f"voice {voice.name}", *written]


def _strikes(notes: Sequence[Note]) -> list[list[Strike]]:
    """Notes of one voice in as few lines as can each be written as one voice; one line where there are none."""
    struck = groupby(notes, key=attrgetter("start"))
    return into_lines([strike for start, together in struck for strike in _together(start, list(together))])


def _together(start: int, notes: list[Note]) -> list[Strike]:
    """Notes struck at one tick, in as few strikes as a sheet can write."""
    if len(notes) == 1:
        return [Strike(start, notes[0].length, (notes[0],))]
    found: list[list[Note]] = []
    for note in sorted(notes, key=attrgetter("loudness", "short")):  # the least marked first
        mine = next((each for each in found if _fits(each, note)), None)
        if mine is None:
            found.append([note])
        else:
            mine.append(note)
    return [Strike(start, each[0].length, tuple(each)) for each in found]


def _fits(notes: list[Note], note: Note) -> bool:
    """Return whether a note can be written together with others."""
    first = notes[0]
    if (
        note.length != first.length
        or note.syllable != first.syllable
        or any(each.number == note.number for each in notes)
    ):
        return False
    together = [*notes, note]
    base = min(each.loudness for each in together)
    if any(each.loudness not in (base, min(127, base + ACCENT)) for each in together):
        return False
    marks = [(each.loudness > base, each.short) for each in together]
    common = all(accent for accent, _ in marks), all(short for _, short in marks)
    return common in marks  # marks before the first sign are for all of them


class _VoiceText:
    """One voice of a song, written line by line."""

    def __init__(self, song: Song, line: _Line, directions: dict[int, list[str]]) -> None:
        self._song = song
        self._voice = line.voice
        self._strikes = line.strikes
        self._lengths = Lengths(song.meter)
        self._length_texts: dict[Meter, dict[int, list[str]]] = {}
        self._meet(song.meter)
        self._directions = {tick: directions[tick] for tick in sorted(directions)}
        starts = (tick for _, tick in song.grid.starts(line.voice.end + 1))
        changes = (tick for tick, _ in song.grid.changes if tick < line.voice.end)
        self._breaks = sorted({*self._directions, *starts, *changes})
        self._next = 0  # of the breaks, the first that has not been passed
        self._level = line.voice.level
        self.bars: list[list[str]] = [[]]
        """The signs of each bar."""
        self._syllables: list[list[str]] = [[]]
        self._write()

    @property
    def sung(self) -> set[int]:
        """The bars that have words."""
        return {place for place, bar in enumerate(self._syllables) if any(each != "_" for each in bar)}

    def lines(self, pieces: Sequence[Piece]) -> list[str]:
        """The music, four bars a line, with the words under each line."""
        found = []
        place = 0
        for row in _rows(pieces):
            syllables = [
                each
                for piece in pieces[place : place + len(row)]
                if not piece.is_use
                for each in self._syllables[piece.bar]
            ]
            place += len(row)
            found.append(f"  {' '.join(row)}".rstrip())
            if any(each != "_" for each in syllables):
                found.append(f"  words: {' '.join(syllables)}")
        return [line for line in found if line]

    def _write(self) -> None:
        here = 0
        for place, strike in enumerate(self._strikes):
            if strike.start > here:
                self._rest(here, strike.start)
            if not self._is_plain(strike):
                after = self._strikes[place + 1].notes if place + 1 < len(self._strikes) else ()
                self._strike(strike, after)
            here = strike.start + strike.length
        self._rest(here, self._voice.end)
        self._arrive(self._voice.end)

    def _rest(self, here: int, until: int) -> None:
        length = self._length_inside(here, until - here)
        if length is None:
            self._stretch(here, until, "rest", "rest")
        else:
            self.bars[-1].append(f"rest{length}")

    def _length_inside(self, start: int, length: int) -> str | None:
        """A length as it is written where nothing begins or ends on the way, if it has been written before."""
        known = self._known_lengths.get(length)
        if known is None or len(known) > 1 or self._next == len(self._breaks):
            return None
        following = self._breaks[self._next]
        return known[0] if following != start and start + length <= following else None

    def _is_plain(self, strike: Strike) -> bool:
        """Write what most strikes are: one note, of the loudness in force, inside a bar. Whether it was that."""
        start, length, notes = strike
        note = notes[0]
        if len(notes) > 1 or note.loudness != self._level or note.short or note.syllable:
            return False
        written = self._length_inside(start, length)
        if written is not None:
            self._syllables[-1].append("_")
            self.bars[-1].append(self._sign(note) + written)
        return written is not None

    def _strike(self, strike: Strike, after: Sequence[Note]) -> None:
        self._arrive(strike.start)
        base = self._base(strike, after)
        if base != self._level:
            self._level = base
            self.bars[-1].append(f"[{_loudness(base)}]")
        self._syllables[-1].append(_syllable(strike.notes[0].syllable))
        self._stretch(strike.start, strike.start + strike.length, self._word(strike, base), "-")

    def _base(self, strike: Strike, after: Sequence[Note]) -> int:
        """The loudness that a strike's accents are counted from: the one in force where it serves."""
        levels = {note.loudness for note in strike.notes}
        if levels == {min(127, self._level + ACCENT)} and {note.loudness for note in after} != levels:
            return self._level  # one accent, and then it goes on as before
        return (
            self._level
            if levels <= {self._level, min(127, self._level + ACCENT)} and len(levels) > 1
            else min(levels)
        )

    def _word(self, strike: Strike, base: int) -> str:
        if len(strike.notes) == 1:
            note = strike.notes[0]
            return ">" * (note.loudness > base) + "'" * note.short + self._sign(note)
        marks = {note: (note.loudness > base, note.short) for note in strike.notes}
        common = all(accent for accent, _ in marks.values()), all(short for _, short in marks.values())
        if (symbol := self._symbol(strike)) and set(marks.values()) == {common}:
            return ">" * common[0] + "'" * common[1] + symbol
        notes = sorted(strike.notes, key=lambda note: marks[note] != common)  # the first has the marks of all
        signs = []
        for place, note in enumerate(notes):
            accent, short = (
                mine and (not place or not of_all) for mine, of_all in zip(marks[note], common, strict=True)
            )
            signs.append(">" * accent + "'" * short + self._sign(note))
        return "&".join(signs)

    def _symbol(self, strike: Strike) -> str:
        """The chord symbol that names exactly what is struck; empty where none does."""
        pitches = sorted((note.pitch for note in strike.notes), key=attrgetter("number"))
        chord = recognized(pitches) if len(pitches) > 2 and not self._voice.is_drums else None
        for octave in sorted({pitch.octave for pitch in pitches}) if chord else ():
            if chord is not None and list(chord.pitches(octave)) == pitches:
                return f"{{{chord.text}{'' if octave == DEFAULT_OCTAVE else f' {octave}'}}}"
        return ""

    def _sign(self, note: Note) -> str:
        if not self._voice.is_drums or self._song.key_at(note.start).spell(note.number) != note.pitch:
            return self._song.naming.pitch_text(note.pitch)
        return DRUM_NAMES.get(note.number, str(note.number))

    def _stretch(self, here: int, until: int, first: str, then: str) -> None:
        """A stretch of time as one sign, and after each place where something else is written as another."""
        while here < until:
            self._arrive(here)
            end = min(until, self._breaks[self._next]) if self._next < len(self._breaks) else until
            for length in self._written(end - here):
                self.bars[-1].append(f"{first}{length}")
                first = then
            here = end

    def _written(self, ticks: int) -> list[str]:
        """A length as it is written, or in two where one number would have too many digits."""
        known = self._known_lengths.get(ticks)
        if known is None:
            meter = self._meter
            whole = ticks // meter.beat_ticks * meter.beat_ticks
            fits = self._lengths.count(ticks, meter).numerator < _LARGEST
            parts = [ticks] if fits else [whole, ticks - whole]
            known = self._known_lengths[ticks] = [self._lengths.text(part, meter) for part in parts]
        return known

    def _meet(self, meter: Meter) -> None:
        """From here on lengths are written in the beats of a meter."""
        self._meter = meter
        self._known_lengths = self._length_texts.setdefault(meter, {})

    def _arrive(self, tick: int) -> None:
        """Write the bar line and the directions that stand at a tick."""
        grid = self._song.grid
        if self._next < len(self._breaks) and self._breaks[self._next] <= tick:
            self._next += 1
            if (meter := grid.meter_at(tick)) is not self._meter:
                self._meet(meter)
            if tick and grid.start(grid.number_at(tick)) == tick:
                self.bars[-1].append("|")
                self.bars.append([])
                self._syllables.append([])
            self.bars[-1] += self._directions.get(tick, [])


def _bar(signs: list[str]) -> Bar:
    """A bar as text, the directions at its start apart."""
    heads = next((place for place, sign in enumerate(signs) if not sign.startswith("[")), len(signs))
    return Bar(" ".join(signs[:heads]), " ".join(signs[heads:]))


def _rows(pieces: Sequence[Piece]) -> Iterator[list[str]]:
    """Return the lines of a voice: four bars each, or uses of phrases of so many, if not too wide together."""
    row: list[str] = []
    bars = 0
    whole = False
    for piece in pieces:
        fills = piece.is_use and piece.bars >= _BARS_A_LINE
        wide = sum(map(len, row)) + len(row) + len(piece.written)
        full = len(row) == _BARS_A_LINE if fills else bars >= _BARS_A_LINE
        if row and (full or fills != whole or wide > _LONGEST_LINE):
            yield row
            row = []
            bars = 0
        row.append(piece.written)
        bars = bars + (piece.bars * piece.times if piece.is_use else 1)
        whole = fills
    if any(row):
        yield row


# Values


def _plain(text: str) -> str:
    """A text as a property or a header can hold it, on one line and without a comment."""
    return re.sub(r"/(?=/)", "/ ", " ".join("".join(c if c.isprintable() else " " for c in text).split()))


def _syllable(text: str) -> str:
    return text if re.fullmatch(r"[^\s-]+-?", text) and "//" not in text and text.isprintable() else "_"


def _tempo(quarters: float, meter: Meter) -> str:
    """A tempo in quarters a minute, in beats of a meter, or of a note value that brings it within bounds."""
    count = quarters * meter.lower / 4
    if _SLOWEST <= count <= _FASTEST:
        return _decimal(count)
    for name, value in NOTE_VALUES.items():
        if _SLOWEST <= quarters / value <= _FASTEST:
            return f"{name} = {_decimal(quarters / float(value))}"
    return _decimal(min(_FASTEST, max(_SLOWEST, count)))


def _percent(part: float) -> str:
    """A swing's part of a quarter, in hundredths."""
    return f"{_decimal(100 * part)}%"


def _decimal(value: float) -> str:
    """A number with nine decimals at most, and no more than it has."""
    text = f"{value:.9f}".rstrip("0").rstrip(".")
    return text or "0"


def _loudness(level: int) -> str:
    return next((name for name, value in LOUDNESS.items() if value == level), str(level))


def _pitch(number: int, naming: Naming) -> str:
    return naming.pitch_text(_SHARPS.spell(number))


def _allowed(number: int, naming: Naming) -> str:
    return naming.text(_SHARPS.spell(number + 72).name) if number < 0 else _pitch(number, naming)
