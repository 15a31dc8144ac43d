"""What a tune comes to, counted by hand."""

from __future__ import annotations

from fractions import Fraction as F

from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.song.facts import facts_of

TUNE = """tempo: 120
meter: 3/4
phrase call
  C4 E4=1/2 D4=3/2 |
voice V
  call call G4=3 |
voice D
  sound: drum kit
  kick=1/3 hat=2/3 rest=2 |
"""


def test_a_tune_counted_by_hand():
    facts = facts_of(read(TUNE).song)
    assert facts.notes == 9
    assert [(pitch.text, count) for pitch, count in facts.pitches] == [("C4", 2), ("D4", 2), ("E4", 2), ("G4", 1)]
    assert tuple(pitch.text for pitch in facts.range) == ("C4", "G4")
    assert dict(facts.intervals) == {"major third": 2, "major second": 3, "perfect fourth": 1}
    assert dict(facts.lengths) == {F(1, 3): 1, F(1, 2): 2, F(2, 3): 1, F(1): 2, F(3, 2): 2, F(3): 1}
    assert (facts.beats, facts.seconds, facts.shared, facts.tick) == (9, 4.5, F(6, 9), F(1, 6))
    assert facts.names == ("C4", "E4", "D4", "C4", "E4", "D4", "G4")
    assert facts.numbers == (60, 64, 62, 60, 64, 62, 67)


def test_some_notes_and_none():
    song = read(TUNE).song
    drums = [index for index, note in enumerate(song.notes) if note.voice == 1]
    facts = facts_of(song, drums)
    assert (facts.notes, facts.pitches, facts.range, facts.beats) == (2, (), None, 1)
    empty = facts_of(read("").song)
    assert (empty.notes, empty.beats, empty.tick, empty.shared, empty.names) == (0, 0, 0, 0, ())


@given(st.lists(st.sampled_from(["C4", "60=1/2", "E4=1/3", "G4&B4=2", "rest", "-"]), max_size=12).map(" ".join))
def test_counts_add_up(text):
    song = read(text).song
    facts = facts_of(song)
    assert sum(count for _, count in facts.pitches) == sum(count for _, count in facts.lengths) == facts.notes
    assert len(facts.names) == len(facts.numbers) == facts.notes
    if facts.notes:
        beat = song.meter.beat_ticks
        assert all(
            F(note.start, beat) % facts.tick == 0 and F(note.length, beat) % facts.tick == 0 for note in song.notes
        )
