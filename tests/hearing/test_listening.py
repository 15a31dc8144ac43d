"""What is heard in our own sounds, in tones, in noise and in silence."""

from __future__ import annotations

import math

import numpy as np
import pytest
import soundfile
from heard_signals import RATE, heard, score, sound_of, with_noise
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee.files import FileFault
from chickadee.formats.arranging import arranged
from chickadee.hearing.listening import heard_in, listen
from chickadee.hearing.pitch import PitchFrames, pitch_path
from chickadee.hearing.sound_file import open_recording, read_blocks
from chickadee.hearing.tempo import as_imported, guessed_beat
from chickadee.sheet import read
from chickadee.sound.audio_file import Cancelled
from ours import PITCHED, played, wavering

pytestmark = pytest.mark.rotating

RINGING = ("soft pad", "glass bell")
PLAIN = [sound for sound in PITCHED if sound not in RINGING]
"""Sounds that do not ring on under the next ones."""
TUNE = "60 64 67 72 67 69 62 65 74 76 71 55"
FAST = "60 62 64 65 67 65 64 62 60 67 72 67 64 60 59 55 57 59 60 64 67 69 71 72"


def worst(song, samples):
    """How well a tune is heard at worst: as it is, 40 dB softer, and in noise 20 dB below."""
    soft = samples * np.float32(0.01 / np.abs(samples).max())
    return min(score(song, heard(each)) for each in (samples, soft, with_noise(samples)))


@pytest.mark.parametrize("sound", PITCHED)
def test_single_notes_of_our_sounds(sound):
    song, samples = sound_of("48 rest 60 rest 67 rest 79 rest 84 rest", sound, 90)
    assert score(song, heard(samples)) >= 0.95


@pytest.mark.parametrize("sound", PITCHED)
def test_tunes_of_our_sounds_plain_soft_in_noise_with_vibrato_and_in_a_room(sound):
    song, samples = sound_of(TUNE, sound, 60)
    assert score(song, heard(samples)) >= 0.95
    song, samples = sound_of(TUNE, sound, 120)
    assert worst(song, samples) >= 0.95
    assert score(song, heard(wavering(samples))) >= 0.9
    song, samples = sound_of(TUNE, sound, 120, room=True)
    assert score(song, heard(samples)) >= 0.95


@pytest.mark.parametrize("sound", PITCHED)
def test_eight_notes_a_second_of_our_sounds(sound):
    song, samples = sound_of(FAST, sound, 480)
    assert worst(song, samples) >= 0.95
    assert score(song, heard(wavering(samples))) >= (0.9 if sound in RINGING else 0.95)


@settings(max_examples=10)
@given(st.lists(st.integers(55, 79), min_size=10, max_size=25), st.sampled_from(PLAIN), st.sampled_from([240, 480]))
def test_any_fast_melody_of_any_sound(numbers, sound, tempo):
    numbers = [one for one, other in zip(numbers, [0, *numbers], strict=False) if one != other]
    song, samples = sound_of(" ".join(map(str, numbers)), sound, tempo)
    assert score(song, heard(samples)) >= 0.85


@pytest.mark.parametrize("sound", PLAIN)
def test_a_pitch_that_is_repeated_at_once_is_heard_each_time(sound):
    for tempo in (90, 240, 480):
        song, samples = sound_of("60 60 64 64 64 67 72 72 67 60 60 62 62 62 62 71", sound, tempo)
        assert score(song, heard(samples)) >= 0.95


def test_a_pitch_that_goes_slowly_to_its_neighbour_is_another_note():
    song, samples = sound_of("57 59 60 59 58 59", "soft pad", 60)
    assert score(song, heard(samples)) == 1


def test_a_soft_beginning_is_found_where_it_begins():
    song, samples = sound_of("48=2 rest 60=2 rest 55=2 rest 64=2 rest 57=2 rest", "soft pad", 60)
    assert score(song, heard(samples)) == 1


@pytest.mark.parametrize("sound", ["sine", "triangle", "board beeper", "bowed string", "flute", "plucked string"])
def test_echoes_of_the_room_are_no_notes(sound):
    song, samples = sound_of("48 rest 60 rest 67 rest 79 rest 84 rest", sound, 90, room=True)
    assert score(song, heard(samples)) >= 0.9
    song, samples = sound_of(FAST, sound, 480, room=True)
    assert score(song, heard(samples)) >= 0.95


@pytest.mark.parametrize("sound", ["flute", "plucked string", "organ pipe", "sine", "bowed string"])
def test_the_same_note_again_is_told_from_one_that_is_held(sound):
    for tempo in (60, 180):
        song, samples = sound_of("60 60 60 64 64 67 67=3 67 60=2 60", sound, tempo)
        assert score(song, heard(samples)) >= 0.94


def test_a_slur_is_two_notes_and_vibrato_one():
    seconds = np.arange(3 * RATE) / RATE
    steps = np.where(seconds < 1.5, 440.0, 440.0 * 2 ** (2 / 12))
    slurred = 0.3 * np.sin(2 * np.pi * np.cumsum(steps) / RATE)
    assert [note.number for note in heard(slurred.astype(np.float32))] == [69, 71]
    wavering = 440 * 2 ** (0.4 * np.sin(2 * np.pi * 5.5 * seconds) / 12)
    (note,) = heard((0.3 * np.sin(2 * np.pi * np.cumsum(wavering) / RATE)).astype(np.float32))
    assert note.number == 69 and abs(note.cents) < 5 and note.length == pytest.approx(3, abs=0.1)


def test_notes_with_much_vibrato_are_not_struck_again():
    seconds = np.arange(RATE) / RATE
    sung = []
    for number in (60, 67, 64, 72, 69):
        hertz = 440 * 2 ** ((number - 69 + 0.45 * np.sin(2 * np.pi * 5.3 * seconds)) / 12)
        turned = 2 * np.pi * np.cumsum(hertz) / RATE
        swell = np.minimum(1, np.minimum(seconds, seconds[::-1]) / 0.03)
        sung.append(0.2 * swell * sum(np.sin(order * turned) / order for order in range(1, 9)))
    assert [note.number for note in heard(np.concatenate(sung).astype(np.float32))] == [60, 67, 64, 72, 69]


@settings(max_examples=12)
@given(st.floats(41, 3950), st.sampled_from([16_000, 22_050, 24_000]), st.floats(0.001, 0.9))
def test_a_pure_tone_is_found_within_a_cent(hertz, rate, loud):
    if hertz > rate / 5:
        return
    samples = (loud * np.sin(2 * np.pi * hertz * np.arange(rate) / rate + 0.3)).astype(np.float32)
    pitch, strength = pitch_path(PitchFrames(rate).of(samples, last=True))
    inside = pitch[20:-30]
    assert np.all(inside > 0)
    assert abs(1200 * math.log2(float(np.median(inside)) / hertz)) < 1
    assert strength[30] > 0.98


@pytest.mark.parametrize("rate", [8_000, 44_100, 48_000, 96_000])
def test_a_file_of_any_rate_and_number_of_channels_is_heard_at_its_pitch(tmp_path, rate):
    seconds = np.arange(2 * rate) / rate
    tone = 0.4 * np.sin(2 * np.pi * 443 * seconds)
    too_high = 0.2 * np.sin(2 * np.pi * 0.45 * rate * seconds) * (rate > 20_000)  # is not to be folded down
    soundfile.write(tmp_path / "tone.wav", np.column_stack((tone + too_high, tone)), rate)
    (note,) = listen(tmp_path / "tone.wav").notes
    assert note.number == 69 and note.cents == pytest.approx(1200 * math.log2(443 / 440), abs=1)


@given(st.integers(0, 1000), st.floats(0.0001, 0.5))
@settings(max_examples=10)
def test_noise_and_silence_have_no_notes(seed, loud):
    noise = np.random.default_rng(seed).normal(0, loud, 2 * RATE).astype(np.float32)
    assert heard(noise) == ()
    assert heard(np.zeros(RATE, np.float32)) == ()
    assert heard(np.zeros(0, np.float32)) == ()


def test_blocks_of_any_size_give_the_same_notes():
    _, samples = sound_of(TUNE, "reed pipe", 160)
    assert heard(samples, block=997) == heard(samples, block=RATE * 60)


def test_reading_in_blocks_keeps_every_moment_in_its_place(tmp_path):
    samples = np.zeros(44_100 * 5)
    samples[44_100 * 3] = 0.9
    soundfile.write(tmp_path / "click.wav", samples, 44_100)
    recording = open_recording(tmp_path / "click.wav")
    found = np.concatenate(list(read_blocks(recording)))
    assert abs(int(np.abs(found).argmax()) / recording.sample_rate - 3) < 2 / recording.sample_rate


def test_listening_tells_how_far_it_is_and_is_cancelled(tmp_path):
    _, samples = sound_of(TUNE * 3, "sine")
    soundfile.write(tmp_path / "tune.flac", samples, RATE)
    told = []
    listen(tmp_path / "tune.flac", progress=lambda done: told.append(done) or True)
    assert told == sorted(told) and told[-1] == 1 and len(told) > 4
    with pytest.raises(Cancelled):
        listen(tmp_path / "tune.flac", progress=lambda done: False)


def test_what_is_no_recording_is_said(tmp_path):
    (tmp_path / "odd.wav").write_bytes(b"RIFF nothing of the kind")
    for name in ("odd.wav", "none.wav", "."):
        with pytest.raises(FileFault):
            listen(tmp_path / name)


def test_damaged_samples_do_no_harm():
    samples = sound_of("60 64 67", "sine")[1].copy()
    samples[100] = np.inf
    samples[5000] = np.nan
    assert heard_in(lambda part: [np.nan_to_num(samples, nan=0, posinf=0)], RATE).notes


def test_a_note_that_rings_on_under_a_short_one_does_not_swallow_it():
    song, samples = sound_of("66 67 73 77 55 58 74 77 60 62 75", "wood bars", 480)
    assert score(song, heard(samples)) >= 0.95


@pytest.mark.parametrize("sound", ["flute", "hammered string", "bowed string"])
def test_a_tune_that_comes_again_is_heard_alike_each_time_and_after_silence(sound):
    """What is heard does not hang on where a section falls, nor on what is before it."""
    song, samples = sound_of(f"{TUNE} rest", sound, 150)
    every = round(float(song.seconds) * RATE)
    together = np.zeros(12 * every + len(samples), np.float32)
    for turn in range(12):
        together[turn * every : turn * every + len(samples)] += samples
    turns = [[] for _ in range(13)]
    for note in heard(together):
        turns[int((note.start + 0.1) * RATE / every)].append(note.number)
    assert len({tuple(numbers) for numbers in turns[:12]}) == 1 and turns[0] == [int(word) for word in TUNE.split()]
    silence = np.zeros(round(7.37 * RATE), np.float32)
    assert [note.number for note in heard(np.concatenate((silence, samples)))] == [
        note.number for note in heard(samples)
    ]


README_TUNE = "tempo: {tempo}\nmeter: 3/4\nkey: G major\nvoice A\n  sound: {sound}\n" \
              "  G4 B4 A4 | E4=2 D4 | G4 A4 B4 | A4=3 | B4 A4 G4 | E4 D4 E4 | G4=3 |\n"  # fmt: skip


@pytest.mark.parametrize("sound", PITCHED)
@pytest.mark.parametrize("tempo", [72, 92, 120])
def test_a_tune_comes_back_as_the_sheet_it_was(sound, tempo):
    song = read(README_TUNE.format(tempo=tempo, sound=sound)).song
    notes = heard(played(song).mean(axis=0))
    found = read(arranged(as_imported(notes, guessed_beat(notes, tempo, song.meter))).text).song
    written = [(note.start, note.length, note.number) for note in song.notes]
    again = [(note.start, note.length, note.number) for note in found.notes]
    assert len(set(written) & set(again)) >= len(written) - 1 and abs(len(again) - len(written)) <= 1


@pytest.mark.parametrize("sound", ["plucked string", "hammered string", "wood bars"])
@pytest.mark.parametrize("apart", [3, 4, 7])
def test_two_notes_at_once_are_two_lines(sound, apart):
    numbers = [64, 65, 67, 72, 67, 65, 62, 64, 69, 67]
    song, samples = sound_of(" ".join(f"{number}&{number - apart}" for number in numbers), sound, 100)
    notes = heard(samples)
    assert score(song, notes) >= 0.85
    assert {note.line for note in notes} == {0, 1}
    beat = guessed_beat(notes, 100)
    assert [voice.name for voice in as_imported(notes, beat).song.voices] == ["Heard", "Heard below"]


def test_what_fades_is_told_from_what_is_let_go():
    for sound, fades in (("wood bars", True), ("organ pipe", False)):
        _, samples = sound_of("60 rest=3 64 rest=3 67 rest=3", sound, 120)
        assert [note.fades for note in heard(samples)] == [fades] * 3
