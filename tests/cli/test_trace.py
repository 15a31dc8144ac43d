"""``chickadee trace``, and programs wherever a command takes a file."""

from __future__ import annotations

import io
import json
import sys

import pytest

PROGRAM = """from boat import play, rest
def call(up=0):
    play(60 + up, 1)
    play(64 + up, 1/2)
for turn in range(2):
    call()
    rest(1/2)
call(up=5)
"""


@pytest.fixture
def program(tmp_path):
    path = tmp_path / "otters.py"
    path.write_text(PROGRAM)
    return path


def test_a_trace_is_a_line_an_event_and_one_object(run, program):
    status, out, err = run("trace", str(program))
    assert status == 0 and out.splitlines()[:3] == [
        "0 1 C4 (line 3, turn 1)",
        "1 1/2 E4 (line 4, turn 1)",
        "2 1 C4 (line 3, turn 2)",
    ]
    assert "play(pitch, beats): a strike that holds the program." in err
    found = json.loads(run("trace", str(program), "--json")[1])
    assert {name: found[name] for name in ("language", "ended", "fault", "uses")} == {
        "language": "python",
        "ended": "end",
        "fault": None,
        "uses": {"repeats": 1, "parts": 1, "lists": 0, "steps": 7},
    }
    assert found["understood"][0] == {
        "call": "play",
        "is": "strike",
        "holds": True,
        "unit": "beats",
        "sentence": "play(pitch, beats): a strike that holds the program.",
    }
    assert found["events"][3] == {
        "start_beats": "3",
        "length_beats": "1/2",
        "numbers": [64],
        "line": 4,
        "column": 5,
        "turns": [2],
    }


def test_a_fault_and_a_bound_end_with_1_and_a_question_takes_answers(run, tmp_path):
    for text, ended, status in (
        ("play(60, 1)\nplay([60][3], 1)\n", "fault", 1),
        ("while True:\n    play(60, 1)\n", "bound", 1),
        ("n = int(input())\nplay(n, 1)\n", "question", 0),
    ):
        path = tmp_path / "x.py"
        path.write_text(text)
        assert run("trace", str(path))[0] == status
        found = json.loads(run("trace", str(path), "--json")[1])
        assert found["ended"] == ended and found["fault"]["line"] == (2 if ended == "fault" else 1)
    answered = json.loads(run("trace", str(path), "--json", "--answer", "64")[1])
    assert (answered["ended"], answered["events"][0]["numbers"]) == ("end", [64])


def test_seconds_without_a_tempo_count_half_seconds(run, tmp_path):
    path = tmp_path / "x.py"
    path.write_text("import time\nplay(60)\ntime.sleep(0.25)\nplay(62)\ntime.sleep(1)\n")
    found = json.loads(run("trace", str(path), "--json")[1])["events"]
    assert [(each["start_beats"], each["length_beats"]) for each in found] == [("0", "1/2"), ("1/2", "2")]
    path.write_text("set_tempo(92)\nplay(60, ms=652)\nplay(62, ms=1)\n")
    found = json.loads(run("trace", str(path), "--json")[1])["events"]
    assert [each["length_beats"] for each in found] == ["3749/3750", "23/15000"]  # exactly
    assert "\n  C4 D4=" in run("import", str(path), "--snap", "none")[1]  # a beat, as it was meant


def test_the_language_can_be_said_and_what_is_no_program_is_refused(run, tmp_path, monkeypatch):
    path = tmp_path / "x.txt"
    path.write_text("play(60, 1); play(62, 1);")
    assert json.loads(run("trace", str(path), "--as", "javascript", "--json")[1])["language"] == "javascript"
    path.write_text("The dog has it.")
    status, out, err = run("trace", str(path))
    assert (status, out) == (2, "") and err.startswith("chickadee: ") and len(err.splitlines()) == 1
    monkeypatch.setattr(sys, "stdin", io.TextIOWrapper(io.BytesIO(b"play(60, 1)")))
    assert run("trace", "-")[1] == "0 1 C4 (line 1)\n"


def test_programs_are_taken_wherever_a_file_is(run, program, tmp_path):
    sheet = tmp_path / "made.chick"
    assert run("trace", str(program), "-o", str(sheet))[0] == 0
    assert sheet.read_text() == run("import", str(program))[1]
    assert sheet.read_text().endswith("voice Melody\n  (call rest=1/2) x2 call up 5\n")
    assert run("trace", str(program), "-o", str(sheet))[0] == 2  # it is there
    assert [note["number"] for note in json.loads(run("notes", str(program), "--json")[1])["notes"]] == [
        60,
        64,
        60,
        64,
        65,
        69,
    ]
    assert run("check", str(program))[0] == 0
    assert run("compare", str(sheet), str(program))[:2] == (0, f"{program}: Right.\n")
    assert run("import", str(program), "--as", "program")[0] == 0
    data = tmp_path / "data.py"
    data.write_text("notes = [60, 62]\n")
    assert run("import", str(data))[0] == 0 and run("import", str(data), "--as", "program")[0] == 2


def test_a_difference_in_a_program_has_its_turns(run, program, tmp_path):
    tune = tmp_path / "tune.chick"
    tune.write_text("C4 E4=1/2 rest=1/2 C4 E4=1/2 rest=1/2 F4 B4=1/2")
    (found,) = json.loads(run("compare", str(tune), str(program), "--json")[1])["attempts"]
    assert found["program"] == {"language": "python", "uses": {"repeats": 1, "parts": 1, "lists": 0, "steps": 7}}
    assert [(each["line"], each["turns"]) for each in found["differences"]] == [(4, [])]
