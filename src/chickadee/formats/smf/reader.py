"""Standard MIDI Files 1.0 of formats 0, 1 and 2, read to the tick; what is broken costs no more than itself."""

from __future__ import annotations

from bisect import bisect_right
from collections import Counter, defaultdict, deque
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from operator import itemgetter

from ...sheet.reading import collector_paused
from ...song import TICKS_PER_QUARTER, BarGrid, Meter, Note, Song, Tempo, TempoMap, Voice
from ...song.drums import DRUM_SOUND
from ...song.meter import read_meter
from ...song.tempo import playable
from ...theory import Key, Pitch, read_key
from ..imported import Form, Imported, ImportFault, counted, song_of
from ..programs import sound_of
from ..signatures import key_of
from .writer import DRUM_CHANNEL

__all__ = ["SmfFault", "is_smf", "read"]

_SMPTE_QUARTER = Fraction(1, 2)  # seconds that a quarter note is given where a file counts frames
_DEFAULT_MICROS = 500_000
_FEW_HELD_ON = 8  # notes never let go, of one part
_LONGEST_NAME = 60
_PAN = 10
_PEDAL = 64
_HELD = 64
_VOICE_WORDS = {
    0xA0: "key pressure", 0xB0: "controller change", 0xD0: "channel pressure", 0xE0: "pitch bend",
}  # fmt: skip
MOST_NOTES = 60_000
"""Notes of a MIDI file that are read."""
_MOST_EVENTS = 1_000_000
_NEAR = 16  # of a quarter note that a word may stand beside its note
_LOOKED_BACK = 200  # notes, for one of the same key
_MOST_CHANGES = 30_000  # of tempo, meter, key, sound and pedal, and words
_MOST_TRACKS = 2_000
_TOO_MANY = f"This file has more than {MOST_NOTES:,} notes; please take it in parts."
_TOO_LARGE = "This MIDI file has more events than a tune can have; please take it in parts."
_KEPT = {0x05, 0x06, 0x51, 0x58, 0x59}  # meta events that are kept by their time
_DATA_BYTES = {0x80: 2, 0x90: 2, 0xA0: 2, 0xB0: 2, 0xC0: 1, 0xD0: 1, 0xE0: 2}


class SmfFault(ImportFault):
    """A file is no MIDI file, or one without music."""


@dataclass(slots=True)
class _Part:
    """The notes and changes of one channel in one track. Times are the file's ticks."""

    track: int
    channel: int
    notes: list[tuple[int, int, int, int]] = field(default_factory=list)  # start, end, number, velocity
    programs: list[tuple[int, int]] = field(default_factory=list)
    pedals: list[tuple[int, int]] = field(default_factory=list)
    pan: int | None = None
    open: dict[int, deque[int]] = field(default_factory=dict)  # places in notes, by number
    down: int | None = None


@dataclass(slots=True)
class _File:
    """All that is read."""

    parts: dict[tuple[int, int], _Part] = field(default_factory=dict)
    names: dict[int, str] = field(default_factory=dict)
    ends: dict[int, int] = field(default_factory=dict)
    words: dict[int, dict[int, str]] = field(default_factory=lambda: defaultdict(dict))
    tempos: list[tuple[int, int]] = field(default_factory=list)
    meters: list[tuple[int, Meter]] = field(default_factory=list)
    keys: list[tuple[int, int, bool]] = field(default_factory=list)
    composer: str = ""
    marks: list[tuple[int, str]] = field(default_factory=list)
    unplaced: Counter[str] = field(default_factory=Counter)
    said: list[str] = field(default_factory=list)
    count: int = 0
    """Notes."""
    events: int = 0
    changes: int = 0

    def count_event(self) -> None:
        """Count an event. Raises SmfFault for one too many."""
        self.events += 1
        if self.events > _MOST_EVENTS:
            raise SmfFault(_TOO_LARGE)

    def count_change(self) -> None:
        """Count a change of what is kept by its time. Raises SmfFault for one too many."""
        self.changes += 1
        if self.changes > _MOST_CHANGES:
            raise SmfFault(_TOO_LARGE)


def is_smf(data: bytes) -> bool:
    """Return whether bytes begin as a MIDI file does, by itself or wrapped as RIFF."""
    return data[:4] == b"MThd" or (data[:4] == b"RIFF" and data[8:12] == b"RMID")


@collector_paused()
def read(data: bytes) -> Imported:
    """The music of a MIDI file. Raises SmfFault where it holds none, or is no MIDI file."""
    chunks = list(_chunks(_unwrapped(data)))
    if not chunks or chunks[0][0] != b"MThd" or len(chunks[0][1]) < 6:
        raise SmfFault("This is not a MIDI file; it does not begin with a header.")
    header = chunks[0][1]
    form = int.from_bytes(header[:2], "big")
    division = int.from_bytes(header[4:6], "big")
    scale, per_second = _scale(division)
    file = _File()
    offset = 0
    tracks = [chunk for name, chunk in chunks[1:] if name == b"MTrk"]
    if len(tracks) > _MOST_TRACKS:
        raise SmfFault(_TOO_LARGE)
    for index, chunk in enumerate(tracks):
        end = _TrackReader(file, index, chunk, offset).read()
        if form == 2:
            offset = end
    if form == 2 and len(tracks) > 1:
        file.said.append(f"The {len(tracks)} patterns of this file follow one another here.")
    return _Maker(file, scale, per_second).imported()


def _unwrapped(data: bytes) -> bytes:
    """Return the MIDI file that a RIFF file wraps, or the data as it is."""
    if data[:4] != b"RIFF":
        return data
    at = data.find(b"MThd")
    return data[at:] if at >= 0 else data


def _chunks(data: bytes) -> Iterator[tuple[bytes, bytes]]:
    """(name, content) of each chunk; a length that lies ends with the file."""
    at = 0
    while at + 8 <= len(data):
        length = int.from_bytes(data[at + 4 : at + 8], "big")
        yield data[at : at + 4], data[at + 8 : at + 8 + length]
        at += 8 + length


def _scale(division: int) -> tuple[Fraction, bool]:
    """Our ticks to one of the file's, and whether the file counts parts of a second."""
    if division & 0x8000:
        frames = 256 - (division >> 8)
        rate = Fraction(30_000, 1001) if frames == 29 else Fraction(frames)
        seconds = 1 / (rate * max(1, division & 0xFF)) if frames else Fraction(1, 1000)
        return seconds / _SMPTE_QUARTER * TICKS_PER_QUARTER, True
    return Fraction(TICKS_PER_QUARTER, max(1, division)), False


class _TrackReader:
    """Reads the events of one track into a file; ``offset`` is the tick that the track begins at."""

    def __init__(self, file: _File, index: int, data: bytes, offset: int) -> None:
        self.file = file
        self.index = index
        self.data = data
        self.tick = offset
        self.at = 0
        self.parts: list[_Part] = []
        """Those of this track."""

    def read(self) -> int:
        """The tick at which the track ends."""
        status = 0
        try:
            while self.at < len(self.data):
                self.tick += self._number()
                byte = self.data[self.at]
                if byte >= 0x80:
                    self.at += 1
                elif not status:
                    byte = self._next_status()
                if 0x80 <= byte < 0xF0:
                    status = byte
                self.file.count_event()
                if byte == 0xFF:
                    if not self._meta():
                        break
                elif byte >= 0xF0:
                    self._system(byte)
                else:
                    self._channel(status)
        except IndexError:
            self.file.said.append(f"Track {self.index + 1} is cut off; what stands before that was read.")
        for part in self.parts:
            self._close(part)
        self.file.ends[self.index] = self.tick
        return self.tick

    def _next_status(self) -> int:
        """Skip data that no event asked for."""
        while self.data[self.at] < 0x80:
            self.at += 1
        self.at += 1
        return self.data[self.at - 1]

    def _number(self) -> int:
        """A variable-length quantity of four bytes at most."""
        value = 0
        for _ in range(4):
            byte = self.data[self.at]
            self.at += 1
            value = value << 7 | byte & 0x7F
            if byte < 0x80:
                break
        return value

    def _part(self, channel: int) -> _Part:
        part = self.file.parts.get((self.index, channel))
        if part is None:
            part = self.file.parts[self.index, channel] = _Part(self.index, channel)
            self.parts.append(part)
        return part

    def _channel(self, status: int) -> None:
        kind = status & 0xF0
        part = self._part(status & 0x0F)
        data = self.data
        first = data[self.at] & 0x7F
        second = data[self.at + 1] & 0x7F if _DATA_BYTES[kind] == 2 else 0
        self.at += _DATA_BYTES[kind]
        if kind == 0x90 and second:
            self._strike(part, first, second)
        elif kind in (0x80, 0x90):
            self._let_go(part, first)
        elif kind == 0xC0:
            self.file.count_change()
            part.programs.append((self.tick, first))
        elif kind == 0xB0 and first == _PEDAL:
            self._pedal(part, second >= _HELD)
        elif kind == 0xB0 and first == _PAN and part.pan is None:
            part.pan = second
        else:
            self.file.unplaced[_VOICE_WORDS[kind]] += 1

    def _strike(self, part: _Part, number: int, velocity: int) -> None:
        self.file.count += 1
        if self.file.count > MOST_NOTES:
            raise SmfFault(_TOO_MANY)
        part.open.setdefault(number, deque()).append(len(part.notes))
        part.notes.append((self.tick, self.tick, number, velocity))

    def _let_go(self, part: _Part, number: int) -> None:
        struck = part.open.get(number)
        if struck:
            place = struck.popleft()  # of a key that was struck twice, the first is let go first
            start, _, number, velocity = part.notes[place]
            part.notes[place] = start, self.tick, number, velocity

    def _pedal(self, part: _Part, down: bool) -> None:
        self.file.count_change()
        if part.down is not None and self.tick > part.down:
            part.pedals.append((part.down, self.tick))
        part.down = self.tick if down else None

    def _close(self, part: _Part) -> None:
        """End what was never let go with the track, or with the next note where that is much."""
        left = [place for places in part.open.values() for place in places if not _struck_anew(part, place)]
        starts = sorted({start for start, *_ in part.notes}) if len(left) > _FEW_HELD_ON else []
        for place in left:
            start, _, number, velocity = part.notes[place]
            following = bisect_right(starts, start)
            end = starts[following] if following < len(starts) else max(self.tick, start)
            part.notes[place] = start, end, number, velocity
        if left:
            said = (
                "1 note was never let go, and ends"
                if len(left) == 1
                else f"{len(left)} notes were never let go, and end"
            )
            what = f"with the next note of track {self.index + 1}" if starts else f"with track {self.index + 1}"
            self.file.said.append(f"{said} {what}.")
        self._pedal(part, down=False)
        part.open.clear()

    def _system(self, status: int) -> None:
        length = self._number()
        self.at += length
        self.file.unplaced["system exclusive message"] += status in (0xF0, 0xF7)

    def _meta(self) -> bool:
        """Read a meta event; False at the end of the track."""
        kind = self.data[self.at]
        self.at += 1
        length = self._number()
        content = self.data[self.at : self.at + length]
        self.at += length
        file = self.file
        if kind == 0x2F:
            return False
        if kind in _KEPT:
            file.count_change()
        if kind == 0x51 and len(content) >= 3:
            file.tempos.append((self.tick, int.from_bytes(content[:3], "big")))
        elif kind == 0x58 and len(content) >= 2:
            meter = read_meter(f"{content[0]}/{1 << min(content[1], 8)}")
            if meter is not None:
                file.meters.append((self.tick, meter))
            file.unplaced["meter"] += meter is None
        elif kind == 0x59 and len(content) >= 2:
            file.keys.append((self.tick, int.from_bytes(content[:1], "big", signed=True), bool(content[1])))
        elif kind == 0x03:
            file.names.setdefault(self.index, _text(content))
        elif kind == 0x05:
            file.words[self.index].setdefault(self.tick, _text(content))
        elif kind == 0x06:
            file.marks.append((self.tick, _text(content)[:_LONGEST_NAME]))
        elif kind in (0x01, 0x02) and not self.tick and not file.composer and not self.index:
            file.composer = _text(content)[:_LONGEST_NAME]
        elif kind in (0x01, 0x02, 0x04, 0x07):
            words = {0x01: "text", 0x02: "copyright notice", 0x04: "instrument name", 0x07: "cue"}
            file.unplaced[words[kind]] += bool(content)
        return True


def _text(content: bytes) -> str:
    try:
        text = content.decode("utf-8")
    except UnicodeDecodeError:
        text = content.decode("latin-1")
    return " ".join("".join(c if c.isprintable() else " " for c in text).split())


class _Maker:
    """Makes a song of what was read."""

    def __init__(self, file: _File, scale: Fraction, per_second: bool) -> None:
        self.file = file
        self.per_second = per_second
        self.upper = scale.numerator
        self.lower = scale.denominator

    def imported(self) -> Imported:
        file = self.file
        parts = [part for part in file.parts.values() if part.notes]
        if not parts:
            raise SmfFault("This MIDI file has no notes.")
        named = 0 not in {part.track for part in parts} or len(file.ends) == 1
        title = file.names.get(0, "") if named else ""
        marks = tuple(sorted({(self._tick(tick), words) for tick, words in file.marks if words}))
        frame = Song(
            title, file.composer, grid=self._grid(), keys=self._keys(), tempo=TempoMap(self._tempos()), marks=marks
        )
        voices = [self._voice(part) for part in parts]
        notes = [note for index, part in enumerate(parts) for note in self._notes(index, part, frame)]
        return Imported(song_of(voices, notes, frame), Form.MIDI, (*file.said, *counted(file.unplaced)))

    def _tick(self, tick: int) -> int:
        return (2 * tick * self.upper + self.lower) // (2 * self.lower)

    def _tempos(self) -> list[Tempo]:
        if self.per_second:
            return [Tempo(0, float(60 / _SMPTE_QUARTER))]
        found = {0: _DEFAULT_MICROS} | {tick: micros for tick, micros in sorted(self.file.tempos) if micros}
        steps = [Tempo(self._tick(tick), _tempo(micros)) for tick, micros in sorted(found.items())]
        return [
            step
            for place, step in enumerate(steps)
            if not place or step.quarters_per_minute != steps[place - 1].quarters_per_minute
        ]

    def _grid(self) -> BarGrid:
        meters = {0: Meter()}
        for tick, meter in sorted(self.file.meters, key=itemgetter(0)):
            meters[self._tick(tick)] = meter
        ticks = sorted(meters)
        if len(ticks) > 1 and ticks[1] == meters[0].bar_ticks < meters[ticks[1]].bar_ticks:
            pickup = ticks[1]  # a bar of its own meter, shorter than those after it
            meters[0] = meters.pop(pickup)
            return BarGrid(tuple(sorted(meters.items())), pickup)
        return BarGrid(tuple(sorted(_on_bars(meters).items())), 0)

    def _keys(self) -> tuple[tuple[int, Key], ...]:
        keys = {0: read_key("C major")}
        for tick, sharps, minor in sorted(self.file.keys):
            if -7 <= sharps <= 7:
                keys[self._tick(tick)] = key_of(sharps, "minor" if minor else "major")
        return tuple(sorted(keys.items()))

    def _voice(self, part: _Part) -> Voice:
        drums = part.channel == DRUM_CHANNEL
        programs = dict(part.programs)
        first = min(start for start, *_ in part.notes)
        opening = max((tick for tick in programs if tick <= first), default=None)
        sound = DRUM_SOUND if drums else sound_of(programs[opening] if opening is not None else 0)
        later = [
            (self._tick(tick), sound_of(programs[tick]))
            for tick in sorted(programs)
            if not drums and (opening is None or tick > opening)
        ]
        name = self.file.names.get(part.track, "")[:_LONGEST_NAME]
        if not name or len(self.file.ends) == 1:
            name = sound.capitalize()
        return Voice(
            name,
            sound,
            0.0 if part.pan is None else max(-1.0, min(1.0, (part.pan - 64) / 63)),
            sounds=tuple(_changes(later, sound)),
            pedals=tuple((self._tick(down), self._tick(up)) for down, up in part.pedals),
            end=max(self._tick(self.file.ends.get(part.track, 0)), max(self._tick(end) for _, end, *_ in part.notes)),
        )

    def _notes(self, index: int, part: _Part, frame: Song) -> Iterator[Note]:
        near = TICKS_PER_QUARTER * self.lower // (_NEAR * self.upper)
        words = _words_by_start(self.file.words.get(part.track, {}), part, near)
        key = frame.key
        pitches = dict[int, Pitch]()
        for start, end, number, velocity in part.notes:
            tick = self._tick(start)
            length = max(1, self._tick(end) - tick)
            syllable = words.pop(start, "").replace(" ", "") if words else ""
            if key is not (there := frame.key_at(tick)):
                key = there
                pitches = {}
            pitch = pitches.get(number) or pitches.setdefault(number, key.spell(number))
            yield Note(tick, index, length, pitch, number, velocity, False, ((0, 0),), syllable)


def _struck_anew(part: _Part, place: int) -> bool:
    """Return whether a note that was never let go began while another of its key sounded: on, on, off.

    The other one ended there. The note then ends where that other one was let go.
    """
    start, _, number, velocity = part.notes[place]
    for earlier in range(place - 1, max(-1, place - 1 - _LOOKED_BACK), -1):
        begun, end, other, loudness = part.notes[earlier]
        if other == number and end > start:
            part.notes[earlier] = begun, start, number, loudness
            part.notes[place] = start, end, number, velocity
            return True
    return False


def _words_by_start(words: Mapping[int, str], part: _Part, near: int) -> dict[int, str]:
    """Syllables by the start of the note that each belongs to: the nearest, a few ticks away at most."""
    starts = sorted({start for start, *_ in part.notes})
    found: dict[int, str] = {}
    for tick, word in words.items():
        place = bisect_right(starts, tick)
        around = starts[max(0, place - 1) : place + 1]
        nearest = min(around, key=lambda start: abs(start - tick), default=tick)
        found.setdefault(nearest if abs(nearest - tick) <= near else tick, word)
    return found


def _tempo(micros: int) -> float:
    """Quarter notes a minute, in as few decimals as give the same microseconds."""
    exact = playable(60e6 / micros)
    plain = (round(exact, places) for places in range(5))
    return next((tempo for tempo in plain if round(60e6 / tempo) == micros), exact)


def _changes(changes: list[tuple[int, str]], sound: str) -> Iterator[tuple[int, str]]:
    """Those changes of sound that change it."""
    for tick, other in changes:
        if other != sound:
            yield tick, other
        sound = other


def _on_bars(meters: dict[int, Meter]) -> dict[int, Meter]:
    """Meters by tick, without those that are as the one before them."""
    found: dict[int, Meter] = {}
    before: Meter | None = None
    for tick, meter in sorted(meters.items()):
        if meter != before:
            found[tick] = meter
        before = meter
    return found
