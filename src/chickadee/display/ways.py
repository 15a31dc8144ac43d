"""The ways in which the Transpose panel can move or reshape a tune, with what each asks for."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction

from ..reshape import Part, Towards, by_interval, by_octaves, by_semitones, by_steps, to_key
from ..reshape.changing import (
    backwards,
    broken,
    folded,
    gathered,
    in_scale,
    replaced,
    straightened,
    stretched,
    swung,
    upside_down,
)
from ..reshape.fitting import WRITTEN_FOR, Fit, fits
from ..sheet import CannotEdit, Reading, TextEdit
from ..sheet.properties import read_pitch_number
from ..theory import INTERVALS, SCALES, KeyNameError, read_key
from . import words

__all__ = ["WAYS", "Choice", "Field", "Number", "Text", "Way"]

Values = Sequence[str]


@dataclass(frozen=True, slots=True)
class Number:
    """A whole number is asked for."""

    label: str
    low: int
    high: int
    usual: int


@dataclass(frozen=True, slots=True)
class Text:
    """A few signs are asked for."""

    label: str
    usual: str


@dataclass(frozen=True, slots=True)
class Choice:
    """One of some texts is asked for; they may depend on the tune and on what was given before."""

    label: str
    options: Callable[[Reading, Part, Values], list[str]]


Field = Number | Text | Choice


@dataclass(frozen=True, slots=True)
class Way:
    """One way of reshaping."""

    title: str
    fields: tuple[Field, ...]
    edits: Callable[[Reading, Part, Values], list[TextEdit]]
    """The edits, given a text for each field. Raises CannotEdit."""
    song_only: bool = False
    """True if only the whole song can be reshaped so."""


def _fixed(*options: str) -> Callable[[Reading, Part, Values], list[str]]:
    return lambda reading, part, values: list(options)


def _plain(change: Callable[[Reading, Part], list[TextEdit]]) -> Callable[[Reading, Part, Values], list[TextEdit]]:
    return lambda reading, part, values: change(reading, part)


def _by_interval(reading: Reading, part: Part, values: Values) -> list[TextEdit]:
    interval = next(each for each in INTERVALS if each.name == values[1])
    return by_interval(reading, interval if values[0] == "up" else interval.down, part)


_NEAREST = "the nearest way"
_SAME_SCALE = "the same scale"
_TOWARDS = {_NEAREST: Towards.NEAREST, "up": Towards.UP, "down": Towards.DOWN}
_TONICS = ("C", "C#", "Db", "D", "Eb", "E", "F", "F#", "Gb", "G", "G#", "Ab", "A", "Bb", "B")


def _to_key(reading: Reading, part: Part, values: Values) -> list[TextEdit]:
    tonic, scale, towards = values
    scale = scale.removesuffix(_TO_NEAREST)
    own = reading.song.key.scale.name
    try:
        key = read_key(f"{tonic} {own or 'major'}" if scale == _SAME_SCALE else f"{tonic} {scale}")
    except KeyNameError as fault:
        raise CannotEdit(str(fault)) from None
    return to_key(reading, key, _TOWARDS[towards])


_TO_NEAREST = ", to the nearest pitches"


def _scales_said(reading: Reading, part: Part, values: Values) -> list[str]:
    """The names of the scales; those of more or fewer steps than the tune's say how they are reached."""
    steps = len(reading.song.key.names)
    return [name if len(scale.semitones) == steps else name + _TO_NEAREST for name, scale in SCALES.items()]


def _same_or_scales_said(reading: Reading, part: Part, values: Values) -> list[str]:
    return [_SAME_SCALE, *_scales_said(reading, part, values)]


def _range(low: str, high: str) -> tuple[int, int]:
    numbers = [read_pitch_number(text.strip()) for text in (low, high)]
    if numbers[0] is None or numbers[1] is None:
        wrong = low if numbers[0] is None else high
        raise CannotEdit(f"“{wrong}” is not a pitch with its octave, such as C4, nor a MIDI number.")
    return min(numbers[0], numbers[1]), max(numbers[0], numbers[1])


def _fit_said(fit: Fit) -> str:
    way = "as it is" if not fit.semitones else f"{'up' if fit.semitones > 0 else 'down'} {abs(fit.semitones)}"
    inside = "all inside" if fit.fits else f"{fit.inside} of {fit.notes} inside"
    accidentals = words.counted(fit.accidentals, "accidental") if fit.accidentals else "no accidentals"
    return f"{way}: {inside}, {accidentals}, {fit.key.pretty}"


def _fits_said(reading: Reading, part: Part, values: Values) -> list[str]:
    try:
        return [_fit_said(fit) for fit in fits(reading, *_range(*values[:2]), part)]
    except CannotEdit:
        return []


def _into_range(reading: Reading, part: Part, values: Values) -> list[TextEdit]:
    ways = fits(reading, *_range(*values[:2]), part)
    said = [_fit_said(fit) for fit in ways]
    chosen = ways[said.index(values[2]) if values[2] in said else 0]
    return by_semitones(reading, chosen.semitones, part)


def _stretched(reading: Reading, part: Part, values: Values) -> list[TextEdit]:
    count = Fraction(values[1])
    return stretched(reading, count if values[0] == "stretched" else 1 / count, part)


WAYS: tuple[Way, ...] = (
    Way(
        "by semitones",
        (Number("Semitones", -48, 48, 2),),
        lambda reading, part, values: by_semitones(reading, int(values[0]), part),
    ),
    Way(
        "by steps of the key",
        (Number("Steps", -28, 28, 2),),
        lambda reading, part, values: by_steps(reading, int(values[0]), part),
    ),
    Way(
        "by octaves",
        (Number("Octaves", -6, 6, 1),),
        lambda reading, part, values: by_octaves(reading, int(values[0]), part),
    ),
    Way(
        "by an interval",
        (Choice("Way", _fixed("up", "down")), Choice("Interval", _fixed(*(each.name for each in INTERVALS)))),
        _by_interval,
    ),
    Way(
        "to a key",
        (Choice("Tonic", _fixed(*_TONICS)), Choice("Scale", _same_or_scales_said), Choice("Way", _fixed(*_TOWARDS))),
        _to_key,
        song_only=True,
    ),
    Way("into a range", (Text("from", "C4"), Text("to", "C6"), Choice("best", _fits_said)), _into_range),
    Way(
        "for an instrument",
        (Choice("Sounding", _fixed(*WRITTEN_FOR)),),
        lambda reading, part, values: by_interval(reading, WRITTEN_FOR[values[0]], part),
    ),
    Way(
        "into another scale",
        (Choice("Scale", _scales_said),),
        lambda reading, part, values: in_scale(reading, SCALES[values[0].removesuffix(_TO_NEAREST)]),
        song_only=True,
    ),
    Way(
        "folded into a range",
        (Text("from", "C4"), Text("to", "C6")),
        lambda reading, part, values: folded(reading, *_range(*values), part),
    ),
    Way(
        "one pitch replaced",
        (Text("Pitch", "C4"), Text("by", "D4")),
        lambda reading, part, values: replaced(
            reading, _range(values[0], values[0])[0], _range(values[1], values[1])[0], part
        ),
    ),
    Way("upside-down", (), _plain(upside_down)),
    Way("backwards", (), _plain(backwards)),
    Way(
        "longer or shorter",
        (Choice("Lengths", _fixed("stretched", "squeezed")), Choice("by", _fixed("2", "3/2", "3", "4"))),
        _stretched,
    ),
    Way("swung", (), _plain(swung)),
    Way("straightened", (), _plain(straightened)),
    Way("chords broken", (), _plain(broken)),
    Way("chords gathered", (), _plain(gathered)),
)
"""Every way, in the order the panel lists them."""
