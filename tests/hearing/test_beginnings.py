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
from chickadee.hearing.sight import NOTES, SIGHTS, Sight, _bends
from chickadee.hearing.tones import STEP, TONES, Tones, joined, tones_in
from chickadee.hearing.track import Track, track_of


def nothing(frames):
    """A track of so many frames of 10 ms in which no pitch is heard."""
    of_each, whole = np.zeros((2 * frames, 5), np.float32), np.zeros(2 * frames, np.float32)
    return Track(of_each, of_each, whole, whole, whole, whole)


def step(frames, number, begins, size=0.5):
    """Tones of which one is there from a frame on."""
    sizes = np.zeros((frames, len(TONES)), np.float32)
    sizes[begins:, number - TONES.start] = size
    return Tones(sizes.astype(np.complex64), (sizes**2).sum(axis=1) / 2)


def seen(tones, track=None):
    sight = Sight(tones, track or nothing(len(tones.power)))
    cells = sight.worth_a_look()
    return cells, sight.of(*cells).T


@given(st.floats(0.01, 0.8), st.integers(30, 107), st.sampled_from([16_000, 22_050, 24_000]))
@settings(max_examples=20)
def test_a_tone_has_its_amplitude_on_its_own_semitone(size, number, rate):
    hertz = 440 * 2 ** ((number - 69) / 12)
    samples = (size * np.sin(2 * np.pi * hertz * np.arange(rate) / rate)).astype(np.float32)
    tones = joined(list(tones_in(np.array_split(samples, 7), rate)))
    middle = np.abs(tones.waves[len(tones.power) // 2])
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
    whole = beginnings(tones_in([samples], RATE), track)
    blocks = [samples[place : place + size] for place in range(0, len(samples), size)]
    assert [each.number for each in whole] == [60, 67, 64, 72, 60, 59]
    assert np.allclose(beginnings(tones_in(blocks, RATE), track), whole, atol=1e-3)


@given(st.lists(st.tuples(st.floats(0.35, 1), st.integers(0, 300), st.integers(0, 79)), max_size=60))
def test_of_beginnings_near_to_one_another_the_surest_is_kept(tops):
    found = module._apart([(sure, frame, float(frame), place) for sure, frame, place in tops])
    assert found == sorted(found)
    assert all(other.start - one.start > 5 * STEP - 1e-9 for one, other in pairwise(found))
    if tops:
        assert max(found, key=lambda each: each.sure).sure == pytest.approx(max(tops)[0], abs=0.001)


@given(st.lists(st.tuples(st.floats(0, 1.9), st.integers(30, 100)), max_size=12), st.integers(0, 9))
def test_notes_follow_one_another_and_each_is_over_where_it_fades(begun, seed):
    begun = [Beginning(start, number, 0.9) for start, number in sorted(begun)]
    draw = np.random.default_rng(seed)
    hertz = draw.choice([0.0, 220.0, 440.0, 700.0], (400, 5)).astype(np.float32)
    power = draw.random(400).astype(np.float32) * (np.arange(400) < 300)
    track = Track(hertz, np.ones_like(hertz), hertz[:, 0], np.ones(400, np.float32), power, power)
    notes = notes_of(begun, track)
    assert len(notes) <= len(begun) and all(1 <= note.loudness <= 127 for note in notes)
    assert all(note.number == each.number and abs(note.cents) <= 50
               for note, each in zip(notes, begun, strict=False) if len(notes) == len(begun))  # fmt: skip
    for one, other in pairwise(notes):
        assert one.start + one.length <= max(other.start, one.start + 0.015) + 0.006
    assert all(note.start + note.length <= 1.52 or note.start > 1.48 for note in notes)


def bends(samples, number):
    """How far phases bend, and are out of step, on a semitone, away from the ends."""
    waves = joined(list(tones_in([samples.astype(np.float32)], RATE))).waves
    own, second, third = _bends(waves, np.ones(waves.shape, np.float32))
    place = number - TONES.start
    return [each[15:85, place] for each in (own, second, third)]


def harmonics(turned, *phases):
    return 0.2 * sum(np.sin(order * turned + phase) for order, phase in enumerate(phases, start=1))


@given(st.integers(50, 80), st.floats(0.3, 0.7), st.sampled_from([0.3, 0.5, 0.7]))
@settings(max_examples=15)
def test_where_a_steady_tone_begins_anew_its_phase_bends(number, part, at):
    seconds = np.arange(RATE) / RATE
    turned = 2 * np.pi * 440 * 2 ** ((number - 69) / 12) * seconds
    held = harmonics(turned, 0, 0.4, 1)
    again = harmonics(turned + 2 * np.pi * part, 0, 0.4, 1)
    assert all(each.max() < 0.02 for each in bends(held, number))
    own = bends(np.where(seconds < at, held, again), number)[0]
    assert own.max() > 0.03 and abs((15 + int(own.argmax())) * STEP - at) < 0.06


@given(st.integers(55, 66), st.floats(4, 6.5), st.floats(0.08, 0.15))
@settings(max_examples=15)
def test_partials_of_a_pitch_that_wavers_a_little_keep_step(number, speed, semitones):
    seconds = np.arange(2 * RATE) / RATE
    hertz = 440 * 2 ** ((number - 69 + semitones * np.sin(2 * np.pi * speed * seconds)) / 12)
    own, second, third = bends(harmonics(2 * np.pi * np.cumsum(hertz) / RATE, 0, 0.4, 1), number)
    assert own.max() > 0.01
    assert np.median(second) < 0.5 * np.median(own) and np.median(third) < 0.7 * np.median(own)
