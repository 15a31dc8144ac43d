"""Reshaping takes any sheet: it moves what sounds by exactly what was asked, or says why it cannot."""

from __future__ import annotations

from fractions import Fraction as F

from hypothesis import assume, given, settings
from hypothesis import strategies as st

from chickadee import read
from chickadee.reshape import Part, by_octaves, by_semitones, by_steps, mended, to_key
from chickadee.reshape.changing import (
    backwards,
    broken,
    folded,
    gathered,
    in_scale,
    replaced,
    stretched,
    swung,
    upside_down,
)
from chickadee.sheet import CannotEdit, apply_edits
from chickadee.theory import SCALES, read_key
from sheets import sheets


def tried(text, how, *arguments):
    """The sheet reshaped; an example where that is refused, in a sentence, counts for nothing more."""
    try:
        return apply_edits(text, how(read(text), *arguments))
    except CannotEdit as fault:
        assert str(fault).endswith(".") and len(str(fault)) < 200
        assume(False)
        raise


def sounding(text):
    """(voice, start, length, number) of every note, in an order of their own; and which voices are drums."""
    song = read(text).song
    notes = sorted((note.voice, note.start, note.length, note.number) for note in song.notes)
    return notes, {index for index, voice in enumerate(song.voices) if voice.is_drums}


@settings(max_examples=120, deadline=None)
@given(sheets(), st.integers(-14, 14))
def test_semitones_move_every_note_by_as_many_and_change_nothing_else(text, semitones):
    after, drums = sounding(tried(text, by_semitones, semitones))
    before, _ = sounding(text)
    assert after == sorted((v, s, n, number if v in drums else number + semitones) for v, s, n, number in before)


@settings(max_examples=60, deadline=None)
@given(sheets(), st.integers(-2, 2))
def test_octaves_move_every_note_by_twelves(text, octaves):
    after, drums = sounding(tried(text, by_octaves, octaves))
    before, _ = sounding(text)
    assert after == sorted((v, s, n, number if v in drums else number + 12 * octaves) for v, s, n, number in before)


@settings(max_examples=60, deadline=None)
@given(sheets(), st.sampled_from(["C major", "F# minor", "Bb dorian", "A minor pentatonic"]))
def test_to_a_key_arrives_there(text, name):
    key = read_key(name)
    assume(len(read(text).song.key.names) == len(key.names))
    assert read(tried(text, to_key, key)).song.key == key


@settings(max_examples=60, deadline=None)
@given(sheets(), st.integers(-9, 9))
def test_steps_keep_the_time_and_one_accidental(text, steps):
    before = read(text).song
    after = read(tried(text, by_steps, steps)).song
    assume(len(after.notes) == len(before.notes))  # what was beyond MIDI may sound now
    assert [(n.voice, n.start, n.length) for n in after.notes] == [(n.voice, n.start, n.length) for n in before.notes]
    if "^" not in text:  # the writer may raise a step that is sharp already
        assert max((abs(n.pitch.accidental) for n in after.notes), default=0) <= 1


@settings(max_examples=60, deadline=None)
@given(sheets(), st.integers(-7, 7), st.data())
def test_a_voice_moves_alone(text, semitones, data):
    song = read(text).song
    assume(song.voices)
    voice = data.draw(st.integers(0, len(song.voices) - 1))
    assume(not song.voices[voice].is_drums and "steps" not in text and "on ^" not in text and "upside" not in text)
    after, _ = sounding(tried(text, by_semitones, semitones, Part.of_voice(voice)))
    before, _ = sounding(text)
    assert after == sorted((v, s, n, number + semitones * (v == voice)) for v, s, n, number in before)


@settings(max_examples=80, deadline=None)
@given(sheets(), st.sampled_from([
    (backwards, ()), (upside_down, ()), (stretched, (F(2),)), (stretched, (F(1, 3),)), (swung, ()), (broken, ()), (gathered, ()),
    (folded, (55, 72)), (replaced, (60, 61)), (in_scale, (SCALES["minor"],)), (in_scale, (SCALES["dorian"],)),
]))  # fmt: skip
def test_no_reshaping_loses_a_note_or_makes_a_fault(text, way):
    how, arguments = way
    before = read(text)
    after = read(tried(text, how, *arguments))
    if how is not gathered:  # what was broken twice round is struck together once
        assert len(after.song.notes) >= len(before.song.notes)
    errors = {finding.code for finding in after.findings if finding.severity.value == "error"}
    had = {finding.code for finding in before.findings if finding.severity.value == "error"}
    assert errors <= had | {"bar-length"}


@settings(max_examples=50, deadline=None)
@given(sheets())
def test_mending_near_misses_changes_nothing_that_sounds(text):
    once = mended(text)
    assert sounding(once) == sounding(text)
    assert mended(once) == once
