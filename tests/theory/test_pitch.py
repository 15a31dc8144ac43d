"""Pitch names, numbers and frequencies."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee.theory import PitchName, cents_between, frequency, nearest_number, read_pitch_name


@pytest.mark.parametrize(
    ("text", "number"),
    [
        ("C4", 60), ("c4", 60), ("f#3", 54), ("Bb5", 82), ("bb5", 82), ("b5", 83), ("G♯4", 68), ("B♭3", 58),
        ("B#3", 60), ("Cb4", 59), ("C##4", 62), ("Dbb4", 60), ("En4", 64), ("F♮4", 65), ("C-1", 0), ("G9", 127),
        ("BB4", 70), ("bbb4", 69),
    ],
)  # fmt: skip
def test_a_written_pitch_has_its_midi_number(text, number):
    name, octave = read_pitch_name(text)
    assert name.at(octave).number == number


@pytest.mark.parametrize("text", ["", "H4", "C#b4", "4C", "C 4", "C4x", "#4", "C###4", "60", "Cb-", "C4.5", "é4"])
def test_other_text_is_not_a_pitch(text):
    assert read_pitch_name(text) is None


def test_a_letter_alone_has_no_octave():
    assert read_pitch_name("eb") == (PitchName("E", -1), None)


@given(st.integers(-15, 19))
def test_the_line_of_fifths_goes_both_ways(fifths):
    name = PitchName.from_fifths(fifths)
    assert name.fifths == fifths
    assert name.pitch_class == 7 * fifths % 12


@given(st.sampled_from("CDEFGAB"), st.integers(-2, 2), st.integers(0, 127))
def test_the_nearest_pitch_of_a_name_is_within_half_an_octave(letter, accidental, number):
    pitch = PitchName(letter, accidental).nearest(number)
    assert pitch.name == PitchName(letter, accidental)
    assert abs(pitch.number - number) <= 6


@given(st.sampled_from("CDEFGAB"), st.integers(-2, 2), st.integers(-1, 9))
def test_a_written_name_reads_back(letter, accidental, octave):
    pitch = PitchName(letter, accidental).at(octave)
    assert read_pitch_name(pitch.text) == (pitch.name, octave)
    assert read_pitch_name(pitch.pretty) == (pitch.name, octave)


def test_frequencies_by_the_published_table():
    table = {21: 27.5, 60: 261.6256, 64: 329.6276, 69: 440.0, 81: 880.0, 108: 4186.009}
    assert {number: round(frequency(number), 4) for number in table} == table
    assert frequency(69, a4=442) == 442


@given(st.integers(0, 127), st.floats(-49, 49), st.floats(390, 470))
def test_the_nearest_number_is_within_half_a_semitone(number, cents, a4):
    hertz = frequency(number + cents / 100, a4)
    assert nearest_number(hertz, a4) == number
    assert cents_between(frequency(number, a4), hertz) == pytest.approx(cents, abs=1e-6)


@pytest.mark.parametrize("hertz", [0, -1, float("nan"), float("inf")])
def test_no_pitch_without_a_positive_frequency(hertz):
    with pytest.raises(ValueError, match="above zero"):
        nearest_number(hertz)
