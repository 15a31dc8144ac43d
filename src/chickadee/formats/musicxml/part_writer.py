"""A voice's notation as a part of a MusicXML score."""

from __future__ import annotations

from collections.abc import Sequence
from operator import itemgetter
from xml.etree import ElementTree as ET

from ...notation import (
    PERCUSSION,
    Clef,
    DrumHead,
    NotatedBar,
    NotatedItem,
    NotatedLine,
    NoteHead,
    Tuplet,
    VoiceNotation,
)
from ...sheet.written import ACCENT
from ...song import TICKS_PER_QUARTER, Meter
from ...theory import Key
from ...theory.chord import recognized
from .directions import directions_of
from .elements import FORTE, add_text
from .harmony import KINDS

__all__ = ["write_part"]

_USUAL_LEVEL = 80
_ACCIDENTALS = {-2: "flat-flat", -1: "flat", 0: "natural", 1: "sharp", 2: "double-sharp"}
_MODES = frozenset(("major", "minor", "dorian", "phrygian", "lydian", "mixolydian", "locrian"))
_HEADS = {DrumHead.CROSS: "x", DrumHead.OPEN: "circle-x", DrumHead.TRIANGLE: "triangle"}


def write_part(part: ET.Element, notation: VoiceNotation, divisions: int) -> None:
    """Add the bars of a voice to a part; ``divisions`` are the parts of a quarter note that durations count."""
    writer = _PartWriter(notation, divisions)
    for bar in notation.all_bars():
        writer.write_bar(part, bar)


class _PartWriter:
    def __init__(self, notation: VoiceNotation, divisions: int) -> None:
        self._notation = notation
        self._song = notation.song
        self._divisions = divisions
        self._index = notation.voice
        voices = self._song.voices
        self._level = voices[self._index].level if self._index < len(voices) else _USUAL_LEVEL
        self._directions = sorted(directions_of(self._song, self._index), key=itemgetter(0))
        self._before: tuple[Meter, Key] | None = None
        self._in_word = False  # whether the last syllable goes on

    def write_bar(self, part: ET.Element, bar: NotatedBar) -> None:
        measure = ET.SubElement(part, "measure", number=str(bar.number))
        if bar.number == 0:
            measure.set("implicit", "yes")
        self._attributes(measure, bar)
        for place, line in enumerate(bar.lines):
            if place:
                backup = ET.SubElement(measure, "backup")
                add_text(backup, "duration", self._duration(bar.end - bar.start))
            self._line(measure, line, says=not place)

    def _duration(self, ticks: int) -> int:
        return ticks * self._divisions // TICKS_PER_QUARTER

    def _attributes(self, measure: ET.Element, bar: NotatedBar) -> None:
        first = self._before is None
        meter, key = self._before or (None, None)
        self._before = bar.meter, bar.key
        if self._before == (meter, key):
            return
        attributes = ET.SubElement(measure, "attributes")
        if first:
            add_text(attributes, "divisions", self._divisions)
        if key != bar.key:
            written = ET.SubElement(attributes, "key")
            add_text(written, "fifths", bar.key.signature)
            add_text(written, "mode", _mode(bar.key))
        if meter != bar.meter:
            time = ET.SubElement(attributes, "time")
            add_text(time, "beats", bar.meter.upper)
            add_text(time, "beat-type", bar.meter.lower)
        if first:
            self._clefs(attributes)

    def _clefs(self, attributes: ET.Element) -> None:
        clefs = self._notation.clefs
        if len(clefs) > 1:
            add_text(attributes, "staves", len(clefs))
        for number, clef in enumerate(clefs, 1):
            element = ET.SubElement(attributes, "clef", {"number": str(number)} if len(clefs) > 1 else {})
            add_text(element, "sign", clef.sign)
            if clef is not PERCUSSION:
                add_text(element, "line", clef.line)
            if clef.octaves:
                add_text(element, "clef-octave-change", clef.octaves)

    # One line of a bar

    def _line(self, measure: ET.Element, line: NotatedLine, says: bool) -> None:
        """Write its notes and rests, and, where it is to say so, what stands between them."""
        for item, ends in zip(line.items, _tuplet_ends(line.items), strict=True):
            if says:
                self._say(measure, item.start, item.end)
            if item.is_rest:
                self._rest(measure, item, line, ends)
            else:
                self._struck(measure, item, line, ends)

    def _rest(self, measure: ET.Element, item: NotatedItem, line: NotatedLine, ends: Sequence[str]) -> None:
        note = ET.SubElement(measure, "note")
        ET.SubElement(note, "rest", {"measure": "yes"} if item.whole_bar else {})
        add_text(note, "duration", self._duration(item.end - item.start))
        self._look(note, item, line, None)
        if ends:
            self._tuplets(ET.SubElement(note, "notations"), ends)

    def _struck(self, measure: ET.Element, item: NotatedItem, line: NotatedLine, ends: Sequence[str]) -> None:
        if item.struck and (chord := self._harmony(item)) is not None:
            measure.append(chord)
        for place, head in enumerate(item.heads):
            each = head.note
            note = ET.SubElement(measure, "note")
            if item.struck and each.loudness != self._level:
                note.set("dynamics", f"{100 * each.loudness / FORTE:.2f}")
            if place:
                ET.SubElement(note, "chord")
            self._pitch(note, head, self._notation.clefs[line.staff])
            add_text(note, "duration", self._duration(item.end - item.start))
            ties = [kind for kind, is_so in (("stop", not item.struck), ("start", head.tied)) if is_so]
            for kind in ties:
                ET.SubElement(note, "tie", type=kind)
            if self._notation.is_drums:
                ET.SubElement(note, "instrument", id=f"P{self._index + 1}-I{each.number}")
            self._look(note, item, line, head)
            if not place:
                self._beams(note, item)
            self._notations(note, head, item, ties, ends if not place else ())
            if item.struck and not place and each.syllable:
                self._lyric(note, each.syllable)

    def _pitch(self, note: ET.Element, head: NoteHead, clef: Clef) -> None:
        if self._notation.is_drums:
            letter, octave = clef.letter_and_octave(head.place)
            unpitched = ET.SubElement(note, "unpitched")
            add_text(unpitched, "display-step", letter)
            add_text(unpitched, "display-octave", octave)
            return
        pitch = ET.SubElement(note, "pitch")
        add_text(pitch, "step", head.pitch.letter)
        if head.pitch.accidental:
            add_text(pitch, "alter", head.pitch.accidental)
        add_text(pitch, "octave", head.pitch.octave)

    def _look(self, note: ET.Element, item: NotatedItem, line: NotatedLine, head: NoteHead | None) -> None:
        add_text(note, "voice", line.number + 1)
        if not item.whole_bar or item.length.ticks == item.end - item.start:
            add_text(note, "type", item.length.type)
            for _ in range(item.length.dots):
                ET.SubElement(note, "dot")
        if head is not None and head.accidental is not None:
            drawn = head.accidental
            reminds = {"cautionary": "yes"} if drawn.courtesy else {}
            add_text(note, "accidental", _ACCIDENTALS[drawn.semitones], **reminds)
        if item.length.actual > 1:
            changed = ET.SubElement(note, "time-modification")
            add_text(changed, "actual-notes", item.length.actual)
            add_text(changed, "normal-notes", item.length.normal)
        if item.stem is not None:
            add_text(note, "stem", item.stem.value)
        if head is not None and head.shape in _HEADS:
            add_text(note, "notehead", _HEADS[head.shape])
        if len(self._notation.clefs) > 1:
            add_text(note, "staff", line.staff + 1)

    def _beams(self, note: ET.Element, item: NotatedItem) -> None:
        for number, beam in enumerate(item.beams, 1):
            add_text(note, "beam", beam.value, number=str(number))

    def _notations(
        self, note: ET.Element, head: NoteHead, item: NotatedItem, ties: Sequence[str], ends: Sequence[str]
    ) -> None:
        accented = item.struck and head.note.loudness >= min(127, self._level + ACCENT)
        short = item.struck and head.note.short
        if not (ties or ends or accented or short):
            return
        notations = ET.SubElement(note, "notations")
        for kind in ties:
            ET.SubElement(notations, "tied", type=kind)
        self._tuplets(notations, ends)
        if accented or short:
            articulations = ET.SubElement(notations, "articulations")
            if accented:
                ET.SubElement(articulations, "accent")
            if short:
                ET.SubElement(articulations, "staccato")

    def _tuplets(self, notations: ET.Element, ends: Sequence[str]) -> None:
        for kind in ends:
            ET.SubElement(notations, "tuplet", type=kind)

    def _lyric(self, note: ET.Element, syllable: str) -> None:
        kinds = {(False, False): "single", (False, True): "begin", (True, True): "middle", (True, False): "end"}
        lyric = ET.SubElement(note, "lyric")
        add_text(lyric, "syllabic", kinds[self._in_word, syllable.endswith("-")])
        add_text(lyric, "text", syllable.removesuffix("-"))
        self._in_word = syllable.endswith("-")

    def _harmony(self, item: NotatedItem) -> ET.Element | None:
        """The chord symbol of what is struck, where it is exactly a chord."""
        if self._notation.is_drums or len(item.heads) < 3:
            return None
        chord = recognized([head.note.pitch for head in item.heads])
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
        while self._directions and self._directions[0][0] < end:
            tick, element = self._directions.pop(0)
            if tick > start:
                offset = ET.Element("offset", sound="yes")
                offset.text = str(self._duration(tick - start))
                places = [child.tag for child in element]
                element.insert(len([tag for tag in places if tag == "direction-type"]), offset)
            measure.append(element)


def _mode(key: Key) -> str:
    """The key's scale where the standard names it as a mode; else whether it is minor or major."""
    if key.scale.name in _MODES:
        return key.scale.name
    return "minor" if key.scale.minor else "major"


def _tuplet_ends(items: Sequence[NotatedItem]) -> list[list[str]]:
    """For each item the ends of a tuplet that it has: ``start``, ``stop``, both or none."""
    found: list[list[str]] = [[] for _ in items]
    before: Tuplet | None = None
    for place, item in enumerate(items):
        if item.tuplet != before:
            if before is not None:
                found[place - 1].append("stop")
            if item.tuplet is not None:
                found[place].append("start")
            before = item.tuplet
    if before is not None:
        found[-1].append("stop")
    return found
