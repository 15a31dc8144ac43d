"""``chickadee send`` as its contract has it."""

from __future__ import annotations

import json
from importlib.resources import files

import pytest

from chickadee.boards.catalogue import shipped

SONGS = files("chickadee.songs")
TUNES = ["fogbank-round", "gull-point", "mill-reach", "night-boat", "orrin-quay", "reed-island"]
TUNE = "tempo: 120\nvoice High\n G4 B4 A4=2 |\nvoice Low\n G3=4 |\n"


@pytest.mark.parametrize("tune", TUNES)
def test_every_demo_tune_goes_to_every_target_and_boards_sound_it(run, tune):
    path = str(SONGS / f"{tune}.chick")
    for target in shipped():
        status, out, err = run("send", path, "--to", target, "--json")
        found = json.loads(out)
        assert (status, err, found["target"]) == (0, "", target)
        assert all(board["cells"] > 0 and board["text"] and board["voice"] for board in found["boards"])
        assert all(loss.keys() == {"code", "bar", "beat", "sentence"} for loss in found["lost"])
    for board in ("bollard", "lantern", "slipway"):
        heard = json.loads(run("send", path, "--to", board, "--simulate", "--json")[1])["notes"]
        notes = json.loads(run("notes", path, "--json")[1])["notes"]
        lost = {loss["code"] for loss in json.loads(run("send", path, "--to", board, "--json")[1])["lost"]}
        if not lost & {"octave", "range", "cut", "drums", "tick", "struck-again", "tempo"}:
            assert sorted(each["number"] for each in heard) == sorted(each["number"] for each in notes)
            assert sorted(each["start_seconds"] for each in heard) == pytest.approx(
                sorted(each["start_seconds"] for each in notes), abs=0.02)  # fmt: skip


def test_a_tune_is_written_to_a_file_for_each_board_and_what_is_lost_is_said(run, tune, tmp_path):
    path = tune(TUNE.replace("G4 B4", "G4 [f] B4"))
    goal = tmp_path / "out.txt"
    status, out, err = run("send", path, "--to", "bollard", "-o", goal)
    assert (status, out) == (0, "") and err == f"{path}: How loud each note is has no place in the list.\n"
    assert goal.read_text() == "tick 500.0 ms\nG4*1 B4*1 A4*2\n"
    assert (tmp_path / "out 2.txt").read_text() == "tick 500.0 ms\nG3*4\n"
    assert run("send", path, "--to", "bollard", "-o", goal)[0] == 2
    assert run("send", path, "--to", "bollard", "-o", goal, "--force")[0] == 0
    assert run("send", path, "--to", "bollard", "--voice", "low")[1] == "tick 2000.0 ms\nG3*1\n"
    assert run("send", path, "--to", "bollard", "--voice", "low", "--tick", "1/4")[1] == "tick 125.0 ms\nG3*16\n"
    assert (
        json.loads(run("send", path, "--to", "bollard", "--tick", "1/2", "--json")[1])["boards"][0]["tick"] == "1/2"
    )


def test_a_target_of_one_s_own_lies_beside_the_tune(run, tune, tmp_path):
    path = tune(TUNE)
    own = tmp_path / "mine.target.toml"
    own.write_text('title = "Mine"\n[[list]]\nentry = "play {number} {milliseconds}"\nbetween = ""\nwrap = 1\n')
    assert run("send", path, "--to", "mine", "--voice", "High")[1] == "play 67 500\nplay 71 500\nplay 69 1000\n"
    assert run("send", path, "--to", own, "--voice", "High")[1].startswith("play 67")
    assert run("send", path, "--list")[1].startswith("mine                Mine\n")
    own.write_text('title = "Mine"\n[[list]]\nentry = "play {pitch}"\n')
    status, out, err = run("send", path, "--to", "mine")
    assert (status, out) == (2, "") and err.startswith(f"chickadee: {own}: line 3: entry names {{pitch}}")
    assert len(err.splitlines()) == 1


@pytest.mark.parametrize("words", [(), ("x.chick",), ("x.chick", "--to", "nowhere"), ("--table", "C2", "X9")])
def test_what_makes_no_sense_is_one_line(run, tune, words):
    given = [tune(TUNE) if word == "x.chick" else word for word in words]
    status, out, err = run("send", *given)
    assert (status, out, len(err.splitlines())) == (2, "", 1)


def test_the_hertz_of_notes_by_octaves(run):
    rows = [line.split() for line in run("send", "--table", "C2", "C7")[1].splitlines()]
    assert rows[0] == ["2", "3", "4", "5", "6", "7"] and len(rows) == 13
    assert rows[10] == ["A", "110.00", "220.00", "440.00", "880.00", "1760.00"]
    assert rows[1][-1] == "2093.00"
