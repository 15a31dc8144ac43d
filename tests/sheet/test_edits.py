"""Musical edits change exactly the notes they name, and keep the writer's way."""

from __future__ import annotations

from fractions import Fraction as F

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from chickadee import read
from chickadee.sheet import apply_edits
from chickadee.sheet.edits import (
    CannotEdit,
    delete,
    insert_after,
    join,
    move_in_time,
    move_pitch,
    set_length,
    set_loudness,
    set_pitch,
    set_syllable,
    sharing,
    split,
    write_out,
)
from chickadee.song import TICKS_PER_QUARTER as Q


def edited(text, edit, *arguments):
    return apply_edits(text, edit(read(text), *arguments))


@pytest.mark.parametrize(
    ("text", "edit", "arguments", "expected"),
    [
        ("C4 >D4=2  E4 // x", set_pitch, (1, "F#4"), "C4 >F#4=2  E4 // x"),
        ("C4&E4&G4=2", set_pitch, (1, "Eb4"), "C4&Eb4&G4=2"),
        ("key: F major\nC4 60 C", move_pitch, ([0, 1, 2], 10), "key: F major\nBb4 70 Bb"),
        ("C B", move_pitch, ([1], 1), "C C5"),
        ("phrase p\nE\nvoice V\np up 1 octave", move_pitch, ([0], 1), "phrase p\nF\nvoice V\np up 1 octave"),
        (
            "phrase p\noctave: 3\nB\nvoice V\np up 5",
            move_pitch,
            ([0], 2),
            "phrase p\noctave: 3\nC#4\nvoice V\np up 5",
        ),
        ("phrase p\n^3\nvoice V\n(p) up 2", move_pitch, ([0], 1), "phrase p\nF4\nvoice V\n(p) up 2"),
        ("C4 D4=0.5 E4", set_length, ([1], F(1, 4)), "C4 D4=0.25 E4"),
        ("C4 D4=1/2 E4", set_length, ([1], F(1)), "C4 D4 E4"),
        ("C4 - -=2 E4", set_length, ([0], F(3, 2)), "C4=3/2 E4"),
        ("ticks: 4\nC4=2 D4", set_length, ([0], F(1)), "ticks: 4\nC4=4 D4"),
        ("C4 D4 - E4", set_loudness, ({1: 100},), "C4 [100] D4 - [80] E4"),
        ("C4 D4 | E4 F4", set_loudness, ({1: 90, 2: 90, 3: 70},), "C4 [90] D4 | E4 [80] [70] F4 [80]"),
        ("  C4 D4", set_syllable, (1, "near"), "  C4 D4\n  words: _ near"),
        ("C4 D4 E4\nwords: Gull Point // all", set_syllable, (1, "Reed-"), "C4 D4 E4\nwords: Gull Reed- // all"),
        (
            "C4 - D4 rest E4 F4\nwords: Gull\nG4",
            set_syllable,
            (3, "is"),
            "C4 - D4 rest E4 F4\nwords: Gull _ _ is\nG4",
        ),
        ("C4 D4\nwords: har-bour", set_syllable, (0, ""), "C4 D4\nwords: _ bour"),
        ("C4 D4=2 E4", delete, ([1],), "C4 rest=2 E4"),
        ("C4 D4=2 E4", delete, ([1], True), "C4 E4"),
        ("C4 D4 - | E4", delete, ([1], True), "C4 | E4"),
        (">C4&E4&G4=2", delete, ([0, 2],), ">E4=2"),
        ("C4=2 | -=1 D4", insert_after, (0, "G4=1/2"), "C4=2 | -=1 G4=1/2 D4"),
        ("'C4&E4=2 D4", split, (0, F(1, 2)), "'C4&E4=1/2 'C4&E4=3/2 D4"),
        ("C4 - D4", split, (0, F(3, 2)), "C4=3/2 C4=1/2 D4"),
        ("C4 | D4=2 E4", join, (0, 1), "C4 | -=2 E4"),
        ("phrase p\n(C4 D4) x2\nvoice V\np", move_pitch, ([1], 2), "phrase p\n(C4 E4) x2\nvoice V\np"),
        ("(C4 D4) stretched 2", set_length, ([1], F(3)), "(C4 D4=3/2) stretched 2"),
        ("(C4 D4=2) squeezed 2", set_length, ([1], F(2)), "(C4 D4=4) squeezed 2"),
        ("(C4=2 D4) stretched 3", split, (0, F(3, 2)), "(C4=1/2 C4=3/2 D4) stretched 3"),
        ("{Am rising}=3", set_length, ([0], F(2)), "{Am rising}=6"),
        ("(C4 E4 G4) upside-down", move_pitch, ([1], 1), "(C4 Eb4 G4) upside-down"),
        ("(C4 E4 rest) backwards", delete, ([1],), "(rest E4 rest) backwards"),
    ],
)
def test_an_edit_touches_only_the_signs_concerned(text, edit, arguments, expected):
    assert edited(text, edit, *arguments) == expected


@pytest.mark.parametrize(
    ("text", "note", "beats", "expected"),
    [
        ("C4 D4 rest=2 E4", 1, F(1), "C4 rest D4 rest=1 E4"),
        ("C4 D4 - rest=2 | E4", 1, F(2), "C4 rest=2 D4 - | E4"),
        ("C4 rest=2 D4=2 E4", 1, F(-1, 2), "C4 rest=3/2 D4=2 rest=1/2 E4"),
        ("rest C4 E4", 0, F(-1), "C4 rest E4"),
        ("C4 E4", 1, F(3), "C4 rest=3 E4"),
    ],
)
def test_a_note_moves_in_time_into_the_rest_beside_it(text, note, beats, expected):
    after = edited(text, move_in_time, note, beats)
    assert after.replace("rest=1 ", "rest ") == expected.replace("rest=1 ", "rest ")
    old = read(text).song
    new = read(after).song
    assert new.notes[note].start == old.notes[note].start + beats * Q
    assert others(new, {note}) == others(old, {note})


def test_one_use_of_a_phrase_is_written_out_and_sounds_the_same():
    text = "phrase q\noctave: 5\nC D=2 | // up\n  words: la la\n(E) x2\nphrase p\nq G4 q\nvoice V\np up 2 p (p x2) backwards"
    for at in (text.index("p up 2"), text.index("p (p"), text.index("p x2"), text.index("q G4")):
        after = edited(text, write_out, at)
        assert after != text
        assert [note[:7] for note in read(after).song.notes] == [note[:7] for note in read(text).song.notes]
        assert after.count("phrase") == 2
    with pytest.raises(CannotEdit):
        write_out(read(text), text.index("G4"))


@pytest.mark.parametrize(
    ("phrase", "written"),
    [
        ("octave: 5\n  C ^3 60 G3", "(C5 E5 60 G3)"),
        ("octave: 3\n  {Am} {C rising}=3 >E&G", "({Am 3} {C 3 rising}=3 >E3&G3)"),
        ("octave: 2\n  ('^1 ^8) x2 // low", "(('C2 C3) x2)"),
    ],
)
def test_what_a_phrase_s_octave_says_is_written_with_it(phrase, written):
    text = f"key: C major\nphrase p\n  {phrase}\nvoice V\n  p p\n"
    after = edited(text, write_out, text.rindex("p p"))
    assert after.endswith(f"\n  {written} p\n")
    assert [note[:5] for note in read(after).song.notes] == [note[:5] for note in read(text).song.notes]


@given(
    st.lists(st.sampled_from(["C4", "E4", "67", "rest=2", "B3=1/2"]), min_size=1, max_size=8).map(" ".join), st.data()
)
def test_an_edit_and_its_inverse_give_the_same_text(text, data):
    notes = len(read(text).song.notes)
    assume(notes)
    index = data.draw(st.integers(0, notes - 1))
    by = data.draw(st.sampled_from([-12, -5, 0, 5, 7, 12]))
    assert edited(edited(text, move_pitch, [index], by), move_pitch, [index], -by) == text
    note = read(text).song.notes[index]
    assert edited(edited(text, set_length, [index], F(5, 4)), set_length, [index], F(note.length, Q)) == text


def test_shared_ink_is_counted_beforehand_and_changes_everywhere():
    text = "phrase p\nC4 D4\nvoice V\np p up 5\nvoice W\nE4"
    assert [sharing(read(text), index) for index in (0, 1)] == [2, 1]
    moved = edited(text, move_pitch, [0], 1)
    assert moved == text.replace("C4", "C#4")
    numbers = [note.number for note in read(moved).song.notes if note.voice == 0]
    assert numbers == [61, 62, 66, 67]


@pytest.mark.parametrize(
    ("text", "edit", "arguments"),
    [
        ("{Am} C4", set_pitch, (0, "C4")), ("G9", move_pitch, ([0], 1)), ("C4", set_length, ([0], F(0))),
        ("C4", set_loudness, ({0: 200},)), (">C4", set_loudness, ({0: 10},)), ("C4", split, (0, F(1))), ("C4 D4", move_in_time, (0, F(1))), ("C4 rest D4", join, (0, 1)),
        ("(C4 E4)=2", set_length, ([0], F(1, 2))), ("(C4 E4 G4) upside-down", move_pitch, ([0], 1)),
        ("(C4 E4 G4) upside-down", delete, ([0],)), ("{Am rising}=3", split, (0, F(1))),
        ("C4 {Am rising}=3", join, (0, 1)), ("(C4 E4) backwards", set_loudness, ({0: 40},)),
        ("C4 (D4 rest)=1", move_in_time, (1, F(1, 2))),
        ("A 4", set_pitch, (0, "C4")), ("voice V\nsound: drum kit\nkick", move_pitch, ([0], 1)),
    ],
)  # fmt: skip
def test_what_cannot_be_edited_says_why(text, edit, arguments):
    with pytest.raises(CannotEdit, match=r"\w.*\."):
        edit(read(text), *arguments)


SIGNS = st.sampled_from(["C4", "D#4", "60", "E", "G4&B4", ">A4", "'F4", "rest", "-", "Bb3&72"])
LENGTHS = st.sampled_from(["", "=2", "=1/2", "=0.25", "=1/3", "=half"])
WORDS = st.builds("".join, st.tuples(SIGNS, LENGTHS))
TEXTS = st.lists(WORDS, min_size=1, max_size=10).map(lambda found: f"C4 {' '.join(found)} // end")


def others(song, gone):
    """Everything of the notes but those with some indices."""
    return [
        (note.start, note.length, note.number, note.loudness)
        for index, note in enumerate(song.notes)
        if index not in gone
    ]


@given(TEXTS, st.data(), st.integers(-5, 5))
def test_moving_pitch_changes_that_note_alone_and_back_again(text, data, by):
    song = read(text).song
    index = data.draw(st.integers(0, len(song.notes) - 1))
    note = song.notes[index]
    assume(not any(other.start == note.start and other.number == note.number + by for other in song.notes))
    moved = edited(text, move_pitch, [index], by)
    after = read(moved).song
    changed = next(
        place
        for place, other in enumerate(after.notes)
        if other.start == note.start and other.number == note.number + by
    )
    assert others(after, {changed}) == others(song, {index})
    back = edited(moved, move_pitch, [changed], -by)
    assert others(read(back).song, {}) == others(song, {})
    assert edited(text, set_pitch, index, text[slice(*_sign(text, index))]) == text


def _sign(text, index):
    """The offsets of a note's pitch, without marks and length."""
    start, end = read(text).song.notes[index].spans[0]
    written = text[start:end]
    first = len(written) - len(written.lstrip(">'"))
    return start + first, start + len(written.partition("=")[0])


@given(TEXTS, st.data(), st.sampled_from([F(1, 2), F(1), F(2), F(1, 3)]))
def test_a_length_changes_that_note_and_moves_the_later_ones(text, data, beats):
    song = read(text).song
    index = data.draw(st.integers(0, len(song.notes) - 1))
    note = song.notes[index]
    after = read(edited(text, set_length, [index], beats)).song
    by = beats * Q - note.length
    for old, new in zip(song.notes, after.notes, strict=True):
        together = old.start == note.start
        assert (new.number, new.loudness) == (old.number, old.loudness)
        assert new.start == old.start + (by if old.start > note.start else 0)
        assert new.length == (beats * Q if together else old.length)


@given(TEXTS, st.data())
def test_deleting_leaves_a_rest_and_all_others_as_they_were(text, data):
    song = read(text).song
    index = data.draw(st.integers(0, len(song.notes) - 1))
    assert others(read(edited(text, delete, [index])).song, {}) == others(song, {index})


@given(TEXTS, st.data(), st.integers(20, 120))
def test_a_loudness_is_that_note_s_alone(text, data, level):
    song = read(text).song
    index = data.draw(st.integers(0, len(song.notes) - 1))
    after = read(edited(text, set_loudness, {index: level})).song
    together = {place for place, note in enumerate(song.notes) if note.start == song.notes[index].start}
    assert after.notes[index].loudness == level
    assert others(after, together) == others(song, together)


@given(TEXTS, st.data())
def test_split_and_join_are_each_other_s_inverse_in_sound(text, data):
    song = read(text).song
    index = data.draw(st.integers(0, len(song.notes) - 1))
    note = song.notes[index]
    parted = edited(text, split, index, F(note.length, 2 * Q))
    after = read(parted).song
    halves = [place for place, other in enumerate(after.notes) if other.number == note.number
              and other.start in (note.start, note.start + note.length // 2)]  # fmt: skip
    assert len(halves) == 2
    joined = read(edited(parted, join, *halves)).song
    assert others(joined, {}) == others(song, {})
