"""MusicXML of any version, partwise or timewise, plain or compressed, as the song that it sounds as."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from fractions import Fraction
from xml.etree.ElementTree import Element

from ...notation import NOTE_TYPES
from ...sheet.direction import LOUDNESS
from ...sheet.written import ACCENT
from ...song import TICKS_PER_QUARTER, Meter, Note, Song, Tempo, TempoMap, Voice
from ...song.drums import DRUM_SOUND
from ...song.sounds import DEFAULT_SOUND, LIKE
from ...song.tempo import EVEN, MOST_SWING, playable
from ...theory import Key, Pitch, read_key
from ...theory.pitch import LETTERS
from ..imported import Form, Imported, counted, song_of
from ..programs import sound_of
from ..signatures import key_of
from ..xml_tree import XmlFault, read_tree
from .container import MusicXmlFault, unpacked
from .elements import FORTE
from .meters import Meters
from .order import played
from .staves import WrittenBar, WrittenNote, joined_staves, tick_of

__all__ = ["MusicXmlFault", "is_musicxml", "read"]

MOST_NOTES = 25_000
"""Notes of a score, repeats counted, that are read."""

_MOST_PARTS = 300
_MOST_BARS = 5_000
_TOO_MANY = f"This score has more than {MOST_NOTES:,} notes; please take it in parts."
_FINEST = 10**12  # parts of a quarter note that are kept exactly; beyond them the nearest tick is meant
_SLOWING = re.compile(r"(?i)\b(?:rit|rall|accel|string|allarg|smorz)")
_LEVELS = {"ppp": 20, "pppp": 10, "fff": 124, "ffff": 127, "sf": 112, "sfz": 112, "fp": 96} | LOUDNESS


def is_musicxml(data: bytes) -> bool:
    """Return whether bytes look like a score, plain or compressed."""
    head = data[:4096]
    return data[:2] == b"PK" or b"<score-partwise" in head or b"<score-timewise" in head


def read(data: bytes) -> Imported:
    """The music of a score. Raises MusicXmlFault where it holds none, or is no score."""
    if data[:2] == b"PK":
        data = unpacked(data)
    try:
        root = read_tree(data)
    except XmlFault as fault:
        raise MusicXmlFault(str(fault)) from None
    if root.tag not in ("score-partwise", "score-timewise"):
        raise MusicXmlFault(f"This XML file is no score; it begins with <{root.tag[:40]}>.")
    return _ScoreReader(root).imported()


@dataclass(slots=True)
class _Shared:
    """The changes in one bar that hold for the whole song, by quarter notes from its start."""

    meter: Meter | None = None
    key: Key | None = None
    tempos: list[tuple[Fraction, float]] = field(default_factory=list)
    swing: float | None = None


class _ScoreReader:
    def __init__(self, root: Element) -> None:
        self.root = root
        self.left: Counter[str] = Counter()
        self.notes = 0
        self.parts = list(_parts(root))
        if len(self.parts) > _MOST_PARTS or any(len(bars) > _MOST_BARS for _, bars in self.parts):
            raise MusicXmlFault(f"This score has more than {_MOST_PARTS} parts or {_MOST_BARS:,} bars.")
        self.shared = [_Shared() for _ in range(max((len(bars) for _, bars in self.parts), default=0))]

    def imported(self) -> Imported:
        infos = {each.get("id", ""): each for each in self.root.iter("score-part")}
        voices: list[Voice] = []
        notes: list[Note] = []
        read_parts = [_PartReader(self, infos.get(name), bars).read() for name, bars in self.parts]
        order = played(self.parts[0][1]) if self.parts else []
        self._bound(read_parts, order)
        lengths = self._lengths(read_parts)
        starts = []
        end = Fraction(0)
        for place in order:
            starts.append(end)
            end += lengths[place]
        frame = self._frame(order, starts, lengths)
        for (name, _), part in zip(self.parts, read_parts, strict=True):
            mine = _named(infos.get(name), name)
            staves, lone_ties = joined_staves(part.bars, order, starts)
            self.left["tie without its other note"] += lone_ties
            for number, (drums, found) in enumerate(staves):
                spans = part.pedals(order, starts) if not number else ()
                pedals = tuple((tick_of(down), tick_of(up)) for down, up in spans)
                voices.append(
                    Voice(
                        mine.name,
                        DRUM_SOUND if drums else mine.sound,
                        mine.pan,
                        part.level,
                        pedals=pedals,
                        end=tick_of(end),
                    )
                )
                notes += [note._replace(voice=len(voices) - 1) for note in found]
        if not notes:
            raise MusicXmlFault("This score has no notes.")
        return Imported(song_of(voices, notes, frame), Form.MUSICXML, counted(self.left))

    @staticmethod
    def _bound(parts: list[_PartReader], order: list[int]) -> None:
        """Raise MusicXmlFault where the bars, in the order in which they are played, have too many notes."""
        in_bar: Counter[int] = Counter()
        for part in parts:
            in_bar.update({place: len(bar.notes) for place, bar in enumerate(part.bars)})
        if sum(in_bar[place] for place in order) > MOST_NOTES:
            raise MusicXmlFault(_TOO_MANY)

    def _lengths(self, parts: list[_PartReader]) -> list[Fraction]:
        """Quarter notes of each bar as it is written: as long as its longest part, or as the meter asks."""
        longest = [Fraction(0)] * len(self.shared)
        for part in parts:
            for place, bar in enumerate(part.bars):
                longest[place] = max(longest[place], bar.length)
        meter = Meter()
        found = []
        for place, shared in enumerate(self.shared):
            meter = shared.meter or meter
            found.append(longest[place] or Fraction(4 * meter.upper, meter.lower))
        return found

    def _frame(self, order: list[int], starts: list[Fraction], lengths: list[Fraction]) -> Song:
        title = self.root.findtext("work/work-title") or self.root.findtext("movement-title") or ""
        creators = self.root.findall("identification/creator")
        composer = next((each.text or "" for each in creators if each.get("type") == "composer"), "")
        meters = Meters()
        keys = dict[int, Key]()
        tempos: dict[int, float] = {}
        swings: list[tuple[int, float]] = []
        meter = Meter()
        key = read_key("C major")
        before: Key | None = None
        for place, start in zip(order, starts, strict=True):
            shared = self.shared[place]
            meter = shared.meter or meter
            key = shared.key or key
            meters.add(tick_of(start), tick_of(lengths[place]), meter)
            if key != before:
                keys[tick_of(start)] = key
            before = key
            tempos |= {tick_of(start + at): tempo for at, tempo in shared.tempos}
            if shared.swing is not None and (not swings or swings[-1][1] != shared.swing):
                swings.append((tick_of(start), shared.swing))
        grid = meters.grid()
        opening = {0: min(tempos.items())[1] if 0 not in tempos and tempos else 120.0} | tempos
        steps = [Tempo(tick, playable(tempo)) for tick, tempo in sorted(opening.items())]
        kept = [
            step
            for place, step in enumerate(steps)
            if not place or step.quarters_per_minute != steps[place - 1].quarters_per_minute
        ]
        return Song(
            _plain(title),
            _plain(composer),
            grid=grid,
            keys=tuple(sorted(keys.items())),
            tempo=TempoMap(kept, swings, grid.pickup),
        )


class _PartReader:
    """Reads the bars of one part."""

    def __init__(self, score: _ScoreReader, info: Element | None, bars: list[Element]) -> None:
        self.score = score
        self.elements = bars
        self.bars: list[WrittenBar] = []
        self.divisions = Fraction(1)
        self.transposed = 0
        self.velocity = 80
        self.level = 0
        self._symbols = self._waiting = 0  # chord symbols read, and those over the newest note
        self._pedals: list[list[tuple[Fraction, bool]]] = []
        midi = info.findall("midi-instrument") if info is not None else []
        keys = ((each.get("id", ""), _whole(each.findtext("midi-unpitched"), 0) - 1) for each in midi)
        self.drums = {identity: key for identity, key in keys if key >= 0}

    def read(self) -> _PartReader:
        for place, element in enumerate(self.elements):
            self._bar(place, element)
        self.level = self.level or 80
        return self

    def pedals(self, order: list[int], starts: list[Fraction]) -> Iterator[tuple[Fraction, Fraction]]:
        """(down, up) in quarter notes from the song's start."""
        down: Fraction | None = None
        for place, start in zip(order, starts, strict=True):
            for at, pressed in sorted(self._pedals[place]) if place < len(self._pedals) else ():
                if down is not None and start + at > down:
                    yield down, start + at
                down = start + at if pressed else None

    def _bar(self, place: int, element: Element) -> None:
        bar = WrittenBar()
        here = Fraction(0)
        before = Fraction(0)
        shared = self.score.shared[place]
        self.bars.append(bar)
        self._pedals.append([])
        for each in element:
            if each.tag == "note":
                self._symbol_before(chord=each.find("chord") is not None)
                start = before if each.find("chord") is not None else here
                length = self._note(bar, each, start)
                if each.find("chord") is None and each.find("grace") is None:
                    before, here = here, here + length
            elif each.tag in ("backup", "forward"):
                step = self._duration(each)
                here = max(Fraction(0), here - step) if each.tag == "backup" else here + step
            elif each.tag == "attributes":
                self._attributes(shared, each)
            elif each.tag == "direction":
                self._direction(shared, place, each, here)
            elif each.tag == "sound":
                self._sound(shared, place, each, here)
            elif each.tag == "harmony":
                self._symbols += 1
            elif each.tag == "figured-bass":
                self.score.left["figured bass"] += 1
            if here.denominator > _FINEST:
                here = Fraction(tick_of(here), TICKS_PER_QUARTER)
            bar.length = max(bar.length, here)
        self._symbol_before(chord=False)

    def _symbol_before(self, chord: bool) -> None:
        """Count a chord symbol over a note, unless the notes of its chord are written too."""
        if chord:
            self._waiting = 0
        elif self._waiting:
            self.score.left["chord symbol"] += self._waiting
        if not chord:
            self._waiting, self._symbols = self._symbols, 0

    def _attributes(self, shared: _Shared, each: Element) -> None:
        if (divisions := _fraction(each.findtext("divisions"))) and divisions > 0:
            self.divisions = divisions
        if (time := each.find("time")) is not None and time.find("beats") is not None:
            beats = [_whole(part, 0) for found in time.findall("beats") for part in (found.text or "").split("+")]
            lower = _whole(time.findtext("beat-type"), 4)
            if sum(beats) > 0 and lower in (1, 2, 4, 8, 16, 32, 64):
                shared.meter = shared.meter or Meter(min(99, sum(beats)), lower)
        if (change := each.find("transpose")) is not None:
            self.transposed = _whole(change.findtext("chromatic"), 0) + 12 * _whole(
                change.findtext("octave-change"), 0
            )
        if (key := each.find("key")) is not None:
            fifths = _whole(key.findtext("fifths"), 0)
            if self.transposed % 12:
                fifths = (fifths + 7 * self.transposed + 5) % 12 - 5  # seven fifths to a semitone
            mode = (key.findtext("mode") or "major").strip().lower()
            if -7 <= fifths <= 7 and shared.key is None:
                shared.key = key_of(fifths, mode)

    def _direction(self, shared: _Shared, place: int, each: Element, here: Fraction) -> None:
        offset = each.find("offset")
        at = here + (_fraction(offset.text) or Fraction(0)) / self.divisions if offset is not None else here
        at = max(Fraction(0), at)
        sound = each.find("sound")
        if sound is not None:
            self._sound(shared, place, sound, at)
        for kind in each.findall("direction-type"):
            if (dynamics := kind.find("dynamics")) is not None and (sound is None or sound.get("dynamics") is None):
                self._loudness(next((_LEVELS[mark.tag] for mark in dynamics if mark.tag in _LEVELS), self.velocity))
            pedal = kind.find("pedal") if sound is None or sound.get("damper-pedal") is None else None
            if pedal is not None and pedal.get("type") in ("start", "stop", "change"):
                self._pedals[place].append((at, pedal.get("type") != "stop"))
            if (mark := kind.find("metronome")) is not None and (sound is None or sound.get("tempo") is None):
                self._metronome(shared, mark, at)
            if wedges := len(kind.findall("wedge")):
                self.score.left["wedge"] += wedges
            slowing = sum(_SLOWING.search(words.text or "") is not None for words in kind.findall("words"))
            self.score.left["rit. or accel. mark"] += slowing

    def _metronome(self, shared: _Shared, mark: Element, at: Fraction) -> None:
        unit = NOTE_TYPES.get(mark.findtext("beat-unit") or "")
        minute = _fraction(mark.findtext("per-minute"))
        if unit and minute and minute > 0:
            dots = len(mark.findall("beat-unit-dot"))
            shared.tempos.append((at, float(minute * unit * (2 - Fraction(1, 1 << dots)))))

    def _sound(self, shared: _Shared, place: int, sound: Element, at: Fraction) -> None:
        if (tempo := _fraction(sound.get("tempo"))) and tempo > 0:
            shared.tempos.append((at, float(tempo)))
        if (level := _fraction(sound.get("dynamics"))) is not None:
            self._loudness(round(level * FORTE / 100))
        if (pedal := sound.get("damper-pedal")) is not None:
            self._pedals[place].append((at, pedal != "no"))
        if (swing := sound.find("swing")) is not None and swing.find("first") is not None:
            first = _fraction(swing.findtext("first"))
            second = _fraction(swing.findtext("second"))
            if first and second and first > 0 and second > 0:
                part = float(first / (first + second))
                shared.swing = min(MOST_SWING, max(EVEN, part))
                self.score.left["swing outside 50 to 80%"] += part != shared.swing

    def _loudness(self, velocity: int) -> None:
        self.velocity = max(1, min(127, velocity))
        self.level = self.level or self.velocity

    def _note(self, bar: WrittenBar, each: Element, start: Fraction) -> Fraction:
        """Read a note; the quarter notes it lasts."""
        length = self._duration(each)
        if each.find("grace") is not None or each.find("cue") is not None:
            self.score.left["grace note" if each.find("grace") is not None else "cue note"] += 1
            return length
        if each.find("rest") is not None:
            return length
        read = self._pitch(each)
        if read is None or length <= 0:
            return length
        self.score.notes += 1
        if self.score.notes > MOST_NOTES:
            raise MusicXmlFault(_TOO_MANY)
        pitch, number, drum = read
        ties = {tie.get("type") for tie in each.findall("tie")} or {tie.get("type") for tie in each.iter("tied")}
        marks = {mark.tag for found in each.iter("articulations") for mark in found}
        exact = _fraction(each.get("dynamics"))
        loudness = round(exact * FORTE / 100) if exact is not None else self.velocity
        if exact is None and marks & {"accent", "strong-accent"}:
            loudness += ACCENT
        self._ornaments(each)
        self.score.left["fermata"] += sum(1 for _ in each.iter("fermata"))
        self.score.left["later verse's syllable"] += max(0, len(each.findall("lyric")) - 1)
        syllable = self._lyric(each) if each.find("lyric") is not None else ""
        short = bool(marks & {"staccato", "staccatissimo"})
        staff = each.findtext("staff") or "1"
        line = each.findtext("voice") or "1"
        bar.notes.append(
            WrittenNote(
                start,
                length,
                pitch,
                number,
                max(1, min(127, loudness)),
                short,
                syllable,
                staff,
                line,
                goes_on="start" in ties,
                came="stop" in ties,
                drum=drum,
            )
        )
        return length

    def _ornaments(self, each: Element) -> None:
        for found in each.iter("ornaments"):
            for mark in found:
                self.score.left[f"{mark.tag.replace('-', ' ')}"] += 1

    def _duration(self, each: Element) -> Fraction:
        return max(Fraction(0), (_fraction(each.findtext("duration")) or Fraction(0)) / self.divisions)

    def _pitch(self, each: Element) -> tuple[Pitch, int, bool] | None:
        written = each.find("pitch")
        if written is not None:
            letter = (written.findtext("step") or "").strip().upper()
            octave = _whole(written.findtext("octave"), 4)
            alter = _fraction(written.findtext("alter")) or Fraction(0)
            if alter.denominator != 1:
                self.score.left["microtone"] += 1
            if len(letter) != 1 or letter not in LETTERS or abs(alter) > 3:
                return None
            pitch = Pitch(letter, round(alter), octave)
            number = pitch.number + self.transposed
            if self.transposed:
                pitch = read_key("C major").spell(max(0, min(127, number)))
            if not 0 <= number <= 127:
                self.score.left["pitch that no MIDI key has, which"] += 1
                return None
            return pitch, number, False
        unpitched = each.find("unpitched")
        if unpitched is None:
            return None
        instrument = each.find("instrument")
        number = self.drums.get(instrument.get("id", ""), -1) if instrument is not None else -1
        if number < 0 and len(self.drums) == 1:
            number = next(iter(self.drums.values()))
        if not 0 <= number <= 127:
            number = 38
        return read_key("C major").spell(number), number, True

    def _lyric(self, each: Element) -> str:
        lyric = each.find("lyric")
        text = "".join((found.text or "") for found in (lyric.findall("text") if lyric is not None else ()))
        syllabic = (lyric.findtext("syllabic") or "single") if lyric is not None else "single"
        text = "".join(_plain(text).split()).replace("-", "")
        return f"{text}-" if text and syllabic in ("begin", "middle") else text


def _parts(root: Element) -> Iterator[tuple[str, list[Element]]]:
    """(id, bars) of each part, of a partwise or a timewise score."""
    if root.tag == "score-partwise":
        yield from ((part.get("id", ""), part.findall("measure")) for part in root.findall("part"))
        return
    found: dict[str, list[Element]] = {}
    for measure in root.findall("measure"):
        for part in measure.findall("part"):
            part.attrib |= {name: value for name, value in measure.attrib.items() if name == "implicit"}
            found.setdefault(part.get("id", ""), []).append(part)
    yield from found.items()


def _named(info: Element | None, name: str) -> Voice:
    """The name, sound and pan of a part."""
    if info is None:
        return Voice(name or "Melody")
    title = _plain(info.findtext("part-name") or "") or name
    program = _whole(info.findtext("midi-instrument/midi-program"), 0)
    words = f"{title} {info.findtext('score-instrument/instrument-name') or ''}".lower().split()
    like = next((LIKE[word.strip(".,")] for word in words if word.strip(".,") in LIKE), DEFAULT_SOUND)
    pan = float(_fraction(info.findtext("midi-instrument/pan")) or 0) / 90
    return Voice(title, sound_of(program - 1) if 1 <= program <= 128 else like, max(-1.0, min(1.0, pan)))


def _plain(text: str) -> str:
    return " ".join("".join(c if c.isprintable() else " " for c in text).split())


def _fraction(text: str | None) -> Fraction | None:
    """A number with at most a few digits; None for anything else."""
    text = (text or "").strip()
    if not text or len(text) > 24 or text.strip("+-0123456789."):
        return None
    try:
        return Fraction(text)
    except ValueError:
        return None


def _whole(text: str | None, usual: int) -> int:
    number = _fraction(text)
    return round(number) if number is not None and abs(number) < 1e6 else usual
