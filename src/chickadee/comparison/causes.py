"""Why an attempt differs, where the pattern of its differences shows it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise

from .differences import Difference, Kind
from .line import Line
from .plain_numbers import place_in_words

__all__ = ["causes_of", "distance", "is_one_mistake"]

_ALTERED = re.compile(r"([A-G])(##|bb|#|b)(-?[0-9]+)")
_OCTAVE = 12
_FEW = 2


def causes_of(model: Line, attempt: Line, found: Sequence[Difference]) -> list[str]:
    """A sentence for each likely cause, the weightiest first."""
    pitches = [
        each for each in found if each.kind is Kind.PITCH and each.expected and each.found and each.found.numbers
    ]
    moved_on = _moved_on(model, pitches)
    sentences = [
        moved_on,
        _signature(model, pitches),
        _exchanged(pitches),
        _next_key(attempt, pitches),
        "" if moved_on else _octaves(pitches),
        _lengths(found),
        *_runs(model, attempt, found),
    ]
    return [sentence for sentence in sentences if sentence]


def is_one_mistake(model: Line, found: Sequence[Difference]) -> bool:
    """Return whether all wrong pitches come of one mistake.

    From one place to the end all are moved by as many semitones, or every sharp or flat is left off.
    """
    pitches = [each for each in found if each.kind is Kind.PITCH]
    return bool(_moved_on(model, pitches) or _signature(model, pitches))


def _moved_on(model: Line, pitches: Sequence[Difference]) -> str:
    shifts = {_shift(each) for each in pitches}
    if len(pitches) < _FEW + 1 or len(shifts) != 1 or (shift := shifts.pop()) is None:
        return ""
    after = [moment for moment in model.moments if moment.start >= pitches[0].start]
    if len(after) != len(pitches) or len(model.moments) - len(after) <= _FEW:
        return ""
    return f"From {_place(pitches[0])} on everything is {distance(shift)}."


def _shift(difference: Difference) -> int | None:
    """By how many semitones a pitch or chord is moved as a whole; None where it is another."""
    if difference.expected is None or difference.found is None:
        return None
    one = difference.expected.numbers
    other = difference.found.numbers
    away = {b - a for a, b in zip(one, other, strict=False)}
    return away.pop() if len(one) == len(other) and len(away) == 1 else None


def distance(semitones: int) -> str:
    """``an octave higher``, ``2 semitones lower``."""
    way = "higher" if semitones > 0 else "lower"
    count = abs(semitones)
    if count % _OCTAVE == 0:
        octaves = count // _OCTAVE
        return f"an octave {way}" if octaves == 1 else f"{octaves} octaves {way}"
    return f"{count} semitone{'s' if count != 1 else ''} {way}"


def _signature(model: Line, pitches: Sequence[Difference]) -> str:
    """Sharps or flats left off at every note that has one: the key was not given."""
    wanted = {name for moment in model.moments for name in moment.names if _ALTERED.fullmatch(name)}
    plain = [each for each in pitches if each.expected and each.found and _is_plain(each)]
    if not plain or len(plain) < len(pitches):
        return ""
    altered = [moment for moment in model.moments if wanted.intersection(moment.names)]
    if len(plain) != len(altered) or len(plain) < _FEW:
        return ""
    signs = {"sharps" if "#" in (each.expected.names[0] if each.expected else "") else "flats" for each in plain}
    return f"The {' and '.join(sorted(signs))} are missing throughout: is the key given?"


def _is_plain(difference: Difference) -> bool:
    assert difference.expected is not None and difference.found is not None
    if len(difference.expected.numbers) != len(difference.found.numbers):
        return False
    away = 0
    for name, one, other in zip(
        difference.expected.names, difference.expected.numbers, difference.found.numbers, strict=False
    ):
        sign = _ALTERED.fullmatch(name)
        step = {"#": 1, "##": 2, "b": -1, "bb": -2}[sign[2]] if sign else 0
        if one - other not in (0, step):
            return False
        away += one != other
    return away > 0


def _exchanged(pitches: Sequence[Difference]) -> str:
    for one, other in pairwise(pitches):
        if one.start + one.length < other.start or one.expected is None or other.expected is None:
            continue
        if (
            one.found
            and other.found
            and one.expected.numbers == other.found.numbers
            and other.expected.numbers == one.found.numbers
        ):
            names = f"{'&'.join(one.expected.names)} and {'&'.join(other.expected.names)}"
            return f"In bar {one.bar} {names} are exchanged."
    return ""


def _next_key(attempt: Line, pitches: Sequence[Difference]) -> str:
    """A number that is one beside the right one, where numbers are written."""
    if len(pitches) != 1 or _shift(pitches[0]) not in (1, -1):
        return ""
    (each,) = pitches
    is_number = any(moment.span == each.span and moment.is_number for moment in attempt.moments)
    if not is_number or each.expected is None or each.found is None:
        return ""
    return f"{each.found.numbers[0]} is the number of the key beside {each.expected.numbers[0]}."


def _octaves(pitches: Sequence[Difference]) -> str:
    shifts = [_shift(each) for each in pitches]
    if shifts and len(set(shifts)) == 1 and shifts[0] is not None and shifts[0] % _OCTAVE == 0:
        which = "It is" if len(shifts) == 1 else "They are all"
        return f"{which} {distance(shifts[0])}."
    return ""


def _lengths(found: Sequence[Difference]) -> str:
    """Lengths that are all wrong by the same factor."""
    lengths = [each for each in found if each.kind is Kind.LENGTH and each.expected and each.expected.numbers]
    if len(lengths) < _FEW or len(lengths) < len(found):
        return ""
    factors = {
        Fraction(each.found.beats, each.expected.beats)
        for each in lengths
        if each.found and each.expected and each.expected.beats
    }
    known = {Fraction(2): "doubled", Fraction(1, 2): "halved"}
    if len(factors) == 1 and (factor := factors.pop()) in known:
        return f"The lengths that differ are {known[factor]}."
    return ""


def _runs(model: Line, attempt: Line, found: Sequence[Difference]) -> list[str]:
    """Bars left out, lines copied twice, a tune that stops early."""
    sentences = []
    for each in found:
        if each.moments < _FEW:
            continue
        if each.kind is Kind.ADDED and each.found is not None and _is_copy(attempt, each):
            sentences.append(f"What comes before {_place(each)} is written twice.")
        if each.kind is Kind.MISSING and model.moments and each.start + each.length >= model.moments[-1].end:
            sentences.append(f"It stops before {_place(each)}.")
    return sentences


def _is_copy(attempt: Line, added: Difference) -> bool:
    """Return whether what was added is what stands right before it, or right after it, once more."""
    first = next((place for place, moment in enumerate(attempt.moments) if moment.span == added.span), None)
    count = added.moments
    if first is None or added.span is None:
        return False
    block = [moment.numbers for moment in attempt.moments[first : first + count]]
    before = [moment.numbers for moment in attempt.moments[max(0, first - count) : first]]
    after = [moment.numbers for moment in attempt.moments[first + count : first + 2 * count]]
    return block in (before, after)


def _place(difference: Difference) -> str:
    return place_in_words(difference.bar, difference.beat)
