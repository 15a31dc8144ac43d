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

SIGNS = st.sampled_from([
    "C4", "f#3", "Bb5", "G♯4", "E", "bb", "B#3", "60", "71=1/2", "^1", "^5", "^4#", "440Hz", "rest", ".", "-", "-=2", "C4&E4&G4",
    "{Am}", "{G7/B}=2", "{F#dim 3}", "{Caug rising}=3", "{Am there and back by 1/3}=3", "{C strum}&C5", "=x", "H4", "C4=third",
    ">C4", "'D4", "|", "(C4 E4)=2", "(G A B) x2", "[mf]", "[key D minor]", "[key F# major]", "[meter 3/4]", "[pedal]", "p", "q",
    "p up 5", "q down 2 steps", "(p) upside-down", "p on ^1 ^3", "(q backwards) x2", "q stretched 2", "p up 1 octave", "// p q",
])  # fmt: skip
LINES = st.lists(SIGNS, max_size=7).map(" ".join)
HEADS = st.sampled_from(
    [
        "",
        "key: G major\n",
        "key: Eb minor\n",
        "key: a minor pentatonic\n",
        "octave: 5\n",
        "key: C D E G A\noctave: 3\n",
    ]
)
VOICES = st.lists(
    st.tuples(st.sampled_from(["", "octave: 3\n", "range: C3 to C6\n", "sound: drum kit\n"]), LINES),
    min_size=1,
    max_size=3,
)


@st.composite
def sheets(draw):
    """A sheet with phrases, some of them used by several voices, drums among them."""
    parts = [draw(HEADS)]
    for name in "pq":
        own = draw(st.sampled_from(["", "octave: 5\n"]))
        line = draw(LINES) if name == "p" else draw(LINES).replace("q", "p")
        parts.append(f"phrase {name}\n{own}{line.replace('p', '') if name == 'p' else line}\n")
    for index, (properties, line) in enumerate(draw(VOICES)):
        parts.append(f"voice V{index}\n{properties}{line}\n")
    return "".join(parts)


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


@settings(max_examples=300, deadline=None)
@given(sheets(), st.integers(-14, 14))
def test_semitones_move_every_note_by_as_many_and_change_nothing_else(text, semitones):
    after, drums = sounding(tried(text, by_semitones, semitones))
    before, _ = sounding(text)
    assert after == sorted((v, s, n, number if v in drums else number + semitones) for v, s, n, number in before)


@settings(max_examples=150, deadline=None)
@given(sheets(), st.integers(-2, 2))
def test_octaves_move_every_note_by_twelves(text, octaves):
    after, drums = sounding(tried(text, by_octaves, octaves))
    before, _ = sounding(text)
    assert after == sorted((v, s, n, number if v in drums else number + 12 * octaves) for v, s, n, number in before)


@settings(max_examples=150, deadline=None)
@given(sheets(), st.sampled_from(["C major", "F# minor", "Bb dorian", "A minor pentatonic"]))
def test_to_a_key_arrives_there(text, name):
    key = read_key(name)
    assume(len(read(text).song.key.names) == len(key.names))
    assert read(tried(text, to_key, key)).song.key == key


@settings(max_examples=150, deadline=None)
@given(sheets(), st.integers(-9, 9))
def test_steps_keep_the_time_and_one_accidental(text, steps):
    before, after = read(text).song, read(tried(text, by_steps, steps)).song
    assert [(n.voice, n.start, n.length) for n in after.notes] == [(n.voice, n.start, n.length) for n in before.notes]
    if "^" not in text:  # the writer may raise a step that is sharp already
        assert max((abs(n.pitch.accidental) for n in after.notes), default=0) <= 1


@settings(max_examples=150, deadline=None)
@given(sheets(), st.integers(-7, 7), st.data())
def test_a_voice_moves_alone(text, semitones, data):
    song = read(text).song
    assume(song.voices)
    voice = data.draw(st.integers(0, len(song.voices) - 1))
    assume(not song.voices[voice].is_drums and "steps" not in text and "on ^" not in text and "upside" not in text)
    after, _ = sounding(tried(text, by_semitones, semitones, Part.of_voice(voice)))
    before, _ = sounding(text)
    assert after == sorted((v, s, n, number + semitones * (v == voice)) for v, s, n, number in before)


@settings(max_examples=200, deadline=None)
@given(sheets(), st.sampled_from([
    (backwards, ()), (upside_down, ()), (stretched, (F(2),)), (stretched, (F(1, 3),)), (swung, ()), (broken, ()), (gathered, ()),
    (folded, (55, 72)), (replaced, (60, 61)), (in_scale, (SCALES["minor"],)), (in_scale, (SCALES["dorian"],)),
]))  # fmt: skip
def test_no_reshaping_loses_a_note_or_makes_a_fault(text, way):
    how, arguments = way
    before, after = read(text), read(tried(text, how, *arguments))
    if how is not gathered:  # what was broken twice round is struck together once
        assert len(after.song.notes) >= len(before.song.notes)
    errors = {finding.code for finding in after.findings if finding.severity.value == "error"}
    had = {finding.code for finding in before.findings if finding.severity.value == "error"}
    assert errors <= had | {"bar-length"}


@settings(max_examples=100, deadline=None)
@given(sheets())
def test_mending_near_misses_changes_nothing_that_sounds(text):
    once = mended(text)
    assert sounding(once) == sounding(text)
    assert mended(once) == once
