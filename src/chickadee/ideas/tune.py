"""A practice tune, written as a person would: phrases with names that come back, four bars a line."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import count, islice
from typing import NamedTuple

from ..chance import Chance
from ..checks import checked_reading
from ..theory import Pitch
from .chords import chord_symbol, chord_tones, section_chords
from .judging import judge
from .melody import Singer
from .recipe import FORMS, GROUND, Recipe, RecipeFault, check
from .rhythm import bar_of_lengths, closing_bar
from .syllables import syllables

__all__ = ["NONE_PASSES", "candidate", "tune", "tunes", "tunes_in_turn"]

_NAMES = {"A": "call", "B": "reply"}
_SONGS = 12  # how many are tried for a good one
_BARS = 30  # how many tries there are for a bar of a round
_GROUNDS = ((1, 4, 5, 1), (1, 6, 5, 1), (1, 5, 5, 1))
_CONSONANT = {0, 3, 4, 5, 7, 8, 9}  # semitones between two voices, octaves apart or not
_IN_LINE = 4
_IN_VAIN = 120  # tunes tried one after the other without finding a new one
NONE_PASSES = "No tune of this recipe passes the checks; shorter leaps or longer lengths may help."
"""What is said of a recipe that has none."""


@dataclass(frozen=True, slots=True)
class _Bar:
    """Lengths with their pitches; None for a rest."""

    lengths: tuple[Fraction, ...]
    pitches: tuple[Pitch | None, ...]

    @property
    def strikes(self) -> int:
        """How many notes are struck."""
        return sum(pitch is not None for pitch in self.pitches)

    @property
    def text(self) -> str:
        """The bar as it is written."""
        words = []
        for length, pitch in zip(self.lengths, self.pitches, strict=True):
            sign = pitch.text if pitch is not None else "rest"
            words.append(sign if length == 1 else f"{sign}={length}")
        return " ".join(words)


@dataclass(frozen=True, slots=True)
class _Section:
    """The bars of a section but the last, and the steps of the key that their chords stand on."""

    bars: tuple[_Bar, ...]
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
    return None if checked_reading(text).findings else text.split("\n", 1)[1]


def _titled(recipe: Recipe, body: str, number: int) -> str:
    """A tune with its title and number."""
    return f"title: {recipe.title} {number}\n{body}"


def tune(recipe: Recipe, seed: int, number: int = 1) -> str:
    """A tune as a sheet. Raises RecipeFault where wishes collide."""
    check(recipe)
    chance = Chance(seed)
    body = _round(recipe, chance) if recipe.form == "round" else _song(recipe, chance)
    head = [f"tempo: {recipe.tempo}", f"meter: {recipe.meter}", f"key: {recipe.key}"]
    return _titled(recipe, "\n".join([*head, "", *body, ""]), number)


# Sections


@dataclass(frozen=True, slots=True)
class _Place:
    """Where a section stands in a song: by how many steps it is moved, and the bar that ends it there."""

    letter: str
    moved: int
    ending: _Bar
    chord: int
    """Of the ending: a step of the key."""


def _section(recipe: Recipe, chance: Chance, bars: int, singer: Singer, peaks: bool) -> _Section:
    """The bars of a section but the last, with one motif: the rhythm of the first comes back in the third."""
    beats, lengths = Fraction(recipe.in_meter.upper), recipe.beats
    motif = [bar_of_lengths(chance, beats, lengths, recipe.pulse) for _ in range(2)]
    rhythms = [motif[place % 2] for place in range(bars)]
    steps = section_chords(chance, bars + 1, recipe.chords)[:bars]  # the ending has its own
    rises = [_arch(place, bars + 1, peaks) for place in range(bars)]
    end = chord_tones(recipe.in_key, steps[-1]) if steps else ()
    sung = singer.bars(rhythms, steps, rises, peaks, end)
    made = [_with_rests(recipe, chance, rhythm, row) for rhythm, row in zip(rhythms, sung, strict=True)]
    return _Section(tuple(made), tuple(steps), singer.place or 0)


def _ending(recipe: Recipe, chance: Chance, singer: Singer, from_place: int | None, chord: int, home: bool) -> _Bar:
    """A bar that ends a section: on a note of the chord, or at home on the tonic."""
    tonic = recipe.in_key.tonic.pitch_class
    known = {pitch.number % 12 for pitch in recipe.ladder}
    away = chord_tones(recipe.in_key, chord) & known - {tonic}
    tones = away if away and not home else {tonic}  # a narrow range may hold no other note of the chord
    singer.place, singer.moved = from_place, 0
    start = from_place or 0
    far = min(abs(start - place) for place, each in enumerate(recipe.ladder) if each.number % 12 in tones)
    rhythm = closing_bar(chance, Fraction(recipe.in_meter.upper), recipe.beats, recipe.pulse,
                         -(-far // recipe.longest_leap))  # fmt: skip
    (pitches,) = singer.bars([rhythm], [chord], [20 if home else 50], False, tones)
    return _Bar(tuple(rhythm), tuple(pitches))


def _arch(place: int, bars: int, peaks: bool) -> int:
    """Where the curve of a section is, in hundredths of the ladder: up for two thirds of it, and down. The section
    with the high point stands above the others."""
    peak = max(1, bars * 2 // 3)
    rise = 20 + 40 * place // peak if place <= peak else max(10, 60 - 50 * (place - peak) // max(1, bars - peak))
    return rise + 40 * peaks


def _with_rests(recipe: Recipe, chance: Chance, rhythm: Sequence[Fraction], pitches: Sequence[Pitch]) -> _Bar:
    """A bar with some of its notes left out, but never the first."""
    sung = [pitch if not place or chance.below(100) >= recipe.rests else None for place, pitch in enumerate(pitches)]
    return _Bar(tuple(rhythm), tuple(sung))


def _singer(recipe: Recipe, chance: Chance) -> Singer:
    return Singer(chance, recipe.in_key, recipe.ladder, recipe.longest_leap, recipe.strong)


# Songs


def _song(recipe: Recipe, chance: Chance) -> list[str]:
    """The best of some songs."""
    return _best(lambda: _one_song(recipe, chance), _SONGS)


def _one_song(recipe: Recipe, chance: Chance) -> tuple[int, list[str]]:
    """A song, and how far it is from what it should be."""
    form = FORMS[recipe.form]
    size = recipe.bars // len(form)
    singer = _singer(recipe, chance)
    sections: dict[str, _Section] = {}
    places: list[_Place] = []
    for number, letter in enumerate(form):
        if letter not in sections:
            sections[letter] = _section(recipe, chance, size - 1, singer, peaks=letter == form[-2])
        section, last = sections[letter], number == len(form) - 1
        moved = _sequence(recipe, chance, section) if letter in form[:number] and not last else 0
        chord = 1 if last or (form.count(letter) > 1 and number % 2) else 5
        from_place = section.end + moved if section.bars else singer.place
        ending = _ending(recipe, chance, singer, from_place, chord, home=last)
        places.append(_Place(letter, moved, ending, chord))
    lines: list[str] = []
    for letter, section in sections.items():
        if form.count(letter) > 1 and section.bars:
            lines += [f"phrase {_NAMES[letter]}", *_texts(_lines(section.bars)), ""]
    lines += ["voice Tune", f"  sound: {recipe.sound}", *_voice(recipe, chance, sections, places)]
    steps = [step for place in places for step in _steps(recipe, sections[place.letter], place)]
    return _cost(recipe, sections, places), [*lines, *_accompaniment(recipe, steps)]


def _sequence(recipe: Recipe, chance: Chance, section: _Section) -> int:
    """By how many steps a section that comes again is moved: mostly not, and never out of the range."""
    if recipe.notes:
        return 0  # a step among some notes may be no step of the key
    sung = _places_of(recipe, section.bars)
    fitting = [steps for steps in (-1, 1, 2)
               if sung and min(sung) + steps >= 0 and max(sung) + steps < len(recipe.ladder) - 1]  # fmt: skip
    return chance.choose(fitting, [1] * len(fitting)) if fitting and not chance.below(2) else 0


def _steps(recipe: Recipe, section: _Section, place: _Place) -> list[int]:
    """The steps that the chords of a section stand on."""
    size = len(recipe.in_key.names)
    return [*((step - 1 + place.moved) % size + 1 for step in section.chords), place.chord]


def _cost(recipe: Recipe, sections: dict[str, _Section], places: Sequence[_Place]) -> int:
    line: list[int] = []
    for place in places:
        line += [sung + place.moved for sung in _places_of(recipe, sections[place.letter].bars)]
        line += _places_of(recipe, [place.ending])
    return judge(line, recipe.longest_leap).cost


def _places_of(recipe: Recipe, bars: Sequence[_Bar]) -> list[int]:
    """The places on the ladder of all that is sung in some bars."""
    return [recipe.ladder.index(pitch) for bar in bars for pitch in bar.pitches if pitch is not None]


def _voice(recipe: Recipe, chance: Chance, sections: dict[str, _Section], places: Sequence[_Place]) -> list[str]:
    """The sections in turn: named where they come again, with an ending of their own each time."""
    form = FORMS[recipe.form]
    tops = [_top(recipe, sections[place.letter], place) for place in places]
    found: list[_Line] = []
    for number, place in enumerate(places):
        section = sections[place.letter]
        if form.count(place.letter) == 1 or not section.bars:
            lines = _lines([*section.bars, place.ending])
        else:
            bars = [*section.bars, place.ending]
            use = f"{_NAMES[place.letter]}{_moved_by(place.moved)} {place.ending.text} |"
            lines = [_Line(use, sum(bar.strikes for bar in bars))]
        if recipe.loudness == "swelling":
            level = "f" if number == tops.index(max(tops)) else "mf" if number else "mp"
            lines[0] = lines[0]._replace(text=f"[{level}] {lines[0].text}")
        found += lines
    return _texts(found, chance if recipe.words else None)


def _top(recipe: Recipe, section: _Section, place: _Place) -> int:
    """The highest place of the ladder that is sung there."""
    sung = [each + place.moved for each in _places_of(recipe, section.bars)]
    return max([*sung, *_places_of(recipe, [place.ending])])


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
        best = min(best, make(), key=lambda each: each[0])
    return best[1]


class _Line(NamedTuple):
    """A line of a voice, and how many notes it strikes."""

    text: str
    strikes: int = 0


def _lines(bars: Sequence[_Bar]) -> list[_Line]:
    rows = (bars[place : place + _IN_LINE] for place in range(0, len(bars), _IN_LINE))
    return [_Line(_row([bar.text for bar in row]), sum(bar.strikes for bar in row)) for row in rows]


def _row(texts: Sequence[str]) -> str:
    """Bars as a line of a voice, each with its bar line."""
    return " ".join(f"{text} |" for text in texts)


def _texts(lines: Sequence[_Line], chance: Chance | None = None) -> list[str]:
    """Lines as they stand in a block, with syllables under them where ``chance`` is to choose some."""
    found = []
    for line in lines:
        found.append(f"  {line.text}")
        if chance is not None:
            found.append(f"  words: {' '.join(syllables(chance, line.strikes))}")
    return found


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
    rows = [f"  {_row(bars[place : place + _IN_LINE])}" for place in range(0, len(bars), _IN_LINE)]
    return ["", "voice Chords", f"  sound: {recipe.sound}", "  level: p", "  octave: 3", *rows]


# Rounds


def _round(recipe: Recipe, chance: Chance) -> list[str]:
    """One line that two groups sing, the second four bars later."""
    return _best(lambda: _one_round(recipe, chance), _SONGS)


def _one_round(recipe: Recipe, chance: Chance) -> tuple[int, list[str]]:
    """A round, and how far it is from what it should be: clashes weigh as much as leaps too far."""
    bars = _bars_of_round(recipe, chance)
    sung = _places_of(recipe, bars)
    clashes = sum(_clashes(one, other) for one, other in zip(bars, [*bars[GROUND:], *bars[:GROUND]], strict=True))
    rest = " ".join([f"rest={recipe.in_meter.upper} |"] * GROUND)
    lines = _texts(_lines(bars), chance if recipe.words else None)
    return judge([*sung, sung[0]], recipe.longest_leap).cost + 100 * clashes, [
        "phrase round", *lines, "", "voice First", f"  sound: {recipe.sound}", "  round x2", "",
        "voice Second", f"  sound: {recipe.sound}", f"  {rest} round x2",
    ]  # fmt: skip


def _bars_of_round(recipe: Recipe, chance: Chance) -> list[_Bar]:
    """Every four bars stand on the same chords; each bar is the first of some that clashes least with those that
    sound with it."""
    ground = [recipe.chords[place % len(recipe.chords)] for place in range(GROUND)] if recipe.chords else (
        chance.choose(_GROUNDS, (2, 2, 1)) if len(recipe.in_key.names) > 5 else (1, 4, 2, 1))  # fmt: skip
    singer = _singer(recipe, chance)
    made: list[_Bar] = []
    for number in range(recipe.bars):
        start, last = (singer.place, singer.moved), number == recipe.bars - 1
        rise = 15 + 65 * number // recipe.bars if not last else 20
        others = [made[place] for place in (number - GROUND, number + GROUND - recipe.bars) if 0 <= place < number]
        tried: list[tuple[int, _Bar, tuple[int | None, int]]] = []
        while not tried or (tried[-1][0] and len(tried) < _BARS):
            singer.place, singer.moved = start
            bar = _bar_of_round(recipe, chance, singer, ground[number % GROUND], rise, last)
            clashes = sum(_clashes(bar, other) for other in others)
            tried.append((clashes, bar, (singer.place, singer.moved)))
        _, bar, (singer.place, singer.moved) = min(tried, key=lambda each: each[0])
        made.append(bar)
    return made


def _bar_of_round(recipe: Recipe, chance: Chance, singer: Singer, chord: int, rise: int, last: bool) -> _Bar:
    beats, lengths = Fraction(recipe.in_meter.upper), recipe.beats
    rhythm = (closing_bar if last else bar_of_lengths)(chance, beats, lengths, recipe.pulse)
    end = {recipe.in_key.tonic.pitch_class} if last else range(12)
    (sung,) = singer.bars([rhythm], [chord], [rise], True, end)
    return _Bar(tuple(rhythm), tuple(sung))


def _clashes(one: _Bar, other: _Bar) -> int:
    """How many beats of bars that sound together are no consonance."""
    return sum(
        low is not None and high is not None and abs(low - high) % 12 not in _CONSONANT
        for low, high in zip(_by_beats(one), _by_beats(other), strict=True)
    )


def _by_beats(bar: _Bar) -> list[int | None]:
    """The MIDI number that sounds on each beat of a bar."""
    found: list[int | None] = []
    here = Fraction(0)
    for length, pitch in zip(bar.lengths, bar.pitches, strict=True):
        while len(found) < here + length:
            found.append(pitch.number if pitch is not None else None)
        here += length
    return found
