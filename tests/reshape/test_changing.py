"""The other reshapings: each says what it does in the language, and its inverse undoes it."""

from __future__ import annotations

from fractions import Fraction as F

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee import read
from chickadee.reshape import Part
from chickadee.reshape.changing import (
    backwards,
    broken,
    folded,
    gathered,
    in_scale,
    replaced,
    straightened,
    stretched,
    swung,
    upside_down,
)
from chickadee.sheet import CannotEdit, apply_edits
from chickadee.song import TICKS_PER_QUARTER as Q
from chickadee.theory import SCALES


def test_chosen_notes_become_longer_or_shorter_with_their_holds():
    reading = read("C4 D4=2 - E4&G4=1/2")
    edits = stretched(reading, F(2), Part.of_notes([1, 2]))
    assert apply_edits(reading.text, edits) == "C4 D4=4 -=2 E4&G4"


def changed(text, how, *arguments):
    return apply_edits(text, how(read(text), *arguments))


def numbers(text):
    return [note.number for note in read(text).song.notes]


@pytest.mark.parametrize(
    ("text", "how", "arguments", "expected"),
    [
        ("key: A minor\nA4 C5 60 ^7 {F}", in_scale, (SCALES["major"],), "key: A major\nA4 C#5 61 ^7 {F#m}"),
        ("key: a minor\nA4 G#4 G4", in_scale, (SCALES["major"],), "key: a major\nA4 G#4 G#4"),
        ("C4 E4 {Am rising}", in_scale, (SCALES["minor"],), "key: C minor\nC4 Eb4 {Ab rising}"),
        ("C4 D4 E4 F4 F#4 A4 ^7 71 {C}", in_scale, (SCALES["major pentatonic"],),
         "key: C major pentatonic\nC4 D4 E4 E4 G4 A4 ^6 72 {C}"),
        ("key: A minor pentatonic\nA4 C5 D5 E5 G5 ^3", in_scale, (SCALES["minor"],), "key: A minor\nA4 C5 D5 E5 G5 ^4"),
        ("key: G major\nF#4 C4", in_scale, (SCALES["mixolydian"],), "key: G mixolydian\nF4 C4"),
        ("C3 C4 90 D6", folded, (60, 72), "C4 C4 66 D4"),
        ("C4&C5 {Am}", replaced, (72, 69), "C4&A4 {Am}"),
        ("60 C4 61", replaced, (60, 62), "62 D4 61"),
        ("C4=1/2 D4=1/2 E4 F4=1/2 G4=1/2", swung, (), "C4=2/3 D4=1/3 E4 F4=2/3 G4=1/3"),
        ("C4 D4=1/2 E4=1/2 | rest=1/2 G4=1/2", swung, (Part.of_notes([1]),), "C4 D4=2/3 E4=1/3 | rest=1/2 G4=1/2"),
        ("ticks: 6\nC4=3 D4=3 E4", swung, (), "ticks: 6\nC4=4 D4=2 E4"),
        ("ticks: 4\nC4&E4 G4", broken, (), "ticks: 4\n(C4 E4)=4 G4"),
        ("ticks: 4\n(C4 E4)=4 (C4 E4)=1", gathered, (), "ticks: 4\nC4&E4 C4&E4=1"),
        ("C4=1/4 D4=1/2 E4=1/2", swung, (), "C4=1/4 D4=1/2 E4=1/2"),
        (">C4&E4&G4=2 {Am}=3 {F 3}", broken, (), "(>C4 >E4 >G4)=2 {Am rising}=3 {F 3 rising}"),
        ("C4&E4 G4", broken, (), "(C4 E4)=1 G4"),
        ("(C4 E4 G4)=2 {Am there and back by 1/3}=3 (C4=2 E4)=1", gathered, (), "C4&E4&G4=2 {Am}=3 (C4=2 E4)=1"),
    ],
)  # fmt: skip
def test_each_reshaping_writes_what_it_means(text, how, arguments, expected):
    assert changed(text, how, *arguments) == expected


TUNES = st.lists(
    st.sampled_from(["C4", "67", "{Am}=2", "rest", "E4=1/2 F4=1/2", "-", "(G4 A4 B4)=2", "|", "[mf]"]),
    min_size=1,
    max_size=8,
).map(lambda signs: "C4 " + " ".join(signs))


@settings(max_examples=40, deadline=None)
@given(
    TUNES,
    st.sampled_from(
        [
            (backwards, (), ()),
            (upside_down, (), ()),
            (stretched, (F(3, 2),), (F(2, 3),)),
            (stretched, (F(1, 2),), (F(2),)),
        ]
    ),
)
def test_what_is_done_twice_is_undone(text, way):
    how, there, back = way
    once = changed(text, how, *there)
    assert once != text
    assert changed(once, how, *back) == text


@pytest.mark.parametrize("tune", ["C4 E4=2 G4 B3", "phrase p\nC4 D4=1/2\nvoice V\np p up 4\nvoice W\nE3=3"])
def test_they_sound_as_they_say(tune):
    song = read(tune).song
    last = song.end
    back = read(changed(tune, backwards, Part.of_voice(0))).song
    mine = sorted((note.start, note.number) for note in song.notes if note.voice == 0)
    end = song.voices[0].end
    assert sorted((end - note.end, note.number) for note in back.notes if note.voice == 0) == mine
    longer = read(changed(tune, stretched, F(2))).song
    assert longer.end == 2 * last
    assert [note.length for note in longer.notes] == [2 * note.length for note in song.notes]
    assert longer.end % Q == 0


def test_a_mirror_keeps_its_first_note_and_turns_the_steps_round():
    assert numbers(changed("key: C major\nC4 D4 E4 G4", upside_down)) == [60, 59, 57, 53]


@given(st.lists(st.integers(30, 100), min_size=1, max_size=10), st.integers(40, 70), st.integers(11, 30))
def test_folding_moves_by_octaves_alone_and_into_the_range(pitches, low, wide):
    text = " ".join(map(str, pitches))
    after = numbers(changed(text, folded, low, low + wide))
    assert all(
        low <= number <= low + wide and (number - old) % 12 == 0 for number, old in zip(after, pitches, strict=True)
    )


@given(
    st.lists(
        st.sampled_from(["C4=1/2 E4=1/2", "G4", "rest=1/2 A4=1/2", "38=1/2 60=1/2"]), min_size=1, max_size=6
    ).map(" ".join)
)
def test_swing_and_straighten_undo_each_other(text):
    assert changed(changed(text, swung), straightened) == text


@pytest.mark.parametrize(
    ("how", "arguments", "said"),
    [(folded, (60, 70), "at least an octave"), (stretched, (F(1),), "other than one"), (stretched, (F(0),), "other than one"),
     (backwards, (Part.of_notes([0]),), "voice, a phrase or the whole song")],
)  # fmt: skip
def test_what_cannot_be_reshaped_says_why(how, arguments, said):
    with pytest.raises(CannotEdit, match=said):
        how(read("C4 D4"), *arguments)


def test_a_pitch_replaced_by_one_that_is_struck_beside_it_is_struck_once():
    assert changed("C4&E4 E4&C4&G4=2 C4", replaced, 60, 64) == "E4 E4&G4=2 E4"


def test_there_is_nothing_to_turn_round_in_an_empty_sheet():
    with pytest.raises(CannotEdit, match="no music"):
        backwards(read("title: Nothing"))
    assert changed("title: Nothing", swung) == "title: Nothing"
