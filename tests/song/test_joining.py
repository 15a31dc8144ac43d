"""Songs as Python's sequences: notes in turn, bars as slices, songs joined, laid together and repeated."""

from __future__ import annotations

import pytest
from hypothesis import given, settings

from chickadee.sheet import read
from chickadee.sheet.writing import write_song
from chickadee.song import Meter
from songs import songs

MILL = read("title: Mill\ntempo: 90\nmeter: 3/4\nkey: G major\nC4 E4 G4 | C5=3 |").song
REED = read("tempo: 60\npickup: 1\nkey: D minor\nG4 | C4 D4 E4 F4 |\nvoice Low\n  sound: sine\n  rest | C3=4 |").song


def heard(song):
    """What sounds, in seconds, with the voices' names and sounds."""
    seconds = song.tempo.seconds
    return [(round(float(seconds(note.start)), 6), round(float(seconds(note.end)), 6), note.number, note.loudness,
             song.voices[note.voice].sound) for note in song]  # fmt: skip


def test_a_song_is_its_notes_in_turn_and_true_without_any():
    assert len(MILL) == 4 and [note.number for note in MILL] == [60, 64, 67, 72] and MILL[-1].number == 72
    assert bool(read("").song) and len(read("").song) == 0
    assert repr(MILL) == "<Song 'Mill', 4 notes in 1 voice, 2 bars, 4.0 s>"
    assert repr(MILL.key) == "<Key G major>" and repr(MILL.voices[0]) == "<Voice 'Melody', flute>"


def test_slices_are_bars_by_their_numbers():
    assert [note.number for note in MILL[2:]] == [72] and MILL[2:].meter == MILL.meter
    assert [note.number for note in MILL[:2]] == [60, 64, 67] and MILL[1:99].beats == 6
    assert [note.number for note in REED[0:1]] == [67]
    for wrong in (slice(3, 5), slice(2, 1), slice(None, None, 2)):
        with pytest.raises(ValueError):
            MILL[wrong]


def test_one_song_follows_the_other_from_the_next_bar_in_its_own_tempo_meter_and_key():
    both = MILL + REED
    line = both.grid.start(4)
    assert [both.grid.place(note.start).bar for note in both] == [1, 1, 1, 2, 3, 4, 4, 4, 4, 4]
    assert both.grid.meter_at(line) == Meter(4, 4) and both.key_at(line).text == "D minor"
    assert both.key.text == "G major" and both.tempo.tempo_at(line) == 60 and both.tempo.tempo_at(0) == 90
    lower = [note for note in both if note.number == 48]
    assert [both.voices[note.voice].name for note in lower] == ["Low"] and lower[0].start == line


@given(songs(), songs())
@settings(max_examples=40)
def test_what_is_joined_sounds_as_its_parts_one_after_the_other(one, other):
    both = one + other
    assert sorted((note.length, note.number) for note in both) == sorted(
        (note.length, note.number) for song in (one, other) for note in song
    )
    assert len({voice.name.lower() for voice in both.voices}) == len(both.voices)
    assert len(read(write_song(both)).song.notes) == len(both)
    if not one.tempo.swings and not other.tempo.swings and one.notes and other.notes:
        parts = heard(one) + heard(other)
        assert sorted(round(end - start, 3) for start, end, *_ in heard(both)) == pytest.approx(
            sorted(round(end - start, 3) for start, end, *_ in parts), abs=0.002
        )


@given(songs())
@settings(max_examples=20)
def test_together_and_repeated(song):
    both = song | song
    assert sorted(heard(both)) == sorted(heard(song) * 2) and both.grid == song.grid
    thrice = song * 3
    assert len(thrice) == 3 * len(song) and 3 * song == thrice
    assert (song * 1) == song


def test_what_is_no_song_or_no_times_is_refused():
    with pytest.raises(TypeError):
        MILL + 1
    with pytest.raises(TypeError):
        MILL | "C4"
    with pytest.raises(ValueError, match="once"):
        MILL * 0
