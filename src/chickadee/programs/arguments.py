"""Which argument of a call is its pitch, and which its length."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from ..formats.columns import PITCH_KINDS, kind_of
from ..formats.flat_lists import Cell, split_pair
from ..formats.signs import is_hertz, note_value, pitches_of
from ..theory import Naming
from .recording import Heard
from .things import Char, Outside

__all__ = ["NO_ROLES", "Argument", "Roles", "duration_of", "given", "notes_in", "roles_of", "sign_of"]

Argument = int | str
"""The place of an argument, from 0, or its name."""

_LOWEST = 16  # MIDI number of a pitch where numbers may be anything
_MOST = 0.6  # of the values that must be pitches
_LEAST_HERTZ = 20
_MOST_HERTZ = 20_000
_HIGHEST = 127
_LONGEST_TEXT = 200  # characters, as far as texts given to calls are kept
_OCTAVES = range(2, 9)
_REST_NUMBERS = (0, -1)
_LONGEST_BEATS = 16


@dataclass(frozen=True, slots=True)
class Roles:
    """The arguments of a verb of sounding."""

    pitch: Argument | None = None
    length: Argument | None = None
    octave: Argument | None = None
    loudness: Argument | None = None
    hertz: bool = False
    """True if numbers are frequencies."""


NO_ROLES = Roles()


def given(heard: Heard, argument: Argument | None) -> object:
    """Return what a call is given for an argument; None where it is given nothing."""
    if isinstance(argument, int):
        return heard.arguments[argument] if argument < len(heard.arguments) else None
    return heard.keywords.get(argument) if argument is not None else None


def sign_of(value: object) -> str:
    """Return a value as a sign for a pitch; several together are joined by ``&``."""
    if isinstance(value, Outside):
        return value.last_name
    if isinstance(value, Char):
        return str(value)
    if isinstance(value, bool) or value is None:
        return ""
    if isinstance(value, list | tuple):
        return "&".join(sign_of(each) for each in value[:12])
    if isinstance(value, float):
        return str(int(value)) if value.is_integer() and value <= _HIGHEST else f"{value:.6f}"
    return str(value)


def notes_in(text: str) -> list[tuple[str, Fraction | None]] | None:
    """The pitches, with their lengths where they have some, of a text such as ``"C4:1 D4:2"``; None for any other."""
    if pitches_of(text) is not None or len(text) > _LONGEST_TEXT:
        return None
    found: list[tuple[str, Fraction | None]] = []
    for word in re.split(r"[\s,;|]+", text.strip()):
        pair = split_pair(Cell(word, (0, 0)))
        if pair is not None:
            found.append((pair[0], duration_of(pair[1])))
        elif word and pitches_of(word) is not None:
            found.append((word, None))
        else:
            return None
    return found


def duration_of(value: object) -> Fraction | None:
    """Return a value as a length, exactly as it was meant; None for what is no length."""
    return _number(value) if isinstance(value, int | float | str) else _duration(value)


@lru_cache(4096, typed=True)
def _number(value: float | str) -> Fraction | None:
    return _duration(value)


def _duration(value: object) -> Fraction | None:
    if isinstance(value, bool | Char):
        return None
    if isinstance(value, int | Fraction):
        return Fraction(value)
    if isinstance(value, float):
        return _simplest(value) if abs(value) < 1e12 else None
    if isinstance(value, str | Outside):
        sign = sign_of(value)
        found = note_value(re.sub(r"(?i)_?note$", "", sign))
        if found is not None:
            return found
        try:
            return Fraction(sign) if len(sign) < 20 else None
        except (ValueError, ZeroDivisionError):
            return None
    return None


def _simplest(value: float) -> Fraction:
    """The simplest fraction that a rounded number means: 0.1 + 0.2 is 3/10, 2 / 3 is 2/3."""
    exact = Fraction(value)
    for denominator in (1, 96, 1_000, 100_000, 10_000_000):
        near = exact.limit_denominator(denominator)
        if abs(near - exact) <= abs(exact) / 10**12:
            return near
    return exact.limit_denominator(10_000_000)


def roles_of(
    calls: Sequence[Heard],
    may_have_length: bool = True,
    naming: Naming = Naming.LETTERS,
    is_strike: bool = True,
) -> Roles:
    """Return which arguments of some calls by one name are what.

    Where it is not surely a strike, most of the values of one argument must be pitches.
    """
    columns = _columns(calls)
    named: dict[Argument, str | None] = {
        argument: kind_of(argument) for argument in columns if isinstance(argument, str)
    }
    pitch: Argument | None = next((argument for argument, kind in named.items() if kind in PITCH_KINDS), None)
    pitch = pitch if pitch is not None and _pitch_share(columns[pitch], naming) > 0 else None
    if pitch is None:
        pitch = _likely_pitch(columns, named, naming, 0.0 if is_strike else _MOST)
    if pitch is None:
        return Roles()
    sizes = _sizes_of(columns, pitch)
    columns = {each: values for each, values in columns.items() if each != sizes}
    named = {each: kind for each, kind in named.items() if each != sizes}
    length = _called(named, "length")
    octave = _called(named, "octave")
    loudness = _called(named, "loudness")
    others = [each for each in columns if each not in (pitch, length, octave, loudness) and named.get(each) is None]
    if isinstance(pitch, int):
        others = [each for each in others if not isinstance(each, int) or each > pitch] + [
            each for each in others if isinstance(each, int) and each < pitch
        ]
    if octave is None and others and _are_octaves(columns[pitch], columns[others[0]]):
        octave = others.pop(0)
    if length is None and may_have_length:
        length = next((each for each in others if _are_lengths(columns[each])), None)
    hertz = is_hertz([sign_of(value) for value in _flat(columns[pitch])])
    return Roles(pitch, length, octave, loudness, hertz)


def _called(named: dict[Argument, str | None], kind: str) -> Argument | None:
    """The argument whose name says that it is of a kind."""
    return next((argument for argument, each in named.items() if each and each.startswith(kind)), None)


def _columns(calls: Sequence[Heard]) -> dict[Argument, list[object]]:
    """The values of each argument, by its place or name."""
    found: dict[Argument, list[object]] = {}
    for heard in calls[:2_000]:
        for place, value in enumerate(heard.arguments[:8]):
            found.setdefault(place, []).append(value)
        for name, value in heard.keywords.items():
            found.setdefault(name, []).append(value)
    return found


def _likely_pitch(
    columns: dict[Argument, list[object]], named: dict[Argument, str | None], naming: Naming, least: float
) -> Argument | None:
    """The argument that holds pitches, by what it is given."""
    shares = {
        argument: _pitch_share(values, naming) for argument, values in columns.items() if named.get(argument) is None
    }
    likely = [argument for argument, share in shares.items() if share >= _MOST]
    likely += [argument for argument, share in shares.items() if least < share < _MOST]
    if not likely:
        return None
    for argument in likely:
        values = _flat(columns[argument])
        if any(isinstance(value, str | Outside | Char) for value in values):
            return argument
        numbers = [value for value in values if isinstance(value, int | float) and value not in _REST_NUMBERS]
        if sum(number >= _LOWEST for number in numbers) * 2 > len(numbers):
            return argument
    return None


def _flat(values: Sequence[object]) -> list[object]:
    """All values, those of lists by themselves; of pairs the first."""
    found: list[object] = []
    for value in values:
        for part in value if isinstance(value, list | tuple) else (value,):
            found.append(part[0] if isinstance(part, list | tuple) and part else part)
    return found


def _pitch_share(values: Sequence[object], naming: Naming) -> float:
    """How many of some values name a pitch or a rest, from 0 to 1; 0 where all are rests."""
    flat = [value for value in _flat(values) if not isinstance(value, bool)]
    found = [_is_pitch(value, naming) for value in flat]
    return sum(each is not None for each in found) / len(found) if any(found) else 0.0


def _is_pitch(value: object, naming: Naming) -> bool | None:
    """True for a pitch, False for a rest, None for neither."""
    if value is None:
        return False
    if isinstance(value, int | float) and not isinstance(value, Char):
        if value <= 0:
            return False
        whole = isinstance(value, int) or value.is_integer()
        return True if (whole and value <= _HIGHEST) or _LEAST_HERTZ <= value <= _MOST_HERTZ else None
    sign = sign_of(value)
    if isinstance(value, str) and notes_in(value) is not None:
        return True
    if isinstance(value, Outside) and len(sign) == 1 and not sign.isupper():
        return None
    found = pitches_of(sign, naming=naming)
    return None if found is None or (sign and note_value(sign) is not None) else bool(found)


def _are_octaves(pitches: Sequence[object], values: Sequence[object]) -> bool:
    """Return whether a column after names without octaves holds their octaves."""
    names = [sign_of(value) for value in _flat(pitches)]
    are_bare = all(not any(sign.isdigit() for sign in name) for name in names) and any(names)
    return are_bare and all(type(value) is int and value in _OCTAVES for value in values)


def _sizes_of(columns: dict[Argument, list[object]], pitch: Argument) -> Argument | None:
    """The argument after the pitches that says how many they are, as functions in C must be told; None without one.

    There is one only where a length comes after it.
    """
    order = list(columns)
    place = order.index(pitch)
    if len(order) < place + 3:
        return None
    pairs = zip(columns[pitch], columns[order[place + 1]], strict=False)
    are_sizes = all(isinstance(several, list | tuple) and value == len(several) for several, value in pairs)
    lengths = [duration_of(value) for value in columns[order[place + 2]]]
    are_lengths = all(length is not None and 0 < length <= _LONGEST_BEATS for length in lengths)
    return order[place + 1] if are_sizes and are_lengths else None


def _are_lengths(values: Sequence[object]) -> bool:
    found = [duration_of(value) for value in _flat(values) if value is not None]
    return bool(found) and sum(each is not None and each >= 0 for each in found) * 2 > len(found)
