"""The whole language: phrases, groups, changes, steps, chords, directions and the rules of time."""

from __future__ import annotations

import math
from fractions import Fraction as F

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.sheet import apply_edits
from chickadee.sheet.edits import set_property
from chickadee.song import TICKS_PER_QUARTER as Q


def clean(text):
    reading = read(text)
    assert [finding.message for finding in reading.findings] == []
    return reading


def tune(text, voice=0):
    """(name, start, length) of a voice's notes, in quarters."""
    song = clean(text).song
    return [(note.pitch.text, F(note.start, Q), F(note.length, Q)) for note in song.notes if note.voice == voice]


def names(text, voice=0):
    return " ".join(name for name, _, _ in tune(text, voice))


def phrase(changes, body="C4 D4 E4 F4", more=""):
    return names(f"{more}phrase p\n{body}\nvoice V\np {changes}")


# Phrases and groups


def test_the_first_example_of_the_reference():
    text = """title: Gull Point landing
tempo: 92
meter: 3/4
key: G major

phrase call
  G4 B4 A4 | E4=2 D4 | G4 A4 C5 | B4=3 |

phrase reply
  69 72 71 | 67=2 64 | 62=1/2 64=1/2 67 66 | 67=3 |

voice Whistle
  sound: flute
  call reply call (reply up 1 octave)

voice Buoys
  sound: glass bell
  level: p
  ({G}=bar | {C}=bar | {D}=bar | {G}=bar |) to the end
"""
    song = clean(text).song
    assert song.seconds == pytest.approx(48 * 60 / 92)
    whistle = names(text).split()
    assert whistle[:10] == ["G4", "B4", "A4", "E4", "D4", "G4", "A4", "C5", "B4", "A4"]
    assert whistle[-10:] == ["A5", "C6", "B5", "G5", "E5", "D5", "E5", "G5", "F#5", "G5"]
    assert [voice.end for voice in song.voices] == [48 * Q, 48 * Q]
    assert names(text, 1).split()[:9] == ["G4", "B4", "D5", "C4", "E4", "G4", "D4", "F#4", "A4"]


def test_a_phrase_expands_as_if_typed_and_every_use_remembers_its_ink():
    reading = clean("phrase p\nC4 D4\nvoice V\np p\n- p")
    assert [note.number for note in reading.song.notes] == [60, 62] * 3
    assert {reading.text_of(note) for note in reading.song.notes[::2]} == {"C4"}
    assert reading.song.notes[3].length == 2 * Q
    assert reading.notes_at(9, 9) == [0, 2, 4]


def test_a_phrase_s_directions_last_on_and_its_octave_is_its_own():
    song = clean("octave: 5\nphrase p\noctave: 3\n[ff] C\nphrase q\nC\nvoice V\nC p C q\nvoice W\noctave: 2\nq").song
    assert [(note.number, note.loudness) for note in song.notes if note.voice == 0] == [
        (72, 80),
        (48, 112),
        (72, 112),
        (72, 112),
    ]
    assert [note.number for note in song.notes if note.voice == 1] == [36]


def test_phrases_may_stand_after_the_voices_that_use_them():
    assert names("voice V\nlater\nphrase later\nE4") == "E4"


def test_phrases_that_no_voice_uses_are_checked_inside_only():
    text = "phrase p\nC4 | C4 D4 | C4=4 |\nphrase q\nC4 | D4=4 | E4\nvoice V\nG4"
    assert [(finding.code, text[finding.start : finding.end]) for finding in read(text).findings] == [
        ("bar-length", "D4 |")
    ]


def test_one_finding_a_place_however_often_a_phrase_is_used():
    reading = read("phrase p\nC4 D4 | H4=2 |\nvoice V\np p p")
    assert [finding.code for finding in reading.findings] == ["bar-length", "not-understood", "bar-length"]


@pytest.mark.parametrize(
    ("written", "expected"),
    [
        ("(C4 D4) x3", "C4 D4 C4 D4 C4 D4"),
        ("(C4 (D4 E4) x2) x2", "C4 D4 E4 D4 E4 C4 D4 E4 D4 E4"),
        ("(C4\nD4\n) up 2", "D4 E4"),
        ("(C4 D4) x0 E4", "E4"),
    ],
)
def test_groups(written, expected):
    assert names(written) == expected


@pytest.mark.parametrize(
    ("changes", "expected"),
    [
        ("up 5", "F4 G4 A4 Bb4"),
        ("down 1 octave", "C3 D3 E3 F3"),
        ("up 2 steps", "E4 F4 G4 A4"),
        ("on ^1 ^3", "C4 D4 E4 F4 E4 F4 G4 A4"),
        ("backwards", "F4 E4 D4 C4"),
        ("upside-down", "C4 B3 A3 G3"),
        ("x2 up 1 octave", "C5 D5 E5 F5 C5 D5 E5 F5"),
        ("backwards upside-down", "F4 G4 A4 B4"),
        ("upside-down backwards", "G3 A3 B3 C4"),
        ("up 2 steps upside-down", "E4 D4 C4 B3"),
        ("upside-down up 2 steps", "E4 D4 C4 B3"),
        ("up 5 down 5", "C4 D4 E4 F4"),
    ],
)
def test_changes_go_from_left_to_right(changes, expected):
    assert phrase(changes) == expected


def test_steps_are_of_the_key_in_force_at_each_note():
    text = "phrase p\nD4 F#4\nvoice V\n[key D major] p up 1 steps [key D minor] (D4 F4) up 1 steps"
    assert names(text) == "E4 G4 E4 G4"
    assert phrase("up 1 steps", "C#4 F#4 C5", "key: A minor pentatonic\n") == "D#4 A4 D5"


def test_stretched_and_squeezed():
    assert tune("(C4 D4=1/2) stretched 2") == [("C4", 0, 2), ("D4", 2, 1)]
    assert tune("(C4 D4=1/2) squeezed 2 E4") == [("C4", 0, F(1, 2)), ("D4", F(1, 2), F(1, 4)), ("E4", F(3, 4), 1)]


def test_backwards_keeps_holds_behind_their_notes():
    assert tune("(C4 - D4 rest E4=1/2) backwards") == [("E4", 0, F(1, 2)), ("D4", F(3, 2), 1), ("C4", F(5, 2), 2)]


@pytest.mark.parametrize(
    ("written", "expected"),
    [
        ("((C4 D4)=1 -) backwards", [("D4", 0, F(3, 2)), ("C4", F(3, 2), F(1, 2))]),
        ("((C4 D4)=1 -) backwards backwards", [("C4", 0, F(1, 2)), ("D4", F(1, 2), F(3, 2))]),
        ("(C4 [f] - D4) backwards", [("D4", 0, 1), ("C4", 1, 2)]),
        ("((C4 (D4 E4)=1)=1 - F4)=2 backwards", [
            ("F4", 0, F(2, 3)), ("E4", F(2, 3), F(5, 6)), ("D4", F(3, 2), F(1, 6)), ("C4", F(5, 3), F(1, 3))]),
        ("((C4 D4)=1 stretched 2 E4)=1", [("C4", 0, F(1, 3)), ("D4", F(1, 3), F(1, 3)), ("E4", F(2, 3), F(1, 3))]),
    ],
)  # fmt: skip
def test_what_is_fitted_keeps_its_lengths_whatever_is_done_to_it(written, expected):
    assert tune(written) == expected


def test_a_change_may_follow_a_single_note_or_chord():
    assert names("C4 x3 D4") == "C4 C4 C4 D4"
    assert names("{Am} up 2 C4=2 on ^1 ^3 rest x2 D4 up 1 octave") == "B4 D5 F#5 C4 E4 D5"
    assert names("C4 on 0 -3 5 7 60") == "C4 A3 F4 G4 C4"


def test_fitted_groups_are_tuplets():
    third = F(2, 3)
    assert tune("(C4 D4 E4)=2 F4") == [("C4", 0, third), ("D4", third, third), ("E4", 2 * third, third), ("F4", 2, 1)]
    assert tune("(C4=1/2 (D4 E4 F4)=1/2)=2") == [
        ("C4", 0, 1), ("D4", 1, F(1, 3)), ("E4", F(4, 3), F(1, 3)), ("F4", F(5, 3), F(1, 3))]  # fmt: skip
    assert tune("meter: 3/4\n(C4 - D4 | E4)=bar") == [
        ("C4", 0, F(3, 2)),
        ("D4", F(3, 2), F(3, 4)),
        ("E4", F(9, 4), F(3, 4)),
    ]
    assert tune("((C4 D4 E4)=2 F4) backwards")[0] == ("F4", 0, 1)
    assert [length for _, _, length in tune("((C4 D4 E4)=2 F4=2) squeezed 2")] == [F(1, 3)] * 3 + [1]


def test_to_the_end_repeats_until_the_longest_other_voice_ends():
    text = "voice A\nC4=7\nvoice B\n(E4=2 F4=1) to the end G4"
    assert tune(text, 1) == [("E4", 0, 2), ("F4", 2, 1), ("E4", 3, 2), ("F4", 5, 1), ("E4", 6, 1), ("G4", 7, 1)]
    assert tune("voice A\nC4\nvoice B\nD4=3 (E4) to the end", 1) == [("D4", 0, 3)]


def test_the_edges_of_what_is_repeated_to_the_end():
    assert tune("C3=bar | (-=bar |) to the end\nvoice B\nC4=10") == [("C3", 0, 10)]
    reading = read("((E4 F4) to the end)=4\nvoice B\nC4=10")
    assert [(note.start // Q, note.length // Q) for note in reading.song.notes if not note.voice] == [(0, 2), (2, 2)]
    assert [finding.message for finding in reading.findings] == [
        "What is fitted into a length cannot be repeated to the end; it is played once here."
    ]


def test_a_change_of_tempo_that_goes_the_other_way_than_its_word_is_said():
    text = "tempo: 60\nC4 [slow to 120 over 4] D4\nvoice V\nrest [slow to 120 over 4]"
    (finding,) = read(text).findings
    assert finding.message == "The tempo is 60 here, so “slow” goes the other way."
    mended = apply_edits(text, finding.fixes[0].edits)
    assert mended == text.replace("slow", "quicken") and read(mended).findings == ()


def test_a_tune_without_a_voice_line_has_its_voice_s_properties_at_its_top():
    reading = clean("sound: reed pipe\nrange: C4 to C5\npan: left\nC4 D4")
    assert (reading.song.voices[0].sound, reading.song.voices[0].pan) == ("reed pipe", -1.0)
    assert apply_edits(reading.text, set_property(reading, "sound", "flute", 0)).startswith("sound: flute\n")
    assert read("sound: flute\nC4\nvoice V\nD4").has_errors


def test_drums_are_never_moved():
    song = clean(
        "phrase beat\nkick snare 42 open-hat\nvoice D\nsound: drum kit\nbeat (beat up 7) (beat up 2 steps) beat upside-down"
    ).song
    assert [note.number for note in song.notes] == [36, 38, 42, 46] * 4


# Pitches


def test_steps_frequencies_and_their_defaults():
    assert names("key: G major\n^1 ^2 ^7 ^8 ^4# ^3b") == "G4 A4 F#5 G5 C#5 Bb4"
    assert names("octave: 3\nkey: A minor pentatonic\n^1 ^5 ^6") == "A3 G4 A4"
    assert names("440Hz 261.63hz 446Hz".replace("446Hz", "441Hz")) == "A4 C4 A4"
    assert names("tuning: 442\n442Hz") == "A4"
    assert "23 cents above A4" in read("446Hz").findings[0].message


def test_moved_names_are_respelled_for_the_key_and_numbers_too():
    assert phrase("up 1", more="key: F major\n") == "C#4 Eb4 F4 F#4"
    assert phrase("up 1", "60 62 64", "key: D major\n") == "C#4 D#4 F4"


@pytest.mark.parametrize(
    ("chord", "expected"),
    [
        ("{Am}", "A4 C5 E5"), ("{Am 3}", "A3 C4 E4"), ("{C/E}", "E3 C4 E4 G4"), ("{F#dim}", "F#4 A4 C5"),
        ("{Bbmaj7}", "Bb4 D5 F5 A5"), ("{Dsus4}", "D4 G4 A4"), ("{Caug}", "C4 E4 G#4"), ("{Bm7b5 3}", "B3 D4 F4 A4"),
        ("{G9 3}", "G3 B3 D4 F4 A4"), ("{Cadd9}", "C4 E4 G4 D5"), ("{C6}", "C4 E4 G4 A4"), ("{C}&C6", "C4 E4 G4 C6"),
    ],
)  # fmt: skip
def test_chord_symbols(chord, expected):
    assert names(chord) == expected


def test_chords_move_by_root_or_each_note_by_steps():
    assert names("({C/E} {Am}) up 2") == "F#3 D4 F#4 A4 B4 D5 F#5"
    assert names("({C}) up 1 steps") == "D4 F4 A4"
    assert names("({G7}) down 1 octave") == "G3 B3 D4 F4"


def test_broken_and_strummed_chords():
    assert tune("{C rising}=3") == [("C4", 0, 1), ("E4", 1, 1), ("G4", 2, 1)]
    assert names("{C falling}=3") == "G4 E4 C4"
    assert tune("{C there and back}=2") == [
        ("C4", 0, F(1, 2)),
        ("E4", F(1, 2), F(1, 2)),
        ("G4", 1, F(1, 2)),
        ("E4", F(3, 2), F(1, 2)),
    ]
    assert tune("{Am rising by 1/3}=2")[3:5] == [("A4", 1, F(1, 3)), ("C5", F(4, 3), F(1, 3))]
    assert len(tune("{Am rising by 1/3}=3")) == 9
    strum = tune("{C strum}=2")
    assert [name for name, _, _ in strum] == ["C4", "E4", "G4"]
    assert 0 < strum[1][1] < F(1, 16)
    assert {start + length for _, start, length in strum} == {2}


# Directions


def loudness(text):
    return [note.loudness for note in clean(text).song.notes]


def test_louder_and_softer_run_evenly_to_the_next_loudness():
    assert loudness("[p] C4 [louder] C4 C4 C4 C4 [113] C4") == [49, 49, 65, 81, 97, 113]
    assert loudness("[f] [softer] C4 >C4 [p] C4") == [96, 88, 49]
    assert loudness("[mf] [louder] C4 C4") == [80, 88]


def test_vary_is_always_the_same_for_the_same_sheet():
    levels = loudness("[vary 6] " + "C4 " * 200)
    assert levels == loudness("[vary 6] " + "C4 " * 200)
    assert set(levels) == set(range(74, 87))


def test_stress_is_loudness_by_beat_or_by_pulse():
    assert loudness("meter: 3/4\nvoice V\nstress: 90 60 70\nC4 C4 C4=1/2 C4=1/2 | [f] C4") == [90, 60, 70, 70, 108]
    assert loudness("meter: 6/8\nvoice V\nstress: 90 60\n" + "C4 " * 6) == [90] * 3 + [60] * 3


def test_song_wide_directions_reach_every_voice():
    text = "voice A\nC4=4 [meter 3/8] [key D major] C4=bar C4=bar\nvoice B\n(E4=2) x2 | ^1=bar | ^1 ^3 ^5 |"
    assert tune(text, 1)[2:] == [
        ("D4", 4, F(3, 2)),
        ("D4", F(11, 2), F(1, 2)),
        ("F#4", 6, F(1, 2)),
        ("A4", F(13, 2), F(1, 2)),
    ]
    assert [meter.text for _, meter in clean(text).song.grid.changes] == ["4/4", "3/8"]
    same = clean(text.replace("x2 |", "x2 | [meter 3/8]")).song
    assert timing(same) == timing(clean(text).song)


def test_a_meter_change_keeps_the_quarter_note_s_speed():
    song = clean("tempo: 60\nC4=4 [meter 6/8] C4=6").song
    assert song.seconds == pytest.approx(4 + 3)
    assert clean("tempo: 60\n[meter 6/8] [tempo 60] C4=6").song.seconds == pytest.approx(6)


def test_tempo_changes_and_ramps_take_their_time():
    song = clean("tempo: 60\nC4=2 [tempo 120] C4=2 [slow to 60 over 4] C4=4 C4").song
    ramp = 60 * 4 / (60 - 120) * math.log(60 / 120)
    starts = song.tempo.seconds([note.start for note in song.notes])
    assert starts.tolist() == pytest.approx([0, 2, 3, 3 + ramp])
    assert song.seconds == pytest.approx(4 + ramp)


def test_swing_bends_seconds_not_ticks():
    song = clean("tempo: 60\nswing: 60%\nC4=1/2 C4=1/2 C4=1/4 C4=3/4").song
    assert [F(note.start, Q) for note in song.notes] == [0, F(1, 2), 1, F(5, 4)]
    assert song.tempo.seconds([note.start for note in song.notes]).tolist() == pytest.approx([0, 0.6, 1, 1.3])
    later = clean("tempo: 60\nC4=1/2 C4=1/2 [swing 66%] C4=1/2 C4=1/2").song
    assert later.tempo.seconds([note.start for note in later.notes]).tolist() == pytest.approx([0, 0.5, 1, 1.66])


def test_pedal_and_sounds_of_a_voice():
    voice = clean("voice V\n[pedal] C4 D4 [pedal] E4 [lift] F4 [sound sine] G4").song.voices[0]
    assert voice.pedals == ((0, 2 * Q), (2 * Q, 3 * Q))
    assert voice.sounds == ((4 * Q, "sine"),)
    assert (voice.sound_at(0), voice.sound_at(4 * Q)) == ("flute", "sine")
    assert (voice.released(Q), voice.released(2 * Q), voice.released(4 * Q)) == (2 * Q, 3 * Q, 4 * Q)


def test_words_lie_under_the_notes_struck():
    notes = clean("C4 rest D4 - E4&G4 F4\nwords: Gull Or-rin _\n").song.notes
    assert [note.syllable for note in notes] == ["Gull", "Or-", "rin", "rin", ""]


# Rules


def test_ticks_make_plain_numbers_count_parts_of_the_opening_beat():
    assert tune("ticks: 4\npickup: 1\nC4=2 D4 E4=half F4=bar") == [
        ("C4", 0, F(1, 2)),
        ("D4", F(1, 2), 1),
        ("E4", F(3, 2), 2),
        ("F4", F(7, 2), 4),
    ]


def test_a_pickup_shortens_bar_0_and_the_last_bar_may_be_short_by_it():
    reading = clean("meter: 3/4\npickup: 1\nC4 | D4 E4 F4 | G4=2 |")
    places = [reading.song.grid.place(note.start) for note in reading.song.notes]
    assert [(place.bar, place.beat) for place in places] == [(0, 1), (1, 1), (1, 2), (1, 3), (2, 1)]
    faulty = read("meter: 3/4\npickup: 1\nC4 D4 | E4=3 |")
    assert [finding.message for finding in faulty.findings] == ["The pickup holds 2 beats, it should hold 1."]


def test_names_that_read_as_something_else_cannot_name_a_phrase():
    for name in ("c4", "B", "60", "rest", "snare", "up", "x", "octave", "^5"):
        assert [finding.code for finding in read(f"phrase {name}\nC4").findings] == ["block-name"], name
    for name in ("call", "répondre", "A-part", "call2", "bad"):
        assert read(f"phrase {name}\nC4\nvoice V\n{name}").findings == (), name


def test_phrases_in_a_circle_are_an_error_and_the_rest_sounds():
    reading = read("phrase a-one\nC4 b-two\nphrase b-two\nD4 a-one\nvoice V\na-one E4")
    assert [finding.code for finding in reading.findings] == ["uses-itself"]
    assert [note.number for note in reading.song.notes] == [60, 62, 64]


def test_a_deep_or_huge_nest_of_groups_is_refused_at_once():
    reading = read("((((C4) x999) x999) x999) x999")
    assert [finding.code for finding in reading.findings] == ["too-large"]
    deep = read("(" * 500 + "C4" + ")" * 500)
    assert {finding.code for finding in deep.findings} == {"group"}


LETTERS = st.sampled_from("CDEFGAB")
NOTES = st.builds(lambda letter, sign, octave, length: f"{letter}{sign}{octave}{length}", LETTERS, st.sampled_from(["", "", "#", "b"]),
                  st.integers(3, 5), st.sampled_from(["", "=2", "=1/2", "=1/3"]))  # fmt: skip
BODIES = st.lists(NOTES, min_size=1, max_size=8).map(" ".join)
KEYS = st.sampled_from(["C major", "G major", "Eb major", "A minor", "F# minor", "D dorian", "B locrian"])


def timing(song):
    return [(note.start, note.length, note.number) for note in song.notes]


@given(BODIES, KEYS, st.integers(1, 12))
def test_up_and_down_undo_each_other(body, key, by):
    plain = read(f"key: {key}\n{body}").song
    for unit in ("", " octaves" if by < 3 else "", " steps"):
        assert timing(read(f"key: {key}\n({body}) up {by}{unit} down {by}{unit}").song) == timing(plain)


@given(BODIES, KEYS)
def test_reversing_twice_and_stretching_back_change_nothing(body, key):
    plain = timing(read(f"key: {key}\n{body}").song)
    assert timing(read(f"key: {key}\n({body}) backwards backwards").song) == plain
    assert timing(read(f"key: {key}\n({body}) stretched 3/2 squeezed 3/2").song) == plain


@given(st.lists(st.integers(1, 14), min_size=1, max_size=8), KEYS)
def test_mirroring_twice_in_the_key_changes_nothing(steps, key):
    body = " ".join(f"^{step}" for step in steps)
    plain = timing(read(f"key: {key}\n{body}").song)
    assert timing(read(f"key: {key}\n({body}) upside-down upside-down").song) == plain


@given(BODIES, st.integers(1, 6))
def test_a_fitted_group_lasts_its_length(body, beats):
    song = read(f"({body})={beats}").song
    assert song.end == beats * Q or any(
        finding.code == "length-fit" for finding in read(f"({body})={beats}").findings
    )
