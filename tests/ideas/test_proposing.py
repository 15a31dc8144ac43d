"""What could become of a tune: each way keeps what it promises, and is an edit of the sheet."""

from __future__ import annotations

from importlib.resources import files

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee.ideas.chords import chord_symbol, chord_tones, with_triads
from chickadee.ideas.harmony import fitting_chords, progression
from chickadee.ideas.proposing import Way, proposed
from chickadee.ideas.recipe import RecipeFault
from chickadee.sheet import apply_edits, read
from chickadee.theory import read_key

SONGS = {each.name: each.read_text("utf-8") for each in (files("chickadee") / "songs").iterdir()
         if each.name.endswith(".chick")}  # fmt: skip
READINGS = {name: read(text) for name, text in SONGS.items()}
DISSONANT = {1, 2, 6, 10, 11}
"""Semitones of seconds, sevenths and the tritone."""


def line(song, voice):
    return [song.notes[place] for place in song.melody(voice)]


@given(st.sampled_from(sorted(SONGS)), st.sampled_from(list(Way)), st.integers(0, 10_000))
def test_every_way_keeps_what_it_promises(name, way, seed):
    reading = READINGS[name]
    before = reading.song
    found = proposed(reading, way, 0, seed)
    after = found.reading.song
    assert found.reading.text == apply_edits(reading.text, found.edits) != reading.text
    assert found.reading.text == proposed(reading, way, 0, seed).reading.text
    old = line(before, 0)
    new = line(after, 0)
    if way is Way.PITCHES:
        assert [(note.start, note.length) for note in old] == [(note.start, note.length) for note in new]
        assert [note.number for note in old] != [note.number for note in new]
        assert all(before.key.contains(two.number) or one.number == two.number
                   for one, two in zip(old, new, strict=True))  # fmt: skip
    elif way is Way.RHYTHM:
        assert [note.number for note in old] == [note.number for note in new]
        assert after.end == before.end
        assert {before.grid.number_at(note.start): 0 for note in old} == {
            after.grid.number_at(note.start): 0 for note in new
        }
    elif way is Way.ANSWER:
        added = after.voices[0].end - before.voices[0].end
        assert [note[:5] for note in new[: len(old)]] == [note[:5] for note in old]  # a fade may go on longer
        assert added > 0 and added % before.meter.bar_ticks == 0
        assert new[-1].number % 12 == before.key.tonic.pitch_class
    else:
        assert found.voice == len(before.voices) and after.voices[0].end == before.voices[0].end
        assert [note._replace(spans=()) for note in new] == [note._replace(spans=()) for note in old]
        mine = line(after, found.voice)
        if way is Way.SECOND:
            assert [(note.start, note.length) for note in mine] == [(note.start, note.length) for note in old]
            assert all(low.number < high.number for low, high in zip(mine, old, strict=True))
            for low, high in zip(mine, old, strict=True):
                sounding = [note for note in before.notes
                            if note.start <= low.start < note.end and not before.voices[note.voice].is_drums]  # fmt: skip
                clashes = [note for note in sounding if abs(low.number - note.number) % 12 in DISSONANT]
                assert not clashes or any(abs(high.number - note.number) % 12 in DISSONANT for note in sounding)
        else:
            bars = {before.grid.number_at(note.start) for note in old}
            assert {after.grid.number_at(note.start) for note in mine} >= bars - {0}


def test_chords_hold_what_is_sung_and_end_at_home():
    song = read("key: G major\nmeter: 3/4\nG4 B4 D5 | C5 E5 C5 | D5 F#5 A5 | B4 G4=2 |").song
    choices = fitting_chords(song, 0)
    best = progression(choices, 0)
    assert [chord_symbol(song.key, step) for step in best] == ["G", "C", "D", "G"]
    assert all(1 <= len(each) <= 3 and step in each for each, step in zip(choices, best, strict=True))
    assert len({tuple(progression(choices, seed)) for seed in range(1, 12)}) > 2


def test_a_scale_without_triads_takes_those_of_its_tonic():
    key = with_triads(read_key("A minor pentatonic"))
    assert key.text == "A minor" and chord_tones(key, 1) == {9, 0, 4}


def test_only_the_selected_bars_change():
    reading = read("key: C major\nC4 D4 E4 F4 | G4 F4 E4 D4 | C4 E4 D4 F4 | C4=4 |")
    chosen = [place for place, note in enumerate(reading.song.notes) if reading.song.grid.number_at(note.start) == 2]
    for way in (Way.PITCHES, Way.RHYTHM):
        after = proposed(reading, way, 0, 3, chosen).reading.text.split("|")
        before = reading.text.split("|")
        assert after[0] == before[0] and after[2:] == before[2:] and after[1] != before[1]
    answered = proposed(reading, Way.ANSWER, 0, 3, chosen).reading
    assert answered.song.last_bar == 5 and not answered.findings
    assert answered.text.split("|")[3:] == reading.text.split("|")[2:]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "no notes with pitches"),
        ("voice Deck\n  sound: drum kit\n  kick snare kick snare |", "no notes with pitches"),
        ("C4 C4 C4 C4 |", "too few pitches"),
    ],
)
def test_what_cannot_be_is_said(text, said):
    with pytest.raises(RecipeFault, match=said):
        proposed(read(text), Way.PITCHES, 0, 1)


def test_an_answer_inside_a_phrase_is_refused():
    reading = read("phrase call\n  C4 D4 E4 F4 | G4=4 |\n\nvoice A\n  call C4=4 | call")
    with pytest.raises(RecipeFault, match="inside a phrase"):
        proposed(reading, Way.ANSWER, 0, 1, [0, 1, 4])
