"""Where notes begin: what is seen of a moment, and what is made of it."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from heard_signals import RATE, sound_of
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.hearing import onsets as module
from chickadee.hearing.features import FEATURE_COUNT, NOTES, Features, _bends
from chickadee.hearing.notes import notes_of
from chickadee.hearing.onsets import DenseLayer, Onset, onset_probabilities, onsets
from chickadee.hearing.semitones import SEMITONES, STEP, SemitoneSpectrum, joined, semitone_spectra
from chickadee.hearing.track import Track, track_of


def nothing(frames):
    """A track of so many frames of 10 ms in which no pitch is heard."""
    of_each = np.zeros((2 * frames, 5), np.float32)
    whole = np.zeros(2 * frames, np.float32)
    return Track(of_each, of_each, whole, whole, whole, whole)


def step(frames, number, begins, size=0.5):
    """Tones of which one is there from a frame on."""
    sizes = np.zeros((frames, len(SEMITONES)), np.float32)
    sizes[begins:, number - SEMITONES.start] = size
    return SemitoneSpectrum(sizes.astype(np.complex64), (sizes**2).sum(axis=1) / 2)


def seen(spectrum, track=None):
    features = Features(spectrum, track or nothing(len(spectrum.power)), 0.0)
    cells = features.worth_a_look()
    return cells, features.of(*cells).T


@given(st.floats(0.01, 0.8), st.integers(30, 107), st.sampled_from([16_000, 22_050, 24_000]))
@settings(max_examples=20)
def test_a_tone_has_its_amplitude_on_its_own_semitone(size, number, rate):
    hertz = 440 * 2 ** ((number - 69) / 12)
    samples = (size * np.sin(2 * np.pi * hertz * np.arange(rate) / rate)).astype(np.float32)
    spectrum = joined(list(semitone_spectra(np.array_split(samples, 7), rate)))
    middle = np.abs(spectrum.waves[len(spectrum.power) // 2])
    assert SEMITONES[int(middle.argmax())] == number
    assert middle.max() == pytest.approx(size, rel=0.02)
    assert spectrum.power[len(spectrum.power) // 2] == pytest.approx(size**2 / 2, rel=0.02)


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
    assert frames.min() >= 40 - 12 and cells.shape == (len(frames), FEATURE_COUNT)
    assert not len(seen(step(90, 64, 90))[1])


def blind(chance):
    """A network that thinks the same of everything."""
    return [
        DenseLayer(np.zeros((FEATURE_COUNT, 1), np.float32), np.array([np.log(chance / (1 - chance))], np.float32)),
    ]


@given(st.floats(0.01, 0.99))
def test_a_network_that_sees_nothing_says_the_same_of_all_that_is_worth_a_look(chance):
    features = Features(step(90, 64, 40), nothing(90), 0.0)
    found = onset_probabilities(features, blind(chance))
    assert found.shape == (90, len(NOTES))
    assert np.allclose(found[features.worth_a_look()], chance, atol=1e-4) and (found > 0).sum() == len(
        features.worth_a_look()[0]
    )


@given(st.integers(500, 60_000))
@settings(max_examples=8)
def test_blocks_of_any_size_give_the_same_onsets(size):
    _, samples = sound_of("60 67 64 72 60 59", "reed pipe", 160)
    track, count = track_of([samples], RATE)
    assert count == len(samples)
    whole = onsets(semitone_spectra([samples], RATE), track)
    blocks = [samples[place : place + size] for place in range(0, len(samples), size)]
    assert [each.number for each in whole] == [60, 67, 64, 72, 60, 59]
    assert np.allclose(onsets(semitone_spectra(blocks, RATE), track), whole, atol=1e-3)


def test_onsets_are_taken_from_a_confidence_of_four_tenths_on(monkeypatch):
    features = Features(step(90, 64, 40), nothing(90), 0.0)
    monkeypatch.setattr(module, "_trained", lambda: blind(0.41))
    assert module._candidates(features, 0, 0, 90)
    monkeypatch.setattr(module, "_trained", lambda: blind(0.39))
    assert not module._candidates(features, 0, 0, 90)


@given(st.lists(st.tuples(st.floats(0.35, 1), st.integers(0, 300), st.integers(0, 79)), max_size=60))
def test_of_onsets_near_to_one_another_the_most_confident_are_kept_three_at_most(tops):
    candidates = [module._Candidate(sure, frame, float(frame), place) for sure, frame, place in tops]
    found = module._most_confident(candidates)
    assert found == sorted(found)
    for onset in found:
        near = [other for other in found if abs(other.start - onset.start) <= 5 * STEP + 1e-9]
        assert len([other for other in near if other.confidence >= onset.confidence]) <= 3
        same = [other for other in found if other.number == onset.number and other is not onset]
        assert all(abs(other.start - onset.start) > 9 * STEP - 1e-9 for other in same)
    if tops:
        assert max(each.confidence for each in found) == pytest.approx(max(tops)[0], abs=0.001)


def test_a_partial_is_a_note_only_where_it_is_as_clear():
    for sure, notes in ((0.9, 2), (0.5, 1)):
        candidates = [module._Candidate(0.95, 50, 50.0, 30), module._Candidate(sure, 51, 51.0, 42)]
        assert len(module._most_confident(candidates)) == notes


@given(st.lists(st.tuples(st.floats(0, 1.9), st.integers(30, 100)), max_size=12), st.integers(0, 9))
def test_notes_follow_one_another_and_each_is_over_where_it_fades(begun, seed):
    begun = [Onset(start, number, 0.9) for start, number in sorted(begun)]
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
    waves = joined(list(semitone_spectra([samples.astype(np.float32)], RATE))).waves
    own, second, third = _bends(waves, np.ones(waves.shape, np.float32))
    place = number - SEMITONES.start
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
