"""The beat of what was heard, and its sheet."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee.formats.arranging import arranged
from chickadee.hearing.notes import HeardNote
from chickadee.hearing.tempo import as_imported, guessed_beat, guessed_beats
from chickadee.sheet import read
from chickadee.song import Meter


def notes_at(tempo, first, beats, numbers=None):
    ends = [*beats[1:], beats[-1] + 1]
    return [
        HeardNote(first + start * 60 / tempo, (end - start) * 60 / tempo * 0.95, number, 0.0, 80, 1.0)
        for start, end, number in zip(beats, ends, numbers or [60] * len(beats), strict=True)
    ]


@given(st.integers(70, 150), st.floats(0, 3), st.integers(0, 10_000))
def test_two_proposals_are_an_octave_apart_or_so_and_a_known_tempo_is_kept_to(tempo, first, seed):
    chance = random.Random(seed)
    beats = [0.0]
    for _ in range(24):
        beats.append(beats[-1] + chance.choice((0.5, 1, 1, 1, 2)))
    notes = notes_at(tempo, first, beats)
    one, other = (each.tempo / each.meter.lower for each in guessed_beats(notes)[:2])
    assert max(one, other) / min(one, other) > 1.1
    known = guessed_beat(notes, tempo, Meter(), first)
    assert known.tempo == tempo and known.first == pytest.approx(first, abs=0.001)
    assert known.meant([note.start for note in notes]).tolist() == pytest.approx(beats, abs=0.001)
    assert known.at([first + 2.5 * 60 / tempo]) == pytest.approx([2.5], abs=0.01)


def test_the_sheet_is_what_was_played():
    notes = notes_at(92, 1.25, [0, 1, 2, 3, 5, 6, 7, 8, 9], [67, 71, 69, 64, 62, 67, 69, 72, 71])
    made = arranged(as_imported(notes, guessed_beat(notes, 92, Meter(3, 4), 1.25))).text
    song = read(made).song
    assert song.meter.text == "3/4" and song.tempo_in_beats == 92
    assert [note.pitch.text for note in song.notes] == ["G4", "B4", "A4", "E4", "D4", "G4", "A4", "C5", "B4"]
    assert "E4=2 D4" in made


def test_what_is_before_bar_one_is_a_pickup():
    notes = notes_at(120, 2.0, [-1, 0, 1, 2, 3, 4, 5])
    found = as_imported(notes, guessed_beat(notes, 120, Meter(), 2.0)).song
    places = [found.grid.place(note.start) for note in found.notes]
    assert [(place.bar, place.beat) for place in places] == [
        (0, 1),
        *((1, 1 + beat) for beat in range(4)),
        (2, 1),
        (2, 2),
    ]
    earlier = notes_at(120, 4.0, [-5, -4, -3, -2, -1, 0, 1])
    found = as_imported(earlier, guessed_beat(earlier, 120, Meter(), 4.0)).song
    assert [found.grid.place(note.start).bar for note in found.notes] == [0, 1, 1, 1, 1, 2, 2]


def test_no_notes_have_a_beat_too():
    assert guessed_beat([]).tempo > 0 and guessed_beat([], 88).tempo == 88
