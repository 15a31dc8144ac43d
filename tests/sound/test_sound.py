"""What is heard, measured in the samples."""

from __future__ import annotations

import runpy
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import soundfile
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee import read
from chickadee.song.sounds import SOUNDS
from chickadee.sound import Renderer, rendered
from chickadee.sound.audio_file import AudioSettings, write_audio
from chickadee.sound.delay_line import DelayLine
from chickadee.sound.envelopes import fall, rise
from chickadee.sound.instruments import INSTRUMENTS
from chickadee.sound.limiter import CEILING, Limiter, trailing_minimum
from chickadee.sound.loudness import loudness
from chickadee.sound.partials import decaying_partials
from chickadee.sound.room import Room
from chickadee.sound.score import Strike
from chickadee.sound.stock import Stock
from chickadee.sound.wavetable import WaveTable

pytestmark = pytest.mark.rotating

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
    low = int(near / 1.06 * size / rate)
    high = int(near * 1.06 * size / rate)
    peak = low + int(spectrum[low:high].argmax())
    before, top, after = np.log(spectrum[peak - 1 : peak + 2])
    return (peak + 0.5 * (before - after) / (before - 2 * top + after)) * rate / size


def test_every_sound_has_its_instrument():
    assert set(INSTRUMENTS) == set(SOUNDS)


def centre_hertz(sound, near):
    """The mean frequency near a pitch by power: what the ear takes as the pitch of a tone that wavers."""
    spectrum = np.abs(np.fft.rfft(sound * np.hanning(len(sound)))) ** 2
    bins = np.arange(len(spectrum)) * RATE / len(sound)
    around = np.abs(bins / near - 1) < 0.025
    return (spectrum[around] * bins[around]).sum() / spectrum[around].sum()


@pytest.mark.parametrize("sound", PITCHED)
def test_every_sound_is_in_tune_within_a_cent_from_end_to_end_of_its_range(sound):
    for number in (28, 40, 52, 60, 69, 76, 88, 100):
        near = 440 * 2 ** ((number - 69) / 12)
        tone = INSTRUMENTS[sound].samples(Strike(number, near, 0.63), 0, 3 * RATE, RATE).astype(float)
        wavers = sound in ("flute", "reed pipe", "brass horn", "bowed string", "soft pad")
        found = centre_hertz(tone, near) if wavers else hertz(tone, near)
        assert abs(1200 * np.log2(found / near)) < 1, number


@pytest.mark.parametrize("sound", ["square", "saw", "triangle", "board beeper"])
@pytest.mark.parametrize("number", [33, 57, 69, 81, 93, 100, 108, 117])
def test_nothing_folds_back(sound, number):
    """Between the harmonics of the sharpest waves the spectrum is at least 80 dB below the strongest."""
    near = 440 * 2 ** ((number - 69) / 12)
    size = RATE
    tone = INSTRUMENTS[sound].samples(Strike(number, near, 1.0), RATE, size, RATE).astype(float)
    spectrum = np.abs(np.fft.rfft(tone * np.kaiser(size, 18)))
    bins = np.arange(len(spectrum)) * RATE / size
    between = np.abs(bins / near - np.round(bins / near)) * near > 12
    assert between.sum() > len(bins) / 5
    assert 20 * np.log10(spectrum[between].max() / spectrum.max()) < -80


def test_loudness_by_the_recommendation_s_own_tone():
    """A full-scale sine of 997 Hz in one channel reads -3.01 LUFS (BS.1770-4, annex 1)."""
    tone = np.zeros((3 * RATE, 2))
    tone[:, 0] = np.sin(2 * np.pi * 997 * np.arange(3 * RATE) / RATE)
    assert loudness(tone) == pytest.approx(-3.01, abs=0.02)
    assert loudness(0.1 * tone) == pytest.approx(-23.01, abs=0.02)
    rests = np.concatenate([tone, np.zeros((9 * RATE, 2))])
    assert loudness(rests) == pytest.approx(-3.01, abs=0.25)  # silence is gated away
    assert loudness(np.zeros((RATE, 2))) == -np.inf


def test_all_sounds_are_equally_loud_within_a_decibel():
    levels = runpy.run_path(str(Path(__file__).parents[2] / "scripts" / "levels.py"))
    for sound in SOUNDS:
        assert levels["measured"](sound) == pytest.approx(levels["TARGET"], abs=1), sound


def test_the_stock_gives_what_the_instrument_gives_and_forgets_the_oldest(monkeypatch):
    monkeypatch.setattr("chickadee.sound.stock._MOST_SAMPLES", 3 << 13)
    stock = Stock(RATE)
    strike = Strike(60, 261.6, 0.5)
    whole = INSTRUMENTS["flute"].samples(strike, 0, 50_000, RATE)
    for first, count in ((0, 10), (8000, 400), (8190, 4), (100, 40_000), (0, 20)):
        assert stock.take("flute", strike, first, count) == pytest.approx(whole[first : first + count], abs=1e-6)
    assert len(stock._segments) <= 3


def test_the_room_fades_and_is_the_same_in_any_blocks():
    click = np.zeros((2, RATE), np.float32)
    click[:, 0] = 1
    whole = Room(RATE).process(click)
    room = Room(RATE)
    parts = []
    for at in range(0, RATE, 777):
        parts.append(room.process(click[:, at : at + 777]))
    assert np.abs(np.concatenate(parts, axis=1) - whole).max() < 1e-6
    assert np.abs(whole[:, 1 : round(0.02 * RATE)]).max() == 0
    early, late = (np.abs(whole[:, round(a * RATE) : round(b * RATE)]).max() for a, b in ((0.02, 0.1), (0.8, 0.9)))
    assert 0.01 < early < 0.5
    assert late < early / 300


def test_a_fade_ends_in_silence_and_leaves_the_rest_alone():
    song = read(voice("organ pipe", "C4=4")).song
    plain = Renderer(song, RATE)
    faded = Renderer(song, RATE, fade=2.0)
    whole = plain.read(plain.frames)
    sound = np.concatenate([faded.read(1000) for _ in range(300)])
    begins = len(whole) - 2 * RATE
    assert np.array_equal(sound[:begins], whole[:begins])
    loud = [np.abs(sound[begins + at : begins + at + RATE // 4]).max() for at in range(0, 2 * RATE, RATE // 4)]
    assert loud == sorted(loud, reverse=True)


def test_sixteen_bits_are_dithered_and_silence_stays_silence(tmp_path):
    song = read(voice("sine", "[1] A4=2 rest")).song
    write_audio(tmp_path / "a.wav", song, AudioSettings())
    write_audio(tmp_path / "b.wav", song, AudioSettings(bits="32f"))
    coarse, exact = (soundfile.read(tmp_path / name)[0][:, 0] for name in ("a.wav", "b.wav"))
    error = (coarse - exact * 32767 / 32768) * 32768
    sounding = slice(RATE, 2 * RATE - RATE // 4)
    assert error[sounding].std() == pytest.approx(0.5, abs=0.05)  # the sum of rounding and triangular noise
    follows = np.corrcoef(error[sounding], exact[sounding])[0, 1]
    assert abs(follows) < 0.02
    assert np.all(coarse[exact == 0] == 0)


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
    assert np.abs(chord).max() <= CEILING + 1e-6 < 1
    loud, soft = (np.sqrt((part[:RATE] ** 2).mean()) for part in (chord, single))
    assert 20 * np.log10(loud / soft) < 12


@pytest.mark.parametrize("sound", SOUNDS)
def test_nothing_clicks(sound):
    """No step between samples is larger than the steepest slope the held tone itself has."""
    tone = samples(voice(sound, "A4=1/2 A4=1/2 'E5 rest A4&C5=1/16 rest"))[:, 0]
    held = samples(voice(sound, "A4&E5&C5=2"))[: RATE // 2, 0]
    steps = np.abs(np.diff(tone))
    own = np.abs(np.diff(held)).max()
    assert steps.max() <= own
    bends = np.abs(np.diff(tone, 2)).max()
    own_bends = np.abs(np.diff(held, 2)).max()
    assert bends <= 1.5 * own_bends


def test_equal_notes_speak_apart_by_the_gap():
    tone = np.abs(samples(voice("sine", "A4 A4", "gap: 0.1\n"))[:, 0])
    assert tone[round(0.97 * RATE) : RATE].max() == 0
    assert tone[round(0.8 * RATE) : round(0.88 * RATE)].max() > 0.07


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


def test_high_notes_leave_partials_out_rather_than_folding_them_back():
    for sound in PITCHED:
        tone = samples(voice(sound, "G9=2"))[: 2 * RATE, 0]
        spectrum = np.abs(np.fft.rfft(tone * np.hanning(len(tone))))
        bins = np.arange(len(spectrum)) * RATE / len(tone)
        below = spectrum[(bins > 30) & (bins < 10_000)].max()
        breathes = getattr(INSTRUMENTS[sound], "air", 0) or getattr(INSTRUMENTS[sound], "knock", 0)
        limit = 10 ** (-25 / 20) if breathes else 10 ** (-80 / 20)  # breath and mallets are meant
        assert below <= limit * spectrum.max()


def test_decaying_partials_by_their_definition():
    frequencies = np.array([300.0, 777.0, 30_000.0])
    amplitudes = np.array([1.0, 0.5, 9.0])
    decays = np.array([1.0, 0.2, 1])
    n = np.arange(1000, 1300)
    expected = sum(
        a * 10 ** (-3 * n / RATE / d) * np.sin(2 * np.pi * f * n / RATE)
        for f, a, d in zip(frequencies[:2], amplitudes, decays, strict=False)
    )
    assert decaying_partials(frequencies, amplitudes, decays, 1000, 300, RATE) == pytest.approx(expected, abs=1e-5)


@given(st.lists(st.floats(-1, 1), min_size=1, max_size=60), st.integers(1, 60))
def test_the_trailing_minimum_by_its_definition(values, span):
    span = min(span, len(values))
    expected = [min(values[place : place + span]) for place in range(len(values) - span + 1)]
    assert trailing_minimum(np.array(values), span).tolist() == expected


def test_wave_tables_and_envelopes_by_their_definition():
    phase = np.linspace(0, 7, 999)
    turn = 2 * np.pi * phase
    expected = np.sin(turn) + 0.5 * np.sin(2 * turn) + 0.25 * np.sin(3 * turn)
    assert WaveTable(np.array([1, 0.5, 0.25])).read(phase) == pytest.approx(expected, abs=1e-5)
    whole = rise(0, 500, 100) * fall(0, 500, 300, 100)
    assert whole[0] == 0
    assert np.all(whole[100:300] == 1)
    assert np.all(whole[400:] == 0)
    assert np.array_equal(
        np.concatenate([rise(a, 50, 100) * fall(a, 50, 300, 100) for a in range(0, 500, 50)]), whole
    )


def test_a_delay_line_by_its_definition():
    """Worked out one sample at a time, from what came back one loop ago."""
    shape = np.sin(np.arange(20) * 0.9)
    line = DelayLine(20.37, shape, decay=4000, dullness=0.5)
    taps = line._taps
    lag = line._lag
    expected = list(shape)
    for n in range(20, 300):
        expected.append(sum(tap * expected[n - lag - j] for j, tap in enumerate(taps) if n - lag - j >= 0))
    assert line.read(300) == pytest.approx(expected, abs=1e-6)
    assert np.array_equal(line.read(500)[:300], line.read(300))


@given(st.lists(st.floats(0, 5), min_size=1, max_size=30), st.integers(0, 2**32 - 1))
@settings(max_examples=30)
def test_the_limiter_lets_nothing_through_above_its_ceiling(loudness, seed):
    noise = np.random.default_rng(seed)
    limiter = Limiter(8000)
    blocks = [(level * noise.standard_normal((2, 400))).astype(np.float32) for level in loudness]
    silence = np.zeros((2, 400), np.float32)
    out = np.concatenate([limiter.process(block) for block in [*blocks, silence]], axis=1)
    assert np.abs(out).max() <= CEILING + 1e-6
    quiet = Limiter(8000)
    soft = np.float32(0.1) * np.clip(np.concatenate(blocks, axis=1), -5, 5)
    assert np.array_equal(quiet.process(soft)[:, quiet.delay :], soft[:, : -quiet.delay])


@pytest.mark.parametrize("room", [False, True])
def test_a_loop_is_its_bars_long_and_goes_on_at_its_start_as_if_played_before(room):
    bars = "tempo: 120\nvoice V\n sound: glass bell\n"
    song = read(bars + "C4&E4&G4&C5 E5 |").song
    many = read(bars + "(C4&E4&G4&C5 E5) x20").song
    loop = Renderer(song, 8000, room, loop=True)
    rounds = Renderer(many, 8000, room)
    assert loop.frames == 8000
    sound = loop.read(8000)
    plain = rounds.read(20 * 8000)
    assert len(loop.read(10)) == 0
    assert np.abs(sound - plain[18 * 8000 : 19 * 8000]).max() < 1e-3  # after eighteen times it has settled
    assert np.abs(sound[0] - sound[-1]).max() < 0.1


def test_every_percussion_key_of_general_midi_has_a_sound_of_its_own_kind():
    def measured(number):
        song = read(f"tempo: 60\nsound: drum kit\n{number}=3").song
        sound = np.concatenate(list(rendered(song)))[:, 0]
        power = np.abs(np.fft.rfft(sound[:24_000])) ** 2
        hertz = np.fft.rfftfreq(24_000, 1 / 48_000)
        ring = np.flatnonzero(np.abs(sound) > 0.02 * np.abs(sound).max())[-1] / 48_000
        return float(hertz[power.argmax()]), float((power * hertz).sum() / power.sum()), ring, sound

    every = {number: measured(number) for number in range(35, 82)}
    sounds = [sound.tobytes() for *_, sound in every.values()]
    assert len(set(sounds)) == len(sounds)
    peaks = [every[number][0] for number in (41, 43, 45, 47, 48, 50)]  # toms, from the floor up
    assert peaks == sorted(peaks) and peaks[0] < 90
    for crash in (49, 52, 55, 57):
        assert every[crash][1] > 2000 and every[crash][2] > 0.15
    assert every[80][2] < every[81][2] / 3  # a triangle that is damped, and one that is not
