"""Keys: their pitches, their signatures, and the spelling of numbers."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee.theory import SCALES, KeyNameError, PitchName, read_key

CIRCLE = {
    "C": 0, "G": 1, "D": 2, "A": 3, "E": 4, "B": 5, "F#": 6, "C#": 7,
    "F": -1, "Bb": -2, "Eb": -3, "Ab": -4, "Db": -5, "Gb": -6, "Cb": -7,
}  # fmt: skip
TONICS = st.builds(PitchName, st.sampled_from("CDEFGAB"), st.integers(-1, 1))


@pytest.mark.parametrize(("tonic", "signature"), CIRCLE.items())
def test_the_circle_of_fifths(tonic, signature):
    key = read_key(f"{tonic} major")
    sharps = sum(name.accidental for name in key.names)
    assert key.signature == signature == sharps
    minor = PitchName.from_fifths(key.tonic.fifths + 3)
    assert read_key(f"{minor.text} minor").signature == signature


@pytest.mark.parametrize(
    ("key", "names"),
    [
        ("D major", "D E F# G A B C#"),
        ("f# harmonic minor", "F# G# A B C# D E#"),
        ("A melodic minor", "A B C D E F# G#"),
        ("E phrygian", "E F G A B C D"),
        ("Bb mixolydian", "Bb C D Eb F G Ab"),
        ("A minor pentatonic", "A C D E G"),
        ("C blues", "C Eb F Gb G Bb"),
        ("E♭ major", "Eb F G Ab Bb C D"),
        ("G", "G A B C D E F#"),
        ("Dm", "D E F G A Bb C"),
        ("e flat minor", "Eb F Gb Ab Bb Cb Db"),
        ("D G A C E", "D E G A C"),
    ],
)
def test_a_key_has_its_pitches(key, names):
    assert [name.text for name in read_key(key).names] == names.split()


@given(TONICS, st.sampled_from(sorted(SCALES)))
def test_every_key_keeps_its_scale(tonic, scale):
    key = read_key(f"{tonic.text} {scale}")
    assert [(name.pitch_class - tonic.pitch_class) % 12 for name in key.names] == list(SCALES[scale].semitones)
    assert -7 <= key.signature <= 7
    assert read_key(key.text) == key


@given(TONICS, st.sampled_from(sorted(SCALES)), st.integers(0, 127))
def test_numbers_are_spelled_for_the_key(tonic, scale, number):
    key = read_key(f"{tonic.text} {scale}")
    pitch = key.spell(number)
    assert pitch.number == number
    if key.contains(number):
        assert pitch.name in key.names
    else:
        assert abs(pitch.accidental) <= 1


def test_pitches_outside_the_scale_take_the_common_names():
    def names(key):
        return " ".join(read_key(key).spell(number).name.text for number in range(60, 72))

    assert names("C major") == "C C# D Eb E F F# G G# A Bb B"
    assert names("G major") == "C C# D D# E F F# G G# A Bb B"
    assert names("F major") == "C C# D Eb E F F# G Ab A Bb B"
    assert names("E major") == "C C# D D# E F F# G G# A A# B"  # a white key is its letter
    assert names("F# minor") == "C C# D D# E E# F# G G# A A# B"  # but for the leading note
    assert names("C# minor") == "B# C# D D# E F F# G G# A A# B"
    assert names("F# major") == "C C# D D# E E# F# G G# A A# B"  # and what is in the scale


@pytest.mark.parametrize("text", ["", "H major", "G lively", "major", "60", "C## major"])
def test_an_unreadable_key_says_why(text):
    with pytest.raises(KeyNameError, match=r"\w.*\."):
        read_key(text)


@pytest.mark.parametrize(("key", "number", "name"), [
    ("C phrygian", 71, "B4"), ("B locrian", 70, "A#4"), ("F# minor", 65, "E#4"), ("C major", 71, "B4"), ("G# minor", 67, "G4"), ("Db major", 72, "C5"),
])  # fmt: skip
def test_the_semitone_under_the_tonic_is_its_leading_note(key, number, name):
    assert read_key(key).spell(number).text == name


def test_scales_have_other_names_too():
    assert read_key("A natural minor") == read_key("A minor") == read_key("A aeolian")
    assert read_key("C ionian") == read_key("C major")
