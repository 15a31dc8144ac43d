"""A song as MusicXML 4.0: a part for each voice, bars that add up, ties, tuplets, and all it says of sound."""

from __future__ import annotations

import io
import math
import zipfile
from collections.abc import Sequence
from fractions import Fraction
from itertools import groupby
from operator import attrgetter, itemgetter
from typing import NamedTuple
from xml.etree import ElementTree as ET

from ...sheet.written import ACCENT
from ...song import TICKS_PER_QUARTER, Meter, Note, Song
from ...song.lines import Strike, into_lines
from ...song.sounds import DEFAULT_SOUND, SOUNDS
from ...theory import Key, Pitch
from ...theory.chord import recognized
from .directions import directions_of
from .elements import FORTE, add_text
from .harmony import KINDS
from .values import Value, values_of

__all__ = ["write", "write_compressed"]

_DRUM_CHANNEL = 10
_LOW_CLEF = 57  # the mean MIDI number below which a part has a bass clef
_HEAD = (
    '<?xml version="1.0" encoding="UTF-8" standalone="no"?>\n'
    '<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" '
    '"http://www.musicxml.org/dtds/partwise.dtd">\n'
)
_SCORE = "score.musicxml"
_CONTAINER = (
    '<?xml version="1.0" encoding="UTF-8"?>\n<container><rootfiles>'
    f'<rootfile full-path="{_SCORE}" media-type="application/vnd.recordare.musicxml+xml"/></rootfiles></container>\n'
)
_ACCIDENTALS = {-2: "flat-flat", -1: "flat", 0: "natural", 1: "sharp", 2: "double-sharp"}
_SHARPS = "FCGDAEB"


def write(song: Song) -> bytes:
    """The song as the text of an uncompressed file, in UTF-8. Repeats are written out."""
    root = _ScoreWriter(song).score()
    ET.indent(root)
    return (_HEAD + ET.tostring(root, "unicode") + "\n").encode("utf-8")


def write_compressed(song: Song) -> bytes:
    """The song as a compressed file (``.mxl``)."""
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, content in (("META-INF/container.xml", _CONTAINER.encode()), (_SCORE, write(song))):
            info = zipfile.ZipInfo(name)  # with a fixed date, so that the same song gives the same bytes
            info.compress_type = zipfile.ZIP_DEFLATED
            packed.writestr(info, content)
    return data.getvalue()


class _Bar(NamedTuple):
    number: int
    start: int
    end: int


class _ScoreWriter:
    def __init__(self, song: Song) -> None:
        self.song = song
        marks = [song.grid.pickup, *(meter.bar_ticks for _, meter in song.grid.changes)]
        bars = [Fraction(mark, TICKS_PER_QUARTER).denominator for mark in marks]
        self.divisions = math.lcm(song.division or TICKS_PER_QUARTER, *bars)
        last = max(song.end, 1)
        starts = song.grid.starts(last)
        self.bars = [_Bar(number, start, song.grid.end(number)) for number, start in starts]

    def score(self) -> ET.Element:
        song = self.song
        root = ET.Element("score-partwise", version="4.0")
        if song.title:
            add_text(ET.SubElement(root, "work"), "work-title", song.title)
        identification = ET.SubElement(root, "identification")
        if song.composer:
            add_text(identification, "creator", song.composer, type="composer")
        add_text(ET.SubElement(identification, "encoding"), "software", "Chickadee")
        listed = ET.SubElement(root, "part-list")
        for index in range(max(1, len(song.voices))):
            if index < len(song.voices):
                self._listed(listed, index)
            else:
                add_text(ET.SubElement(listed, "score-part", id="P1"), "part-name", "Melody")
            part = ET.Element("part", id=f"P{index + 1}")
            root.append(part)
            _PartWriter(self, index).write(part)
        return root

    def _listed(self, listed: ET.Element, index: int) -> None:
        voice = self.song.voices[index]
        part = ET.SubElement(listed, "score-part", id=f"P{index + 1}")
        add_text(part, "part-name", voice.name)
        program = SOUNDS.get(voice.sound, SOUNDS[DEFAULT_SOUND]).program
        channel = _DRUM_CHANNEL if voice.is_drums else index % 9 + 1
        numbers = sorted({self.song.notes[place].number for place in self.song.by_voice[index].tolist()})
        instruments: list[tuple[str, int | None]] = [(f"P{index + 1}-I1", None)]
        if voice.is_drums and numbers:
            instruments = [(f"P{index + 1}-I{number}", number) for number in numbers]
        for identity, number in instruments:
            instrument = ET.SubElement(part, "score-instrument", id=identity)
            drum = next(
                (
                    self.song.notes[place]
                    for place in self.song.by_voice[index].tolist()
                    if self.song.notes[place].number == number
                ),
                None,
            )
            add_text(instrument, "instrument-name", voice.name_of(drum) if drum is not None else voice.sound)
        for identity, number in instruments:
            midi = ET.SubElement(part, "midi-instrument", id=identity)
            add_text(midi, "midi-channel", channel)
            add_text(midi, "midi-program", program)
            if number is not None:
                add_text(midi, "midi-unpitched", number + 1)
            add_text(midi, "pan", f"{90 * voice.pan:g}")

    def duration(self, ticks: int) -> int:
        return ticks * self.divisions // TICKS_PER_QUARTER


class _PartWriter:
    """Writes one voice's bars."""

    def __init__(self, score: _ScoreWriter, index: int) -> None:
        self.score = score
        self.song = score.song
        self.index = index
        voices = self.song.voices
        self.voice = voices[index] if index < len(voices) else None
        places = self.song.by_voice[index].tolist() if self.voice is not None else []
        self.notes = [self.song.notes[place] for place in places]
        strikes = [
            Strike(start, length, tuple(together))
            for start, struck in groupby(self.notes, key=attrgetter("start"))
            for length, together in groupby(sorted(struck, key=attrgetter("length", "number")), attrgetter("length"))
        ]
        self.lines = into_lines(strikes)
        self.level = self.voice.level if self.voice is not None else 80
        self.directions = sorted(directions_of(self.song, index), key=itemgetter(0))
        self.altered: dict[tuple[str, int], int] = {}  # accidentals in force in this bar, by letter and octave
        self.in_word = False  # whether the last syllable goes on
        self.tuplet: Fraction | None = None  # what the open tuplet holds so far, as written

    def write(self, part: ET.Element) -> None:
        meter: Meter | None = None
        key: Key | None = None
        for bar in self.score.bars:
            measure = ET.SubElement(part, "measure", number=str(bar.number))
            if bar.number == 0:
                measure.set("implicit", "yes")
            here = self.song.grid.meter_at(bar.start), self.song.key_at(bar.start)
            self._attributes(measure, bar, meter, key, *here)
            meter, key = here
            for place, line in enumerate(self.lines):
                self.altered.clear()
                if place:
                    backup = ET.SubElement(measure, "backup")
                    add_text(backup, "duration", self.score.duration(bar.end - bar.start))
                self._line(measure, bar, line, place + 1)

    def _attributes(
        self, measure: ET.Element, bar: _Bar, meter: Meter | None, key: Key | None, new: Meter, new_key: Key
    ) -> None:
        first = meter is None
        if not first and meter == new and key == new_key:
            return
        attributes = ET.SubElement(measure, "attributes")
        if first:
            add_text(attributes, "divisions", self.score.divisions)
        if first or key != new_key:
            written = ET.SubElement(attributes, "key")
            add_text(written, "fifths", new_key.signature)
            add_text(written, "mode", "minor" if new_key.scale.minor else "major")
        if first or meter != new:
            time = ET.SubElement(attributes, "time")
            add_text(time, "beats", new.upper)
            add_text(time, "beat-type", new.lower)
        if first:
            clef = ET.SubElement(attributes, "clef")
            mean = sum(note.number for note in self.notes) / max(1, len(self.notes))
            if self.voice is not None and self.voice.is_drums:
                add_text(clef, "sign", "percussion")
            else:
                low = bool(self.notes) and mean < _LOW_CLEF
                add_text(clef, "sign", "F" if low else "G")
                add_text(clef, "line", 4 if low else 2)

    # One line of a bar

    def _line(self, measure: ET.Element, bar: _Bar, line: Sequence[Strike], number: int) -> None:
        here = bar.start
        self.tuplet = None
        for strike in line:
            end = strike.start + strike.length
            if end <= bar.start or strike.start >= bar.end:
                continue
            start = max(strike.start, bar.start)
            self._pieces(measure, bar, here, start, None, number)
            self._pieces(measure, bar, start, min(end, bar.end), strike, number)
            here = min(end, bar.end)
        self._pieces(measure, bar, here, bar.end, None, number)

    def _pieces(self, measure: ET.Element, bar: _Bar, start: int, end: int, strike: Strike | None, line: int) -> None:
        """A stretch of one bar, as written notes tied together or as rests."""
        if start >= end:
            return
        whole = strike is None and start == bar.start and end == bar.end
        values = values_of(Fraction(end - start, TICKS_PER_QUARTER))
        at = Fraction(start)
        for place, value in enumerate(values):
            if line == 1:
                self._say(measure, int(at), int(at + value.length * TICKS_PER_QUARTER))
            bracket = self._bracket(value)
            if strike is None:
                self._rest(measure, value, line, whole and len(values) == 1, bracket)
            else:
                first = at == strike.start
                last = place == len(values) - 1 and end == strike.start + strike.length
                self._struck(measure, strike, value, line, first, last, bracket)
            at += value.length * TICKS_PER_QUARTER

    def _bracket(self, value: Value) -> list[str]:
        """The ends of a tuplet that a written note has: ``start``, ``stop``, both or none."""
        if value.actual == 1:
            self.tuplet = None
            return []
        kinds = ["start"] if self.tuplet is None else []
        held = (self.tuplet or Fraction(0)) + value.length
        odd = held.denominator
        while odd % 2 == 0:
            odd //= 2
        self.tuplet = held if odd > 1 else None
        return [*kinds, *(["stop"] if odd == 1 else [])]

    def _rest(self, measure: ET.Element, value: Value, line: int, whole: bool, bracket: list[str]) -> None:
        note = ET.SubElement(measure, "note")
        ET.SubElement(note, "rest", {"measure": "yes"} if whole else {})
        self._lasting(note, value, line)
        if bracket:
            self._tuplets(ET.SubElement(note, "notations"), bracket)

    def _struck(
        self,
        measure: ET.Element,
        strike: Strike,
        value: Value,
        line: int,
        first: bool,
        last: bool,
        bracket: list[str],
    ) -> None:
        if first and (chord := self._harmony(strike)) is not None:
            measure.append(chord)
        for place, each in enumerate(strike.notes):
            note = ET.SubElement(measure, "note")
            if first and each.loudness != self.level:
                note.set("dynamics", f"{100 * each.loudness / FORTE:.2f}")
            if place:
                ET.SubElement(note, "chord")
            self._sign(note, each)
            add_text(note, "duration", int(value.length * self.score.divisions))
            ties = [kind for kind, is_so in (("stop", not first), ("start", not last)) if is_so]
            for kind in ties:
                ET.SubElement(note, "tie", type=kind)
            if self.voice is not None and self.voice.is_drums:
                ET.SubElement(note, "instrument", id=f"P{self.index + 1}-I{each.number}")
            self._shape(note, value, line, each)
            self._notations(note, each, ties, bracket if not place else [], first)
            if first and not place and each.syllable:
                self._lyric(note, each.syllable)

    def _sign(self, note: ET.Element, each: Note) -> None:
        if self.voice is not None and self.voice.is_drums:
            unpitched = ET.SubElement(note, "unpitched")
            add_text(unpitched, "display-step", each.pitch.letter)
            add_text(unpitched, "display-octave", max(0, min(9, each.pitch.octave + 1)))
            return
        pitch = ET.SubElement(note, "pitch")
        add_text(pitch, "step", each.pitch.letter)
        if each.pitch.accidental:
            add_text(pitch, "alter", each.pitch.accidental)
        add_text(pitch, "octave", each.pitch.octave)

    def _lasting(self, note: ET.Element, value: Value, line: int) -> None:
        add_text(note, "duration", int(value.length * self.score.divisions))
        self._shape(note, value, line, None)

    def _shape(self, note: ET.Element, value: Value, line: int, each: Note | None) -> None:
        add_text(note, "voice", line)
        add_text(note, "type", value.type)
        for _ in range(value.dots):
            ET.SubElement(note, "dot")
        if each is not None and self.voice is not None and not self.voice.is_drums:
            accidental = self._accidental(each.pitch, self.song.key_at(each.start))
            if accidental is not None:
                add_text(note, "accidental", accidental)
        if value.actual > 1:
            changed = ET.SubElement(note, "time-modification")
            add_text(changed, "actual-notes", value.actual)
            add_text(changed, "normal-notes", value.normal)

    def _accidental(self, pitch: Pitch, key: Key) -> str | None:
        """The accidental that is drawn, where the key and the bar do not say it already."""
        fifths = key.signature
        in_key = _SHARPS[:fifths] if fifths > 0 else _SHARPS[::-1][:-fifths]
        signed = 1 if fifths > 0 else -1
        usual = signed if pitch.letter in in_key and fifths else 0
        place = pitch.letter, pitch.octave
        if self.altered.get(place, usual) == pitch.accidental:
            return None
        self.altered[place] = pitch.accidental
        return _ACCIDENTALS.get(pitch.accidental)

    def _notations(self, note: ET.Element, each: Note, ties: list[str], bracket: list[str], first: bool) -> None:
        accented = first and each.loudness >= min(127, self.level + ACCENT)
        short = first and each.short
        if not (ties or bracket or accented or short):
            return
        notations = ET.SubElement(note, "notations")
        for kind in ties:
            ET.SubElement(notations, "tied", type=kind)
        self._tuplets(notations, bracket)
        if accented or short:
            articulations = ET.SubElement(notations, "articulations")
            if accented:
                ET.SubElement(articulations, "accent")
            if short:
                ET.SubElement(articulations, "staccato")

    def _tuplets(self, notations: ET.Element, bracket: list[str]) -> None:
        for kind in bracket:
            ET.SubElement(notations, "tuplet", type=kind)

    def _lyric(self, note: ET.Element, syllable: str) -> None:
        kinds = {(False, False): "single", (False, True): "begin", (True, True): "middle", (True, False): "end"}
        lyric = ET.SubElement(note, "lyric")
        add_text(lyric, "syllabic", kinds[self.in_word, syllable.endswith("-")])
        add_text(lyric, "text", syllable.removesuffix("-"))
        self.in_word = syllable.endswith("-")

    def _harmony(self, strike: Strike) -> ET.Element | None:
        """The chord symbol of what is struck, where it is exactly a chord."""
        if self.voice is None or self.voice.is_drums or len(strike.notes) < 3:
            return None
        chord = recognized([note.pitch for note in strike.notes])
        if chord is None or chord.kind.symbol not in KINDS:
            return None
        harmony = ET.Element("harmony")
        root = ET.SubElement(harmony, "root")
        add_text(root, "root-step", chord.root.letter)
        if chord.root.accidental:
            add_text(root, "root-alter", chord.root.accidental)
        ET.SubElement(harmony, "kind", text=chord.kind.symbol).text = KINDS[chord.kind.symbol]
        if chord.bass is not None:
            bass = ET.SubElement(harmony, "bass")
            add_text(bass, "bass-step", chord.bass.letter)
            if chord.bass.accidental:
                add_text(bass, "bass-alter", chord.bass.accidental)
        return harmony

    def _say(self, measure: ET.Element, start: int, end: int) -> None:
        """Write the directions that stand from a tick up to another, at its place."""
        while self.directions and self.directions[0][0] < end:
            tick, element = self.directions.pop(0)
            if tick > start:
                offset = ET.Element("offset", sound="yes")
                offset.text = str(self.score.duration(tick - start))
                places = [child.tag for child in element]
                element.insert(len([tag for tag in places if tag == "direction-type"]), offset)
            measure.append(element)
