"""The library: what a program is offered, its examples, and the examples of every docstring."""

from __future__ import annotations

import doctest
import importlib
import pkgutil
import subprocess
import sys
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest
import soundfile
from hypothesis import given

import chickadee
from chickadee.formats import smf
from sheets import sheets

MODULES = [
    each.name for each in pkgutil.walk_packages(chickadee.__path__, "chickadee.") if "__main__" not in each.name
]
READING = chickadee.read("C4 E4=2 {G7}")


def test_the_examples_of_the_page_hold(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    page = Path(__file__).parent.parent / "docs" / "python.md"
    result = doctest.testfile(str(page), module_relative=False, optionflags=doctest.ELLIPSIS)
    assert (result.failed, result.attempted >= 25) == (0, True)


@pytest.mark.parametrize("name", MODULES)
def test_the_examples_of_docstrings_hold(name):
    assert doctest.testmod(importlib.import_module(name), optionflags=doctest.ELLIPSIS).failed == 0


def test_all_that_is_offered_is_listed_documented_and_loaded_only_when_asked_for():
    assert {*chickadee.__all__, "__version__"} == set(dir(chickadee))
    for name in chickadee.__all__:
        assert getattr(chickadee, name).__doc__
    code = "import sys, chickadee; dir(chickadee); assert not {'numpy', 'chickadee.sheet'} & set(sys.modules); chickadee.read('C4')"
    subprocess.run([sys.executable, "-c", code], check=True)
    with pytest.raises(AttributeError):
        _ = chickadee.nothing


@given(sheets())
def test_any_tune_written_and_opened_again_is_the_same(tmp_path_factory, text):
    path = tmp_path_factory.mktemp("written") / "tune.chick"
    reading = chickadee.read(text)
    chickadee.write(reading, path)
    again = chickadee.open(path)
    assert (again.text, again.song.notes) == (reading.text, reading.song.notes)
    assert len(chickadee.notes(again)) == len(again.song.notes)
    assert chickadee.check(again) == again.findings


@pytest.mark.parametrize("suffix", [".mid", ".wav", ".flac", ".ogg", ".mp3"])
def test_a_tune_is_written_by_its_suffix_from_a_reading_or_a_song(tmp_path, suffix):
    for place, tune in enumerate((READING, READING.song)):
        path = tmp_path / f"{place}{suffix}"
        chickadee.write(tune, path)
        if suffix == ".mid":
            assert path.read_bytes() == smf.write(READING.song)
        else:
            assert abs(soundfile.info(path).duration - READING.song.seconds) < 0.3


@pytest.mark.parametrize("suffix", [".wav", ".flac", ".ogg", ".mp3"])
def test_sound_files_are_tagged_with_title_and_composer(tmp_path, suffix):
    path = tmp_path / f"tagged{suffix}"
    chickadee.write(chickadee.read("title: Gull Point é\ncomposer: Class 5\nC4"), path)
    with soundfile.SoundFile(path) as file:
        assert (file.title, file.artist) == ("Gull Point é", "Class 5")


def test_a_song_without_text_is_written_as_a_sheet_that_reads_as_it(tmp_path):
    chickadee.write(READING.song, tmp_path / "song.chick")
    again = chickadee.open(tmp_path / "song.chick").song
    assert [note._replace(spans=()) for note in again.notes] == [
        note._replace(spans=()) for note in READING.song.notes
    ]


def test_sound_is_an_array_of_frames():
    sound = chickadee.render(READING.song, rate=16_000)
    assert sound.dtype == np.float32 and sound.ndim == 2 and sound.shape[1] == 2
    assert 0.05 < np.abs(sound).max() < 1 and len(sound) >= 16_000 * READING.song.seconds
    assert np.array_equal(sound, chickadee.render(READING, 16_000))


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        (lambda: chickadee.read(5), "text of a sheet"),
        (lambda: chickadee.read(Path("a.chick")), "open takes"),
        (lambda: chickadee.open(5), "file's name"),
        (lambda: chickadee.notes("C4"), "read and open"),
        (lambda: chickadee.check(READING.song), "not Song"),
        (lambda: chickadee.render("C4"), "not str"),
        (lambda: chickadee.write("C4", "a.mid"), "not str"),
        (lambda: chickadee.transpose("C4", semitones=1), "not str"),
        (lambda: chickadee.transpose(READING), "one of"),
        (lambda: chickadee.transpose(READING, semitones=1, octaves=1), "one of"),
        (lambda: chickadee.transpose(READING, semitones=1.5), "whole numbers"),
        (lambda: chickadee.scale(5), "not int"),
        (lambda: chickadee.write(READING, 5), "file's name"),
        (lambda: chickadee.render(READING, rate="x"), "whole number of frames"),
        (lambda: chickadee.compare(READING, "attempts"), "list of readings, songs or files"),
        (lambda: chickadee.compare(READING, [5]), "not int"),
        (lambda: chickadee.frequency("A4"), "MIDI number"),
    ],
)
def test_arguments_of_the_wrong_kind_are_said(wrong, said):
    with pytest.raises(TypeError) as fault:
        wrong()
    assert said in str(fault.value)


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        (lambda: chickadee.render(READING, rate=0), "from 1,000 to 384,000"),
        (lambda: chickadee.write(READING, "a.wav", bits=12), "16, 24, 32f"),
        (lambda: chickadee.write(READING, "a.wav", fade=-1), "from 0 on"),
        (lambda: chickadee.Pitch("X", 9, 4), "C D E F G A B"),
    ],
)
def test_values_that_are_none_are_said(tmp_path, monkeypatch, wrong, said):
    monkeypatch.chdir(tmp_path)
    with pytest.raises(ValueError) as fault:
        wrong()
    assert said in str(fault.value) and not list(tmp_path.iterdir())


def test_a_suffix_that_is_none_names_those_there_are(tmp_path):
    with pytest.raises(chickadee.FileFault, match=r"\.chick, \.mid, .*\.mp3"):
        chickadee.write(READING, tmp_path / "a.xyz")


def test_a_reading_and_a_song_say_what_they_are_in_a_line():
    long = chickadee.read(f"title: {'A very long title ' * 30}\n" + "C4 " * 2000)
    assert (
        repr(chickadee.read("title: Quay\nC4 D4 H4"))
        == "<Reading of 'Quay', 2 notes in 1 voice, 1 bar, 1.5 s, 1 finding>"
    )
    assert len(repr(long)) < 200 and "2,000 notes" in repr(long.song)


def test_the_name_of_a_tune_is_not_taken_for_its_text(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    (tmp_path / "first.chick").write_text("C4")
    with pytest.raises(TypeError, match="open reads it"):
        chickadee.read("first.chick")
    assert len(chickadee.open("first.chick").song.notes) == 1


def test_a_tune_is_moved_in_each_way():
    text = chickadee.read("key: C major\nC4 E4")
    moved = {
        "D4 F#4": chickadee.transpose(text, semitones=2),
        "D4 F4": chickadee.transpose(text, steps=1),
        "C3 E3": chickadee.transpose(text, octaves=-1),
        "E4 G#4": chickadee.transpose(text, interval="up a major third"),
        "G3 B3": chickadee.transpose(text, to_key="G major"),
    }
    for line, reading in moved.items():
        assert reading.text.split("\n")[-1] == line


@pytest.mark.parametrize(
    ("sheet", "text"),
    [
        ("C4 D4 E4 F4", 'tune = [("C4", 1), ("D4", 1), ("H4", 1), ("F4", 1)]'),
        ("names: H\nC4 B4 A4 G4", 'tune = [("C4", 1), ("B4", 1), ("A4", 1), ("G4", 1)]'),
        ("names: H\nC4 H4 A4 G4", 'tune = [("C4", 1), ("B4", 1), ("A4", 1), ("G4", 1)]'),
        ("C4 D4 E4 F4", "tune = [[60, 62, 64, 65], [1, 1, 1, 1]]"),
    ],
)
def test_a_file_is_compared_as_the_command_compares_it(tmp_path, sheet, text):
    """The same pair gets the same verdict: what cannot be read in a file is said, and is no mistake of a pupil's."""
    attempt = tmp_path / "kit.py"
    attempt.write_text(text)
    model = chickadee.read(sheet)
    path = tmp_path / "model.chick"
    chickadee.write(model, path)
    (by_library,) = chickadee.compare(model, [attempt])
    done = subprocess.run(
        [sys.executable, "-m", "chickadee", "compare", str(path), str(attempt)], capture_output=True, text=True
    )
    assert done.stdout.split(": ", 1)[1].strip() == by_library.sentence


def test_a_tune_is_sent_with_what_is_lost_and_a_target_of_one_s_own_is_taken_too(tmp_path):
    tune = chickadee.read("C1 E4 G9")
    sent = chickadee.send(tune, "bollard")
    assert {loss.code for loss in sent.lost} >= {"octave"} and len(sent.texts) == 1
    own = tmp_path / "mine.target.toml"
    own.write_text('title = "Mine"\n[[list]]\nentry = "{number}"\nbetween = " "')
    assert chickadee.send(chickadee.read("C4 E4"), str(own)).texts[0].split() == ["60", "64"]
    with pytest.raises(chickadee.InputFault, match="no target"):
        chickadee.send(tune, "nowhere")


def test_pages_practice_tunes_and_tidied_tunes_say_what_is_wrong_with_what_they_are_given():
    with pytest.raises(ValueError, match="page is one of"):
        chickadee.handout_pages(READING, "poster")
    with pytest.raises(ValueError, match="recipe is one of"):
        chickadee.practice_tunes("sight-99")
    with pytest.raises(TypeError, match="tidy takes a reading"):
        chickadee.tidy("C4")
    with pytest.raises(chickadee.InputFault, match="no notes"):
        chickadee.handout_pages(chickadee.read("rest"))
    with pytest.raises(chickadee.FileFault):
        chickadee.listen("nowhere.wav")


def test_practice_tunes_are_the_same_from_the_same_seed_and_others_from_another():
    one = [tune.text for tune in chickadee.practice_tunes("sight-2", 2, seed=5)]
    assert one == [tune.text for tune in chickadee.practice_tunes("sight-2", 2, seed=5)]
    assert one != [tune.text for tune in chickadee.practice_tunes("sight-2", 2, seed=6)]


def test_beats_are_exact_numbers():
    rows = chickadee.notes(chickadee.read("meter: 6/8\nC4=1/3 D4=2/3 E4=1/7"))
    assert [row.length_beats for row in rows] == [Fraction(1, 3), Fraction(2, 3), Fraction(1, 7)]
    assert sum(row.length_beats for row in rows[:2]) + 1 == rows[2].beat == rows[2].start_beats + 1
