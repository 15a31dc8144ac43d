"""Keys moved, renamed and changed into other scales."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee.theory import SCALES, Interval, PitchName, read_key

TONICS = st.sampled_from(["C", "G", "D", "A", "E", "B", "F#", "F", "Bb", "Eb", "Ab", "Db"])
SEVEN = sorted(name for name, scale in SCALES.items() if len(scale.semitones) == 7)

# By hand: the usual name of each key a number of semitones above C major and above A minor.
MAJOR = ["C", "Db", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B"]
MINOR = ["A", "Bb", "B", "C", "C#", "D", "Eb", "E", "F", "F#", "G", "G#"]


@pytest.mark.parametrize(("start", "names"), [("C major", MAJOR), ("A minor", MINOR)])
def test_the_twelve_keys_have_their_usual_names(start, names):
    key = read_key(start)
    assert [key.raised_by(semitones)[0].tonic.text for semitones in range(12)] == names
    assert [key.raised_by(semitones - 12)[0].tonic.text for semitones in range(12)] == names
    for semitones in range(-24, 25):
        other, interval = key.raised_by(semitones)
        assert interval.semitones == semitones
        assert key.moved(interval) == other
        assert abs(other.signature) <= 6


@given(TONICS, st.sampled_from(sorted(SCALES)), st.integers(-14, 14))
def test_a_moved_scale_has_the_same_pattern(tonic, scale, semitones):
    key = read_key(f"{tonic} {scale}")
    other, _ = key.raised_by(semitones)
    steps = [(name.pitch_class - key.tonic.pitch_class) % 12 for name in key.names]
    assert [(name.pitch_class - other.tonic.pitch_class) % 12 for name in other.names] == steps
    assert other.tonic.pitch_class == (key.tonic.pitch_class + semitones) % 12
    assert other.scale == key.scale


@given(TONICS, st.sampled_from(SEVEN), st.sampled_from(SEVEN), st.integers(36, 96))
def test_another_mode_and_back_is_the_same_pitch(tonic, first, second, number):
    key = read_key(f"{tonic} {first}")
    other = read_key(f"{tonic} {second}")
    pitch = key.spell(number)
    if key.contains(number):
        there = key.counterpart(pitch, other)
        assert other.contains(there.number) and there.letter == pitch.letter
        assert other.counterpart(there, key) == pitch


def test_a_key_of_spelled_pitches_moves_letter_by_letter():
    key = read_key("C D E G A")
    assert key.moved(Interval(1, 2)).text == "D E F# A B"
    assert key.raised_by(-1)[0].text == "B C# D# F# G#"
    assert key.in_scale(SCALES["dorian"]).text == "C dorian"
    assert read_key("Gb major").tonic == PitchName("G", -1)
