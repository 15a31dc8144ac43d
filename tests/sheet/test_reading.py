"""What a sheet says: pitches, lengths, marks, bars and properties."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.song import TICKS_PER_QUARTER as Q
from sheets import sheets


def notes(text):
    """(start in quarters, length in quarters, number) of every note."""
    song = read(text).song
    return [(Fraction(note.start, Q), Fraction(note.length, Q), note.number) for note in song.notes]


def clean(text):
    reading = read(text)
    assert reading.findings == ()
    return reading


def test_names_and_numbers_give_the_same_tune():
    assert notes("60 62 64") == notes("C4 D4 E4") == notes("c D n4".replace(" n4", " E")) == [
        (0, 1, 60), (1, 1, 62), (2, 1, 64)]  # fmt: skip


def test_each_pitch_stays_as_it_was_written():
    names = [note.pitch.text for note in read("key: F major\n70 A#4 Bb4 B#3 Cb4 61").song.notes]
    assert names == ["Bb4", "A#4", "Bb4", "B#3", "Cb4", "C#4"]


def test_names_are_absolute_whatever_the_key():
    assert [note.number for note in clean("key: D major\nF4 F#4 C4").song.notes] == [65, 66, 60]


@pytest.mark.parametrize(
    ("text", "numbers"),
    [
        ("E", [64]),
        ("octave: 5\nE E4", [76, 64]),
        ("octave: 5\nvoice A\nE\nvoice B\noctave: 3\nE", [76, 52]),
    ],
)
def test_a_letter_alone_takes_the_octave_in_force(text, numbers):
    assert sorted(note.number for note in clean(text).song.notes) == sorted(numbers)


@pytest.mark.parametrize(
    ("length", "quarters"),
    [
        ("", 1), ("=2", 2), ("=1/2", Fraction(1, 2)), ("=0.5", Fraction(1, 2)), ("=.25", Fraction(1, 4)),
        ("=1/3", Fraction(1, 3)), ("=3/2", Fraction(3, 2)), ("=2/7", Fraction(2, 7)), ("=whole", 4), ("=half", 2),
        ("=quarter", 1), ("=eighth", Fraction(1, 2)), ("=16th", Fraction(1, 4)), ("=eighth.", Fraction(3, 4)),
        ("=half..", Fraction(7, 2)), ("=bar", 3), ("=4bars", 12),
    ],
)  # fmt: skip
def test_lengths(length, quarters):
    assert notes(f"meter: 3/4\nC4{length} D4") == [(0, quarters, 60), (quarters, 1, 62)]


def test_a_beat_is_the_meters_lower_number():
    assert notes("meter: 6/8\nC4 D4=2 E4=quarter F4=bar") == [
        (0, Fraction(1, 2), 60), (Fraction(1, 2), 1, 62), (Fraction(3, 2), 1, 64), (Fraction(5, 2), 3, 65)]  # fmt: skip


def test_the_tempo_counts_beats_of_the_meter():
    assert read("tempo: 90\nmeter: 6/8\nC4=6").song.seconds == pytest.approx(4)
    assert read("tempo: quarter. = 60\nmeter: 6/8\nC4=6").song.seconds == pytest.approx(2)
    assert read("tempo: quarter. = 60\nmeter: 6/8").song.tempo_in_beats == 180


def test_rests_are_silent_and_holds_go_on():
    assert notes("C4 - rest=2 - D4 | - . E4") == [(0, 2, 60), (5, 2, 62), (8, 1, 64)]


def test_a_hold_lengthens_every_note_of_a_chord_across_a_bar_line():
    reading = read("C4&E4=2 | -=1/2")
    assert {note.length for note in reading.song.notes} == {5 * Q // 2}
    assert [reading.text[start:end] for start, end in reading.song.notes[1].spans] == ["E4", "-=1/2"]


def test_notes_together():
    assert notes("C4&64&G4=2 D4") == [(0, 2, 60), (0, 2, 64), (0, 2, 67), (2, 1, 62)]


def test_accent_and_short():
    loud, short, both, chord, inner, plain = (
        [(note.loudness, note.short) for note in read(text).song.notes]
        for text in (">C4", "'C4", ">'C4", ">C4&E4", "C4&>E4", "C4")
    )
    assert loud == [(96, False)]
    assert short == [(80, True)]
    assert both == [(96, True)]
    assert chord == [(96, False)] * 2
    assert inner == [(80, False), (96, False)]
    assert plain == [(80, False)]
    assert read("'C4=2").song.notes[0].sounding == Q


def test_loudness_from_here_on_and_by_level():
    text = "voice A\nlevel: p\nC4 [mf] C4 >C4 [90] C4 [ff] C4 >C4 >C4\nvoice B\nC3"
    loudness = [note.loudness for note in clean(text).song.notes if note.voice == 0]
    assert loudness == [49, 80, 96, 90, 112, 127, 127]
    assert [voice.level for voice in read(text).song.voices] == [49, 80]


def test_properties_reach_the_song():
    song = clean(
        "title: A // B\ntempo: 92.5\nmeter: 3/4\nkey: D dorian\ntuning: 442\ngap: 0.1\n"
        "voice Low bell // deep\n  sound: Glass  Bell\n  pan: left 40%\n  range: C3 to 60\n  gap: 0\n  C3\nvoice Two\nC3"
    ).song
    assert (song.title, song.tempo_in_beats, song.meter.text, song.key.text, song.tuning) == (
        "A", 92.5, "3/4", "D dorian", 442)  # fmt: skip
    voice = song.voices[0]
    assert (voice.name, voice.sound, voice.pan, voice.range, voice.gap) == (
        "Low bell",
        "glass bell",
        -0.4,
        (48, 60),
        0,
    )
    assert song.voices[1].gap == 0.1


def test_notes_before_any_voice_are_one_called_melody():
    assert [voice.name for voice in clean("C4\nvoice Two\nD4").song.voices] == ["Melody", "Two"]


def test_comments_are_left_out_wherever_they_begin():
    assert notes("// C4\nC4 // D4 |\n  //E4\nD4") == [(0, 1, 60), (1, 1, 62)]


@pytest.mark.parametrize("text", ["", "\n\n  \n", "// only words", "title: Nothing yet", "voice A", "|  ||"])
def test_a_sheet_without_notes_is_a_song_without_notes(text):
    reading = clean(text)
    assert reading.song.notes == ()
    assert reading.song.seconds == 0


def test_notes_stand_in_order_of_start_then_voice_then_number():
    reading = read("voice A\nG4&C4 E4\nvoice B\nA3=1/2 B3")
    assert [(n.start, n.voice, n.number) for n in reading.song.notes] == sorted(
        (n.start, n.voice, n.number) for n in reading.song.notes
    )


def test_text_and_notes_find_each_other():
    reading = read("C4 >D4=2 - E4&G4")
    assert reading.notes_at(0, 0) == [0]
    assert reading.notes_at(3, 8) == [1]
    assert reading.notes_at(9, 9) == [1]
    assert reading.notes_at(14, 14) == [3]
    assert reading.notes_at(0, 16) == [0, 1, 2, 3]
    assert reading.notes_at(2, 3) == []
    assert [reading.text_of(note) for note in reading.song.notes] == ["C4", ">D4=2", "E4", "G4"]
    assert read("a\nbc").place(3) == (2, 2)


@given(sheets(), st.data())
def test_the_notes_of_a_stretch_of_text_are_those_whose_spans_touch_it(text, data):
    reading = read(text)
    start = data.draw(st.integers(0, len(reading.text)))
    end = data.draw(st.integers(start, len(reading.text)))

    def touches(span):
        return span[1] >= start >= span[0] if start == end else span[1] > start and span[0] < end

    expected = [index for index, note in enumerate(reading.song.notes) if any(map(touches, note.spans))]
    assert reading.notes_at(start, end) == expected


def test_arrays_are_the_notes_as_columns():
    arrays = read("C4 E4&G4=2").song.arrays
    assert arrays.start.tolist() == [0, Q, Q]
    assert arrays.length.tolist() == [Q, 2 * Q, 2 * Q]
    assert arrays.number.tolist() == [60, 64, 67]
    assert read("").song.arrays.number.shape == (0,)
