"""Practice tunes: within the recipe, found good by the checks, all different, the same from the same seed."""

from __future__ import annotations

import hashlib
import re
import subprocess
import sys
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.checks import checked_reading
from chickadee.ideas.judging import judge
from chickadee.ideas.recipe import FORMS, Recipe, RecipeFault, for_level, read_recipe, shipped, write_recipe
from chickadee.ideas.sets import TuneSet
from chickadee.ideas.tune import tune, tunes
from chickadee.ideas.variation import left_out, varied
from chickadee.sheet import read

pytestmark = pytest.mark.rotating


def melody(text):
    song = read(text).song
    return song, [song.notes[place] for place in song.melody(0)]


def kept_to(recipe, text):
    """A tune is what the recipe wishes."""
    reading = checked_reading(text)
    song = reading.song
    assert reading.findings == ()
    assert song.key.text == recipe.key and song.meter.text == recipe.meter
    assert song.last_bar == (recipe.bars if recipe.form != "round" else 2 * recipe.bars + 4)
    _, line = melody(text)
    ladder = [pitch.number for pitch in recipe.ladder]
    assert {note.number for note in line} <= set(ladder)
    closing = {Fraction(recipe.in_meter.upper)}
    assert {song.grid.beats(note.start, note.length) for note in line} <= set(recipe.beats) | closing
    found = judge([ladder.index(note.number) for note in line], recipe.longest_leap)
    assert found.by_step >= found.moves * 0.3
    assert found.span >= min(4, len(ladder) - 1) or len(line) < 10
    if recipe.form != "round":
        assert line[-1].number % 12 == recipe.in_key.tonic.pitch_class
        assert found.too_far == 0
    return found.by_step / found.moves


@pytest.mark.parametrize("name", shipped())
def test_every_recipe_that_ships_makes_many_different_tunes_that_keep_to_it(name):
    recipe = read_recipe(shipped()[name])
    found = tunes(recipe, 1, 25)
    assert len({text.split("\n", 1)[1] for text in found}) == 25
    assert sum(kept_to(recipe, text) for text in found) > 25 * 0.55


@settings(max_examples=12)
@given(st.integers(1, 8), st.sampled_from(sorted(FORMS)), st.sampled_from(["2/4", "3/4", "4/4", "6/8"]), st.integers(0, 9999),
       st.sampled_from(["none", "block", "broken", "thirds", "drums"]))  # fmt: skip
def test_any_recipe_makes_a_tune_or_says_what_collides(level, form, meter, seed, accompaniment):
    recipe = replace(for_level(level), form=form, meter=meter, accompaniment=accompaniment, bars=12)
    try:
        text = tune(recipe, seed)
    except RecipeFault as fault:
        assert "collide" in str(fault)
        return
    assert not checked_reading(text).has_errors
    assert text == tune(recipe, seed)
    assert len({tune(recipe, seed + more) for more in range(5)}) > 1


@pytest.mark.parametrize("form", sorted(FORMS))
@pytest.mark.parametrize(
    ("lowest", "highest"), [("A3", "C4"), ("B3", "D4"), ("C4", "E4"), ("F3", "C4"), ("A3", "D4")]
)
def test_a_narrow_range_makes_a_tune_too(form, lowest, highest):
    text = tune(Recipe(form=form, bars=24, lowest=lowest, highest=highest), 3)
    assert not checked_reading(text).has_errors
    assert {note.number for note in melody(text)[1]} <= {
        pitch.number for pitch in Recipe(lowest=lowest, highest=highest).ladder
    }


def test_the_same_seed_gives_the_same_bytes_in_another_process_and_for_ever():
    text = "\n".join(tunes(read_recipe(shipped()["sight-5"]), 7, 5))
    code = "from chickadee.ideas.recipe import *; from chickadee.ideas.tune import tunes; " \
           "print('\\n'.join(tunes(read_recipe(shipped()['sight-5']), 7, 5)), end='')"  # fmt: skip
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout == text
    kept = {name: hashlib.sha256(tunes(read_recipe(shipped()[name]), 1, 1)[0].encode()).hexdigest()[:12]
            for name in ("first-five", "six-eight", "round")}  # fmt: skip
    assert kept == HASHES


def test_a_round_has_the_rests_that_are_wished():
    found = tunes(Recipe(form="round", rests=20), 1, 8)
    lines = [text.split("phrase round")[1].split("voice")[0] for text in found]
    assert sum("rest" in line for line in lines) >= 6
    assert "rest" not in tunes(Recipe(form="round"), 1, 1)[0].split("voice")[0]


def test_phrases_come_again_by_name_and_the_last_comes_home():
    text = tune(Recipe(), 3)
    assert len(re.findall("(?<!phrase )call", text)) == 3 and "phrase call" in text
    song, line = melody(text)
    assert song.last_bar == 8 and line[-1].number % 12 == 0
    top = max(note.number for note in line)
    assert sum(note.number == top for note in line) <= len(line) // 4


@pytest.mark.parametrize("bars", [4, 8, 12, 16])
def test_four_bars_stand_in_a_line_and_no_line_could_be_joined_to_the_next(bars):
    for text in tunes(Recipe(bars=bars, words=True), 1, 5):
        phrase = bars // 4 - 1
        lines = [line for line in text.split("voice Tune")[1].splitlines()[2:] if "words:" not in line]
        counts = [line.count("|") + phrase * line.count("call") for line in lines]
        assert sum(counts) == bars and max(counts) <= 4
        assert all(one + other > 4 for one, other in pairwise(counts))


def test_most_tunes_close_by_step_and_few_halt_before_the_end():
    found = [melody(text)[1][-2:] for text in tunes(Recipe(), 4, 200)]
    assert sum(abs(one.number - other.number) in (1, 2) for one, other in found) > 150
    assert sum(one.length == other.length for one, other in found) < 40


def test_openings_are_not_the_same_more_often_than_chance():
    found = tunes(read_recipe(shipped()["sight-6"]), 1, 60)
    openings = [tuple((note.number, note.length) for note in melody(text)[1][:6]) for text in found]
    assert len(set(openings)) > 56


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("bars = 0", "bars is 0"),
        ('lowest = "C4"\nhighest = "C4"\nlongest_leap = 7', "lowest and highest collide with key"),
        ('lowest = "D5"\nhighest = "C4"', "lowest and highest collide"),
        ('lengths = ["3"]', "lengths and meter collide"),
        ("lengths = []", "lengths is empty"),
        ('lengths = ["0.3"]', "lengths holds"),
        ("bars = 7", "bars and form collide"),
        ('form = "round"\nbars = 6', "bars and form collide"),
        ('meter = "9/7"', "meter is 9/7"),
        ('key = "H major"', "H"),
        ("level = 2.0", "level is 2.0"),
        ('sound = "kazoo"', "sound is"),
        ('sound = "drum kit"', "sound is"),
        ('title = "a\\nvoice X"', "title is to be one line"),
        ('lengths = ["1/64"]', "the shortest is 1/8"),
        ("level = 9", "level is 9"),
        ("colour = 1", "colour is not a key"),
        ("tempo = true", "tempo is to be a whole number"),
        ("bars = ", "not TOML"),
        ('lowest = "D4"\nhighest = "B4"', "no C to end on"),
    ],
)
def test_wishes_that_collide_are_named_in_one_sentence(text, said):
    with pytest.raises(RecipeFault) as fault:
        read_recipe(text)
    assert said in str(fault.value) and "\n" not in str(fault.value)


TUNE = "meter: 3/4\nkey: G major\nG4 B4 A4 | E4=2 D4 | G4=1/2 A4=1/2 C5 F#4 | G4=3 |"


@given(st.integers(0, 10_000))
def test_a_tune_is_varied_in_one_respect_and_kept_in_the_other(seed):
    _, old = melody(TUNE)
    _, same_rhythm = melody(varied(read(TUNE).song, "rhythm", seed))
    assert [(note.start, note.length) for note in same_rhythm] == [(note.start, note.length) for note in old]
    assert {note.number for note in same_rhythm} <= {62, 64, 66, 67, 69, 71, 72} and same_rhythm[-1].number == 67
    song, same_pitches = melody(varied(read(TUNE).song, "pitches", seed))
    assert [note.number for note in same_pitches] == [note.number for note in old]
    assert song.last_bar == 4 and not checked_reading(varied(read(TUNE).song, "pitches", seed)).has_errors


def test_chords_go_along_with_another_rhythm_and_what_is_left_out_is_said():
    song = read("C4&E4&G4 D4&F4 E4=2 | C4&E4=2 D4=2 |\n  words: la la\nvoice Low\n  C3=4").song
    again = read(varied(song, "pitches", 4)).song
    assert [note.number for note in again.notes] == [note.number for note in song.notes if not note.voice]
    assert [sentence.split()[0] for sentence in left_out(song, "pitches")] == ["Only", "Its"]
    assert "the notes below them are left out" in left_out(song, "rhythm")[1]


HASHES = {"first-five": "e802c21ea359", "six-eight": "a171424cbf9a", "round": "2c9e03aa91e1"}


RECIPES = st.builds(
    Recipe, title=st.text(st.characters(codec="utf-8", categories=("L", "N", "P", "S", "Zs")), max_size=20), bars=st.integers(0, 70),
    key=st.sampled_from(["C major", "A minor pentatonic", "Bb major"]), notes=st.lists(st.sampled_from(["C4", "Eb4", "F#5"])).map(tuple),
    lengths=st.lists(st.sampled_from(["1", "3/2", "1/4"])).map(tuple), rests=st.integers(0, 60), words=st.booleans(),
    loudness=st.sampled_from(["even", "swelling"]), chords=st.lists(st.integers(1, 7)).map(tuple),
)  # fmt: skip


@given(RECIPES)
def test_a_recipe_saved_and_loaded_is_the_same_and_makes_the_same_tunes(recipe):
    try:
        again = read_recipe(write_recipe(recipe))
    except RecipeFault as fault:
        with pytest.raises(RecipeFault, match=re.escape(str(fault))):
            tune(recipe, 1)
    else:
        assert again == recipe and tune(again, 5) == tune(recipe, 5)


def test_the_same_set_comes_from_any_number_of_processes():
    for name in ("sight-1", "round"):
        recipe = read_recipe(shipped()[name])
        alone = list(TuneSet(recipe, 3, 8, 1).tunes())
        assert tunes(recipe, 3, 8) == alone == list(TuneSet(recipe, 3, 8, 3).tunes())


def test_a_set_is_stopped_at_once():
    work = TuneSet(Recipe(), 1, 10_000)
    for place, _ in enumerate(work.tunes()):
        if place == 3:
            work.stop()
    assert place < 200


def test_only_the_notes_given_are_sung():
    recipe = read_recipe('notes = ["C4", "E4", "F#4", "A4"]\nbars = 8')
    for text in tunes(recipe, 1, 10):
        assert {note.pitch.text for note in melody(text)[1]} <= set(recipe.notes)
        assert melody(text)[1][-1].pitch.text == "C4"


@pytest.mark.parametrize("form", sorted(FORMS))
def test_every_note_has_a_syllable_where_words_are_asked_for(form):
    text = tunes(Recipe(form=form, bars=12, words=True, rests=5), 2, 1)[0]
    _, line = melody(text)
    assert all(note.syllable for note in line)
    assert not checked_reading(text).findings


def test_a_swelling_tune_is_loudest_where_its_high_point_is():
    _, line = melody(tunes(Recipe(loudness="swelling"), 2, 1)[0])
    high = max(line, key=lambda note: note.number)
    assert high.loudness == max(note.loudness for note in line) > min(note.loudness for note in line)
