"""What is measured of a recording every 5 ms."""

from __future__ import annotations

import numpy as np
import pytest
from heard_signals import RATE, sound_of
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.hearing.fourier import irfft, rfft
from chickadee.hearing.pitch import HOP, numbers_of
from chickadee.hearing.track import periodicity, track_of, usual_power

SAMPLES = sound_of("60 67=1/2 64=1/2 rest 72", "plucked string", 120)[1]


def blocks_of(samples, size):
    return [samples[place : place + size] for place in range(0, len(samples), size)]


@given(st.integers(300, 40_000))
@settings(max_examples=10)
def test_blocks_of_any_size_measure_the_same(size):
    whole, count = track_of([SAMPLES], RATE)
    found, again = track_of(blocks_of(SAMPLES, size), RATE)
    assert count == again == len(SAMPLES) and len(whole.path) == int(len(SAMPLES) / RATE / HOP) + 1
    for one, other in zip(whole, found, strict=True):
        assert one.shape == other.shape and np.allclose(one, other, rtol=1e-3, atol=1e-5)


@given(st.integers(0, 100), st.integers(1, 200))
@settings(max_examples=10)
def test_a_part_has_its_frames_of_all_that_was_measured(first, count):
    whole, _ = track_of([SAMPLES], RATE)
    part = whole.part(first, first + count)
    assert all(np.array_equal(one, other[first : first + count]) for one, other in zip(part, whole, strict=True))


@given(st.floats(0.01, 1.0))
@settings(max_examples=8)
def test_growth_does_not_depend_on_how_loud_a_recording_is(loud):
    whole, _ = track_of([SAMPLES], RATE)
    found, _ = track_of([(loud * SAMPLES).astype(np.float32)], RATE)
    assert np.allclose(found.flux, whole.flux, rtol=1e-2, atol=1e-3)
    assert np.allclose(found.power, loud**2 * whole.power, rtol=1e-3)


@given(st.integers(30, 200), st.floats(100, 2000), st.floats(0.02, 0.9))
@settings(max_examples=15)
def test_the_spectrum_grows_where_a_tone_begins(frame, hertz, loud):
    seconds = np.arange(RATE + RATE // 2) / RATE
    begins = frame * HOP
    samples = (loud * np.sin(2 * np.pi * hertz * (seconds - begins)) * (seconds >= begins)).astype(np.float32)
    flux = track_of([samples], RATE)[0].flux
    assert abs(int(flux.argmax()) - frame) <= 3
    assert flux[frame + 20 : -20].max() < 0.2 * flux.max()


def test_a_bump_and_silence_do_not_change_what_is_usually_loud():
    usual = usual_power(track_of([SAMPLES], RATE)[0])
    bump = SAMPLES.copy()
    bump[2000:2200] += 20 * np.abs(SAMPLES).max()
    longer = np.concatenate((np.zeros(3 * RATE, np.float32), SAMPLES))
    for samples in (bump, longer):
        assert usual_power(track_of([samples], RATE)[0]) == pytest.approx(usual, rel=0.3)
    assert usual_power(track_of([np.zeros(RATE, np.float32)], RATE)[0]) == 0


def test_how_periodic_a_recording_is_tells_two_notes_from_noise():
    noise = np.random.default_rng(4).normal(0, 0.1, RATE).astype(np.float32)
    fifth = SAMPLES + np.interp(np.arange(len(SAMPLES)) * 1.5, np.arange(len(SAMPLES)), SAMPLES).astype(np.float32)
    found = [periodicity(track_of([samples], RATE)[0]) for samples in (noise, fifth, SAMPLES)]
    assert found[0] < 0.1 < 0.4 < found[1] <= 1.01 and found[2] > 0.9
    assert periodicity(track_of([np.zeros(RATE, np.float32)], RATE)[0]) == 0


@given(st.floats(20, 8000), st.floats(415, 466))
def test_a_number_an_octave_higher_is_twelve_more(hertz, tuning):
    low, high, none = numbers_of(np.array([hertz, 2 * hertz, 0.0]), tuning)
    assert high - low == pytest.approx(12) and np.isnan(none)
    assert numbers_of(np.array([tuning]), tuning)[0] == pytest.approx(69)


@given(st.integers(2, 300), st.integers(0, 60))
def test_a_transform_is_what_its_definition_says_and_is_turned_back(count, more):
    frames = np.random.default_rng(count).normal(0, 1, (3, count)).astype(np.float32)
    size = count + more
    turns = np.exp(-2j * np.pi * np.outer(np.arange(count), np.arange(size // 2 + 1)) / size)
    assert np.allclose(rfft(frames, size), frames @ turns, atol=1e-3)
    assert np.allclose(irfft(rfft(frames, size), size)[:, :count], frames, atol=1e-4)
