"""What the network is taught with: pieces, and lessons made of them."""

from __future__ import annotations

from importlib.resources import files
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.hearing.features import FEATURE_COUNT, NOTES
from chickadee.hearing.onsets import DenseLayer, probabilities
from chickadee.hearing.pitch import HOP, PitchFrames, numbers_of, pitch_path
from chickadee.hearing.semitones import STEP
from chickadee.hearing.track import track_of
from chickadee.sheet import read
from lessons import Lesson, lesson, sight_of
from made_up import piece
from marks import sounding
from melodies import RATE, chords, phrase, with_seconds
from ours import _sheet, our_piece, wavering
from singers import singer_piece
from teach import _Components, _Learner, trial

pytestmark = pytest.mark.rotating("module")


@given(st.integers(0, 10**6), st.booleans())
@settings(max_examples=5)
def test_a_made_up_piece_is_the_same_each_time_and_can_be_heard(seed, together):
    made = piece(seed, together)
    again = piece(seed, together)
    assert np.array_equal(made.samples, again.samples) and made.notes == again.notes
    assert np.isfinite(made.samples).all() and 0.005 < np.abs(made.samples).max() <= 0.9
    assert made.notes and all(number in NOTES for _, number in made.notes)
    assert all(other.start - one.start >= 0.1 - 1e-9 for one, other in pairwise(made.notes))
    assert made.notes[-1].start < len(made.samples) / RATE


@given(st.integers(0, 10**6))
@settings(max_examples=4)
def test_a_melody_of_one_of_our_sounds_is_the_same_each_time_and_begins_where_it_says(seed):
    made = our_piece(seed)
    again = our_piece(seed)
    assert np.array_equal(made.samples, again.samples) and made.notes == again.notes
    assert np.isfinite(made.samples).all() and 0.005 < np.abs(made.samples).max() <= 0.9
    assert len(made.notes) >= 8 or not made.notes  # of drums
    assert all(number in NOTES and start < len(made.samples) / RATE for start, number in made.notes)
    assert all(other.start - one.start >= 0.1 for one, other in pairwise(made.notes))


def test_one_melody_in_twenty_five_is_of_drums_and_has_no_notes():
    drums = sum("drum kit" in _sheet(np.random.default_rng(seed), ringing=False) for seed in range(1000))
    assert 20 < drums < 60
    assert sounding(read("sound: drum kit\nkick hat 38").song) == []


def test_a_pitch_that_wavers_stays_where_it_is_in_the_mean():
    tone = np.sin(2 * np.pi * 440 * np.arange(2 * RATE) / RATE).astype(np.float32)
    path, _ = pitch_path(PitchFrames(RATE).of(wavering(tone, 5, 30), last=True))
    cents = 1200 * np.log2(path[40:-60] / 440)
    assert (
        abs(cents.mean()) < 3 and cents.max() == pytest.approx(30, abs=3) and cents.min() == pytest.approx(-30, abs=3)
    )


@given(st.integers(0, 10**6), st.booleans())
@settings(max_examples=6)
def test_nearly_all_notes_of_a_piece_are_worth_a_look_where_they_begin(seed, together):
    made = piece(seed, together)
    cells = set(zip(*(each.tolist() for each in sight_of(made).worth_a_look()), strict=True))
    seen = [(round(start / STEP), number - NOTES.start) in cells for start, number in made.notes]
    assert sum(seen) >= 0.9 * len(seen)


def test_a_lesson_shows_where_notes_begin_and_stands_for_all_that_is_worth_a_look():
    found = lesson(piece(5), 5)
    assert found.seen.shape == (len(found.goal), FEATURE_COUNT) and len(found.weight) == len(found.goal)
    assert found.goal.max() > 0.95 and found.goal.min() >= 0
    assert found.goal.sum() > 3 * len(piece(5).notes)  # frames about each
    frames, _ = sight_of(piece(5)).worth_a_look()
    assert 0.7 * len(frames) < found.weight.sum() < 1.4 * len(frames)


def test_what_an_earlier_network_is_wrong_about_is_all_shown():
    shown = lesson(piece(5), 5)
    shy = _Learner(np.random.default_rng(0)).layers
    shy[-1].weights[:] = 0
    shy[-1].bias[:] = 3  # it says of everything that a note begins
    assert lesson(piece(5), 5, shy).weight.max() == 1
    assert shown.weight.max() > 1


def test_the_learner_learns():
    draw = np.random.default_rng(2)
    seen = draw.normal(0, 1, (4000, FEATURE_COUNT)).astype(np.float16)
    goal = (seen[:, 3] + seen[:, 7] > 1).astype(np.float32)
    shown = Lesson(seen, goal, np.ones(len(goal), np.float32))
    learner = _Learner(draw)
    losses = [learner.goes_through(shown, time / 12) for time in range(12)]
    assert losses[-1] < 0.5 * losses[0] and losses[-1] < 0.25


def test_what_is_written_down_is_what_was_learned():
    """It learns from components of what is seen, and is asked about what is seen as it is."""
    draw = np.random.default_rng(3)
    seen = draw.normal(0.8, 0.03, (3000, FEATURE_COUNT)).astype(np.float16)
    goal = (seen[:, 3] > 0.8).astype(np.float32)
    shown = Lesson(seen, goal, np.ones(len(goal), np.float32))
    components = _Components.of(shown)
    learner = _Learner(draw)
    for time in range(8):
        learner.goes_through(shown._replace(seen=components.seen_in(shown)), time / 8)
    told = probabilities(seen.T.astype(np.float32), components.undone(learner.layers))
    assert np.mean((told > 0.5) == (goal > 0.5)) > 0.9


def test_the_shipped_network_is_the_one_that_was_taught():
    """Lessons, features and weights together give the loss that was written down with the weights, to the last digit
    that machines agree on: a change of any of them asks for the teaching to be done again."""
    with np.load(files("chickadee.hearing").joinpath("onsets.npz")) as shipped:
        written = shipped["trial"].tolist()
        layers = [DenseLayer(shipped[f"arr_{2 * place}"].astype(np.float32), shipped[f"arr_{2 * place + 1}"])
                  for place in range(3)]  # fmt: skip
    assert trial(layers) == pytest.approx(written, rel=1e-3)
    changed = [layers[0]._replace(bias=layers[0].bias + 0.01), *layers[1:]]
    assert trial(changed) != pytest.approx(written, rel=1e-3)


@given(st.integers(0, 10**6))
@settings(max_examples=3)
def test_singers_sing_the_same_each_time_and_at_their_pitches(seed):
    made = singer_piece(seed)
    again = singer_piece(seed)
    assert np.array_equal(made.samples, again.samples) and made.notes == again.notes
    assert np.isfinite(made.samples).all() and 0.005 < np.abs(made.samples).max() <= 0.9
    track, _ = track_of([made.samples], RATE)
    near = []
    for one, other in pairwise(made.notes):
        if other.start - one.start > 0.3:
            middle = slice(round((one.start + 0.15) / HOP), round((other.start - 0.05) / HOP))
            pitches = numbers_of(track.path[middle], 440.0)
            near += abs((pitches[np.isfinite(pitches)] - one.number + 6) % 12 - 6).tolist()
    assert not near or np.median(near) < 1


def test_chords_lie_below_a_melody_and_seconds_beside_it():
    draw = np.random.default_rng(1)
    melody = phrase(draw, 15.0, 67, 0.5)
    below = chords(draw, melody)
    assert max(each.number for each in below) < max(each.number for each in melody)
    both = with_seconds(draw, melody, (4,))
    assert len(both) > 1.7 * len(melody) and {abs(one.number - other.number) for one, other in pairwise(both)
                                              if one.start == other.start} == {4}  # fmt: skip
