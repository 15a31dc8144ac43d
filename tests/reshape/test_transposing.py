"""Transposing moves every pitch by the same amount, spells it for its key, and touches nothing else."""

from __future__ import annotations

import re
from importlib.resources import files
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee import read
from chickadee.reshape import Part, Towards, by_interval, by_octaves, by_semitones, by_steps, mended, to_key
from chickadee.reshape.fitting import WRITTEN_FOR, fits
from chickadee.sheet import CannotEdit, apply_edits
from chickadee.theory import INTERVALS, Interval, IntervalNameError, Pitch, read_interval, read_key

DEMO = {
    path.name: path.read_text("utf-8") for path in (files("chickadee") / "songs").iterdir() if path.suffix == ".chick"
}  # type: ignore[attr-defined]


def moved(text, how, *arguments):
    return apply_edits(text, how(read(text), *arguments))


def places(song):
    """(voice, start, number) in an order that does not depend on the spelling."""
    return sorted((note.voice, note.start, note.number) for note in song.notes)


# By hand from the circle of fifths: the first, second, third, fourth and leading note of each major key.
CIRCLE = {
    "C": "C D E F B", "G": "G A B C F#", "D": "D E F# G C#", "A": "A B C# D G#", "E": "E F# G# A D#",
    "B": "B C# D# E A#", "F#": "F# G# A# B E#", "Db": "Db Eb F Gb C", "Ab": "Ab Bb C Db G", "Eb": "Eb F G Ab D",
    "Bb": "Bb C D Eb A", "F": "F G A Bb E",
}  # fmt: skip
# Semitones up from C to each, and the octave that each of the five notes is then in, the tune being C4 D4 E4 F4 B4.
UP = {
    "C": (0, "44444"), "Db": (1, "44445"), "D": (2, "44445"), "Eb": (3, "44445"), "E": (4, "44445"), "F": (5, "44445"),
    "F#": (6, "44445"), "G": (7, "44455"), "Ab": (8, "44555"), "A": (9, "44555"), "Bb": (10, "45555"), "B": (11, "45555"),
}  # fmt: skip


@pytest.mark.parametrize("tonic", CIRCLE)
def test_one_tune_in_all_twelve_keys_up_and_down(tonic):
    tune = "key: C major\nC4 D4 E4=1/2 F4 | B4 // home"
    names = CIRCLE[tonic].split()
    (semitones, octaves) = UP[tonic]
    up = [name + octave for name, octave in zip(names, octaves, strict=True)]
    down = [f"{name}{int(octave) - 1}" for name, octave in zip(names, octaves, strict=True)]
    for pitches, way in ((up, semitones), (down, semitones - 12)):
        a, b, c, d, e = pitches
        expected = f"key: {tonic} major\n{a} {b} {c}=1/2 {d} | {e} // home"
        assert moved(tune, by_semitones, way) == expected
        assert moved(expected, by_semitones, -way) == tune
    towards = moved(tune, to_key, read_key(f"{tonic} major"), Towards.UP)
    assert towards == moved(tune, by_semitones, semitones)


@pytest.mark.parametrize("name", DEMO)
def test_every_transposition_of_every_demo_tune_keeps_its_intervals_and_comes_back(name):
    text = DEMO[name]
    song = read(text).song
    drums = {index for index, voice in enumerate(song.voices) if voice.is_drums}
    for semitones in range(-13, 14):
        there = moved(text, by_semitones, semitones)
        after = read(there)
        assert [
            (voice, start, number - (0 if voice in drums else semitones))
            for voice, start, number in places(after.song)
        ] == places(song)
        assert all(abs(note.pitch.accidental) <= 1 for note in after.song.notes)
        assert all(note.spans and after.song.key_at(note.start) for note in after.song.notes)
        back = moved(there, by_semitones, -semitones)
        assert places(read(back).song) == places(song)
        if "octave:" not in text:
            assert back == text
        elif "^" not in text:  # ^1 is the lowest step an octave has; below it stand names
            assert without_octaves(back) == without_octaves(text)


def without_octaves(text):
    """A sheet with the octave digits of its signs taken out."""
    return re.sub(r"(?<=[A-G#b])[0-9]|(?<=[A-G]) [0-9](?=[ }])", "", text)


@pytest.mark.parametrize("name", DEMO)
@pytest.mark.parametrize("steps", [-9, -2, 1, 3, 7])
def test_steps_keep_every_note_on_its_scale_and_come_back(name, steps):
    text = DEMO[name]
    before = read(text).song
    there = moved(text, by_steps, steps)
    after = read(there).song
    for old, new in zip(before.notes, after.notes, strict=True):
        key = before.key_at(old.start)
        if key.contains(old.number) and not before.voices[old.voice].is_drums:
            assert key.contains(new.number), (old, new)
    assert places(read(moved(there, by_steps, -steps)).song) == places(before)


@pytest.mark.parametrize("name", DEMO)
def test_intervals_keys_and_steps_lead_back_to_the_same_text(name):
    text = DEMO[name]
    key = read(text).song.key
    ways = [(moved(text, by_interval, interval), by_interval, interval.down) for interval in INTERVALS]
    ways += [(moved(text, to_key, read_key(f"{tonic} {key.scale.name}")), to_key, key) for tonic in ("C", "F#", "Bb")]
    ways += [(moved(text, by_steps, steps), by_steps, -steps) for steps in (-2, 1, 4, 7)]
    for there, how, back in ways:
        again = moved(there, how, back)
        assert places(read(again).song) == places(read(text).song)
        if "octave:" not in text:
            assert again == text
        elif "^" not in text:
            assert without_octaves(again) == without_octaves(text)


KEYS = st.sampled_from(["C major", "G major", "Bb major", "F# major", "A minor", "Eb minor", "D dorian", "E phrygian",
                        "G major pentatonic", "C minor pentatonic"])  # fmt: skip


@settings(max_examples=60, deadline=None)
@given(KEYS, st.lists(st.integers(45, 80), min_size=1, max_size=8), st.integers(-12, 12), st.data())
def test_whatever_is_in_the_key_comes_back_letter_by_letter(key_name, numbers, semitones, data):
    key = read_key(key_name)
    numbers = [number for number in numbers if key.contains(number)] or [key.at_step(1, 4).number]
    signs = [str(number) if data.draw(st.booleans()) else key.spell(number).text for number in numbers]
    text = f"key: {key_name}\n{' '.join(signs)}"
    there = moved(text, by_semitones, semitones)
    assert [note.number - semitones for note in read(there).song.notes] == numbers
    assert moved(there, by_semitones, -semitones) == text


@pytest.mark.parametrize(
    ("text", "how", "arguments", "expected"),
    [
        ("C E G", by_semitones, (2,), "D F# A"),
        ("C5 B", by_semitones, (1,), "Db5 C5"),
        ("c#4 ab4 f♯4", by_semitones, (12,), "c#5 ab5 f♯5"),
        ("60 62&64=1/2 'C4", by_semitones, (-1,), "59 61&63=1/2 'B3"),
        ("440Hz 261.63hz", by_semitones, (12,), "880Hz 523.26hz"),
        ("{Am}=2 {G7/B}&C5 {F#dim 3 rising by 1/2}", by_semitones, (3,), "{Cm 5}=2 {Bb7/D}&Eb5 {Adim 3 rising by 1/2}"),
        ("key: d minor\n^1 ^3 ^5#", by_semitones, (2,), "key: e minor\n^1 ^3 ^5#"),
        ("key: G major\n^1", by_semitones, (5,), "key: C major\n^8"),
        ("^1 ^3", by_semitones, (2,), "key: D major\n^1 ^3"),
        ("key: Am\nC4 [key E major] G#4", by_semitones, (-2,), "key: Gm\nBb3 [key D major] F#4"),
        ("key: C D E G A\nE4", by_semitones, (2,), "key: D E F# A B\nF#4"),
        ("octave: 5\nC {F} ^2", by_octaves, (-1,), "octave: 4\nC {F} ^2"),
        ("C C5", by_octaves, (1,), "C5 C6"),
        ("key: C major\nC4 E4 60 ^1", by_steps, (2,), "key: C major\nE4 G4 64 ^3"),
        ("key: C major\n{C} {Dm7} {C7} {Caug}=2", by_steps, (1,), "key: C major\n{Dm} {Em7} {Dm6} ({Caug}=2) up 1 step"),
        ("key: C major\n({Caug}=2) up 1 step", by_steps, (-1,), "key: C major\n{Caug}=2"),
        ("key: C major\nC4 E4", by_interval, (read_interval("up a minor third"),), "key: Eb major\nEb4 G4"),
        ("C#4", by_interval, (read_interval("down an augmented unison"),), "C4"),
        ("key: C major\nE4 {Am}", to_key, (read_key("C minor"),), "key: C minor\nEb4 {Ab}"),
        ("C4 A4", to_key, (read_key("A major"),), "key: A major\nA3 F#4"),
        ("phrase p\nC4\nvoice V\np p up 2 (p) x2 upside-down", by_semitones, (7,),
         "key: G major\n\nphrase p\nG4\nvoice V\np p up 2 (p) x2 upside-down"),
    ],
)  # fmt: skip
def test_each_way_of_writing_stays_what_it_is(text, how, arguments, expected):
    assert moved(text, how, *arguments) == expected


def test_drums_are_never_moved_and_phrases_only_once():
    text = "phrase beat\nkick 38\nphrase p\nC4 D4\nvoice Deck\nsound: drum kit\nbeat 36\nvoice V\np p p\nvoice W\n(p) down 1 octave"
    assert moved(text, by_semitones, 5) == text.replace("C4 D4", "F4 G4")


def test_a_part_moves_alone_and_shared_phrases_are_moved_where_they_are_used():
    text = "key: C major\nphrase p\nC4\nphrase q\nE4\nvoice V\np q G4\nvoice W\np up 1 octave"
    third = moved(text, by_semitones, 4, Part.of_voice(0))
    assert third == "key: C major\nphrase p\nC4\nphrase q\nG#4\nvoice V\np up 4 q B4\nvoice W\np up 1 octave"
    assert moved(third, by_semitones, -4, Part.of_voice(0)) == text
    assert moved(text, by_octaves, -1, Part.of_voice(1)).endswith("voice W\np")
    assert moved(text, by_semitones, 0, Part.of_voice(0)) == text
    assert moved(text, by_steps, 2, Part.of_phrase("q")) == text.replace("E4", "G4")
    assert moved("C4&E4 G4", by_semitones, 1, Part.of_notes([1])) == "C4&F4 G4"


@pytest.mark.parametrize(
    ("text", "how", "argument", "said"),
    [
        ("G9", by_semitones, 1, "outside the range of MIDI"),
        ("C4 A 4", by_semitones, 2, "line 1 is not quite written"),
        ("key: C major\nphrase p\nC4\nvoice V\np up 2 steps", to_key, read_key("C blues"), "7 steps"),
        ("phrase p\nG9\nvoice V\np down 2 octaves up 2 octaves", by_octaves, 1, "outside the range"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_said_in_one_sentence(text, how, argument, said):
    with pytest.raises(CannotEdit, match=said):
        how(read(text), argument)


SEVERAL_OCTAVES = "key: C major\nphrase p\nC B 60 {Am}\nvoice A\noctave: 3\np\nvoice B\noctave: 5\np G4\nvoice C\np"


@pytest.mark.parametrize(
    ("how", "argument", "phrase"),
    [
        (by_octaves, 1, "C B 72 {Am}"),
        (by_octaves, -1, "C B 48 {Am}"),
        (by_semitones, 2, "D (C#) up 1 octave 62 {Bm}"),
        (to_key, read_key("G major"), "(G) down 1 octave F# 55 {Em}"),
    ],
)
def test_a_phrase_that_is_read_in_several_octaves_moves_in_all_of_them(how, argument, phrase):
    text = moved(SEVERAL_OCTAVES, how, argument)
    assert f"phrase p\n{phrase}\n" in text
    before = read(SEVERAL_OCTAVES).song.notes
    after = read(text).song.notes
    assert len({new.number - old.number for old, new in zip(before, after, strict=True)}) == 1


def test_near_misses_are_written_out_before_a_tune_is_moved():
    assert mended("C4 A 4 Gs4 // x") == "C4 A4 G#4 // x"
    assert moved(mended("CEG"), by_semitones, 2) == "D F# A"


def test_the_best_ways_into_a_range_come_first():
    text = "key: E major\nE4 G#4 B4 E5"
    best = fits(read(text), 60, 72)[0]
    assert (best.semitones, best.key.text, best.accidentals, best.fits) == (-4, "C major", 0, True)
    ranked = fits(read(text), 62, 68)
    assert not ranked[0].fits and ranked[0].inside == 2
    assert [fit.inside for fit in ranked] == sorted((fit.inside for fit in ranked), reverse=True)
    assert fits(read(""), 60, 72)[0].notes == 0


def test_a_part_for_an_instrument_is_written_as_far_away_as_it_sounds():
    clarinet = WRITTEN_FOR["in B♭: clarinet, trumpet"]
    assert moved("key: Bb major\nBb3 D4", by_interval, clarinet) == "key: C major\nC4 E4"
    assert all(abs(interval.semitones) <= 14 for interval in WRITTEN_FOR.values())


@given(st.integers(-14, 14), st.sampled_from("CDEFGAB"), st.integers(-1, 1))
def test_an_interval_and_its_inverse_meet_again(letters, letter, accidental):
    pitch = Pitch(letter, accidental, 4)
    interval = Interval(letters, round(letters * 12 / 7))
    assert interval.down.above(interval.above(pitch)) == pitch
    assert Interval.between(pitch, interval.above(pitch)) == interval


def test_intervals_are_read_by_name():
    assert read_interval("a Minor third") == Interval(2, 3)
    assert read_interval("down an octave").semitones == -12
    assert (read_interval("tritone").name, Interval(8, 14).name, Interval(1, 5).name) == (
        "augmented fourth", "major ninth", "5 semitones",
    )  # fmt: skip
    with pytest.raises(IntervalNameError, match="minor third"):
        read_interval("big third")


@given(
    st.lists(st.sampled_from(["C4", "F#4", "Bb3", "E5", "A2", "61"]), min_size=1, max_size=6).map(" ".join),
    st.integers(40, 70),
    st.integers(5, 30),
)
def test_the_best_way_into_a_range_stands_first(text, low, wide):
    ways = fits(read(text), low, low + wide)
    assert sorted(way.semitones for way in ways) == list(range(-24, 25))
    for better, worse in pairwise(ways):
        order = [(-way.inside, way.accidentals, abs(way.semitones)) for way in (better, worse)]
        assert order[0] <= order[1]
    for way in ways[:3]:
        moved = read(apply_edits(text, by_semitones(read(text), way.semitones)))
        assert sum(low <= note.number <= low + wide for note in moved.song.notes) == way.inside


@pytest.mark.parametrize(
    ("instrument", "semitones"),
    [("clarinet, trumpet", 2), ("tenor saxophone", 14), ("alto saxophone", 9), ("small clarinet", -3), ("horn", 7), ("clarinet in A", 3),
     ("small recorder", -12), ("guitar", 12)],
)  # fmt: skip
def test_a_part_is_written_as_its_instrument_reads_it(instrument, semitones):
    """Concert C is written D for a clarinet in B flat, G for a horn in F, A for an alto saxophone."""
    (interval,) = [each for sounding, each in WRITTEN_FOR.items() if instrument in sounding]
    assert interval.semitones == semitones
