"""Directions in square brackets: loudness, tempo, meter, key, swing, sound and pedal."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from functools import partial

from ..caching import remembered
from ..faults import InputFault
from ..song.meter import Meter, read_meter
from ..song.sounds import SOUNDS
from ..song.tempo import EVEN, MOST_SWING
from ..theory import Key, KeyNameError, read_key
from .length import Length, Unit, read_length

__all__ = [
    "DIRECTIONS",
    "LOUDNESS",
    "ChangeKey",
    "ChangeMeter",
    "ChangeSound",
    "ChangeSwing",
    "ChangeTempo",
    "DirectionKind",
    "Loudness",
    "Mark",
    "Pedal",
    "RampTempo",
    "Swell",
    "TempoMark",
    "Vary",
    "What",
    "decimal",
    "read_direction",
    "read_loudness",
    "read_swing",
    "read_tempo",
]

LOUDNESS = {"pp": 33, "p": 49, "mp": 64, "mf": 80, "f": 96, "ff": 112}
"""Loudness marks as MIDI velocities."""


@dataclass(frozen=True, slots=True)
class Loudness:
    """``[mf]``: the loudness from here on, a MIDI velocity from 1 to 127."""

    level: int


@dataclass(frozen=True, slots=True)
class Swell:
    """``[louder]`` or ``[softer]``: an even run to the next loudness; ``by`` is where it goes when none follows."""

    by: int


@dataclass(frozen=True, slots=True)
class Vary:
    """``[vary 6]``: each loudness up to so much either way."""

    amount: int


@dataclass(frozen=True, slots=True)
class TempoMark:
    """A tempo as it is written: so many of a note value, or of the meter's beat, a minute."""

    count: Fraction
    unit: Length | None = None

    def quarters_per_minute(self, meter: Meter) -> float:
        """The tempo in quarter notes a minute."""
        unit = self.unit.count if self.unit else Fraction(4, meter.lower)
        return float(self.count * unit)


@dataclass(frozen=True, slots=True)
class ChangeTempo:
    """``[tempo 120]``."""

    mark: TempoMark


@dataclass(frozen=True, slots=True)
class RampTempo:
    """``[slow to 60 over 4]``: evenly to a tempo over some beats."""

    target: TempoMark
    over: Length
    slower: bool
    """True if it says that the tempo becomes slower."""
    rest: str
    """The text after the word that says so."""


@dataclass(frozen=True, slots=True)
class ChangeMeter:
    """``[meter 4/4]``."""

    meter: Meter


@dataclass(frozen=True, slots=True)
class ChangeKey:
    """``[key D minor]``."""

    key: Key


@dataclass(frozen=True, slots=True)
class ChangeSwing:
    """``[swing 60%]``: the part of a quarter note that its first half takes, 0.5 for none."""

    part: float


@dataclass(frozen=True, slots=True)
class ChangeSound:
    """``[sound glass bell]``."""

    sound: str


@dataclass(frozen=True, slots=True)
class Pedal:
    """``[pedal]`` presses, or renews, ``[lift]`` lets go."""

    down: bool


@dataclass(frozen=True, slots=True)
class Mark:
    """``[mark gate opens]``: a place with words."""

    words: str


What = (
    Loudness
    | Swell
    | Vary
    | ChangeTempo
    | RampTempo
    | ChangeMeter
    | ChangeKey
    | ChangeSwing
    | ChangeSound
    | Pedal
    | Mark
)


@dataclass(frozen=True, slots=True)
class DirectionKind:
    """One kind of direction.

    ``read`` is given what stands in the brackets after ``name`` and gives the direction, or raises InputFault with
    a sentence that says what it can be.
    """

    name: str
    example: str
    summary: str
    song_wide: bool
    read: Callable[[str], What]


def read_loudness(text: str) -> int | None:
    """``mf`` or ``90`` as a MIDI velocity from 1 to 127, or None."""
    if text.lower() in LOUDNESS:
        return LOUDNESS[text.lower()]
    return int(text) if text.isascii() and text.isdigit() and len(text) < 9 and 1 <= int(text) <= 127 else None


def decimal(text: str) -> Fraction:
    """A number written plainly, exactly. Raises InputFault."""
    if not re.fullmatch(r"\s*[0-9]{1,9}(\.[0-9]{1,9})?\s*", text):
        raise InputFault(text)
    return Fraction(text.strip())


@remembered(2_000, 32)
def read_tempo(value: str) -> TempoMark:
    """``92`` or ``quarter. = 60``. Raises InputFault with a sentence."""
    unit: Length | None = None
    count = value
    if "=" in value:
        name, _, count = value.partition("=")
        unit = read_length(name.strip())
        if unit is None or unit.unit is not Unit.QUARTER:
            raise InputFault(f"“{name.strip()}” is not a note value; quarter and eighth. are two of them.")
    try:
        mark = TempoMark(decimal(count), unit)
    except InputFault:
        raise InputFault("A tempo is a number of beats a minute, such as 92, or quarter. = 60.") from None
    if not 5 <= mark.count <= 1000:
        raise InputFault("A tempo is from 5 to 1000 beats a minute.")
    return mark


def read_swing(value: str) -> float:
    """``60%`` as 0.6. Raises InputFault with a sentence."""
    found = re.fullmatch(r"([0-9]{1,2}(?:\.[0-9]+)?)\s*%?", value)
    if found is None or not 100 * EVEN <= float(found[1]) <= 100 * MOST_SWING:
        raise InputFault("Swing is the part of a quarter its first half takes, from 50% (even) to 80%, such as 60%.")
    return float(found[1]) / 100


def _tempo(value: str) -> What:
    return ChangeTempo(read_tempo(value))


def _ramp(value: str, slower: bool) -> What:
    found = re.fullmatch(r"to\s+(.+?)\s+over\s+(\S+)", value)
    over = read_length(found[2]) if found else None
    if found is None or over is None or not over.count:
        raise InputFault("A change of tempo is written [slow to 60 over 4]: the new tempo and the beats it takes.")
    return RampTempo(read_tempo(found[1]), over, slower, value)


_slow = partial(_ramp, slower=True)
_quicken = partial(_ramp, slower=False)


def _meter(value: str) -> What:
    meter = read_meter(value)
    if meter is None:
        raise InputFault("A meter is beats over a note value, such as 3/4 or 6/8.")
    return ChangeMeter(meter)


def _key(value: str) -> What:
    try:
        return ChangeKey(read_key(value))
    except KeyNameError as fault:
        raise InputFault(str(fault)) from None


def _sound(value: str) -> What:
    name = " ".join(value.lower().split())
    if name not in SOUNDS:
        raise InputFault(f"“{value}” is not a sound Chickadee has; it has {', '.join(SOUNDS)}.")
    return ChangeSound(name)


def _mark(value: str) -> What:
    if not value:
        raise InputFault("A mark has words that say what happens there, such as [mark gate opens].")
    return Mark(value)


def _vary(value: str) -> What:
    if not (value.isascii() and value.isdigit() and len(value) < 3 and int(value) <= 40):
        raise InputFault("Vary is a number from 0 to 40, such as [vary 6].")
    return Vary(int(value))


def _bare(what: What) -> Callable[[str], What]:
    def read(value: str) -> What:
        if value:
            raise InputFault(f"Nothing may follow it; “{value}” is too much.")
        return what

    return read


_ALL = (
    DirectionKind("louder", "louder", "evenly louder to the next loudness", False, _bare(Swell(16))),
    DirectionKind("softer", "softer", "evenly softer to the next loudness", False, _bare(Swell(-16))),
    DirectionKind("vary", "vary 6", "each loudness varied by up to so much, the same every time", False, _vary),
    DirectionKind("tempo", "tempo 120", "the tempo, as in the property", True, _tempo),
    DirectionKind("slow", "slow to 60 over 4", "evenly slower over some beats", True, _slow),
    DirectionKind("quicken", "quicken to 120 over 4", "evenly faster over some beats", True, _quicken),
    DirectionKind("meter", "meter 4/4", "the meter; a new bar begins", True, _meter),
    DirectionKind("key", "key D minor", "the key", True, _key),
    DirectionKind("swing", "swing 60%", "how much of each quarter from there on its first half takes", True,
                  lambda value: ChangeSwing(read_swing(value))),
    DirectionKind("mark", "mark gate opens", "a place with words: seen, walked to, and told to other programs", True,
                  _mark),
    DirectionKind("sound", "sound glass bell", "the voice's sound", False, _sound),
    DirectionKind("pedal", "pedal", "notes ring on until the lift; again renews it", False, _bare(Pedal(True))),
    DirectionKind("lift", "lift", "notes no longer ring on", False, _bare(Pedal(False))),
)  # fmt: skip

DIRECTIONS: dict[str, DirectionKind] = {kind.name: kind for kind in _ALL}
"""Every direction but the loudness marks, by its first word, in the order the reference lists them."""


@remembered(8_000, 80)
def read_direction(text: str) -> What:
    """The direction that the text inside the brackets names. Raises InputFault with a sentence."""
    words = text.split()
    level = read_loudness(" ".join(words))
    if level is not None:
        return Loudness(level)
    kind = DIRECTIONS.get(words[0].lower()) if words else None
    if kind is None:
        raise InputFault(
            f"A direction is a loudness ({' '.join(LOUDNESS)} or 1 to 127) or one of {', '.join(DIRECTIONS)}."
        )
    return kind.read(" ".join(words[1:]))
