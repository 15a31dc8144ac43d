"""Changes of a phrase or group: the words after it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from fractions import Fraction

from .length import Unit, read_length
from .tree import Backwards, Change, Move, OnSemitones, OnSteps, Repeat, Stretch, ToTheEnd, UpsideDown

__all__ = ["CHANGE_WORDS", "begins_change", "read_change"]

CHANGE_WORDS = frozenset(
    [
        "x",
        "to",
        "the",
        "end",
        "up",
        "down",
        "octave",
        "octaves",
        "step",
        "steps",
        "on",
        "backwards",
        "upside-down",
        "stretched",
        "squeezed",
        "by",
        "phrase",
        "voice",
    ]
)
"""Words of the language, in lower case, that no phrase may have as its name."""

_FIRST = frozenset(["x", "to", "up", "down", "on", "backwards", "upside-down", "stretched", "squeezed"])
_INITIALS = frozenset(initial for word in _FIRST for initial in (word[0], word[0].upper()))
_TIMES = re.compile(r"[xX]([0-9]{1,6})")
_STEP = re.compile(r"\^([0-9]{1,2})")
_SEMITONES = re.compile(r"-?[0-9]{1,2}")
_FARTHEST = 24  # semitones that are read after ``on``; larger numbers are notes


def begins_change(word: str) -> bool:
    """Return whether a word is one with which a change begins."""
    return word[0] in _INITIALS and (word.lower() in _FIRST or _TIMES.fullmatch(word) is not None)


def read_change(words: Sequence[str]) -> tuple[Change | None, int]:
    """The change that a list of words begins with, and how many of them it takes.

    (None, 0) where the first word begins no change; (None, n) where n words do, but say nothing that can be read.
    """
    first = words[0].lower() if words else ""
    if found := _TIMES.fullmatch(first):
        return Repeat(int(found[1])), 1
    if first == "to" and len(words) > 2 and words[1].lower() == "the" and words[2].lower() == "end":
        return ToTheEnd(), 3
    if first == "backwards":
        return Backwards(), 1
    if first == "upside-down":
        return UpsideDown(), 1
    if first in ("up", "down"):
        return _move(words, 1 if first == "up" else -1)
    if first == "on":
        if semitones := _semitones(words[1:]):
            return OnSemitones(semitones), 1 + len(semitones)
        steps = []
        for word in words[1:]:
            if not (found := _STEP.fullmatch(word)) or not int(found[1]):
                break
            steps.append(int(found[1]))
        return (OnSteps(tuple(steps)) if steps else None), 1 + len(steps)
    if first in ("stretched", "squeezed"):
        length = read_length(words[1]) if len(words) > 1 else None
        if length is None or length.unit is not Unit.BEAT or not length.count:
            return None, 1
        return Stretch(length.count if first == "stretched" else Fraction(1) / length.count), 2
    return None, 1 if first in ("to", "x") else 0


def _semitones(words: Sequence[str]) -> tuple[int, ...]:
    """The numbers that a list of words begins with."""
    found: list[int] = []
    for word in words:
        if not _SEMITONES.fullmatch(word) or abs(int(word)) > _FARTHEST:
            break
        found.append(int(word))
    return tuple(found)


def _move(words: Sequence[str], sign: int) -> tuple[Change | None, int]:
    if len(words) < 2 or not (words[1].isascii() and words[1].isdigit() and len(words[1]) <= 3):
        return None, 1
    count = sign * int(words[1])
    unit = words[2].lower() if len(words) > 2 else ""
    if unit in ("octave", "octaves"):
        return Move(octaves=count), 3
    if unit in ("step", "steps"):
        return Move(steps=count), 3
    return Move(semitones=count), 2
