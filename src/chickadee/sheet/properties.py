"""The properties of a song and of a voice: their names, their values and what they mean."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction

from ..faults import InputFault
from ..song.drums import DRUMS
from ..song.meter import Meter, read_meter
from ..song.sounds import SOUNDS
from ..theory import NAMINGS, Key, KeyNameError, Naming, read_key, read_pitch_name
from .direction import LOUDNESS, TempoMark, decimal, read_loudness, read_swing, read_tempo
from .length import Unit, read_length
from .written import DEFAULT_OCTAVE, ChordSign, Named, Number, read_written

__all__ = [
    "KEY_NAMES",
    "PROPERTIES",
    "READING_ROWS",
    "OwnKey",
    "PropertyKind",
    "RecordingUnderTune",
    "Settings",
    "UnknownSound",
    "own_keys",
    "read_pitch_number",
]


KEY_NAMES = (
    "left", "right", "up", "down", "space", "enter", "tab", "backspace", "insert", "delete", "home", "end",
)  # fmt: skip
"""The keys that have names and no letter."""


READING_ROWS = (
    "Staff", "Name", "Number", "Beats", "Words", "Seconds", "Frequency", "Step", "Sol-fa", "Above tonic", "Interval",
)  # fmt: skip
"""The titles of the reading rows, from the top."""


@dataclass(frozen=True, slots=True)
class OwnKey:
    """A key of the computer that is given something of its own to play: ``q C4&E4``, ``left {Am}``, ``1 call``."""

    letter: str
    """A letter, a digit, or one of KEY_NAMES."""
    written: str
    """The pitch, chord or phrase it plays, as it is written."""
    numbers: tuple[int, ...]
    """MIDI numbers; none for a phrase."""
    kind: str = "pitches"
    """``pitches``, ``drum``, or ``phrase`` for a phrase's name."""


@dataclass(frozen=True, slots=True)
class RecordingUnderTune:
    """A recording that lies under the tune: ``gull.wav, 1.25, 5=9.75``."""

    path: str
    """As it is written: from the tune's folder where it is not absolute."""
    first: float = 0.0
    """The second of it at which bar 1 begins."""
    anchors: tuple[tuple[int, float], ...] = ()
    """(bar, second) of further bars that were found by ear."""

    @property
    def text(self) -> str:
        """The value of the property."""
        first, *more = (
            f"{second:.3f}".rstrip("0").rstrip(".") for second in (self.first, *(s for _, s in self.anchors))
        )
        bars = (f", {bar}={second}" for (bar, _), second in zip(self.anchors, more, strict=True))
        return f"{self.path}, {first}{''.join(bars)}"


@dataclass(frozen=True, slots=True)
class Settings:
    """The properties of one block, None where it does not set them; each field is the property of that name."""

    title: str | None = None
    composer: str | None = None
    tempo: TempoMark | None = None
    meter: Meter | None = None
    key: Key | None = None
    tuning: float | None = None
    octave: int | None = None
    gap: float | None = None
    sound: str | None = None
    level: int | None = None
    pan: float | None = None
    range: tuple[int, int] | None = None
    ticks: int | None = None
    pickup: Fraction | None = None
    swing: float | None = None
    allow: frozenset[int] | None = None
    stress: tuple[int, ...] | None = None
    keys: tuple[OwnKey, ...] | None = None
    recording: RecordingUnderTune | None = None
    names: Naming | None = None
    rows: tuple[str, ...] | None = None
    """Titles of reading rows that are shown when the tune is opened."""
    key_sets: tuple[tuple[str, tuple[OwnKey, ...]], ...] = ()
    """(name, keys) of further sets of keys: ``keys evening: ...``."""


def own_keys(settings: Settings) -> tuple[tuple[str, tuple[tuple[str, str], ...]], ...]:
    """(name, keys) of each set of own keys, each key with what it plays as it is written; the first has no name."""
    sets = (("", settings.keys or ()), *settings.key_sets)
    return tuple((name, tuple((key.letter, key.written) for key in keys)) for name, keys in sets if keys)


class UnknownSound(InputFault):
    """A sound's name that is not in the list."""


@dataclass(frozen=True, slots=True)
class PropertyKind:
    """One property.

    >>> PROPERTIES["octave"].read("5")
    5
    """

    name: str
    places: tuple[str, ...]
    """Where it may stand: ``song``, ``voice``, ``phrase``."""
    summary: str
    example: str
    read: Callable[[str], object]
    """Gives the value, or raises InputFault with a sentence that says what the value can be."""
    named: Callable[[str, Naming], object] | None = None
    """The same for one that names pitches, which it does in a tradition; letters are read in any."""

    def value(self, text: str, naming: Naming) -> object:
        """The value in a sheet that names pitches in a tradition. Raises InputFault."""
        return self.read(text) if self.named is None else self.named(text, naming)


def _text(value: str) -> str:
    return value


def _meter(value: str) -> Meter:
    meter = read_meter(value)
    if meter is None:
        raise InputFault("A meter is beats over a note value, such as 3/4 or 6/8.")
    return meter


def _key(value: str) -> Key:
    try:
        return read_key(value)
    except KeyNameError as fault:
        raise InputFault(str(fault)) from None


def _tuning(value: str) -> float:
    number = re.sub(r"(?i)^\s*a4?\s*=|hz\s*$", "", value)
    try:
        hertz = float(decimal(number))
    except InputFault:
        hertz = 0.0
    if not 220 <= hertz <= 880:
        raise InputFault("A tuning is the frequency of A4 in Hz, from 220 to 880, such as 440.")
    return hertz


def _octave(value: str) -> int:
    if not re.fullmatch(r"-1|[0-9]", value):
        raise InputFault("An octave is a whole number from -1 to 9; middle C begins octave 4.")
    return int(value)


def _gap(value: str) -> float:
    try:
        seconds = float(decimal(value))
    except InputFault:
        seconds = -1.0
    if not 0 <= seconds <= 1:
        raise InputFault("A gap is seconds of silence from 0 to 1, such as 0.03.")
    return seconds


def _sound(value: str) -> str:
    name = " ".join(value.lower().split())
    if name not in SOUNDS:
        raise UnknownSound(f"“{value}” is not a sound Chickadee has; it has {', '.join(SOUNDS)}.")
    return name


def _level(value: str) -> int:
    level = read_loudness(value)
    if level is None:
        raise InputFault(f"A level is one of {' '.join(LOUDNESS)} or a number from 1 to 127.")
    return level


def _pan(value: str) -> float:
    found = re.fullmatch(r"(?i)(left|right|middle)(?:\s+([0-9]{1,3})\s*%?)?", value)
    amount = int(found[2] or 100) / 100 if found else 2.0
    if found is None or amount > 1:
        raise InputFault("A pan is left, middle or right, or part of the way, such as left 40%.")
    return {"left": -amount, "middle": 0.0, "right": amount}[found[1].lower()]


def _range(value: str, naming: Naming = Naming.LETTERS) -> tuple[int, int]:
    ends = re.split(r"\s+to\s+|\s*[–-]\s*(?=[A-Za-z0-9])", value)
    numbers = [read_pitch_number(end.strip(), naming) for end in ends]
    if len(numbers) != 2 or None in numbers:
        raise InputFault("A range is two pitches with their octaves, such as D5 to C7.")
    low, high = sorted(number for number in numbers if number is not None)
    return low, high


def _ticks(value: str) -> int:
    if not re.fullmatch(r"[1-9][0-9]{0,2}", value):
        raise InputFault("Ticks is how many a beat has, from 1 to 999, such as 4.")
    return int(value)


def _pickup(value: str) -> Fraction:
    length = read_length(value)
    if length is None or length.unit is not Unit.BEAT:
        raise InputFault("A pickup is a number of beats before bar 1, such as 1 or 1/2.")
    return length.count


def _allow(value: str, naming: Naming = Naming.LETTERS) -> frozenset[int]:
    """Pitch classes for letters alone, as numbers from -12 to -1; MIDI numbers for pitches with an octave."""
    found = set()
    for word in value.replace(",", " ").split():
        number = read_pitch_number(word, naming)
        named = naming.read(word) or read_pitch_name(word)
        if number is None and (named is None or named[1] is not None):
            raise InputFault("Allowed pitches are letters or pitches, such as C D E G A.")
        by_name = named[0].pitch_class - 12 if named else 0
        found.add(number if number is not None else by_name)
    if not found:
        raise InputFault("Allowed pitches are letters or pitches, such as C D E G A.")
    return frozenset(found)


def _stress(value: str) -> tuple[int, ...]:
    levels = [read_loudness(word) for word in value.replace(",", " ").split()]
    if not levels or None in levels:
        raise InputFault("Stress is a loudness for each beat of the bar, such as 90 60 70.")
    return tuple(level for level in levels if level is not None)


def _keys(value: str, naming: Naming = Naming.LETTERS) -> tuple[OwnKey, ...]:
    found = []
    for part in value.split(","):
        letter, _, written = (word.strip() for word in part.strip().partition(" "))
        letter = letter.lower()
        key = _own_key(letter, written, naming) if re.fullmatch("[a-z0-9]", letter) or letter in KEY_NAMES else None
        if key is None:
            raise InputFault(
                "Own keys are letters, digits, left, right, up, down, space and other named keys, with "
                "what they play: q C4, w E4&G4, left {Am}, 1 snare, space call."
            )
        found.append(key)
    return tuple(found)


def _own_key(letter: str, written: str, naming: Naming) -> OwnKey | None:
    """A key that plays pitches, a drum or a phrase; None for what is none of them."""
    if (drum := DRUMS.get(written.lower())) is not None:
        return OwnKey(letter, written, (drum,), "drum")
    if numbers := _numbers(written, naming):
        return OwnKey(letter, written, numbers) if all(0 <= number <= 127 for number in numbers) else None
    looks_so = re.fullmatch(r"[^\W\d_][\w-]*", written) and written.lower() not in ("rest",)
    return OwnKey(letter, written, (), "phrase") if looks_so else None


def _names(value: str) -> Naming:
    found = next((naming for naming in NAMINGS if naming.value == " ".join(value.lower().split())), None)
    if found is None:
        raise InputFault("Names are letters, h (H is B, and B is B flat) or do re mi.")
    return found


def _rows(value: str) -> tuple[str, ...]:
    wanted = [" ".join(part.lower().split()) for part in value.split(",")]
    by_name = {title.lower(): title for title in READING_ROWS}
    if not all(each in by_name for each in wanted):
        raise InputFault(f"Rows are {', '.join(by_name)}, with a comma between them.")
    return tuple(by_name[each] for each in wanted)


def _recording(value: str) -> RecordingUnderTune:
    path, *more = (part.strip() for part in value.split(","))
    seconds = [re.fullmatch(r"(?:([0-9]{1,6})\s*=\s*)?(-?[0-9]{1,5}(?:\.[0-9]{1,6})?)", part) for part in more]
    first = next((found for found in seconds[:1] if found is not None and found[1] is None), None)
    anchors = [found for found in seconds[1 if first else 0 :] if found is not None and found[1] is not None]
    if not path or None in seconds or len(anchors) + bool(first) != len(more):
        raise InputFault(
            "A recording is a file, the second at which bar 1 begins, and bars with theirs: gull.wav, 1.25, 5=9.75."
        )
    return RecordingUnderTune(
        path, float(first[2]) if first else 0.0, tuple((int(found[1]), float(found[2])) for found in anchors)
    )


def _numbers(written: str, naming: Naming) -> tuple[int, ...]:
    """The MIDI numbers of pitches and chord symbols joined by ``&``; none where one of them cannot be read."""
    found: list[int] = []
    for sign in written.split("&"):
        what = read_written(sign, naming) or read_written(sign)
        if isinstance(what, Number):
            found.append(what.number)
        elif isinstance(what, Named):
            found.append(what.name.at(DEFAULT_OCTAVE if what.octave is None else what.octave).number)
        elif isinstance(what, ChordSign):
            pitches = what.chord.pitches(DEFAULT_OCTAVE if what.octave is None else what.octave)
            found += [pitch.number for pitch in pitches]
        else:
            return ()
    return tuple(found)


def read_pitch_number(text: str, naming: Naming = Naming.LETTERS) -> int | None:
    """The MIDI number of a pitch written with its octave or as a number; None for anything else.

    It may be written in a tradition of naming pitches, or with letters.
    """
    if re.fullmatch(r"[0-9]{1,3}", text):
        number = int(text)
    else:
        named = naming.read(text) or read_pitch_name(text)
        if named is None or named[1] is None:
            return None
        number = named[0].at(named[1]).number
    return number if 0 <= number <= 127 else None


_ALL = (
    PropertyKind("title", ("song",), "What the tune is called.", "Gull Point landing", _text),
    PropertyKind("composer", ("song",), "Who wrote it.", "Class 5", _text),
    PropertyKind("tempo", ("song",), "Beats a minute; or a note value and how many a minute.", "92", read_tempo),
    PropertyKind("meter", ("song",), "Beats in a bar over the note value of a beat.", "3/4", _meter),
    PropertyKind("key", ("song",), "The tonic and its scale, or the scale's pitches.", "G major", _key),
    PropertyKind("tuning", ("song",), "The frequency of A4 in Hz.", "440", _tuning),
    PropertyKind("pickup", ("song",), "Beats of bar 0, before bar 1 begins.", "1", _pickup),
    PropertyKind("swing", ("song",), "How much of a quarter its first half takes.", "60%", read_swing),
    PropertyKind("ticks", ("song",), "Parts of a beat that plain numbers after = count.", "4", _ticks),
    PropertyKind(
        "keys", ("song",), "Computer keys with pitches of their own.", "q C4, w E4&G4, e {Am}", _keys, _keys
    ),
    PropertyKind("names", ("song",), "How pitches are named: letters, h, do re mi, moving do.", "do re mi", _names),
    PropertyKind("rows", ("song",), "Reading rows that are shown when the tune is opened.", "staff, words", _rows),
    PropertyKind(
        "recording",
        ("song",),
        "A recording under the tune, the second at which bar 1 begins, and bars with theirs.",
        "gull.wav, 1.25, 5=9.75",
        _recording,
    ),
    PropertyKind("octave", ("song", "voice", "phrase"), "The octave of letters written without one.", "4", _octave),
    PropertyKind("gap", ("song", "voice"), "Seconds of silence taken from the end of each note.", "0.03", _gap),
    PropertyKind("sound", ("voice",), "What the voice is played with.", "glass bell", _sound),
    PropertyKind("level", ("voice",), "The loudness the voice begins with.", "mp", _level),
    PropertyKind("pan", ("voice",), "Where it stands between left and right.", "left 40%", _pan),
    PropertyKind("range", ("voice",), "The lowest and highest pitch it can play.", "D5 to C7", _range, _range),
    PropertyKind("allow", ("voice",), "The pitches it may play.", "C D E G A", _allow, _allow),
    PropertyKind("stress", ("voice",), "Loudness by beat of the bar.", "90 60 70", _stress),
)

PROPERTIES: dict[str, PropertyKind] = {kind.name: kind for kind in _ALL}
"""Every property by name, in the order the reference lists them."""
