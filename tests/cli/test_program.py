"""``chickadee program``: a tune as a program, and the way back."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

import chickadee
from chickadee.programs.writing.catalogue import shipped
from chickadee.programs.writing.dialect import Level

SONGS = Path(chickadee.__file__).parent / "songs"
TUNE = str(SONGS / "gull-point.chick")


@pytest.mark.parametrize("language", shipped())
@pytest.mark.parametrize("level", [level.value for level in Level])
def test_what_is_written_traces_as_the_notes_of_the_tune(run, tmp_path, language, level):
    goal = tmp_path / f"tune{shipped()[language].suffix}"
    _, printed, _ = run("program", TUNE, "--in", language, "--level", level, "-o", goal, "--json")
    record = json.loads(printed)
    assert goal.read_text("utf-8") == record["text"]
    assert (record["language"], record["level"], record["steps_line_by_line"]) == (language, level, 26)
    assert [each["note"] for each in record["notes"]] == list(range(43))
    notes = json.loads(run("notes", TUNE, "--json")[1])["notes"]
    events = json.loads(run("trace", goal, "--json")[1])["events"]
    line_of = {each["note"]: each["line"] for each in record["notes"]}
    wanted = [(each["number"], each["length_beats"], line_of[place]) for place, each in enumerate(notes)]
    traced = [(number, each["length_beats"], each["line"]) for each in events for number in each["numbers"]]
    assert sorted(traced) == sorted(wanted)


def test_one_voice_at_a_level_of_the_lesson(run):
    status, printed, _ = run("program", TUNE, "--voice", "Buoys", "--level", "repeats")
    assert printed.startswith("tempo 92\nrepeat 2:\n  play G3 B3 D4 for 3\n") and status == 0


def test_a_dialect_beside_the_tune_is_known_by_its_name(run, tmp_path):
    (tmp_path / "tune.chick").write_text("C4 rest=1/2 E4=2\n")
    dialect = 'title = "Ruf"\ntempo = "zeit {tempo}"\nplay = "spiele {pitch} {beats}"\nrest = "ruhe {beats}"\n'
    (tmp_path / "ruf.dialect.toml").write_text(dialect)
    _, printed, _ = run("program", tmp_path / "tune.chick", "--in", "ruf")
    assert printed == "zeit 120\nspiele 60 1\nruhe 0.5\nspiele 64 2\n"
    status, _, said = run("program", tmp_path / "tune.chick", "--in", "ruf", "--level", "parts")
    assert status == 2 and "ruf cannot be written at the level parts; it has line." in said


REFUSED = {
    ("--in", "cobol"): "There is no language called cobol; there are steps, python, javascript, c, java, ferry-talk.",
    ("--voice", "Horn"): "there is no voice called Horn; the voices are: Whistle, Buoys.",
    ("--runs",): "steps has no key `runs` that makes a program run by itself.",
}


@pytest.mark.parametrize("words", REFUSED)
def test_what_cannot_be_written_is_said_in_a_sentence(run, words):
    status, printed, said = run("program", TUNE, *words)
    assert status == 2 and printed == "" and REFUSED[words] in said


OURS = """title = "Ruf"
tempo = "zeit {tempo}"
play = "spiele {pitch} {beats} lang"
chord = "spiele [{pitches}] {beats} lang"
rest = "ruhe {beats}"
ring = "lass {pitch} klingen {beats}"
pitch = "<{name}>"
repeat = "{times} mal {{"
repeat_end = "}}"
part = "das heisst {part}:"
part_end = "."
call = "jetzt {part}"
moved_part = "das heisst {part}:"
moved_call = "jetzt {part} hoch {up}"
indent = " "
"""


@pytest.mark.parametrize("level", ["line", "repeats", "parts"])
def test_the_dialect_of_a_class_is_read_backwards(run, tmp_path, level):
    (tmp_path / "tune.chick").write_text(
        "tempo: 93\n\nphrase call\n  C4 E4=1/3 rest=2/3\n\n"
        "voice V\n  call (G4&B4 D4) x3 call up 3 call down 4\n\nvoice W\n  C3=4 E3=9\n"
    )
    (tmp_path / "ruf.dialect.toml").write_text(OURS)
    goal = tmp_path / "herons.txt"
    status, _, said = run("program", tmp_path / "tune.chick", "--in", "ruf", "--level", level, "-o", goal)
    assert status == 0, said
    notes = json.loads(run("notes", tmp_path / "tune.chick", "--json")[1])["notes"]
    status, printed, said = run("trace", goal, "--json")
    assert status == 0, (goal.read_text(), said)
    events = json.loads(printed)["events"]
    traced = sorted((number, each["length_beats"]) for each in events for number in each["numbers"])
    assert traced == sorted((each["number"], each["length_beats"]) for each in notes)
    imported = json.loads(run("notes", goal, "--json")[1])["notes"]
    assert [each["number"] for each in imported] == [each["number"] for each in notes]


def test_what_a_folder_says_of_its_programs_keeps_no_table_from_being_read(run, tmp_path):
    (tmp_path / "programs.toml").write_text("[calls\n")
    (tmp_path / "ruf.dialect.toml").write_text(OURS)
    (tmp_path / "tune.csv").write_text("name,beats\nC4,1\nE4,2\n")
    notes = json.loads(run("notes", tmp_path / "tune.csv", "--json")[1])["notes"]
    assert [each["number"] for each in notes] == [60, 64]
    (tmp_path / "voles.py").write_text("play(60, 1)\n")
    status, _, said = run("notes", tmp_path / "voles.py")
    assert status == 2 and "voles.py: " in said
