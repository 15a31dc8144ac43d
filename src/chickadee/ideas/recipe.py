"""Recipes: what is wished of a practice tune, from a TOML file or from a level of difficulty."""

from __future__ import annotations

import json
import re
from dataclasses import dataclass, fields, replace
from fractions import Fraction
from functools import lru_cache
from importlib.resources import files
from operator import attrgetter
from typing import Any

from ..faults import InputFault
from ..sheet.finding import shown
from ..song import Meter
from ..song.drums import DRUM_SOUND
from ..song.sounds import SOUNDS
from ..theory import Key, KeyNameError, Pitch, read_key, read_pitch_name
from ..toml_text import read_toml

__all__ = [
    "ACCOMPANIMENTS",
    "FORMS",
    "GROUND",
    "LEVELS",
    "LOUDNESS",
    "METERS",
    "Recipe",
    "RecipeFault",
    "for_level",
    "read_recipe",
    "shipped",
    "write_recipe",
]

FORMS = {"A A B A": "AABA", "question and answer": "AA", "A B A": "ABA", "round": "R"}
"""The forms by name, as letters of their sections."""
GROUND = 4
"""Bars from one voice of a round to the next; they have the same chords all through."""
ACCOMPANIMENTS = ("none", "block", "broken", "thirds", "drums")
"""No second voice; a chord a bar; its notes in turn, by beats or by thirds of a beat; a drum kit."""
LOUDNESS = ("even", "swelling")
LEVELS = range(1, 9)
METERS = ("2/4", "3/4", "4/4", "6/8")
_SHORTEST = Fraction(1, 8)  # beats
_MOST_BARS = 64


class RecipeFault(InputFault):
    """A recipe asks for what cannot be; its text says which wishes collide."""


@dataclass(frozen=True, slots=True)
class Recipe:
    """The wishes for a practice tune.

    >>> read_recipe('key = "G major"\\nlongest_leap = 2').key, Recipe().bars
    ('G major', 8)
    """

    title: str = "Practice tune"
    """The title of the tune; a number follows."""
    key: str = "C major"
    """The key, with any of the scales of the sheet."""
    meter: str = "4/4"
    """2/4, 3/4, 4/4 or 6/8."""
    tempo: int = 92
    """Beats a minute."""
    bars: int = 8
    """How many bars."""
    lowest: str = "C4"
    """The lowest pitch."""
    highest: str = "C5"
    """The highest pitch."""
    notes: tuple[str, ...] = ()
    """The only pitches, such as C4; none for all of the key from the lowest to the highest."""
    lengths: tuple[str, ...] = ("1", "1", "1", "2", "1/2")
    """Lengths in beats; one that stands twice comes twice as often."""
    rests: int = 0
    """How many notes in a hundred are rests instead."""
    longest_leap: int = 4
    """Steps from one note to the next, of the scale or of the notes given, at most; 1 for steps alone."""
    form: str = "A A B A"
    """A A B A, question and answer, A B A, or round."""
    chords: tuple[int, ...] = ()
    """The steps that the chords of the bars stand on, over again; none to let them be chosen."""
    accompaniment: str = "none"
    """none, block, broken, thirds or drums."""
    sound: str = "flute"
    """The sound of the tune."""
    loudness: str = "even"
    """even, or swelling: louder where the high point is."""
    words: bool = False
    """True if syllables stand under the notes."""

    @property
    def in_key(self) -> Key:
        """The key."""
        return _key(self.key)

    @property
    def in_meter(self) -> Meter:
        """The meter."""
        upper, lower = self.meter.split("/")
        return Meter(int(upper), int(lower))

    @property
    def pulse(self) -> int:
        """Beats that are felt as one: three in 6/8."""
        return 3 if self.meter == "6/8" else 1

    @property
    def strong(self) -> int:
        """Beats from one strong beat to the next."""
        return 3 if self.in_meter.upper % 3 == 0 else 2

    @property
    def ladder(self) -> tuple[Pitch, ...]:
        """The pitches that may be sung, from the lowest up."""
        return _ladder(self.key, self.lowest, self.highest, self.notes)

    @property
    def beats(self) -> list[Fraction]:
        """The lengths, as often as they are wished."""
        return [Fraction(length) for length in self.lengths]


_key = lru_cache(256)(read_key)


@lru_cache(256)
def _ladder(key: str, lowest: str, highest: str, notes: tuple[str, ...]) -> tuple[Pitch, ...]:
    if notes:
        return tuple(sorted({_pitch(note) for note in notes}, key=attrgetter("number")))
    low = _pitch(lowest).number
    high = _pitch(highest).number
    return tuple(_key(key).spell(number) for number in range(low, high + 1) if _key(key).contains(number))


def _pitch(text: object) -> Pitch:
    found = read_pitch_name(text) if isinstance(text, str) else None
    pitch = found[0].at(found[1]) if found is not None and found[1] is not None else None
    if pitch is None or not 0 <= pitch.number <= 127:
        raise RecipeFault(f"{shown(str(text))} is not a pitch with its octave, such as C4.")
    return pitch


def read_recipe(text: str) -> Recipe:
    """The recipe that a TOML text gives. Raises RecipeFault, in one sentence."""
    found = read_toml(text, "recipe", RecipeFault)
    base = Recipe()
    if "level" in found:
        level = found.pop("level")
        if type(level) is not int or level not in LEVELS:
            raise RecipeFault(f"level is {level}; it is to be a number from 1 to 8.")
        base = for_level(level)
    kinds = {each.name: type(getattr(base, each.name)) for each in fields(Recipe)}
    for key, value in found.items():
        if key not in kinds:
            raise RecipeFault(f"{key} is not a key of a recipe; there are level, {', '.join(kinds)}.")
        wanted = list if kinds[key] is tuple else kinds[key]
        if not isinstance(value, wanted) or isinstance(value, bool) is not (wanted is bool):
            names = {str: "a text", int: "a whole number", list: "a list", bool: "true or false"}
            raise RecipeFault(f"{key} is to be {names[wanted]}.")
    given: dict[str, Any] = {key: tuple(value) if isinstance(value, list) else value for key, value in found.items()}
    recipe = replace(base, **given)
    check(recipe)
    return recipe


def write_recipe(recipe: Recipe) -> str:
    """A recipe as TOML: what differs from the default.

    >>> write_recipe(Recipe(bars=4, lengths=("1", "2")))
    'bars = 4\\nlengths = ["1", "2"]\\n'
    """
    usual = Recipe()
    found = {each.name: getattr(recipe, each.name) for each in fields(Recipe)}
    changed = {name: value for name, value in found.items() if value != getattr(usual, name)}
    return "".join(f"{name} = {json.dumps(value, ensure_ascii=False)}\n" for name, value in changed.items())


def check(recipe: Recipe) -> None:
    """Say which wishes of a recipe collide. Raises RecipeFault."""
    try:
        key = recipe.in_key
    except KeyNameError as fault:
        raise RecipeFault(str(fault)) from None
    if recipe.meter not in METERS:
        raise RecipeFault(f"meter is {recipe.meter}; it is to be one of {', '.join(METERS)}.")
    if not recipe.title.isprintable():
        raise RecipeFault("title is to be one line of signs that can be seen.")
    if recipe.sound not in SOUNDS or recipe.sound == DRUM_SOUND:
        raise RecipeFault(f"sound is {shown(recipe.sound)}; it is to be a sound with pitches, such as flute.")
    known_words = (("form", tuple(FORMS)), ("accompaniment", ACCOMPANIMENTS), ("loudness", LOUDNESS))
    for name, known in known_words:
        if getattr(recipe, name) not in known:
            raise RecipeFault(f"{name} is {getattr(recipe, name)}; it is to be one of {', '.join(known)}.")
    if not 2 <= recipe.bars <= _MOST_BARS:
        raise RecipeFault(f"bars is {recipe.bars}; a tune has from 2 to {_MOST_BARS} bars.")
    if not 20 <= recipe.tempo <= 300:
        raise RecipeFault(f"tempo is {recipe.tempo}; it is to be from 20 to 300.")
    if not 0 <= recipe.rests <= 50:
        raise RecipeFault(f"rests is {recipe.rests}; it is to be from 0 to 50 in a hundred.")
    _check_pitches(recipe, key)
    _check_lengths(recipe)
    sections = len(FORMS[recipe.form])
    if recipe.form != "round" and recipe.bars % sections:
        raise RecipeFault(
            f"bars and form collide: {recipe.bars} bars cannot be shared out among {sections} sections."
        )
    if recipe.form == "round" and (recipe.bars % GROUND or recipe.bars == GROUND):
        raise RecipeFault(f"bars and form collide: a round has 8, 12, 16 … bars, not {recipe.bars}.")
    if recipe.form == "round" and recipe.accompaniment != "none":
        raise RecipeFault("accompaniment and form collide: the voices of a round accompany one another.")
    if any(not isinstance(step, int) or not 1 <= step <= len(key.names) for step in recipe.chords):
        raise RecipeFault(f"chords are steps of {recipe.key}, from 1 to {len(key.names)}.")


def _check_pitches(recipe: Recipe, key: Key) -> None:
    ladder = recipe.ladder
    if recipe.notes:
        if len(ladder) < 3:
            raise RecipeFault("notes holds fewer than three pitches, and a tune needs three.")
        if len({pitch.number for pitch in ladder}) < len(ladder):
            raise RecipeFault("notes holds one pitch under two names; please keep one of them.")
        if all(pitch.number % 12 != key.tonic.pitch_class for pitch in ladder):
            raise RecipeFault(f"notes and key collide: there is no {key.tonic.text} to end on.")
    else:
        _check_range(recipe, key)
    if not 1 <= recipe.longest_leap <= 14:
        raise RecipeFault(f"longest_leap is {recipe.longest_leap}; it is to be from 1 to 14 steps.")


def _check_range(recipe: Recipe, key: Key) -> None:
    ladder = recipe.ladder
    if _pitch(recipe.lowest).number > _pitch(recipe.highest).number:
        raise RecipeFault(f"lowest and highest collide: {recipe.lowest} is above {recipe.highest}.")
    if len(ladder) < 3:
        raise RecipeFault(
            f"lowest and highest collide with key: from {recipe.lowest} to {recipe.highest} there "
            f"{'is' if len(ladder) == 1 else 'are'} {len(ladder)} pitch{'es' * (len(ladder) != 1)} of "
            f"{recipe.key}, and a tune needs three."
        )
    if all(pitch.number % 12 != key.tonic.pitch_class for pitch in ladder):
        raise RecipeFault(f"lowest and highest collide with key: the range has no {key.tonic.text} to end on.")


def _check_lengths(recipe: Recipe) -> None:
    for length in recipe.lengths:
        if not isinstance(length, str) or not re.fullmatch(r"[1-9][0-9]?(/[1-9][0-9]?)?", length):
            raise RecipeFault(f'lengths holds {str(length)[:20]!r}; lengths are texts such as "1", "1/2" or "3/2".')
        if Fraction(length) < _SHORTEST:
            raise RecipeFault(f"lengths holds {str(length)[:20]}; the shortest is {_SHORTEST} of a beat.")
    if not recipe.lengths:
        raise RecipeFault("lengths is empty; a tune needs at least one.")
    bar = Fraction(recipe.in_meter.upper)
    if not fills(bar, recipe.beats):
        known = ", ".join(dict.fromkeys(recipe.lengths))
        raise RecipeFault(f"lengths and meter collide: {known} cannot fill a bar of {recipe.meter}.")


def fills(room: Fraction, lengths: list[Fraction]) -> bool:
    """Return whether lengths can fill some beats exactly."""
    reached = {Fraction(0)}
    edge = [Fraction(0)]
    while edge:
        here = edge.pop()
        for length in set(lengths):
            if here + length <= room and here + length not in reached:
                reached.add(here + length)
                edge.append(here + length)
    return room in reached


def for_level(level: int) -> Recipe:
    """The recipe of a level of difficulty, from 1, the first notes, to 8."""
    ranges = ("C4 G4", "C4 A4", "C4 C5", "C4 D5", "B3 E5", "A3 E5", "G3 F5", "G3 A5")
    lengths = (
        ("1", "1", "2"), ("1", "1", "1", "2"), ("1", "1", "1/2", "1/2", "2"), ("1", "1", "1/2", "1/2", "2", "3"),
        ("1", "1", "1/2", "1/2", "3/2", "2"), ("1", "1/2", "1/2", "3/2", "2"), ("1", "1/2", "1/2", "1/2", "3/2", "2"),
        ("1", "1/2", "1/2", "1/4", "1/4", "3/2", "2"),
    )  # fmt: skip
    keys = ("C major", "C major", "G major", "F major", "D major", "A minor", "E minor", "Bb major")
    lowest, highest = ranges[level - 1].split()
    if level == 5:
        lowest = "A3"
        highest = "D5"
    return Recipe(
        title=f"Level {level}",
        key=keys[level - 1],
        lowest=lowest,
        highest=highest,
        lengths=lengths[level - 1],
        rests=(0, 0, 0, 3, 4, 5, 6, 8)[level - 1],
        longest_leap=(1, 2, 2, 3, 4, 4, 5, 7)[level - 1],
        tempo=(80, 84, 88, 92, 96, 96, 100, 104)[level - 1],
    )


def shipped() -> dict[str, str]:
    """The text of each recipe that ships, by its name."""
    folder = files("chickadee.ideas") / "recipes"
    found = {each.name.removesuffix(".toml"): each for each in folder.iterdir() if each.name.endswith(".toml")}
    return {name: found[name].read_text("utf-8") for name in sorted(found)}
