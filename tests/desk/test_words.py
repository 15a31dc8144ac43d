"""How the window says numbers and names."""

from fractions import Fraction

import pytest

from chickadee import read
from chickadee.display import words
from chickadee.display.cells import Cells
from chickadee.display.readout import readout_of
from chickadee.display.rows import ROWS, USUAL_ROWS
from chickadee.sheet import CannotEdit


@pytest.mark.parametrize(
    ("length", "said"), [("2", "2"), ("1/2", "½"), ("3/2", "1½"), ("7/12", "7/12"), ("5/3", "1⅔"), ("15/8", "1⅞")]
)
def test_beats(length, said):
    assert words.beats(Fraction(length)) == said


@pytest.mark.parametrize("text", ["1e999999999", "9" * 5000, "1/0", "", "nan", "a", "+", "²"])
@pytest.mark.parametrize("row", ["Beats", "Seconds", "Frequency", "Number", "Above tonic", "Interval", "Step"])
def test_numbers_typed_into_a_cell_that_are_none_are_one_sentence(row, text):
    edit = ROWS[row].edit
    assert edit is not None
    with pytest.raises(CannotEdit) as fault:
        edit(read("C4"), [0], text)
    assert str(fault.value).endswith(".")


def test_clocks_and_counts():
    assert [words.clock(seconds) for seconds in (0, 9.6, 65, 3600)] == ["0:00", "0:10", "1:05", "60:00"]
    assert words.counted(1, "note") == "1 note"
    assert words.counted(1200, "note") == "1,200 notes"
    assert words.counts(read("").song) == "No notes yet"
    assert words.counts(read("rest=2").song) == "No notes yet · 2 beats · 1.0 s"
    assert words.counts(read("C4").song) == "1 note · 1 different pitch · C4 · 1 beat · 0.5 s"


def test_a_black_key_has_both_its_names():
    song = read("F#4 Gb4 E4 E#4 61").song
    assert [words.both_names(song, note) for note in song.notes] == [
        "F♯4 / G♭4",
        "G♭4 / F♯4",
        "E4",
        "E♯4",
        "C♯4 / D♭4",
    ]


def test_drums_go_by_their_names():
    reading = read("voice D\nsound: drum kit\nkick snare&42 40")
    assert [cell.name for cell in Cells(reading, 0).between(0, 10**12)] == ["kick", "snare hat", "40"]
    said = readout_of(reading.song, [0])
    assert (said.name, said.number, said.first_line) == ("kick", "36", "percussion key")
    assert words.counts(reading.song) == "4 notes · 3 beats · 1.5 s"


def test_the_readout_of_chords_rests_and_nothing():
    song = read("title: Reeds\nmeter: 3/4\nC4&E4&G4 | rest A4").song
    chord = readout_of(song, [0, 1, 2])
    assert (chord.name, chord.number, chord.first_line) == ("C major", "60 64 67", "C4 E4 G4")
    assert chord.second_line == "bar 1, beat 1"
    two = readout_of(read("C4&E4").song, [0, 1])
    assert (two.name, two.first_line) == ("C4 E4", "60 64")
    assert readout_of(song, [], tick=8_064_000).name == "rest"
    three = read("C4 D4 E4").song
    assert (readout_of(three, [1, 0, 2]).name, readout_of(three, [1, 0, 2]).second_line) == ("D4", "bar 1, beat 2")
    assert readout_of(song, []).name == "Reeds"
    assert readout_of(read("").song, []).name == "A new tune"


def test_the_rows_have_a_cell_for_each_moment():
    reading = read("voice A\nC4&E4=3/2 - rest=1/2 | F#4\nvoice B\nG3")
    assert [[ROWS[row].text(cell, reading.song) for row in USUAL_ROWS] for cell in Cells(reading, 0).between(0, 10**12)] == [
        ["C4 E4", "60 64", "2½"], ["rest", "", "½"], ["F♯4", "66", "1"]]  # fmt: skip
    assert [cell.tick for cell in Cells(reading, 1).between(0, 10**12)] == [0]
