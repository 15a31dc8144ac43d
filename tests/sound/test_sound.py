"""What is heard, measured in the samples."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee import read
from chickadee.song.sounds import SOUNDS
from chickadee.sound import Renderer, rendered
from chickadee.sound.instruments import INSTRUMENTS
from chickadee.sound.limiter import CEILING, Limiter, trailing_minimum
from chickadee.sound.parts import decaying_partials, harmonics, swell

RATE = 48_000
PITCHED = [sound for sound in SOUNDS if sound != "drum kit"]


def samples(text, rate=RATE):
    return np.concatenate(list(rendered(read(text).song, rate)))


def voice(sound, notes, more=""):
    return f"tempo: 60\n{more}voice A\n  sound: {sound}\n  {notes}"


def hertz(sound, near, rate=RATE):
    """The frequency of the strongest partial within a semitone of ``near``, by a parabola through the FFT's peak."""
    size = 1 << 21
    spectrum = np.abs(np.fft.rfft(sound * np.hanning(len(sound)), size))
    low, high = int(near / 1.06 * size / rate), int(near * 1.06 * size / rate)
    peak = low + int(spectrum[low:high].argmax())
    before, top, after = np.log(spectrum[peak - 1 : peak + 2])
    return (peak + 0.5 * (before - after) / (before - 2 * top + after)) * rate / size


def test_every_sound_has_its_instrument():
    assert set(INSTRUMENTS) == set(SOUNDS)


@pytest.mark.parametrize("sound", PITCHED)
def test_a4_is_440_hertz_within_a_tenth_of_a_cent(sound):
    tone = samples(voice(sound, "A4=4"))[: 3 * RATE, 0]
    assert abs(1200 * np.log2(hertz(tone, 440) / 440)) < 0.1


def test_the_tuning_is_heard():
    tone = samples(voice("sine", "A4=4", "tuning: 432\n"))[: 3 * RATE, 0]
    assert hertz(tone, 432) == pytest.approx(432, rel=1e-5)


@pytest.mark.parametrize("sound", SOUNDS)
def test_onsets_fall_on_the_exact_sample_and_every_note_ends_in_silence(sound):
    song = read(voice(sound, "rest=1/3 C5 'E5=1/2 rest=2/7 G5&B5=3/7 C6", "tempo: 97\n")).song
    for note in song.notes:
        alone = np.concatenate(list(rendered(replace(song, notes=(note,)))))
        heard = np.flatnonzero(np.abs(alone).max(axis=1))
        onset = round(float(song.tempo.seconds(note.start)) * RATE)
        assert heard[0] == onset + 1  # an envelope's own first sample is zero
        assert np.all(alone[-100:] == 0)


@pytest.mark.parametrize("sound", SOUNDS)
def test_chords_never_reach_full_scale_and_one_note_is_not_faint_beside_them(sound):
    chord = samples(voice(sound, "C3&G3&C4&E4&G4&C5=3", "").replace("sound:", "level: ff\n  sound:"))
    single = samples(voice(sound, "C4=3").replace("sound:", "level: ff\n  sound:"))
    assert np.abs(chord).max() <= CEILING + 1e-9 < 1
    loud, soft = (np.sqrt((part[:RATE] ** 2).mean()) for part in (chord, single))
    assert 20 * np.log10(loud / soft) < 12


@pytest.mark.parametrize("sound", SOUNDS)
def test_nothing_clicks(sound):
    """No step between samples is larger than the steepest slope the held tone itself has."""
    tone = samples(voice(sound, "A4=1/2 A4=1/2 'E5 rest A4&C5=1/16 rest"))[:, 0]
    held = samples(voice(sound, "A4&E5&C5=2"))[: RATE // 2, 0]
    steps, own = np.abs(np.diff(tone)), np.abs(np.diff(held)).max()
    assert steps.max() <= own
    bends, own_bends = np.abs(np.diff(tone, 2)).max(), np.abs(np.diff(held, 2)).max()
    assert bends <= 1.5 * own_bends


def test_equal_notes_speak_apart_by_the_gap():
    tone = np.abs(samples(voice("sine", "A4 A4", "gap: 0.1\n"))[:, 0])
    assert tone[round(0.97 * RATE) : RATE].max() == 0
    assert tone[round(0.8 * RATE) : round(0.88 * RATE)].max() > 0.1


def test_a_short_note_sounds_half_its_length():
    tone = np.abs(samples(voice("sine", "'A4=2 rest=2"))[:, 0])
    assert tone[round(1.1 * RATE) :].max() == 0
    assert tone[round(0.9 * RATE)] >= 0


def test_panned_voices_stand_where_they_should():
    left = samples(voice("sine", "A4").replace("sound:", "pan: left\n  sound:"))
    middle = samples(voice("sine", "A4"))
    assert np.abs(left[:, 1]).max() < 1e-12 < np.abs(left[:, 0]).max()
    assert np.array_equal(middle[:, 0], middle[:, 1])
    assert (left**2).sum() == pytest.approx((middle**2).sum(), rel=1e-9)


def test_louder_notes_are_louder():
    powers = [(samples(voice(sound, f"[{level}] A4")) ** 2).sum() for sound in SOUNDS for level in (20, 60, 100, 127)]
    assert all(np.all(np.diff(powers[index : index + 4]) > 0) for index in range(0, len(powers), 4))


@settings(max_examples=12)
@given(st.lists(st.integers(1, 9000), min_size=1, max_size=40), st.sampled_from([8_000, 44_100]))
def test_the_samples_are_the_same_whatever_the_block_size(sizes, rate):
    song = read("tempo: 200\nvoice A\nsound: glass bell\nlevel: ff\nC5&E5&G5 A4\nvoice B\nC4=1/2 D4").song
    whole = Renderer(song, rate)
    expected = whole.read(whole.frames)
    renderer = Renderer(song, rate)
    parts = []
    while len(part := renderer.read(sizes[len(parts) % len(sizes)])):
        parts.append(part)
    assert np.array_equal(np.concatenate(parts), expected)
    assert len(expected) == whole.frames


def test_rendering_from_the_middle_is_the_end_of_the_whole():
    song = read(voice("sine", "C4 D4 E4")).song
    whole, later = samples(voice("sine", "C4 D4 E4")), Renderer(song, RATE, start=1.0)
    tail = later.read(later.frames)
    tail_of_c4 = RATE // 10
    assert np.abs(tail - whole[-len(tail) :])[tail_of_c4:].max() < 1e-9


def test_high_notes_leave_partials_out_rather_than_folding_them_back():
    for sound in PITCHED:
        tone = samples(voice(sound, "G9=2"))[: 2 * RATE, 0]
        spectrum = np.abs(np.fft.rfft(tone * np.hanning(len(tone))))
        bins = np.arange(len(spectrum)) * RATE / len(tone)
        below = spectrum[(bins > 30) & (bins < 10_000)].max()
        limit = 10 ** (-40 / 20) if sound == "flute" else 10 ** (-80 / 20)  # a flute's breath is meant
        assert below <= limit * spectrum.max()


def test_decaying_partials_by_their_definition():
    frequencies, amplitudes, decays = (
        np.array([300.0, 777.0, 30_000.0]),
        np.array([1.0, 0.5, 9.0]),
        np.array([1.0, 0.2, 1]),
    )
    n = np.arange(1000, 1300)
    expected = sum(
        a * 10 ** (-3 * n / RATE / d) * np.sin(2 * np.pi * f * n / RATE)
        for f, a, d in zip(frequencies[:2], amplitudes, decays, strict=False)
    )
    assert decaying_partials(frequencies, amplitudes, decays, 1000, 300, RATE) == pytest.approx(expected, abs=1e-12)


@given(st.lists(st.floats(-1, 1), min_size=1, max_size=60), st.integers(1, 60))
def test_the_trailing_minimum_by_its_definition(values, span):
    span = min(span, len(values))
    expected = [min(values[place : place + span]) for place in range(len(values) - span + 1)]
    assert trailing_minimum(np.array(values), span).tolist() == expected


def test_harmonics_and_envelopes_by_their_definition():
    phase = np.linspace(0, 40, 999)
    assert harmonics(phase, [1, 0.5, 0.25]) == pytest.approx(
        np.sin(phase) + 0.5 * np.sin(2 * phase) + 0.25 * np.sin(3 * phase), abs=1e-12
    )
    whole = swell(0, 500, 100, 300, 100)
    assert whole[0] == 0
    assert np.all(whole[100:300] == 1)
    assert np.all(whole[400:] < 1e-12)
    assert np.array_equal(np.concatenate([swell(a, 50, 100, 300, 100) for a in range(0, 500, 50)]), whole)


@given(st.lists(st.floats(0, 5), min_size=1, max_size=30), st.integers(0, 2**32 - 1))
@settings(max_examples=30)
def test_the_limiter_lets_nothing_through_above_its_ceiling(loudness, seed):
    noise = np.random.default_rng(seed)
    limiter = Limiter(8000)
    blocks = [level * noise.standard_normal((400, 2)) for level in loudness]
    out = np.concatenate([limiter.process(block) for block in [*blocks, np.zeros((400, 2))]])
    assert np.abs(out).max() <= CEILING + 1e-9
    quiet = Limiter(8000)
    soft = 0.1 * np.clip(np.concatenate(blocks), -5, 5)
    assert np.array_equal(quiet.process(soft)[quiet.delay :], soft[: -quiet.delay])
