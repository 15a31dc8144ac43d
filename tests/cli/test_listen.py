"""``chickadee listen`` as its contract has it."""

from __future__ import annotations

import json

import numpy as np
import pytest
import soundfile


@pytest.fixture
def recording(tmp_path, run, tune):
    run(
        "render",
        tune("tempo: 100\nmeter: 3/4\nvoice A\n  sound: reed pipe\n  G4 B4 A4 | E4=2 D4 | G4=3 |\n"),
        "-o",
        tmp_path / "gull-call.wav",
    )
    return tmp_path / "gull-call.wav"


def test_notes_are_printed_or_given_as_json(run, recording):
    status, out, err = run("listen", recording)
    assert (status, err) == (0, "")
    rows = [line.split(", ") for line in out.splitlines()]
    assert [row[3] for row in rows] == ["G4", "B4", "A4", "E4", "D4", "G4"]
    assert [float(row[0]) for row in rows] == pytest.approx([0, 0.6, 1.2, 1.8, 3.0, 3.6], abs=0.05)
    found = json.loads(run("listen", recording, "--json")[1])
    assert found["tempo"] == 100 and found["first_seconds"] == pytest.approx(0, abs=0.03)
    assert found["other_tempos"] and all(tempo > 0 for tempo in found["other_tempos"]) and "/" in found["meter"]
    assert list(found["notes"][0]) == [
        "start_seconds",
        "length_seconds",
        "number",
        "name",
        "cents",
        "loudness",
        "sure",
    ]
    assert all(abs(note["cents"]) < 5 and 0.8 < note["sure"] <= 1 for note in found["notes"])


def test_a_sheet_is_written_in_the_meter_asked_for(run, recording, tmp_path):
    goal = tmp_path / "heard.chick"
    assert run("listen", recording, "-o", goal, "--meter", "3/4", "--tempo", "100", "--first", "0") == (0, "", "")
    text = goal.read_text()
    assert "title: Gull call" in text and "meter: 3/4" in text and "G4 B4 A4 | E4=2 D4 | G4=3 |" in text
    assert run("check", goal)[0] == 0
    assert run("listen", recording, "-o", goal)[0] == 2
    assert run("listen", recording, "-o", goal, "--force")[0] == 0


def test_refusals_are_one_sentence(run, recording, tmp_path):
    silence = tmp_path / "silence.wav"
    soundfile.write(silence, np.zeros(22_050), 22_050)
    assert run("listen", silence) == (0, "", f"{silence}: no notes were heard. It is silent.\n")
    for words in (("listen", tmp_path / "none.wav"), ("listen", tmp_path), ("listen", recording, "--meter", "3/5"),
                  ("listen", silence, "-o", tmp_path / "out.chick"), ("listen", recording, "--tempo", "0")):  # fmt: skip
        status, out, err = run(*words)
        assert (status, out, len(err.splitlines())) == (2, "", 1)
