"""Questions that are asked of a song."""

from __future__ import annotations

from hypothesis import given

from chickadee import read
from songs import songs


@given(songs())
def test_the_melody_is_the_highest_note_of_each_strike(song):
    for voice in range(len(song.voices)):
        mine = [note for note in song.notes if note.voice == voice]
        melody = [song.notes[index] for index in song.melody(voice)]
        assert [note.start for note in melody] == sorted({note.start for note in mine})
        assert all(note.number == max(other.number for other in mine if other.start == note.start) for note in melody)


@given(songs())
def test_every_note_is_in_one_bar_of_its_voice(song):
    found = [(index, *place) for place, indices in song.by_bar.items() for index in indices]
    assert sorted(index for index, _, _ in found) == list(range(len(song.notes)))
    for index, voice, bar in found:
        note = song.notes[index]
        assert voice == note.voice and song.grid.start(bar) <= note.start < song.grid.end(bar)
        assert song.first_bar <= bar <= song.last_bar


@given(songs())
def test_beats_and_ticks_are_each_others_inverse(song):
    for note in song.notes:
        assert song.grid.ticks(note.start, song.grid.beats(note.start, note.length)) == note.length


def test_bars_and_beats_of_a_tune_with_a_pickup_and_of_none():
    song = read("meter: 6/8\npickup: 1\nG4 | C5=3 A4=3 | G4=5 |").song
    assert (song.first_bar, song.last_bar, song.beats) == (0, 2, 12)
    empty = read("").song
    assert (empty.first_bar, empty.last_bar, empty.beats, empty.by_bar) == (1, 1, 0, {})
