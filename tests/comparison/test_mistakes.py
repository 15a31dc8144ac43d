"""A class's mistakes, each of one kind, in ten tunes and in keys of up to five sharps and flats."""

from __future__ import annotations

import random
from collections.abc import Callable
from fractions import Fraction
from itertools import pairwise
from typing import NamedTuple

import pytest

from chickadee.comparison import Comparison, Model, compared
from chickadee.formats import anything
from chickadee.sheet import read
from chickadee.theory import read_key

KEYS = ["C", "G", "D", "A", "E", "B", "F", "Bb", "Eb", "Ab", "Db"]
TUNES = range(10)
BARS = 8
RHYTHMS = [
    (1, 1, 1, 1),
    (2, 1, 1),
    (1, 1, 2),
    (Fraction(3, 2), Fraction(1, 2), 1, 1),
    (1, Fraction(1, 2), Fraction(1, 2), 2),
]


class Tune(NamedTuple):
    """Notes as (name, beats), four beats to a bar; no two neighbours are alike, and no two bars."""

    key: str
    notes: list[tuple[str, Fraction]]
    bars: list[int]
    """For each note its bar, from 1."""

    def place(self, at: int) -> tuple[int, Fraction]:
        """Bar and beat of a note."""
        start = sum((beats for _, beats in self.notes[:at]), Fraction(0))
        return int(start // 4) + 1, start % 4 + 1


class Expected(NamedTuple):
    verdict: str
    places: list[tuple[str, int, Fraction]] = []  # noqa: RUF012
    """(kind, bar, beat) of each difference; not looked at where there are none and the verdict is ``differs``."""
    cause: str = ""
    count: int | None = None


def walk(chance: random.Random, step: int, count: int) -> list[int]:
    """So many steps of a key, from one on, within two octaves."""
    steps = []
    for _ in range(count):
        step = step + chance.choice([-3, -2, -1, 1, 2, 3])
        step = step if 0 < step < 11 else 5
        steps.append(step)
    return steps


def tune(number: int, key: str) -> Tune:
    chance = random.Random(number)
    notes = []
    bars = []
    seen = set()
    step = 4
    for bar in range(1, BARS + 1):
        rhythm = chance.choice(RHYTHMS)
        steps: list[int] = []
        while not steps or tuple(steps) in seen or any(one == other for one, other in pairwise([step, *steps])):
            steps = walk(chance, step, len(rhythm))
        seen.add(tuple(steps))
        step = steps[-1]
        for each, beats in zip(steps, rhythm, strict=True):
            low = read_key(f"{key} major").tonic.at(4)
            notes.append((read_key(f"{key} major").moved_by_steps(low, each).text, Fraction(beats)))
            bars.append(bar)
    return Tune(key, notes, bars)


def model_of(made: Tune) -> Model:
    return Model(read(f"meter: 4/4\nkey: {made.key} major\n" + written(made.notes)).song)


def written(notes: list[tuple[str, Fraction]]) -> str:
    return "title: x\nmeter: 4/4\n" + " ".join(f"{name}={beats}" for name, beats in notes)


def raised(name: str, semitones: int) -> str:
    """A name so many semitones higher, spelled in C major."""
    return read_key("C major").spell(number_of(name) + semitones).text


def number_of(name: str) -> int:
    (note,) = read(name).song.notes
    return note.number


Mistake = Callable[[Tune, random.Random], tuple[str, Expected]]


def spoilt(at: int, name: str | None = None, beats: Fraction | None = None) -> Callable[[Tune], str]:
    def write(tune: Tune) -> str:
        notes = list(tune.notes)
        notes[at] = (name or notes[at][0], beats or notes[at][1])
        return written(notes)

    return write


def inside(tune: Tune, chance: random.Random) -> int:
    """A note that is neither among the first nor among the last."""
    return chance.randrange(4, len(tune.notes) - 4)


def wrong_pitch(semitones: int, cause: str = "") -> Mistake:
    def make(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
        at = inside(tune, chance)
        text = spoilt(at, raised(tune.notes[at][0], semitones))(tune)
        return text, Expected("differs", [("pitch", *tune.place(at))], cause)

    return make


def from_a_place_on(semitones: int) -> Mistake:
    def make(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
        at = chance.randrange(len(tune.notes) // 3, 2 * len(tune.notes) // 3)
        notes = [(raised(name, semitones) if place >= at else name, beats)
                 for place, (name, beats) in enumerate(tune.notes)]  # fmt: skip
        places = [("pitch", *tune.place(place)) for place in range(at, len(notes))]
        return written(notes), Expected("differs", places, "From bar")

    return make


def whole(verdict: str, semitones: int = 0, times: Fraction = Fraction(1)) -> Mistake:
    def make(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
        return written([(raised(name, semitones), beats * times) for name, beats in tune.notes]), Expected(verdict)

    return make


def wrong_length(factor: Fraction) -> Mistake:
    def make(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
        at = inside(tune, chance)
        return spoilt(at, beats=tune.notes[at][1] * factor)(tune), Expected("differs", [("length", *tune.place(at))])

    return make


def lengths_doubled(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    chosen = sorted(chance.sample(range(4, len(tune.notes) - 4, 4), 3))
    notes = [(name, beats * (2 if place in chosen else 1)) for place, (name, beats) in enumerate(tune.notes)]
    return written(notes), Expected("differs", [("length", *tune.place(at)) for at in chosen], "doubled")


def missing_note(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    at = next(place for place in range(inside(tune, chance), len(tune.notes))
              if tune.notes[place - 1][0] != tune.notes[(place + 1) % len(tune.notes)][0])  # fmt: skip
    return written(tune.notes[:at] + tune.notes[at + 1 :]), Expected("differs", [("missing", *tune.place(at))])


def added_note(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    at = inside(tune, chance)
    text = written([*tune.notes[:at], ("C7", Fraction(1)), *tune.notes[at:]])
    bar, beat = tune.place(at)
    before = tune.place(at - 1)
    end = (before[0], before[1] + tune.notes[at - 1][1])
    return text, Expected("differs", [("added", *(end if beat == 1 else (bar, beat)))])


def missing_bar(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    bar = chance.randrange(3, BARS - 1)
    kept = [note for note, where in zip(tune.notes, tune.bars, strict=True) if where != bar]
    return written(kept), Expected("differs", [("missing", bar, Fraction(1))])


def bar_twice(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    bar = chance.randrange(3, BARS - 1)
    mine = [note for note, where in zip(tune.notes, tune.bars, strict=True) if where == bar]
    end = tune.bars.index(bar + 1)
    return written([*tune.notes[:end], *mine, *tune.notes[end:]]), Expected("differs", cause="twice", count=1)


def exchanged(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    at = next(place for place in range(inside(tune, chance), len(tune.notes) - 1)
              if tune.bars[place] == tune.bars[place + 1] and tune.notes[place][1] == tune.notes[place + 1][1])  # fmt: skip
    notes = list(tune.notes)
    notes[at], notes[at + 1] = notes[at + 1], notes[at]
    places = [("pitch", *tune.place(at)), ("pitch", *tune.place(at + 1))]
    return written(notes), Expected("differs", places, "exchanged")


def key_not_given(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    altered = [place for place, (name, _) in enumerate(tune.notes) if len(name) > 2]
    plain = written([(name[0] + name[-1], beats) for name, beats in tune.notes])
    if not altered:
        return plain, Expected("right")
    cause = "missing throughout" if len(altered) > 1 else ""
    return plain, Expected("differs", [("pitch", *tune.place(at)) for at in altered], cause)


def stops_early(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    end = tune.bars.index(BARS - 1)
    return written(tune.notes[:end]), Expected("differs", [("missing", BARS - 1, Fraction(1))], "It stops before")


def number_beside(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    at = inside(tune, chance)
    notes = [(str(number_of(name) + (place == at)), beats) for place, (name, beats) in enumerate(tune.notes)]
    return written(notes), Expected("differs", [("pitch", *tune.place(at))], "the key beside")


def not_read(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    at = inside(tune, chance)
    return spoilt(at, "Q4")(tune), Expected("differs", [("pitch", *tune.place(at))])


def rest_added(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    at = tune.bars.index(chance.randrange(3, BARS))
    return written([*tune.notes[:at], ("rest", Fraction(1)), *tune.notes[at:]]), Expected("differs", count=1)


def rest_for_a_note(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    at = inside(tune, chance)
    return spoilt(at, "rest")(tune), Expected("differs", count=1)


def no_lengths(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    return " ".join(name for name, _ in tune.notes), Expected("pitches-only")


def two_far_apart(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    chosen = (4, len(tune.notes) - 5)
    notes = [(raised(name, 3) if place in chosen else name, beats) for place, (name, beats) in enumerate(tune.notes)]
    return written(notes), Expected("differs", [("pitch", *tune.place(at)) for at in chosen])


def moved_with_a_mistake(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    at = inside(tune, chance)
    notes = [(raised(name, 5 + (place == at)), beats) for place, (name, beats) in enumerate(tune.notes)]
    return written(notes), Expected("differs", [("pitch", *tune.place(at))], "All is 5 semitones higher")


def as_numbers(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    return written([(str(number_of(name)), beats) for name, beats in tune.notes]), Expected("right")


def with_silence(tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    return written([("rest", Fraction(2)), *tune.notes, ("rest", Fraction(1))]), Expected("right")


def another(of_tune: Tune, chance: random.Random) -> tuple[str, Expected]:
    return written(tune(1000 + chance.randrange(1000), of_tune.key).notes), Expected("another-tune")


MISTAKES: dict[str, Mistake] = {
    "a step off": wrong_pitch(2),
    "a semitone off": wrong_pitch(-1),
    "an octave off": wrong_pitch(12, "It is an octave higher"),
    "two wrong pitches": two_far_apart,
    "an octave off from a place on": from_a_place_on(-12),
    "two semitones off from a place on": from_a_place_on(2),
    "all an octave lower": whole("moved", -12),
    "all in another key": whole("moved", 5),
    "all twice as long": whole("scaled", times=Fraction(2)),
    "all half as long": whole("scaled", times=Fraction(1, 2)),
    "moved and twice as long": whole("moved-scaled", 2, Fraction(2)),
    "moved, with a mistake": moved_with_a_mistake,
    "a length doubled": wrong_length(Fraction(2)),
    "a length halved": wrong_length(Fraction(1, 2)),
    "some lengths doubled": lengths_doubled,
    "a note missing": missing_note,
    "a note added": added_note,
    "a bar missing": missing_bar,
    "a bar written twice": bar_twice,
    "two notes exchanged": exchanged,
    "the key not given": key_not_given,
    "an early end": stops_early,
    "the number of the key beside": number_beside,
    "a sign that is none": not_read,
    "a rest added": rest_added,
    "a rest for a note": rest_for_a_note,
    "no lengths": no_lengths,
    "right, in numbers": as_numbers,
    "right, with silence around": with_silence,
    "other names": whole("right"),
}


def fails(judged: Comparison, expected: Expected) -> bool:
    """Return whether a judgement is not what the mistake deserves: verdict, places, count and cause."""
    found = [(each.kind.value, each.bar, each.beat) for each in judged.differences]
    count = expected.count if expected.count is not None else len(expected.places)
    return (
        judged.verdict.value != expected.verdict
        or len(found) != count
        or (bool(expected.places) and found != expected.places)
        or expected.cause not in judged.sentence
    )


@pytest.mark.parametrize("kind", MISTAKES)
def test_each_mistake_has_its_verdict_place_count_and_cause(kind):
    wrong = []
    for place, key in enumerate(KEYS):
        for number in TUNES[place % 5 :: 5]:
            made = tune(number, key)
            model = model_of(made)
            text, expected = MISTAKES[kind](made, random.Random(f"{kind}{key}{number}"))
            judged = compared(model, anything.read_text(text))
            if fails(judged, expected):
                wrong.append((key, number, judged.verdict.value, judged.sentence, expected))
    assert not wrong


def test_most_other_tunes_are_told_to_be_others():
    others = 0
    for number in TUNES:
        made = tune(number, "D")
        model = model_of(made)
        text, expected = another(made, random.Random(number))
        others += compared(model, anything.read_text(text)).verdict.value == expected.verdict
    assert others >= 9
