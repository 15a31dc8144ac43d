"""One line of notes or two, and what is more than that."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee.hearing.lines import lines_of
from chickadee.hearing.listening import Heard, doubts
from chickadee.hearing.onsets import Onset

MELODY = [67, 69, 71, 72, 71, 69, 67, 64]


def onsets_of(*voices, every=0.5, confidence=0.9):
    return sorted(
        Onset(round(place * every + 0.01 * voice, 4), number, confidence - 0.1 * voice)
        for voice, numbers in enumerate(voices)
        for place, number in enumerate(numbers)
        if number is not None
    )


def numbers(line):
    return [onset.number for onset in line]


def test_a_line_with_a_false_second_now_and_then_is_one_line():
    found = lines_of(onsets_of(MELODY * 2, [None, 81, *[None] * 14]))
    assert [numbers(line) for line in found.lines] == [MELODY * 2] and not found.crowded


@given(st.sampled_from([3, 4, 5, 7, 8, 9, 12]))
def test_thirds_to_octaves_are_two_lines_the_upper_one_first(apart):
    below = [number - apart for number in MELODY]
    found = lines_of(onsets_of(below, MELODY))
    assert [numbers(line) for line in found.lines] == [MELODY, below]


def test_single_notes_of_two_lines_belong_to_the_nearer_one():
    upper = [72, 74, 76, 74, 72, 71, 72, 72]
    lower = [48, None, 50, None, 47, None, 48, None]
    found = lines_of(onsets_of(upper, lower))
    assert [numbers(line) for line in found.lines] == [upper, [48, 50, 47, 48]]


def test_of_more_than_two_at_once_the_clearest_are_kept_and_it_is_said():
    found = lines_of(onsets_of(MELODY, [number - 4 for number in MELODY], [number - 7 for number in MELODY]))
    assert found.crowded and [numbers(line) for line in found.lines] == [MELODY, [each - 4 for each in MELODY]]
    heard = Heard(4.0, (object(),), np.zeros(1), np.zeros(1), crowded=True)
    assert "more than two" in doubts(heard).lower()


@given(st.lists(st.tuples(st.floats(0, 20), st.integers(40, 90), st.floats(0.4, 1)), max_size=40))
def test_no_line_has_two_notes_at_once_and_none_is_made_up(begun):
    onsets = sorted(Onset(round(start, 3), number, confidence) for start, number, confidence in begun)
    found = lines_of(onsets)
    assert 1 <= len(found.lines) <= 2
    told = [onset for line in found.lines for onset in line]
    assert len(told) == len(set(map(id, told))) and all(onset in onsets for onset in told)
    for line in found.lines:
        assert all(other.start >= one.start for one, other in pairwise(line))


@pytest.mark.parametrize("onsets", [[], [Onset(1.0, 60, 0.9)]])
def test_nothing_and_one_note_are_a_line(onsets):
    assert lines_of(onsets).lines == (tuple(onsets),)
