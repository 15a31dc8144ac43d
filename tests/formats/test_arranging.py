"""What came in as a sheet: on its beats, in few words, and the same tune."""

from __future__ import annotations

import random
from dataclasses import replace
from fractions import Fraction as F
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

import chickadee
from chickadee import read
from chickadee.formats import smf
from chickadee.formats.arranging import arranged
from chickadee.formats.imported import Form, Imported
from chickadee.formats.snapping import snapped
from chickadee.song import TICKS_PER_QUARTER as Q
from songs import songs

TUNES = {path.stem: path for path in (Path(chickadee.__file__).parent / "songs").glob("*.chick")}


def sounding(song):
    return sorted((note.start, note.length, note.number) for note in song.notes)


def words_a_note(text):
    music = [line for line in text.splitlines() if line.startswith("  ") and ":" not in line]
    return sum(len(line.replace("|", " ").split()) for line in music) / len(read(text).song.notes)


def played(song, rng, seconds=0.015, held=0.9):
    """A song as a player would give it: a little early or late, not quite as long, and never equally loud."""

    def off(note):
        start = max(0, note.start + round(rng.gauss(0, seconds) * Q * song.tempo.tempos[0].quarters_per_minute / 60))
        loudness = max(1, min(127, note.loudness + rng.randint(-5, 5)))
        return note._replace(start=start, length=round(note.length * rng.uniform(held, 1)), loudness=loudness)

    return replace(
        song, notes=tuple(sorted(map(off, song.notes), key=lambda note: (note.start, note.voice, note.number)))
    )


@pytest.mark.parametrize("name", sorted(TUNES))
def test_our_own_tunes_come_back_from_midi_as_a_person_would_write_them(name):
    song = read(TUNES[name].read_text("utf-8")).song
    made = arranged(smf.read(smf.write(song)))
    again = read(made.text)
    assert not again.has_errors
    heard = [sorted((note.start, note.sounding, note.number) for note in each.notes) for each in (again.song, song)]
    assert heard[0] == heard[1]
    assert words_a_note(made.text) <= 1.3 and made.moved_worst == 0


@pytest.mark.parametrize("name", ["gull-point", "mill-reach", "reed-island", "fogbank-round"])
@pytest.mark.parametrize("seed", range(3))
def test_a_tune_played_by_hand_is_found_on_its_beats(name, seed):
    song = read(TUNES[name].read_text("utf-8")).song
    made = arranged(Imported(played(song, random.Random(seed)), Form.MIDI))
    again = read(made.text)
    mine = sounding(again.song)
    theirs = sounding(song)
    right = len(set(mine) & set(theirs)) / len(set(theirs))
    assert right >= 0.9, made.text
    assert 0 < made.moved_mean < 40 and words_a_note(made.text) <= 1.3


@given(songs(), st.booleans())
def test_unsnapped_every_note_is_in_the_sheet_to_the_tick(song, phrases):
    made = arranged(Imported(song, Form.MIDI), snap=None, phrases=phrases)
    again = read(made.text).song
    assert sounding(again) == sounding(song)
    assert sorted(note.loudness for note in again.notes) == sorted(note.loudness for note in song.notes)


@given(songs(), st.sampled_from(["auto", F(1, 4)]))
def test_snapped_no_strike_is_lost_and_the_sheet_reads_as_the_song(song, snap):
    made = arranged(Imported(song, Form.MIDI), snap=snap)
    again = read(made.text)
    assert sounding(again.song) == sounding(made.song)
    assert sorted(note.number for note in made.song.notes) == sorted(note.number for note in song.notes)
    assert 0 <= made.moved_mean <= made.moved_worst * 1.000001


def test_a_note_that_hardly_lasts_is_short_but_a_drum_is_not():
    song = read("C4 D4 E4 F4\nvoice Beat\n  sound: drum kit\n  kick snare").song
    notes = tuple(note._replace(length=1) if note.number in (62, 38) else note for note in song.notes)
    made = arranged(Imported(replace(song, notes=notes), Form.MIDI)).song
    lengths = {note.number: note.length / Q for note in made.notes}
    assert (lengths[60], lengths[62], lengths[64], lengths[38]) == (1, 0.25, 1, 1)


def test_swing_is_understood_and_music_without_beat_is_left_alone():
    swung = read("tempo: 120\nswing: 64%\n" + "C4=1/2 D4=1/2 E4=1/2 F4=1/2 " * 6).song
    made = arranged(smf.read(smf.write(swung)))
    assert "swing: 64" in made.text and made.moved_worst < 3
    assert sounding(read(made.text).song) == sounding(swung)
    rng = random.Random(4)
    free = read(" ".join(["C4"] * 40)).song
    notes = tuple(
        note._replace(start=note.start + round(rng.uniform(0, 0.9) * Q), length=Q // 9) for note in free.notes
    )
    kept = snapped(replace(free, notes=notes))
    assert kept.song.notes == notes and "no beat" in kept.said[0]


def test_voices_are_taken_and_bars_that_come_again_are_named_once():
    song = read(
        "voice A\nC4 D4 E4 F4 | G4=4 | C4 D4 E4 F4 | G4=4 | C4 D4 E4 F4 | G4=4 |\nvoice B\nC3=4 | C3=4 |"
    ).song
    made = arranged(Imported(song, Form.MIDI), voices=[1])
    assert "voice B" not in made.text and made.text.count("C4 D4 E4 F4") == 1 and "theme x3" in made.text
    plain = arranged(Imported(song, Form.MIDI), phrases=False)
    assert "phrase" not in plain.text and plain.text.count("C4 D4 E4 F4") == 3
