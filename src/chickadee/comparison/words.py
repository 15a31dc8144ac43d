"""Judgements in words."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from .causes import causes_of, distance
from .differences import Difference, Kind
from .match import Match
from .model import Model
from .plain_numbers import place_in_words, plain_number

__all__ = ["difference_in_words", "differing", "not_compared", "relation_of"]

_MOST_CAUSES = 2


def relation_of(semitones: int, times: Fraction) -> str:
    """How the whole lies to the model: ``2 semitones higher and twice as long``; empty where it is as the model."""
    known = {Fraction(2): "twice as long", Fraction(1, 2): "half as long", Fraction(1): ""}
    usual = f"{times} times as long" if times.denominator == 1 else f"{times} of the length"
    return " and ".join(filter(None, [distance(semitones) if semitones else "", known.get(times, usual)]))


def differing(match: Match, relation: str, timed: bool, known: Sequence[str] = ()) -> str:
    """How many differences there are, the first of them, and what they seem to come from.

    ``known`` are causes that are known already.
    """
    counted = _counted(match)
    said = [f"All is {relation}; {counted}" if relation else counted[0].upper() + counted[1:], *known]
    for voice, (mine, theirs) in enumerate(match.voices):
        own = [each for each in match.differences if each.voice == voice]
        said += causes_of(mine, theirs, own)[: _MOST_CAUSES - len(known)]
    if not timed:
        said.append("Lengths are not given.")
    return " ".join(said)


def _counted(match: Match) -> str:
    found = match.differences
    first = match.differences[0]
    what = difference_in_words(first)
    if len(match.voices) > 1:
        what += f", in {match.voices[first.voice][0].name}"
    if first.where:
        what += f" ({first.where})"
    place = place_in_words(first.bar, first.beat)
    if len(found) == 1:
        return f"1 difference, at {place}: {what}."
    if all(each.kind is Kind.LENGTH for each in found):
        return f"right pitches; {len(found)} lengths differ, the first at {place}: {what}."
    return f"{len(found)} differences, the first at {place}: {what}."


def not_compared(model: Model, match: Match) -> str:
    """A sentence on the voices of the model that the attempt has nothing for; empty where there are none."""
    here = [mine for mine, _ in match.voices]
    if model.together in here:
        here = [mine for mine in model.lines if not mine.is_drums] or list(model.lines)
    absent = [mine.name for mine in model.lines if mine not in here]
    return f"There is nothing for {' and '.join(absent)} in it." if absent else ""


def difference_in_words(difference: Difference) -> str:
    """A difference in few words: ``F4 for F#4``, ``G4 is missing``, ``G4 lasts 2 beats for 1``."""
    expected = difference.expected
    found = difference.found
    if expected and found and difference.kind is Kind.PITCH:
        return f"{_names(found.names)} for {_names(expected.names)}"
    if expected and found:
        name = _names(expected.names) or "the rest"
        lasts = _beats(found.beats)
        wanted = plain_number(expected.beats)
        if plain_number(found.beats) == wanted:  # they differ by less than such numbers tell
            lasts = f"{float(found.beats):.2f} beats"
        return f"{name} lasts {lasts} for {wanted}"
    there = expected or found
    assert there is not None
    state = "missing" if difference.kind is Kind.MISSING else "added"
    if not there.names:
        return f"a rest of {_beats(there.beats)} is {state}"
    if difference.bars == 1:
        return f"bar {difference.bar} is {state}" if difference.kind is Kind.MISSING else "a bar is added"
    if difference.bars:
        last = difference.bar + difference.bars - 1
        return (
            f"bars {difference.bar} to {last} are {state}"
            if difference.kind is Kind.MISSING
            else f"{difference.bars} bars are added"
        )
    if difference.moments > 1:
        return f"{difference.moments} notes are {state}"
    return f"{_names(there.names)} is {state}"


def _names(names: tuple[str, ...]) -> str:
    return "&".join(names)


def _beats(beats: Fraction) -> str:
    return f"{plain_number(beats)} beat{'' if beats == 1 else 's'}"
