"""Mistakes planted in any tune are found, each once and no other; and what holds of any two tunes."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from chickadee.comparison import Model, Verdict, compared
from chickadee.formats import anything
from chickadee.sheet import read

APART = 4  # notes from one mistake to the next
SCALE = [60, 62, 64, 65, 67, 69, 71, 72, 74, 76, 77, 79]
BEATS = [Fraction(1), Fraction(2), Fraction(1, 2), Fraction(3, 2)]


@st.composite
def tunes(draw):
    """Notes with lengths; neighbours differ, so that it is clear which one is missing."""
    count = draw(st.integers(16, 48))
    place = draw(st.integers(0, 11))
    notes = []
    for _ in range(count):
        place = (place + draw(st.sampled_from([1, 2, 3, 5, 7, 10]))) % 12
        notes.append((SCALE[place], draw(st.sampled_from(BEATS))))
    return notes


def written(notes):
    return "\n".join(" ".join(f"{number}={beats}" for number, beats in notes[at : at + 8])
                     for at in range(0, len(notes), 8))  # fmt: skip


def model_of(notes):
    return Model(read("meter: 3/4\n" + written(notes)).song)


def judge(model, notes):
    return compared(model, anything.read_text("meter: 3/4\ntitle: x\n" + written(notes)))


@given(tunes(), st.data())
def test_mistakes_planted_apart_are_found_and_no_others(notes, data):
    model = model_of(notes)
    spots = range(APART, len(notes) - APART, APART + 1)
    chosen = data.draw(st.lists(st.sampled_from(spots), min_size=1, max_size=len(spots) // 2 + 1, unique=True))
    spoilt = list(notes)
    planted = []
    for spot in sorted(chosen, reverse=True):
        number, beats = notes[spot]
        kind = data.draw(st.sampled_from(["pitch", "length", "missing", "added", "unread"]))
        start = model.lines[0].moments[spot].start
        if kind == "pitch":
            spoilt[spot] = (data.draw(st.sampled_from([number + 1, number - 1, number + 12])), beats)
        elif kind == "unread":
            spoilt[spot] = ("H4", beats)
        elif kind == "length":
            spoilt[spot] = (number, beats * 4)
        elif kind == "missing":
            del spoilt[spot]
        else:
            spoilt.insert(spot, (83 if number != 83 else 84, Fraction(1)))
        planted.append(("pitch" if kind == "unread" else kind, start))
    judged = judge(model, spoilt)
    assert judged.verdict is Verdict.DIFFERS
    assert [(each.kind.value, each.start) for each in judged.differences] == planted[::-1]


@given(tunes(), st.integers(-20, 20), st.sampled_from([Fraction(1, 2), Fraction(1), Fraction(2), Fraction(3)]))
def test_a_right_attempt_stays_right_wherever_it_is_moved_and_however_it_is_stretched(notes, semitones, times):
    judged = judge(model_of(notes), [(number + semitones, beats * times) for number, beats in notes])
    assert judged.verdict.is_right and not judged.differences and judged.right == judged.of == len(notes)
    assert (judged.semitones, judged.times) == (semitones, times)


@given(tunes(), tunes(), st.data())
def test_with_model_and_attempt_exchanged_missing_and_added_are(notes, others, data):
    if data.draw(st.booleans()):  # a relative, and not just any tune
        others = [note for note in notes if data.draw(st.integers(0, 9))]
        assume(others)
    there = judge(model_of(notes), others)
    back = judge(model_of(others), notes)
    assume(there.semitones == 0 == back.semitones and there.times == 1 == back.times)
    swapped = {"missing": "added", "added": "missing"}
    assert there.verdict is back.verdict
    kinds = sorted((swapped.get(each.kind.value, each.kind.value), each.moments) for each in there.differences)
    assert kinds == sorted((each.kind.value, each.moments) for each in back.differences)


@given(tunes())
def test_every_bar_with_a_difference_shows_it(notes):
    model = model_of(notes)
    judged = judge(
        model, [(number + 1 if at % 7 == 3 else number, beats) for at, (number, beats) in enumerate(notes)]
    )
    bars = {each.bar for each in judged.differences}
    assert {bar for bar, kind in zip(model.bars, judged.bars, strict=True) if kind} == bars
    assert judged.right == judged.of - len(judged.differences)


def test_a_missing_bar_of_a_tune_that_repeats_itself_begins_at_a_bar():
    bar = [(67, 1), (71, 1), (69, 1)]
    judged = judge(model_of(bar * 4), bar * 3)
    (missing,) = judged.differences
    assert (missing.kind.value, missing.beat, missing.bars, missing.moments) == ("missing", 1, 1, 3)


def test_of_equal_notes_the_one_that_leaves_the_others_in_time_is_missing():
    model = Model(read("meter: 4/4\nC4 C4 C4 C4 | D4=4").song)
    judged = compared(model, anything.read_text("meter: 4/4\nC4 rest C4 C4 | D4=4"))
    assert [(each.kind.value, each.bar, each.beat) for each in judged.differences] == [("missing", 1, 2)]


def test_voices_belong_together_by_name_and_an_attempt_of_one_voice_is_laid_over_the_one_it_fits():
    model = Model(read("voice High\nC5 D5 E5 C5\nvoice Low\nC3=2 G3=2").song)
    both = compared(model, anything.read_text("voice Low\nC3=2 G3=2\nvoice High\nC5 D5 F5 C5"))
    assert both.sentence == "1 difference, at bar 1 beat 3: F5 for E5, in High."
    low = compared(model, anything.read_text("title: one\nC3=2 G3=2"))
    assert low.sentence == "Right. There is nothing for High in it."
    together = compared(model, anything.read_text("title: one\nC5&C3=2 D5 E5 C5"))
    assert together.verdict is not Verdict.UNREADABLE


@pytest.mark.parametrize(("silence", "kinds"), [("1/10", []), ("1/7", ["added"]), ("1/2", ["added"])])
def test_a_breath_between_notes_is_no_rest_and_a_longer_silence_is_one(silence, kinds):
    model = Model(read("meter: 4/4\nC4 D4 E4 F4 | G4=4").song)
    played = f"meter: 4/4\nC4 D4 rest={silence} E4 F4 | G4=4"
    assert [each.kind.value for each in compared(model, anything.read_text(played)).differences] == kinds


@pytest.mark.parametrize("meter", ["6/8", "4/4", "3/2", "12/8"])
def test_beats_are_those_of_the_model_s_meter_whatever_they_are(meter):
    lengths = [1, 2, 1, 3, 1, 1, 2, 1]
    tune = list(zip([60, 62, 64, 65, 67, 69, 71, 72], lengths, strict=True))
    model = Model(read(f"meter: {meter}\n" + written(tune)).song)
    for text in (
        f"tune = {tune}",
        f"notes = {[n for n, _ in tune]}\nbeats = {lengths}",
        f"title: x\nmeter: {meter}\n{written(tune)}",
    ):
        assert compared(model, anything.read_text(text)).verdict is Verdict.RIGHT
    wrong = compared(model, anything.read_text(f"tune = {[*tune[:3], (65, 4), *tune[4:]]}"))
    assert [(each.kind.value, each.found.beats, each.expected.beats) for each in wrong.differences] == [
        ("length", 4, 3)
    ]


def test_chords_are_sets_and_drums_are_not_moved():
    model = Model(read("C4&E4&G4=2 {Am}=2").song)
    assert compared(model, anything.read_text("title: x\nG4&C4&E4=2 A4&C5&E5=2")).verdict is Verdict.RIGHT
    (wrong,) = compared(model, anything.read_text("title: x\nC4&E4&A4=2 {Am}=2")).differences
    assert (wrong.expected.numbers, wrong.found.numbers) == ((60, 64, 67), (60, 64, 69))
    drums = Model(read("sound: drum kit\nkick hat snare hat kick hat snare hat").song)
    three = "voice A\nC5 E5 G5 C6\nvoice B\n{{{}}}=4\nvoice D\nsound: drum kit\nkick hat snare hat"
    up = compared(Model(read(three.format("C")).song), anything.read_text(
        three.format("D").replace("C5 E5 G5 C6", "D5 F#5 A5 D6")))  # fmt: skip
    assert (up.verdict, up.semitones) == (Verdict.MOVED, 2)
    moved = compared(drums, anything.read_text("sound: drum kit\n38 44 40 44 38 44 40 44"))
    assert moved.semitones == 0 and not moved.verdict.is_right
