"""What the network is taught with: made-up pieces, and lessons made of them."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.hearing.sight import NOTES, SIGHTS
from chickadee.hearing.tones import STEP
from lessons import Lesson, lesson, sight_of
from made_up import RATE, piece
from teach import _Learner


@given(st.integers(0, 10**6), st.booleans())
@settings(max_examples=12)
def test_a_made_up_piece_is_the_same_each_time_and_can_be_heard(seed, together):
    made, again = piece(seed, together), piece(seed, together)
    assert np.array_equal(made.samples, again.samples) and made.notes == again.notes
    assert np.isfinite(made.samples).all() and 0.005 < np.abs(made.samples).max() <= 0.9
    assert made.notes and all(number in NOTES for _, number in made.notes)
    assert all(other.start - one.start >= 0.1 - 1e-9 for one, other in pairwise(made.notes))
    assert made.notes[-1].start < len(made.samples) / RATE


@given(st.integers(0, 10**6), st.booleans())
@settings(max_examples=6)
def test_nearly_all_notes_of_a_piece_are_worth_a_look_where_they_begin(seed, together):
    made = piece(seed, together)
    cells = set(zip(*(each.tolist() for each in sight_of(made).worth_a_look()), strict=True))
    seen = [(round(start / STEP), number - NOTES.start) in cells for start, number in made.notes]
    assert sum(seen) >= 0.9 * len(seen)


def test_a_lesson_shows_where_notes_begin_and_stands_for_all_that_is_worth_a_look():
    found = lesson(5, False)
    assert found.seen.shape == (len(found.goal), SIGHTS) and len(found.weight) == len(found.goal)
    assert found.goal.max() > 0.95 and found.goal.min() >= 0
    assert found.goal.sum() > 3 * len(piece(5).notes)  # frames about each
    frames, _ = sight_of(piece(5)).worth_a_look()
    assert 0.7 * len(frames) < found.weight.sum() < 1.4 * len(frames)


def test_what_an_earlier_network_is_wrong_about_is_all_shown():
    shy = _Learner(np.random.default_rng(0)).layers
    shy[-1].weights[:] = 0
    shy[-1].more[:] = 3  # it says of everything that a note begins
    assert lesson(5, False, shy).weight.max() == 1
    assert lesson(5, False).weight.max() > 1


def test_the_learner_learns():
    draw = np.random.default_rng(2)
    seen = draw.normal(0, 1, (4000, SIGHTS)).astype(np.float16)
    goal = (seen[:, 3] + seen[:, 7] > 1).astype(np.float32)
    shown = Lesson(seen, goal, np.ones(len(goal), np.float32))
    learner = _Learner(draw)
    losses = [learner.goes_through(shown, time / 12) for time in range(12)]
    assert losses[-1] < 0.5 * losses[0] and losses[-1] < 0.25
