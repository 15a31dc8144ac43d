"""Tunes of every form on the command line: imported, listed, checked, moved, rendered."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

import chickadee
from chickadee import read
from chickadee import write as write_tune
from chickadee.cli.main import main

TUNE = "title: Reeds\ntempo: 96\nmeter: 3/4\nkey: G major\nvoice Whistle\n  G4 B4 D5 | A4=2 rest |\nvoice Bells\n  sound: glass bell\n  {G}=3 | {D}=3 |\n"


def run(capsys, *words):
    with pytest.raises(SystemExit) as end:
        main([str(word) for word in words])
    out, err = capsys.readouterr()
    return end.value.code, out, err


@pytest.fixture(params=[".mid", ".musicxml", ".mxl", ".csv"])
def other(request, tmp_path):
    path = tmp_path / f"tune{request.param}"
    write_tune(read(TUNE), path)
    return path


def test_a_file_of_any_form_becomes_a_sheet_and_every_command_takes_it(capsys, other, tmp_path):
    status, sheet, _ = run(capsys, "import", other)
    song = read(sheet).song
    assert status == 0 and not read(sheet).has_errors
    assert [note.number for note in song.notes] == [note.number for note in read(TUNE).song.notes]
    assert [voice.name for voice in song.voices] == ["Whistle", "Bells"]
    for words in (["notes", other], ["check", other], ["transpose", other, "--semitones", "2"], ["tidy", other],
                  ["render", other, "-o", tmp_path / "out.mid"]):  # fmt: skip
        assert run(capsys, *words)[0] == 0
    assert len(chickadee.open(other).song.notes) == 10


def test_import_says_what_it_did_in_json(capsys, other):
    status, out, err = run(capsys, "import", other, "--json", "--voices", "2", "--no-phrases")
    made = json.loads(out)
    assert status == 0 and err == ""
    assert set(made) == {"sheet", "moved_ms_mean", "moved_ms_worst", "voices", "left_out"}
    assert [voice["name"] for voice in made["voices"]] == ["Whistle", "Bells"]
    assert "Whistle" not in made["sheet"] and "phrase" not in made["sheet"]


def test_import_writes_a_file_and_replaces_none_unasked(capsys, other, tmp_path):
    goal = tmp_path / "new.chick"
    assert run(capsys, "import", other, "-o", goal, "--snap", "1/4")[0] == 0
    before = goal.read_text("utf-8")
    status, _, err = run(capsys, "import", other, "-o", goal)
    assert status == 2 and "already exists" in err and goal.read_text("utf-8") == before
    assert run(capsys, "import", other, "-o", goal, "--snap", "none", "--force")[0] == 0


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["--voices", "9"], "no voice 9"),
        (["--voices", "x"], "not a list of voices"),
        (["--snap", "often"], "not auto, none or a part"),
        (["--as", "midi"], "not a MIDI file"),
    ],
)
def test_what_cannot_be_is_one_sentence(capsys, tmp_path, words, said):
    (tmp_path / "tune.csv").write_text("note,beats\nC4,1\n")
    status, out, err = run(capsys, "import", tmp_path / "tune.csv", *words)
    assert status == 2 and out == "" and said in err and err.count("\n") == 1


def test_rests_are_listed_with_no_number_and_speed_is_heard(capsys, tmp_path):
    path = tmp_path / "tune.chick"
    path.write_text(TUNE)
    rows = json.loads(run(capsys, "notes", path, "--json", "--rests")[1])["notes"]
    rest = next(row for row in rows if row["name"] == "rest")
    assert (rest["number"], rest["bar"], rest["beat"], rest["length_beats"], rest["line"]) == (None, 2, "3", "1", 6)
    assert len(rows) == 11
    assert run(capsys, "render", path, "-o", tmp_path / "slow.mid", "--speed", "50%")[0] == 0
    assert chickadee.open(tmp_path / "slow.mid").song.tempo_in_beats == 48


def test_a_program_s_list_from_standard_input(capsys, monkeypatch, tmp_path):
    program = tmp_path / "tune.py"
    program.write_text('notes = ["C4", "E4", "G4"]\nbeats = [1, 1, 2]\n')
    status, sheet, _ = run(capsys, "import", program)
    assert status == 0 and "C4 E4 G4=2" in sheet
    status, _, err = run(capsys, "import", Path(tmp_path / "none.mid"))
    assert status == 2 and "there is no such file" in err
