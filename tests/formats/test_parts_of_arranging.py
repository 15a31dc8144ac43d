"""The parts of arranging by themselves: keys, changes of tempo, lines, phrases and parts of beats."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction as F
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.formats import smf
from chickadee.formats.hands import with_hands
from chickadee.formats.key_finding import with_key
from chickadee.formats.programs import sound_of
from chickadee.formats.ramps import ramped
from chickadee.formats.snapping import snapped
from chickadee.sheet.phrasing import Bar, phrased
from chickadee.song import TICKS_PER_QUARTER as Q
from chickadee.song import Note, Song, Tempo, TempoMap, Voice
from chickadee.song.lines import Strike, into_lines
from chickadee.song.sounds import SOUNDS
from chickadee.theory import Pitch, read_key


def note(start, length, number, loudness=80):
    return Note(round(start * Q), 0, round(length * Q), Pitch("C", 0, 4), number, loudness, False, ())


def song_of(*notes, **more):
    end = max((each.end for each in notes), default=0)
    return Song(voices=(Voice("Whistle", end=end),), notes=tuple(notes), **more)


@pytest.mark.parametrize("key", ["G major", "F major", "D minor", "E minor", "Bb major", "A major", "C minor"])
def test_the_key_of_a_scale_with_its_tonic_at_both_ends_is_found(key):
    scale = [
        each.number
        for each in (read_key(key).at_step(step, 4) for step in (1, 2, 3, 4, 5, 6, 5, 4, 3, 1, 5, 3, 2, 1))
    ]
    found = with_key(song_of(*(note(place, 1, number) for place, number in enumerate(scale))))
    assert found.key.text == key
    assert all(each.pitch == found.key.spell(each.number) for each in found.notes)


def test_a_key_that_is_given_stays_and_few_notes_tell_no_key():
    given = replace(song_of(*(note(n, 1, 61) for n in range(20))), keys=((0, read_key("Eb major")),))
    assert with_key(given) is given
    assert with_key(song_of(note(0, 1, 60), note(1, 1, 64))).key.text == "C major"
    assert with_key(Song()).key.text == "C major"


@pytest.mark.parametrize(("target", "beats"), [(60, 8), (150, 4), (72, 12)])
def test_a_change_of_tempo_written_in_steps_is_one_change_again(target, beats):
    word = "slow" if target < 100 else "quicken"
    text = f"tempo: 100\nC4 D4 E4 F4 [{word} to {target} over {beats}] " + "C4 " * beats + "D4=4"
    song = read(text).song
    again = smf.read(smf.write(song)).song
    assert len(again.tempo.tempos) > 3
    ramp = next(each for each in ramped(again).tempos if each.ramp)
    assert abs(ramp.target - target) <= 2 and abs(ramp.ramp - beats * Q) <= Q
    assert abs(float(ramped(again).seconds(song.end)) - song.seconds) < 0.1


def test_a_tempo_that_wanders_keeps_its_steps():
    steps = [Tempo(place * Q, tempo) for place, tempo in enumerate((100, 140, 90, 150, 80))]
    wandering = replace(song_of(note(0, 6, 60)), tempo=TempoMap(steps))
    assert ramped(wandering).tempos == tuple(steps)


strikes = st.lists(st.tuples(st.integers(0, 30), st.integers(1, 9), st.integers(30, 90)), max_size=25)


@given(strikes)
def test_no_line_overlaps_itself_and_no_strike_is_lost(made):
    every = [Strike(start, length, (note(start / Q, length / Q, number),)) for start, length, number in sorted(made)]
    lines = into_lines(every)
    assert sorted(strike for line in lines for strike in line) == sorted(every)
    for line in lines:
        assert all(one.start + one.length <= two.start for one, two in pairwise(line))
    deepest = max((sum(one.start <= tick < one.start + one.length for one in every) for tick in range(40)), default=0)
    assert len(lines) == max(1, deepest)


bars = st.lists(
    st.sampled_from(["C4 D4 E4 F4 |", "G4=2 A4 B4 |", "C5=4 |", "rest=4 |", "C4&E4=2 G4 A4 |"]), max_size=30
)


@given(st.lists(bars, min_size=1, max_size=3), st.sampled_from(["", "[f]"]))
def test_phrases_written_out_are_the_bars_again(voices, head):
    written = [[Bar(head if place % 5 == 0 else "", bar) for place, bar in enumerate(mine)] for mine in voices]
    phrases, pieces = phrased(written, [frozenset()] * len(voices), set())
    by_name = {phrase.name: phrase.bars for phrase in phrases}
    assert len({name.lower() for name in by_name}) == len(phrases)
    for mine, found in zip(written, pieces, strict=True):
        again = []
        for piece in found:
            inside = by_name[piece.text] * piece.times if piece.is_use else (piece.text,)
            again += [Bar(piece.head if not place else "", bar) for place, bar in enumerate(inside)]
        assert again == mine
    before = sum(bar.text.count(" ") for mine in written for bar in mine)
    after = sum(len(piece.written.split()) for found in pieces for piece in found) + sum(
        bar.count(" ") for phrase in phrases for bar in phrase.bars)  # fmt: skip
    assert after <= before + sum(len(found) for found in pieces) + 2 * len(written) * 7


@pytest.mark.parametrize(
    "parts",
    [[F(0), F(1, 3), F(2, 3)], [F(0), F(1, 4), F(1, 2), F(3, 4)], [F(n, 5) for n in range(5)], [F(0), F(1, 2)]],
)
def test_parts_of_beats_are_kept_where_a_file_has_them_exactly(parts):
    notes = [note(beat + part, F(1, 12), 60) for beat in range(8) for part in parts]
    made = snapped(song_of(*notes))
    assert [each.start for each in made.song.notes] == [each.start for each in notes] and made.worst == 0


def test_every_program_has_a_sound_and_ours_have_themselves():
    assert all(sound_of(program) in SOUNDS for program in range(128))
    again = {name for name, sound in SOUNDS.items() if sound_of(sound.program - 1) == name}
    assert again >= {"flute", "reed pipe", "glass bell", "organ pipe", "brass horn", "nylon string"}


def test_two_hands_of_one_voice_are_two_voices_and_one_line_is_left_alone():
    low = [note(place / 2, F(1, 2), 48 + place % 4 * 4) for place in range(16)]
    high = [note(place, 1, 72 + place % 3) for place in range(8)]
    both = with_hands(song_of(*sorted([*low, *high], key=lambda each: (each.start, each.number))))
    assert [voice.name for voice in both.voices] == ["Whistle high", "Whistle low"]
    assert [len(mine) for mine in both.by_voice] == [8, 16]
    for alone in (low, high, [note(0, 3, 60), *(note(place, 1, 72) for place in range(1, 9))]):
        assert with_hands(song_of(*alone)).voices[0].name == "Whistle"


@given(st.lists(st.tuples(st.integers(0, 20), st.integers(1, 8), st.integers(30, 90)), max_size=30))
def test_parting_hands_loses_no_note(made):
    song = song_of(*sorted((note(F(start, 2), F(length, 2), number) for start, length, number in made),
                           key=lambda each: (each.start, each.number)))  # fmt: skip
    parted = with_hands(song)
    assert sorted((each.start, each.length, each.number) for each in parted.notes) == sorted(
        (each.start, each.length, each.number) for each in song.notes)  # fmt: skip
    assert len(parted.voices) in (1, 2)
