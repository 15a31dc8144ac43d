"""Parts of a song."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.faults import InputFault
from chickadee.song import TICKS_PER_QUARTER as Q
from chickadee.song import bars_excerpt, stretch_excerpt, voice_excerpt

TEXT = """meter: 3/4
voice Top
  C4 D4 E4 | F4=5 G4 | A4 - B4 |
voice Low
  C3=bar | D3=bar | E3=bar | F3=bar |
"""


def numbers(song):
    return [(note.start // Q, note.number, note.length // Q) for note in song.notes]


def test_one_voice():
    song = voice_excerpt(read(TEXT).song, "low")
    assert [voice.name for voice in song.voices] == ["Low"]
    assert numbers(song) == [(0, 48, 3), (3, 50, 3), (6, 52, 3), (9, 53, 3)]
    with pytest.raises(InputFault, match="Top, Low"):
        voice_excerpt(song.__class__(voices=read(TEXT).song.voices), "Middle")


def test_some_bars_move_to_the_start_and_are_cut_at_the_end():
    song = bars_excerpt(read(TEXT).song, 2, 2)
    assert numbers(song) == [(0, 65, 3), (0, 50, 3)]
    assert song.end == 3 * Q


def test_all_bars_are_the_song_itself():
    song = read(TEXT).song
    whole = bars_excerpt(song, 1, 4)
    assert whole.notes == song.notes
    assert whole.seconds == song.seconds


@pytest.mark.parametrize(("first", "last"), [(0, 2), (3, 2), (2, 9)])
def test_bars_that_are_not_there(first, last):
    with pytest.raises(InputFault, match="bars 1 to 4"):
        bars_excerpt(read(TEXT).song, first, last)


@given(st.integers(0, 11), st.integers(1, 12))
def test_a_stretch_keeps_its_notes_and_the_bar_lines_where_they_were(start, beats):
    song = read(TEXT).song
    part = stretch_excerpt(song, start * Q, (start + beats) * Q)
    inside = [note for note in song.notes if start * Q <= note.start < (start + beats) * Q]
    assert [(note.start + start * Q, note.number) for note in part.notes] == [(n.start, n.number) for n in inside]
    assert all(note.end <= beats * Q for note in part.notes)
    lines = {tick - start * Q for _, tick in song.grid.starts((start + 20) * Q) if tick > start * Q}
    assert {tick for _, tick in part.grid.starts(15 * Q) if tick} <= lines | {0} and part.grid.end(
        0 if start % 3 else 1
    ) in lines
