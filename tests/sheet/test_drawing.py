"""Putting notes where there were none changes exactly that."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.sheet import CannotEdit, apply_edits
from chickadee.sheet.drawing import place_note
from chickadee.song import TICKS_PER_QUARTER as Q

SIGNS = st.sampled_from(["C4", "60=1/2", "rest", ".", "rest=2", "E4&G4=3/2", "|", "-", "rest=1/3"])


def sounding(text):
    return sorted((note.start, note.length, note.number) for note in read(text).song.notes)


def placed(text, at, beats=1, number=81, voice=0):
    reading = read(text)
    return apply_edits(text, place_note(reading, voice, int(at * Q), Fraction(beats), number))


@given(
    st.lists(SIGNS, max_size=12), st.fractions(0, 12, max_denominator=6), st.fractions("1/6", 3, max_denominator=6)
)
def test_a_note_that_is_drawn_is_there_and_all_else_is_as_it_was(signs, at, beats):
    text = "voice V\n  " + " ".join(signs)
    before = sounding(text)
    try:
        after = sounding(placed(text, at, beats))
    except CannotEdit:
        assert "-" in signs or any(start < at * Q < start + length for start, length, _ in before)
        return
    new = [note for note in after if note not in before]
    assert [note for note in after if note in before] == before
    assert len(new) == 1
    start, length, number = new[0]
    assert (start, number) == (at * Q, 81)
    assert 0 < length <= beats * Q or any(other[0] == start for other in before)


@pytest.mark.parametrize(
    "text, at, expected",
    [
        ("", 0, "A5"),
        ("title: T\n", 0, "title: T\nA5"),
        ("C4", 1, "C4 A5"),
        ("C4 D4 E4 F4 |", 4, "C4 D4 E4 F4 | A5"),
        ("C4 D4 E4 F4", 4, "C4 D4 E4 F4 | A5"),
        ("C4", 6, "C4 rest=3 | rest=2 A5"),
        ("voice V\n  sound: flute\n", 0, "voice V\n  sound: flute\n  A5\n"),
        ("ticks: 4\nvoice V\nC4=4 rest=8", 2, "ticks: 4\nvoice V\nC4=4 rest=4 A5=4"),
        ("C4 .=2 E4  # here", 1, "C4 A5 . E4  # here"),
    ],
)
def test_it_is_written_as_its_writer_would(text, at, expected):
    assert placed(text, at) == expected


def test_a_rest_inside_a_stretched_group_is_left_alone():
    with pytest.raises(CannotEdit, match="stretched"):
        placed("(C4 rest=2) stretched 2", 3)
