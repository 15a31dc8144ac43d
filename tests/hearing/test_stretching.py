"""Sound that goes slower or faster: its pitch, its attacks and its level stay, in blocks of any size."""

from __future__ import annotations

import numpy as np
import pytest
import soundfile
from heard_signals import sound_of
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.hearing.playable import InMemory, Playable, attacks_in
from chickadee.hearing.stretching import Stretcher, stretched

RATE = 22_050


def tone(hertz, seconds, rate=RATE):
    return (0.3 * np.sin(2 * np.pi * hertz * np.arange(round(seconds * rate)) / rate)).astype(np.float32)


def pitch_of(samples):
    """The frequency of a tone, by the highest of its spectrum and its neighbours (a parabola in decibels)."""
    sizes = np.abs(np.fft.rfft(samples * np.hanning(len(samples))))
    top = int(sizes.argmax())
    before, here, after = np.log(sizes[top - 1 : top + 2])
    return (top + 0.5 * (before - after) / (before - 2 * here + after)) * RATE / len(samples)


@settings(max_examples=25)
@given(st.floats(60, 4000), st.floats(0.25, 2))
def test_a_tone_keeps_its_pitch_and_its_level_at_any_speed(hertz, speed):
    found = stretched(InMemory(tone(hertz, 3), RATE), speed)
    assert len(found) == round(3 * RATE / speed)
    held = found[RATE // 2 : -RATE // 2]
    assert abs(1200 * np.log2(pitch_of(held) / hertz)) < 2
    levels = np.sqrt(np.convolve(held**2, np.ones(RATE // 20) * 20 / RATE, "valid"))
    assert 20 * np.log10(levels.max() / levels.min()) < 1  # no flutter
    assert levels.mean() == pytest.approx(0.3 / 2**0.5, rel=0.03)


def test_held_chords_do_not_flutter():
    for speed in (0.25, 0.5, 0.75, 1.5):
        chord = sum(tone(hertz, 3) for hertz in (220, 277.2, 329.6)) / 3
        held = stretched(InMemory(chord, RATE), speed)[RATE // 2 : -RATE // 2]
        sizes = np.abs(np.fft.rfft(held * np.hanning(len(held)))) / len(held)
        hertz = np.fft.rfftfreq(len(held), 1 / RATE)
        partials = np.any([abs(hertz - each) < 6 for each in (220, 277.2, 329.6)], axis=0)
        beside = ~partials & (hertz > 150) & (hertz < 450)
        assert 20 * np.log10(sizes[beside].max() / sizes[partials].max()) < -36


@pytest.mark.parametrize("sound", ["plucked string", "wood bars", "glass bell", "sine", "drum kit"])
def test_attacks_stay_where_they_belong_and_as_sharp(sound):
    notes = "snare kick hat kick=1/2 kick=1/2" if sound == "drum kit" else "C4 E4 G4=1/2 C5=1/2 E5"
    song, samples = sound_of(notes, sound)
    source = InMemory(samples, RATE)
    struck = [float(song.tempo.seconds(note.start)) for note in song.notes]
    before = source.attacks(0, song.seconds)
    assert len(before) == len(struck) and np.abs(before - struck).max() < 0.02
    for speed in (0.25, 0.5, 0.8, 1.25, 2.0):
        found = stretched(source, speed)
        after = attacks_in(found, RATE)
        assert len(after) == len(before) and np.abs(after - before / speed).max() < 0.01
        for old, new in zip(before, before / speed, strict=True):
            peaks = [
                np.abs(each[round(at * RATE) :][: RATE // 40]).max() for each, at in ((samples, old), (found, new))
            ]
            assert peaks[1] == pytest.approx(peaks[0], rel=0.12)


@settings(max_examples=20)
@given(st.lists(st.integers(1, 4000), min_size=1, max_size=12), st.floats(0.25, 2), st.integers(0, 3))
def test_blocks_of_any_size_and_copies_give_the_same(sizes, speed, copied):
    _, samples = sound_of("C4=1/2 G4=1/2", "plucked string")
    source = InMemory(samples, RATE)
    whole = stretched(source, speed, 10**9)
    stretcher = Stretcher(source)
    at = 0
    found = []
    for place, size in enumerate(sizes):
        if place == copied:
            left = stretcher
            stretcher = stretcher.copy()
            left.read(500, lambda samples: samples * 0.0)
        found.append(stretcher.read(size, lambda samples, at=at: (at + samples) * speed / RATE))
        at += size
    together = np.concatenate(found)[: len(whole)]
    assert np.abs(together - whole[: len(together)]).max() < 1e-5


def test_at_its_own_speed_it_is_the_sound_itself_and_silence_stays_silent():
    _, samples = sound_of("C4 E4", "hammered string")
    assert np.abs(stretched(InMemory(samples, RATE), 1) - samples).max() < 1e-6
    assert not stretched(InMemory(np.zeros(RATE, np.float32), RATE), 0.5).any()
    assert len(stretched(InMemory(np.zeros(0, np.float32), RATE), 0.5)) == 0
    assert len(attacks_in(np.zeros(RATE, np.float32), RATE)) == 0


@pytest.mark.parametrize("theirs", [22_050, 44_100, 48_000, 96_000, 8_000, 44_101])
def test_any_stretch_of_a_file_is_had_at_the_player_s_rate(tmp_path, theirs):
    path = tmp_path / "tone.wav"
    soundfile.write(path, np.stack([tone(440, 3.3, theirs)] * 2, axis=1), theirs, subtype="FLOAT")
    source = Playable(path, 48_000)
    expected = tone(440, 3.3, 48_000)
    assert source.seconds == pytest.approx(3.3, abs=1e-4)
    for start, count in ((100_000, 9_000), (47_000, 3_000), (500, 100_000)):
        assert np.abs(source.samples(start, count) - expected[start : start + count]).max() < 2e-3
    assert (
        not source.samples(-500, 300).any()
        and not source.samples(-(10**6), 300).any()
        and not source.samples(10**7, 100).any()
    )


def test_a_file_that_was_written_again_is_another_recording(tmp_path):
    path = tmp_path / "tone.wav"
    soundfile.write(path, tone(440, 1.0, 48_000), 48_000)
    source = Playable(path, 48_000)
    assert source.is_of(path) and not source.is_of(tmp_path / "other.wav")
    soundfile.write(path, tone(440, 1.5, 48_000), 48_000)
    assert not source.is_of(path) and Playable(path, 48_000).seconds == 1.5
    path.unlink()
    assert source.is_of(path)  # it goes on by what was opened
