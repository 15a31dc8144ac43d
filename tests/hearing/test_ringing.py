"""Notes that ring over one another: heard once each, at their pitch; and nothing where nothing has one."""

from __future__ import annotations

import numpy as np
import pytest
from heard_signals import RATE, heard, score, sound_of
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.sheet import read
from ours import played

FAST = "66 67 73 77 55 58 74 77 60 62 75 65 61 70 68 57 76 72 64 59"


@pytest.mark.parametrize(("sound", "least"), [("glass bell", 0.9), ("soft pad", 0.9)])
def test_eight_notes_a_second_that_ring_over_one_another(sound, least):
    song, samples = sound_of(FAST, sound, 480)
    assert score(song, heard(samples)) >= least
    assert score(song, heard(samples * (0.01 / np.abs(samples).max()))) >= least


@pytest.mark.parametrize("sound", ["glass bell", "soft pad"])
def test_a_note_keeps_its_number_beside_one_that_still_rings(sound):
    _, samples = sound_of("59 60 59 58 57 59 60 61 60 62 61", sound, 480)
    assert [note.number for note in heard(samples)] == [59, 60, 59, 58, 57, 59, 60, 61, 60, 62, 61]


@settings(max_examples=10)
@given(st.lists(st.integers(55, 79), min_size=12, max_size=24), st.sampled_from([180, 240, 360, 480]),
       st.sampled_from(["glass bell", "hammered string", "wood bars"]))  # fmt: skip
def test_what_is_struck_and_rings_is_found_at_any_speed(numbers, tempo, sound):
    song, samples = sound_of(" ".join(map(str, numbers)), sound, tempo)
    assert score(song, heard(samples)) >= 0.85


def test_a_long_recording_is_looked_at_in_sections_and_no_note_is_lost_or_told_twice(monkeypatch):
    song, samples = sound_of(" ".join([FAST] * 4), "glass bell", 300)
    whole = heard(samples)
    monkeypatch.setattr("chickadee.hearing.onsets._CHUNK_FRAMES", 333)
    parts = heard(samples)
    assert score(song, whole) >= 0.95 and score(song, parts) >= 0.95
    assert abs(len(parts) - len(whole)) <= 2


@pytest.mark.parametrize("tuning", [434.0, 438.0, 445.0])
def test_how_far_a_note_is_off_is_told_to_a_cent(tuning):
    _, samples = sound_of("60 64 67 72", "glass bell", 240)
    off = 1200 * np.log2(440 / tuning)
    notes = heard(samples, tuning=tuning)
    assert [note.number for note in notes] == [60, 64, 67, 72]
    assert all(abs(note.cents - off) < 1 for note in notes)


def test_noise_of_any_colour_and_drums_have_no_notes():
    chance = np.random.default_rng(0).normal(0, 1, 6 * RATE)
    for slope in (0.0, 0.5, 1.0):
        spectrum = np.fft.rfft(chance) / np.maximum(np.fft.rfftfreq(len(chance), 1 / RATE), 20) ** slope
        noise = np.fft.irfft(spectrum)
        assert heard((0.5 * noise / np.abs(noise).max()).astype(np.float32)) == ()
    for drums in ("(kick hat snare hat) x4", "36 38 42 46 49 51 45 47 50 56 60 61 63 70 75"):
        assert heard(played(read(f"voice A\n  sound: drum kit\n  {drums}").song).mean(axis=0)) == ()


@given(st.integers(0, 4000))
@settings(max_examples=25)
def test_hardly_anything_is_nothing(count):
    assert heard(np.zeros(count, np.float32)) == ()
    noise = np.random.default_rng(count).normal(0, 0.1, count).astype(np.float32)
    assert len(heard(noise)) <= 1
