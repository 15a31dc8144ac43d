"""Two lists of notes, heard by their pitch and by what grows, become one."""

from __future__ import annotations

from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from chickadee.hearing.agreeing import agreed
from chickadee.hearing.notes import HeardNote


def note(start, number, length=0.4, sure=0.95):
    return HeardNote(start, length, number, 0.0, 80, sure)


def told(notes):
    return [(round(each.start, 3), each.number) for each in notes]


TUNE = [note(0.5, 60), note(1.0, 64), note(1.5, 64), note(2.0, 67)]


def lists(most=30):
    each = st.tuples(st.integers(0, 400), st.integers(55, 79), st.floats(0.05, 1), st.floats(0.3, 1))
    return st.lists(each, max_size=most, unique_by=lambda one: one[0] // 6).map(
        lambda found: [note(start / 100, *rest) for start, *rest in sorted(found)]
    )


@given(lists(), lists())
def test_every_note_comes_from_one_of_the_lists_in_order_and_none_sounds_into_the_next(pitched, grown):
    found = agreed(pitched, grown)
    assert {each.number for each in found} <= {each.number for each in pitched + grown}
    assert {each.start for each in found} <= {each.start for each in pitched + grown}
    assert all(one.start <= other.start for one, other in pairwise(found))
    assert all(one.start + one.length <= other.start + 1e-9 for one, other in pairwise(found))


@given(lists())
def test_what_both_heard_is_told_once_as_its_pitch_told_it(notes):
    assert agreed(notes, notes) == agreed([], notes)


def test_a_note_struck_again_is_told_though_it_did_not_grow():
    assert told(agreed(TUNE, [TUNE[0], TUNE[1], TUNE[3]])) == told(TUNE)


def test_a_note_that_another_covers_is_told_though_it_had_no_pitch():
    pitched = [TUNE[0], note(1.0, 64, 0.9), TUNE[3]]
    assert told(agreed(pitched, [*TUNE[:2], note(1.5, 76, sure=0.8), TUNE[3]])) == [
        (0.5, 60),
        (1, 64),
        (1.5, 76),
        (2, 67),
    ]
    faint = note(1.5, 76, sure=0.5)  # as a partial of what is held grows
    assert told(agreed(pitched, [*TUNE[:2], faint, TUNE[3]])) == told(pitched)


def test_of_two_octaves_the_pitch_is_right_where_it_is_plain_and_growth_where_it_is_not():
    for sure, number in ((1.0, 60), (0.8, 72)):
        assert [each.number for each in agreed([note(0.5, 60, sure=sure)], [note(0.49, 72, sure=0.8)])] == [number]
    assert [each.number for each in agreed([note(0.5, 72, sure=1.0)], [note(0.49, 60, sure=0.8)])] == [60]


def test_a_soft_note_begins_where_it_grew_and_a_vague_one_that_did_not_grow_is_none():
    assert told(agreed([note(0.56, 60)], [note(0.5, 60)])) == [(0.5, 60)]
    assert told(agreed([note(0.51, 60)], [note(0.5, 60)])) == [(0.51, 60)]
    assert not agreed([note(0.5, 60, sure=0.7)], [])


def test_nothing_heard_is_nothing():
    assert agreed([], []) == []
    assert told(agreed(TUNE, [])) == told(agreed([], TUNE)) == told(TUNE)
