"""Rounds: one line that two groups sing, the second four bars later, chosen so that what sounds together agrees."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from operator import itemgetter

from ..chance import Chance
from .consonance import agree
from .judging import judge
from .melody import Singer
from .recipe import GROUND, Recipe
from .rhythm import bar_of_lengths, closing_bar
from .writing import Bar, bar_with_rests, lines_of, places_of, texts_of

__all__ = ["one_round"]

_BARS = 30  # how many tries there are for a bar
_GROUNDS = ((1, 4, 5, 1), (1, 6, 5, 1), (1, 5, 5, 1))


def one_round(recipe: Recipe, chance: Chance) -> tuple[int, list[str]]:
    """A round, and how far it is from what it should be: clashes weigh as much as leaps too far."""
    bars = _bars_of_round(recipe, chance)
    sung = places_of(recipe, bars)
    clashes = sum(_clashes(one, other) for one, other in zip(bars, [*bars[GROUND:], *bars[:GROUND]], strict=True))
    rest = " ".join([f"rest={recipe.in_meter.upper} |"] * GROUND)
    lines = texts_of(lines_of(bars), chance if recipe.words else None)
    breaks = clashes + (abs(sung[0] - sung[-1]) > recipe.longest_leap)  # where it begins again
    return judge(sung, recipe.longest_leap).cost + 100 * breaks, [
        "phrase round",
        *lines,
        "",
        "voice First",
        f"  sound: {recipe.sound}",
        "  round x2",
        "",
        "voice Second",
        f"  sound: {recipe.sound}",
        f"  {rest} round x2",
    ]


def _bars_of_round(recipe: Recipe, chance: Chance) -> list[Bar]:
    """Every four bars stand on the same chords; each bar is the first of some that clashes least with those that
    sound with it."""
    ground = _ground(recipe, chance)
    singer = Singer.following(recipe, chance)
    made: list[Bar] = []
    for number in range(recipe.bars):
        start = (singer.place, singer.moved)
        last = number == recipe.bars - 1
        rise = 15 + 65 * number // recipe.bars if not last else 20
        others = [made[place] for place in (number - GROUND, number + GROUND - recipe.bars) if 0 <= place < number]
        tried: list[tuple[int, Bar, tuple[int | None, int]]] = []
        while not tried or (tried[-1][0] and len(tried) < _BARS):
            singer.place, singer.moved = start
            bar = _bar_of_round(recipe, chance, singer, ground[number % GROUND], rise, last)
            clashes = sum(_clashes(bar, other) for other in others)
            tried.append((clashes, bar, (singer.place, singer.moved)))
        _, bar, (singer.place, singer.moved) = min(tried, key=itemgetter(0))
        made.append(bar)
    return made


def _ground(recipe: Recipe, chance: Chance) -> Sequence[int]:
    """The steps that the chords of every four bars stand on."""
    if recipe.chords:
        return [recipe.chords[place % len(recipe.chords)] for place in range(GROUND)]
    return chance.choose(_GROUNDS, (2, 2, 1)) if len(recipe.in_key.names) > 5 else (1, 4, 2, 1)


def _bar_of_round(recipe: Recipe, chance: Chance, singer: Singer, chord: int, rise: int, last: bool) -> Bar:
    beats = Fraction(recipe.in_meter.upper)
    lengths = recipe.beats
    rhythm = (closing_bar if last else bar_of_lengths)(chance, beats, lengths, recipe.pulse)
    end = {recipe.in_key.tonic.pitch_class} if last else range(12)
    (sung,) = singer.bars([rhythm], [chord], [rise], True, end)
    if last or not recipe.rests:
        return Bar(tuple(rhythm), tuple(sung))
    return bar_with_rests(recipe, chance, rhythm, sung)


def _clashes(one: Bar, other: Bar) -> int:
    """How many beats of bars that sound together are no consonance."""
    return sum(
        low is not None and high is not None and not agree(low, high)
        for low, high in zip(_by_beats(one), _by_beats(other), strict=True)
    )


def _by_beats(bar: Bar) -> list[int | None]:
    """The MIDI number that sounds on each beat of a bar."""
    found: list[int | None] = []
    here = Fraction(0)
    for length, pitch in zip(bar.lengths, bar.pitches, strict=True):
        while len(found) < here + length:
            found.append(pitch.number if pitch is not None else None)
        here += length
    return found
