"""Musical edits on any sheet: they do exactly what was asked to the note that was chosen, or say why they cannot."""

from __future__ import annotations

import re
from collections import Counter
from fractions import Fraction as F

from hypothesis import HealthCheck, assume, example, given, settings
from hypothesis import strategies as st

from chickadee import read
from chickadee.sheet import CannotEdit, apply_edits
from chickadee.sheet.drawing import place_note
from chickadee.sheet.edits import (
    delete,
    join,
    move_in_time,
    move_pitch,
    set_length,
    set_loudness,
    set_syllable,
    split,
    write_out,
)
from chickadee.sheet.tidy import tidy
from chickadee.sheet.tree import uses_in
from sheets import sheets

usual = settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.filter_too_much])


LOUD_AFTER_TWICE = """phrase q
C4&E4&G4
voice V
{G7/B}=2 q x2 >C4
"""


@st.composite
def chosen(draw):
    """A sheet, as it is read, and one of its notes."""
    reading = read(draw(sheets()))
    assume(reading.song.notes)
    return reading, draw(st.integers(0, len(reading.song.notes) - 1))


def tried(reading, edit, *arguments):
    """The sheet edited; an example where that is refused, in a sentence, counts for nothing more."""
    try:
        return read(apply_edits(reading.text, edit(reading, *arguments))).song
    except CannotEdit as fault:
        assert str(fault).endswith(".") and len(str(fault)) < 200
        assume(False)
        raise


def sharing(reading, index):
    """The notes that are written where one is."""
    span = reading.song.notes[index].spans[0]
    return {place for place, note in enumerate(reading.song.notes) if note.spans[0] == span}


def beside(reading, index):
    """The notes of the word in which one is written, chords together."""
    start, end = next(
        (word.start(), word.end())
        for word in re.finditer(r"\{.*?\}\S*|\S+", reading.text)
        if word.start() <= reading.song.notes[index].spans[0][0] < word.end()
    )
    return {place for place, note in enumerate(reading.song.notes) if start <= note.spans[0][0] < end}


def kept(song, without=()):
    """How each note sounds, but for some."""
    return Counter((note.voice, note.start, note.length, note.number, note.loudness)
                   for place, note in enumerate(song.notes) if place not in without)  # fmt: skip


def struck(song):
    """The strikes of each voice, without when and for how long."""
    return Counter((note.voice, note.number) for note in song.notes)


@usual
@given(chosen(), st.integers(-9, 9))
def test_a_note_is_moved_to_its_new_pitch_and_what_is_written_elsewhere_stays(one, semitones):
    reading, index = one
    note = reading.song.notes[index]
    after = tried(reading, move_pitch, [index], semitones)
    assert any((other.voice, other.start, other.length, other.number)
               == (note.voice, note.start, note.length, note.number + semitones) for other in after.notes)  # fmt: skip
    assert not kept(reading.song, sharing(reading, index)) - kept(after)


@usual
@given(chosen(), st.sampled_from([F(1, 2), F(1), F(3, 2), F(5)]))
def test_a_note_gets_its_new_length_and_nothing_else_is_struck(one, beats):
    reading, index = one
    note = reading.song.notes[index]
    after = tried(reading, set_length, [index], beats)
    length = beats * reading.song.grid.meter_at(note.start).beat_ticks
    assert any(
        (other.voice, other.number, other.length) == (note.voice, note.number, length) for other in after.notes
    )
    assert struck(after) == struck(reading.song)


@usual
@given(chosen())
def test_a_note_that_is_deleted_leaves_all_others_as_they_were(one):
    reading, index = one
    assume("same-pitch-twice" not in {finding.code for finding in reading.findings})
    after = tried(reading, delete, [index])
    assert not kept(reading.song, sharing(reading, index)) - kept(after)
    assert not kept(after) - kept(reading.song)
    note = reading.song.notes[index]
    place = (note.voice, note.start, note.length, note.number, note.loudness)
    assert kept(after)[place] < kept(reading.song)[place]


@usual
@given(chosen())
def test_a_note_is_split_in_two_where_it_stands(one):
    reading, index = one
    note = reading.song.notes[index]
    beat = reading.song.grid.meter_at(note.start).beat_ticks
    after = tried(reading, split, index, F(note.length, 2 * beat))
    halves = [other for other in after.notes if (other.voice, other.number) == (note.voice, note.number)
              and other.start in (note.start, note.start + F(note.length, 2))
              and other.length == F(note.length, 2)]  # fmt: skip
    assert len(halves) >= 2
    assert not kept(reading.song, beside(reading, index)) - kept(after)


@settings(usual, suppress_health_check=[HealthCheck.filter_too_much])
@given(chosen(), st.sampled_from([F(-1), F(-1, 2), F(1, 2), F(1), F(2)]))
@example((read(LOUD_AFTER_TWICE), 9), F(1))
def test_a_note_is_moved_in_time_into_the_rest_beside_it(one, beats):
    reading, index = one
    note = reading.song.notes[index]
    by = beats * reading.song.grid.meter_at(note.start).beat_ticks
    after = tried(reading, move_in_time, index, beats)
    assert any((other.voice, other.start, other.length, other.number)
               == (note.voice, note.start + by, note.length, note.number) for other in after.notes)  # fmt: skip
    assert not kept(reading.song, beside(reading, index)) - kept(after)


@usual
@given(chosen())
def test_a_note_is_joined_to_the_one_after_it(one):
    reading, index = one
    note = reading.song.notes[index]
    following = [place for place, other in enumerate(reading.song.notes)
                 if (other.voice, other.start) == (note.voice, note.start + note.length)]  # fmt: skip
    assume(following)
    other = reading.song.notes[following[0]]
    after = tried(reading, join, index, following[0])
    assert any((each.voice, each.start, each.length, each.number)
               == (note.voice, note.start, note.length + other.length, note.number) for each in after.notes)  # fmt: skip
    assert not kept(reading.song, beside(reading, index) | beside(reading, following[0])) - kept(after)


@usual
@given(sheets(), st.integers(0, 2), st.integers(0, 12), st.sampled_from([F(1, 2), F(1), F(2), F(7)]))
def test_a_note_drawn_stands_where_it_was_drawn_and_no_other_goes(text, voice, halves, beats):
    reading = read(text)
    assume(voice < len(reading.song.voices))
    tick = halves * reading.song.grid.meter_at(0).beat_ticks // 2
    after = tried(reading, place_note, voice, tick, beats, 66)
    assert any((note.voice, note.start, note.number) == (voice, tick, 66) for note in after.notes)
    assert not kept(reading.song) - kept(after)


@usual
@given(chosen(), st.integers(20, 120))
def test_a_loudness_changes_no_other_sign(one, level):
    reading, index = one
    note = reading.song.notes[index]
    after = tried(reading, set_loudness, {index: level})
    assert any((other.voice, other.start, other.number, other.loudness)
               == (note.voice, note.start, note.number, level) for other in after.notes)  # fmt: skip
    assert not kept(reading.song, beside(reading, index)) - kept(after)
    assert struck(after) == struck(reading.song)


@usual
@given(chosen(), st.sampled_from(["lake", "har-", ""]))
def test_a_syllable_changes_nothing_that_sounds(one, syllable):
    reading, index = one
    after = tried(reading, set_syllable, index, syllable)
    assert kept(after) == kept(reading.song)
    assert after.notes[index].syllable == syllable


@usual
@given(sheets(), st.data())
def test_one_use_of_a_phrase_written_out_sounds_the_same(text, data):
    reading = read(text)
    blocks = (*reading.sheet.voices, *reading.sheet.phrases.values())
    uses = [use.start for block in blocks for use in uses_in(block.body) if use.name in reading.sheet.phrases]
    assume(uses)
    assert kept(tried(reading, write_out, data.draw(st.sampled_from(uses)))) == kept(reading.song)


@usual
@given(sheets())
def test_tidying_changes_nothing_that_sounds_and_finds_nothing_more_to_do(text):
    once = tidy(text)
    assert kept(read(once).song) == kept(read(text).song)
    assert tidy(once) == once
