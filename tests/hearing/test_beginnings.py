"""Where notes begin: what is seen of a moment, and what is made of it."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from heard_signals import RATE, sound_of
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.hearing import beginnings as module
from chickadee.hearing.beginnings import Beginning, Layer, beginnings, likely
from chickadee.hearing.notes import notes_of
from chickadee.hearing.sight import NOTES, SIGHTS, Sight
from chickadee.hearing.tones import STEP, TONES, Tones, tones_in
from chickadee.hearing.track import Track, track_of


def nothing(frames):
    """A track of so many frames of 10 ms in which no pitch is heard."""
    of_each, whole = np.zeros((2 * frames, 5), np.float32), np.zeros(2 * frames, np.float32)
    return Track(of_each, of_each, whole, whole, whole, whole, np.zeros(0, np.intp))


def step(frames, number, begins, size=0.5):
    """Tones of which one is there from a frame on."""
    sizes = np.zeros((frames, len(TONES)), np.float32)
    sizes[begins:, number - TONES.start] = size
    return Tones(sizes, (sizes**2).sum(axis=1) / 2)


def seen(tones, track=None):
    sight = Sight(tones, track or nothing(len(tones.power)))
    cells = sight.worth_a_look()
    return cells, sight.of(*cells)


@given(st.floats(0.01, 0.8), st.integers(30, 107), st.sampled_from([16_000, 22_050, 24_000]))
@settings(max_examples=20)
def test_a_tone_has_its_amplitude_on_its_own_semitone(size, number, rate):
    hertz = 440 * 2 ** ((number - 69) / 12)
    samples = (size * np.sin(2 * np.pi * hertz * np.arange(rate) / rate)).astype(np.float32)
    tones = Tones(*(np.concatenate(each) for each in zip(*tones_in(np.array_split(samples, 7), rate), strict=True)))
    middle = tones.sizes[len(tones.sizes) // 2]
    assert TONES[int(middle.argmax())] == number
    assert middle.max() == pytest.approx(size, rel=0.02)
    assert tones.power[len(tones.power) // 2] == pytest.approx(size**2 / 2, rel=0.02)


@given(st.floats(0.001, 1.0), st.integers(5, 50))
def test_how_loud_a_recording_is_changes_nothing(size, begins):
    cells, one = seen(step(90, 60, begins, 0.7))
    others, other = seen(step(90, 60, begins, 0.7 * size))
    assert np.array_equal(cells, others)
    assert np.allclose(one, other, atol=1e-4)


@given(st.integers(-12, 19), st.integers(5, 50))
def test_how_high_a_note_is_changes_nothing(higher, begins):
    (frames, places), one = seen(step(90, 60, begins))
    (moved, others), other = seen(step(90, 60 + higher, begins))
    assert np.array_equal(frames, moved) and np.array_equal(places + higher, others)
    assert np.allclose(one, other, atol=1e-5)


def test_only_what_is_heard_soon_is_worth_a_look():
    (frames, places), cells = seen(step(90, 64, 40))
    assert set(places.tolist()) == {64 - NOTES.start}
    assert frames.min() >= 40 - 12 and cells.shape == (len(frames), SIGHTS)
    assert not len(seen(step(90, 64, 90))[1])


def blind(chance):
    """A network that thinks the same of everything."""
    return [
        Layer(np.zeros((SIGHTS, 1), np.float32), np.array([np.log(chance / (1 - chance))], np.float32)),
    ]


@given(st.floats(0.01, 0.99))
def test_a_network_that_sees_nothing_says_the_same_of_all_that_is_worth_a_look(chance):
    sight = Sight(step(90, 64, 40), nothing(90))
    found = likely(sight, blind(chance))
    assert found.shape == (90, len(NOTES))
    assert np.allclose(found[sight.worth_a_look()], chance, atol=1e-4) and (found > 0).sum() == len(
        sight.worth_a_look()[0]
    )


@given(st.integers(500, 60_000))
@settings(max_examples=8)
def test_blocks_of_any_size_give_the_same_beginnings(size):
    _, samples = sound_of("60 67 64 72 60 59", "reed pipe", 160)
    track, count = track_of([samples], RATE)
    assert count == len(samples)
    whole = [each for each in beginnings(tones_in([samples], RATE), track)[0] if each.sure > 0.3]
    blocks = [samples[place : place + size] for place in range(0, len(samples), size)]
    assert [each.number for each in whole] == [60, 67, 64, 72, 60, 59]
    parts = [each for each in beginnings(tones_in(blocks, RATE), track)[0] if each.sure > 0.3]
    assert np.allclose(parts, whole, atol=1e-3)


@given(st.lists(st.tuples(st.floats(0.7, 2), st.integers(0, 300), st.integers(0, 79)), max_size=60))
def test_of_beginnings_near_to_one_another_the_likeliest_is_kept(tops):
    found = module._apart([(chance, frame, float(frame), place) for chance, frame, place in tops])
    assert found == sorted(found)
    assert all(other.start - one.start > 5 * STEP - 1e-9 for one, other in pairwise(found))
    if tops:
        assert max(found, key=lambda each: each.sure).sure == pytest.approx(max(tops)[0] / 2, abs=0.001)


@given(st.lists(st.tuples(st.floats(0, 1.9), st.integers(30, 100)), max_size=12), st.integers(0, 9))
def test_notes_follow_one_another_and_each_is_over_where_it_fades(begun, seed):
    begun = [Beginning(start, number, 0.9) for start, number in sorted(begun)]
    draw = np.random.default_rng(seed)
    hertz = draw.choice([0.0, 220.0, 440.0, 700.0], (400, 5)).astype(np.float32)
    power = draw.random(400).astype(np.float32) * (np.arange(400) < 300)
    track = Track(
        hertz, np.ones_like(hertz), hertz[:, 0], np.ones(400, np.float32), power, power, np.zeros(0, np.intp)
    )
    notes = notes_of(begun, track)
    assert len(notes) <= len(begun) and all(1 <= note.loudness <= 127 for note in notes)
    assert all(abs(note.number - each.number) <= 1 and abs(note.cents) <= 50
               for note, each in zip(notes, begun, strict=False) if len(notes) == len(begun))  # fmt: skip
    for one, other in pairwise(notes):
        assert one.start + one.length <= max(other.start, one.start + 0.015) + 0.006
    assert all(note.start + note.length <= 1.52 or note.start > 1.48 for note in notes)
