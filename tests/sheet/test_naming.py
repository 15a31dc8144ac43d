"""Pitches named in three traditions: read, written, moved and turned from one to another."""

from __future__ import annotations

from dataclasses import replace
from importlib.resources import files

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee.checks import checked_reading
from chickadee.reshape.transposing import by_semitones
from chickadee.sheet import Severity, apply_edits, edits, read
from chickadee.sheet.renaming import renamed
from chickadee.sheet.writing import write_song
from chickadee.theory import NAMINGS, Naming, PitchName, read_key
from chickadee.theory.pitch import LETTERS
from songs import songs

TUNES = [each.read_text("utf-8") for each in sorted((files("chickadee") / "songs").iterdir(), key=str)
         if each.name.endswith(".chick")]  # fmt: skip


def plain(song):
    return [note._replace(spans=()) for note in song.notes]


@given(st.sampled_from(LETTERS), st.integers(-2, 2), st.sampled_from(NAMINGS), st.sampled_from([None, -1, 4, 9]))
def test_every_name_is_read_as_it_is_written(letter, accidental, naming, octave):
    name = PitchName(letter, accidental)
    written = naming.text(name) + ("" if octave is None else str(octave))
    for text in (written, written.lower(), written.upper() if naming is not Naming.LETTERS else written):
        assert naming.read(text) == (name, octave)


@pytest.mark.parametrize(
    ("names", "line"),
    [
        ("letters", "C4 F#4=2 Bb3 B3 Eb5 Ab4&C5 {Am} 60 ^3 >'D5"),
        ("h", "C4 Fis4=2 B3 H3 Es5 As4&C5 {Am} 60 ^3 >'D5"),
        ("do re mi", "do4 fa#4=2 sib3 si3 mib5 lab4&do5 {Am} 60 ^3 >'re5"),
    ],
)
def test_a_tune_typed_in_three_traditions_is_the_same(names, line):
    usual = read("meter: 11/4\nC4 F#4=2 Bb3 B3 Eb5 Ab4&C5 {Am} 60 ^3 >'D5 |").song
    reading = read(f"names: {names}\nmeter: 11/4\n{line} |")
    assert plain(reading.song) == plain(usual) and not reading.findings


@given(songs(), st.sampled_from(NAMINGS))
def test_any_song_written_in_any_tradition_reads_as_the_same(song, naming):
    again = read(write_song(replace(song, naming=naming)))
    assert plain(again.song) == plain(read(write_song(song)).song)
    assert again.song.naming == naming.in_key(again.song.key)


@pytest.mark.parametrize("text", TUNES)
@pytest.mark.parametrize("naming", NAMINGS[1:])
def test_a_sheet_turned_to_another_tradition_and_back_is_the_same_music(text, naming):
    before = checked_reading(text)
    turned = checked_reading(apply_edits(text, renamed(before, naming)))
    assert plain(turned.song) == plain(before.song)
    assert [finding.code for finding in turned.findings] == [finding.code for finding in before.findings]
    back = read(apply_edits(turned.text, renamed(turned, Naming.LETTERS)))
    assert plain(back.song) == plain(before.song)
    assert renamed(turned, naming) == []


@pytest.mark.parametrize("text", TUNES)
@pytest.mark.parametrize("naming", NAMINGS[1:])
@pytest.mark.parametrize("semitones", [1, -3, 7])
def test_what_is_moved_keeps_its_tradition(text, naming, semitones):
    reading = read(text)
    turned = read(apply_edits(text, renamed(reading, naming)))
    usual = read(apply_edits(text, by_semitones(reading, semitones))).song
    moved = read(apply_edits(turned.text, by_semitones(turned, semitones)))
    assert [(note.start, note.number) for note in moved.song.notes] == [
        (note.start, note.number) for note in usual.notes
    ]
    assert moved.song.naming == naming.in_key(moved.song.key)
    assert not [finding for finding in moved.findings if finding.severity is Severity.ERROR]


def test_single_notes_that_are_edited_keep_their_tradition():
    reading = read("names: h\nkey: F major\nvoice A\n  F4 B4 A4 | H4=2 C5")
    assert "G4 C5 A4" in apply_edits(reading.text, edits.move_pitch(reading, [0, 1], 2))
    assert "B4=2" in apply_edits(reading.text, edits.move_pitch(reading, [3], -1))
    assert "H4" in apply_edits(reading.text, edits.move_pitch(reading, [1], 1))


def test_what_is_no_name_in_a_tradition_is_said():
    assert read("names: do re mi\nC4 do4").findings[0].code == "not-understood"
    assert read("names: h\nBb4").findings[0].code == "not-understood"
    assert "letters, h" in read("names: solfa\nC4").findings[0].message


PROPERTIES = """names: {names}
keys: q {C4}, a {B3}, left {E4}&{G4}, e {{Am}}, 1 snare, space call
keys evening: q {Bb3}
phrase call
  60
voice Pipe
  range: {B3} to {C7}
  allow: {B} {C} {F#} {Bb4}
  60 |
"""


@pytest.mark.parametrize("naming", NAMINGS)
def test_properties_name_pitches_as_the_sheet_does_and_are_turned_with_it(naming):
    def text(tradition):
        names = {}
        for written in ("C4", "B3", "E4", "G4", "Bb3", "C7", "B", "C", "F#", "Bb4"):
            name, octave = Naming.LETTERS.read(written)
            names[written] = tradition.text(name) + ("" if octave is None else str(octave))
        return PROPERTIES.format(names=tradition.value, **names)

    letters = read(text(Naming.LETTERS))
    reading = read(text(naming))
    assert not reading.findings and not letters.findings
    (pipe,) = reading.song.voices
    (usual,) = letters.song.voices
    assert pipe.range == usual.range == (59, 96) and pipe.allow == usual.allow == {-1, -12, -6, 70}
    both = (reading.sheet.settings, letters.sheet.settings)
    numbers = [[key.numbers for key in settings.keys] for settings in both]
    assert numbers[0] == numbers[1] == [(60,), (59,), (64, 67), (69, 72, 76), (38,), ()]
    assert [settings.key_sets[0][1][0].numbers for settings in both] == [(58,), (58,)]
    for other in NAMINGS:
        turned = apply_edits(reading.text, renamed(reading, other))
        assert turned == text(other)
    head, names = text(naming).split("\n", 1)
    later = names.replace("phrase call", f"{head}\nphrase call")  # said further down in the head
    assert read(later).song.voices[0].range == usual.range
    written = read(write_song(reading.song))
    assert written.song.voices[0].range == usual.range and written.song.voices[0].allow == usual.allow


def test_letters_are_read_in_properties_of_any_tradition():
    reading = read("names: do re mi\nkeys: q C4\nvoice Pipe\n  range: D5 to do7\n  do6 |")
    assert reading.song.voices[0].range == (74, 96) and not reading.findings
    assert reading.sheet.settings.keys[0].numbers == (60,)


@given(st.sampled_from(["G major", "E minor", "D dorian", "Eb major", "F# minor", "A harmonic minor", "C major pentatonic"]),
       st.sampled_from(LETTERS), st.integers(-1, 1), st.sampled_from([None, 3]))  # fmt: skip
def test_moving_syllables_are_read_as_they_are_written_and_do_is_the_tonic_or_its_third(
    key, letter, accidental, octave
):
    key = read_key(key)
    name = PitchName(letter, accidental)
    naming = Naming.MOVING.in_key(key)
    assert naming.read(naming.text(name) + ("" if octave is None else str(octave))) == (name, octave)
    assert naming.text(key.tonic) in ("la", "re", "do") and naming.read("x") is None
    major = Naming.MOVING.in_key(read_key("Bb major"))
    assert [major.pretty(each) for each in read_key("Bb major").names] == ["do", "re", "mi", "fa", "sol", "la", "ti"]


def test_a_moving_do_moves_with_the_key():
    reading = read("names: moving do\nkey: G major\nvoice A\n  do4 re4 mi4 fa5 fa#5 {Am} ti4 |")
    assert [note.pitch.text for note in reading.song.notes if note.number != 64][:5] == [
        "G4",
        "A4",
        "B4",
        "C5",
        "C#5",
    ]
    moved = apply_edits(reading.text, by_semitones(reading, 2))
    assert "key: A major" in moved and "do4 re4 mi5 fa5 fa#5 {Bm} ti4" in moved  # octaves are counted from C
    assert [note.number for note in read(moved).song.notes] == [note.number + 2 for note in reading.song.notes]
    other = read(reading.text.replace("G major", "F major"))
    assert other.song.notes[0].pitch.text == "F4"
    later = read("key: G major\n" + reading.text.replace("key: G major\n", ""))
    assert [note.number for note in later.song.notes] == [note.number for note in reading.song.notes]
