"""A practice tune, written as a person would: phrases with names that come back, four bars a line."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import count, islice
from operator import itemgetter

from ..chance import Chance
from ..checks import checked_reading
from ..sheet import Reading
from .chords import chord_symbol, chord_tones, section_chords
from .judging import FIFTH, judge
from .melody import Singer
from .recipe import FORMS, Recipe, RecipeFault, check
from .rhythm import bar_of_lengths, closing_bar
from .rounds import one_round
from .writing import IN_LINE, Bar, Line, bar_with_rests, lines_of, places_of, row_of, texts_of, together

__all__ = ["NONE_PASSES", "candidate", "tune", "tunes", "tunes_in_turn"]

_NAMES = {"A": "call", "B": "reply"}
_SONGS = 12  # how many are tried for a good one
_FEW_NOTES = 10  # of a tune that need not go through a fifth
_IN_VAIN = 120  # tunes tried one after the other without finding a new one
NONE_PASSES = "No tune of this recipe passes the checks; shorter leaps or longer lengths may help."
"""The sentence about a recipe that has none."""


@dataclass(frozen=True, slots=True)
class _Section:
    """The bars of a section but the last, and the steps of the key that their chords stand on."""

    bars: tuple[Bar, ...]
    chords: tuple[int, ...]
    end: int
    """The place on the ladder of its last note."""


def tunes(recipe: Recipe, seed: int, wanted: int) -> list[str]:
    """So many different tunes as sheets in which nothing is found, the same from the same seed. Raises RecipeFault.

    There are fewer where a recipe has no more.
    """
    found = list(islice(tunes_in_turn(recipe, seed), wanted))
    if wanted and not found:
        raise RecipeFault(NONE_PASSES)
    return found


def tunes_in_turn(recipe: Recipe, seed: int, tried: Iterable[str | None] | None = None) -> Iterator[str]:
    """The same, one after the other, until a recipe has no more.

    ``tried`` are what :func:`candidate` makes of each number from 1 on, where that is done elsewhere.
    """
    check(recipe)
    seen: set[str] = set()
    left = _IN_VAIN
    for body in tried if tried is not None else (candidate(recipe, seed, number) for number in count(1)):
        if body is not None and body not in seen:
            seen.add(body)
            left = _IN_VAIN
            yield _titled(recipe, body, len(seen))
        else:
            left -= 1
            if not left:
                return


def candidate(recipe: Recipe, seed: int, number: int) -> str | None:
    """One of the tunes that a seed has, without its title; None where something is found in it."""
    text = tune(recipe, seed * 1_000_003 + number)
    reading = checked_reading(text)
    return None if reading.findings or not _sings_well(recipe, reading) else text.split("\n", 1)[1]


def _sings_well(recipe: Recipe, reading: Reading) -> bool:
    """Return whether the melody, as it sounds, leaps no further than is wished and uses some room.

    Leaps count also where a phrase comes back. Unless it is short, it goes through a fifth, or through all pitches.
    """
    places = {pitch.number: place for place, pitch in enumerate(recipe.ladder)}
    sung = [reading.song.notes[index].number for index in reading.song.by_voice[0].tolist()]
    line = [places[number] for number in sung if number in places]
    judgement = judge(line, recipe.longest_leap)
    wide = judgement.span >= min(FIFTH, len(places) - 1) or len(line) < _FEW_NOTES
    return wide and not judgement.too_far


def _titled(recipe: Recipe, body: str, number: int) -> str:
    """A tune with its title and number."""
    return f"title: {recipe.title} {number}\n{body}"


def tune(recipe: Recipe, seed: int, number: int = 1) -> str:
    """A tune as a sheet. Raises RecipeFault where wishes collide."""
    check(recipe)
    chance = Chance(seed)
    make = one_round if recipe.form == "round" else _one_song
    body = _best(lambda: make(recipe, chance), _SONGS)
    head = [f"tempo: {recipe.tempo}", f"meter: {recipe.meter}", f"key: {recipe.key}"]
    return _titled(recipe, "\n".join([*head, "", *body, ""]), number)


# Sections


@dataclass(frozen=True, slots=True)
class _Place:
    """Where a section stands in a song: by how many steps it is moved, and the bar that ends it there."""

    letter: str
    moved: int
    ending: Bar
    chord: int
    """Of the ending: a step of the key."""


def _section(recipe: Recipe, chance: Chance, bars: int, singer: Singer, peaks: bool) -> _Section:
    """The bars of a section but the last, with one motif: the rhythm of the first comes back in the third."""
    beats = Fraction(recipe.in_meter.upper)
    lengths = recipe.beats
    motif = [bar_of_lengths(chance, beats, lengths, recipe.pulse) for _ in range(2)]
    rhythms = [motif[place % 2] for place in range(bars)]
    steps = section_chords(chance, bars + 1, recipe.chords)[:bars]  # the ending has its own
    rises = [_arch(place, bars + 1, peaks) for place in range(bars)]
    end = chord_tones(recipe.in_key, steps[-1]) if steps else ()
    sung = singer.bars(rhythms, steps, rises, peaks, end)
    made = [bar_with_rests(recipe, chance, rhythm, row) for rhythm, row in zip(rhythms, sung, strict=True)]
    return _Section(tuple(made), tuple(steps), singer.place or 0)


def _ending(recipe: Recipe, chance: Chance, singer: Singer, from_place: int | None, chord: int, home: bool) -> Bar:
    """A bar that ends a section: on a note of the chord, or at home on the tonic."""
    tonic = recipe.in_key.tonic.pitch_class
    known = {pitch.number % 12 for pitch in recipe.ladder}
    away = chord_tones(recipe.in_key, chord) & known - {tonic}
    tones = away if away and not home else {tonic}  # a narrow range may hold no other note of the chord
    singer.place = from_place
    singer.moved = 0
    start = from_place or 0
    far = min(abs(start - place) for place, each in enumerate(recipe.ladder) if each.number % 12 in tones)
    rhythm = closing_bar(
        chance, Fraction(recipe.in_meter.upper), recipe.beats, recipe.pulse, -(-far // recipe.longest_leap)
    )
    (pitches,) = singer.bars([rhythm], [chord], [20 if home else 50], False, tones)
    return Bar(tuple(rhythm), tuple(pitches))


def _arch(place: int, bars: int, peaks: bool) -> int:
    """Where the curve of a section is, in hundredths of the ladder: up for two thirds of it, and down. The section
    with the high point stands above the others."""
    peak = max(1, bars * 2 // 3)
    rise = 20 + 40 * place // peak if place <= peak else max(10, 60 - 50 * (place - peak) // max(1, bars - peak))
    return rise + 40 * peaks


# Songs


def _one_song(recipe: Recipe, chance: Chance) -> tuple[int, list[str]]:
    """A song, and how far it is from what it should be."""
    form = FORMS[recipe.form]
    size = recipe.bars // len(form)
    singer = Singer.following(recipe, chance)
    sections: dict[str, _Section] = {}
    places: list[_Place] = []
    for number, letter in enumerate(form):
        if letter not in sections:
            sections[letter] = _section(recipe, chance, size - 1, singer, peaks=letter == form[-2])
        section = sections[letter]
        last = number == len(form) - 1
        moved = _sequence(recipe, chance, section) if letter in form[:number] and not last else 0
        chord = 1 if last or (form.count(letter) > 1 and number % 2) else 5
        from_place = section.end + moved if section.bars else singer.place
        ending = _ending(recipe, chance, singer, from_place, chord, home=last)
        places.append(_Place(letter, moved, ending, chord))
    lines: list[str] = []
    for letter, section in sections.items():
        if form.count(letter) > 1 and section.bars:
            lines += [f"phrase {_NAMES[letter]}", *texts_of(lines_of(section.bars)), ""]
    lines += ["voice Tune", f"  sound: {recipe.sound}", *_voice(recipe, chance, sections, places)]
    steps = [step for place in places for step in _steps(recipe, sections[place.letter], place)]
    return _cost(recipe, sections, places), [*lines, *_accompaniment(recipe, steps)]


def _sequence(recipe: Recipe, chance: Chance, section: _Section) -> int:
    """By how many steps a section that comes again is moved: mostly not, and never out of the range."""
    if recipe.notes:
        return 0  # a step among some notes may be no step of the key
    sung = places_of(recipe, section.bars)
    fitting = [
        steps
        for steps in (-1, 1, 2)
        if sung and min(sung) + steps >= 0 and max(sung) + steps < len(recipe.ladder) - 1
    ]
    return chance.choose(fitting, [1] * len(fitting)) if fitting and not chance.below(2) else 0


def _steps(recipe: Recipe, section: _Section, place: _Place) -> list[int]:
    """The steps that the chords of a section stand on."""
    size = len(recipe.in_key.names)
    return [*((step - 1 + place.moved) % size + 1 for step in section.chords), place.chord]


def _cost(recipe: Recipe, sections: dict[str, _Section], places: Sequence[_Place]) -> int:
    line: list[int] = []
    for place in places:
        line += [sung + place.moved for sung in places_of(recipe, sections[place.letter].bars)]
        line += places_of(recipe, [place.ending])
    return judge(line, recipe.longest_leap).cost


def _voice(recipe: Recipe, chance: Chance, sections: dict[str, _Section], places: Sequence[_Place]) -> list[str]:
    """The sections in turn: named where they come again, with an ending of their own each time."""
    form = FORMS[recipe.form]
    tops = [_top(recipe, sections[place.letter], place) for place in places]
    found: list[Line] = []
    for number, place in enumerate(places):
        section = sections[place.letter]
        if form.count(place.letter) == 1 or not section.bars:
            lines = lines_of([*section.bars, place.ending])
        else:
            bars = [*section.bars, place.ending]
            use = f"{_NAMES[place.letter]}{_moved_by(place.moved)} {place.ending.text} |"
            lines = [Line(use, sum(bar.strikes for bar in bars), len(bars))]
        if recipe.loudness == "swelling":
            other_level = "mf" if number else "mp"
            level = "f" if number == tops.index(max(tops)) else other_level
            lines[0] = lines[0]._replace(text=f"[{level}] {lines[0].text}")
        found += lines
    return texts_of(together(found), chance if recipe.words else None)


def _top(recipe: Recipe, section: _Section, place: _Place) -> int:
    """The highest place of the ladder that is sung there."""
    sung = [each + place.moved for each in places_of(recipe, section.bars)]
    return max([*sung, *places_of(recipe, [place.ending])])


def _moved_by(steps: int) -> str:
    if not steps:
        return ""
    return f" {'up' if steps > 0 else 'down'} {abs(steps)} step{'s' * (abs(steps) != 1)}"


def _best(make: Callable[[], tuple[int, list[str]]], times: int) -> list[str]:
    """The first that costs nothing, or the one of some that costs least."""
    best = make()
    for _ in range(times - 1):
        if not best[0]:
            break
        best = min(best, make(), key=itemgetter(0))
    return best[1]


def _accompaniment(recipe: Recipe, steps: Sequence[int]) -> list[str]:
    """The second voice."""
    if recipe.accompaniment == "none":
        return []
    meter = recipe.in_meter
    if recipe.accompaniment == "drums":
        pattern = " ".join(("kick", "hat", "snare", "hat")[place % 4] for place in range(meter.upper))
        return ["", "voice Drums", "  sound: drum kit", "  level: p", f"  ({pattern} |) to the end"]
    ways = {"block": "{{{0}}}=bar", "broken": "{{{0} rising by 1}}=bar", "thirds": "{{{0} rising by 1/3}}=bar"}
    symbols = [chord_symbol(recipe.in_key, step) or chord_symbol(recipe.in_key, 1) or "C" for step in steps]
    bars = [ways[recipe.accompaniment].format(symbol) for symbol in symbols]
    rows = [f"  {row_of(bars[place : place + IN_LINE])}" for place in range(0, len(bars), IN_LINE)]
    return ["", "voice Chords", f"  sound: {recipe.sound}", "  level: p", "  octave: 3", *rows]
