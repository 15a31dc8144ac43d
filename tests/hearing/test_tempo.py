"""The beat of what was heard, and its sheet."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee.formats.arranging import arranged
from chickadee.hearing.notes import HeardNote
from chickadee.hearing.tempo import Beat, as_imported, guessed_beat
from chickadee.sheet import read
from chickadee.song import Meter


def notes_at(tempo, first, beats, numbers=None):
    ends = [*beats[1:], beats[-1] + 1]
    return [
        HeardNote(first + start * 60 / tempo, (end - start) * 60 / tempo * 0.95, number, 0.0, 80, 1.0)
        for start, end, number in zip(beats, ends, numbers or [60] * len(beats), strict=True)
    ]


@given(st.integers(70, 150), st.floats(0, 3), st.randoms(use_true_random=False))
def test_the_tempo_of_beats_and_halves_is_found(tempo, first, chance):
    beats = []
    here = 0.0
    for _ in range(24):
        beats.append(here)
        here += chance.choice((0.5, 1, 1, 1, 2))
    found = guessed_beat(notes_at(tempo, first, beats))
    ratio = found.tempo / tempo
    assert min(abs(ratio / times - 1) for times in (0.5, 1, 2)) < 0.01
    assert guessed_beat(notes_at(tempo, first, beats), tempo).first == pytest.approx(first, abs=0.02)


def test_the_sheet_is_what_was_played():
    notes = notes_at(92, 1.25, [0, 1, 2, 3, 5, 6, 7, 8, 9], [67, 71, 69, 64, 62, 67, 69, 72, 71])
    made = arranged(as_imported(notes, Beat(92, 1.25), Meter(3, 4))).text
    song = read(made).song
    assert song.meter.text == "3/4" and song.tempo_in_beats == 92
    assert [note.pitch.text for note in song.notes] == ["G4", "B4", "A4", "E4", "D4", "G4", "A4", "C5", "B4"]
    assert "E4=2 D4" in made


def test_what_is_before_bar_one_begins_the_tune_earlier():
    notes = notes_at(120, 2.0, [-1, 0, 1, 2])
    found = as_imported(notes, Beat(120, 2.0)).song
    assert found.grid.place(found.notes[1].start).bar == 2 and found.grid.place(found.notes[0].start).beat == 4


def test_no_notes_have_a_beat_too():
    assert guessed_beat([]).tempo > 0 and guessed_beat([], 88).tempo == 88
