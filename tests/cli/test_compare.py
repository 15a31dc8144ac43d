"""The demo's class: thirty attempts at three tunes, in many forms, with the verdict each must get."""

from __future__ import annotations

import csv
import io
import json
import sys
from importlib.resources import files

import pytest

SONGS = files("chickadee.songs")
VOICES = {"fogbank-round": "First boat", "gull-point": "Whistle", "orrin-quay": "Whistle", "reed-island": "Reeds"}
RIGHT = (0, None)
# tune/file: verdict, number of differences, (kind, bar, beat) of the first
EXPECTED = {
    "fogbank-round/Grebes.java": ("differs", 1, ("pitch", 4, "1")),
    "fogbank-round/dippers.py": ("differs", 1, ("missing", 5, "1")),
    "fogbank-round/larks.py": ("differs", 1, ("missing", 9, "1")),
    "fogbank-round/martins.js": ("differs", 2, ("missing", 4, "1")),
    "fogbank-round/minnows.js": ("differs", 1, ("missing", 9, "1")),
    "fogbank-round/moths.py": ("differs", 1, ("missing", 5, "1")),
    "fogbank-round/newts.txt": ("right", *RIGHT),
    "fogbank-round/otters.py": ("right", *RIGHT),
    "fogbank-round/perch.py": ("differs", 1, ("added", 3, "1")),
    "fogbank-round/pikes.cpp": ("differs", 1, ("missing", 1, "1")),
    "fogbank-round/shrews.py": ("differs", 1, ("missing", 4, "3")),
    "fogbank-round/swifts.py": ("differs", 1, ("pitch", 4, "3")),
    "fogbank-round/terns.c": ("right", *RIGHT),
    "fogbank-round/toads.py": ("right", *RIGHT),
    "fogbank-round/voles.js": ("right", *RIGHT),
    "gull-point/dippers.txt": ("differs", 3, ("pitch", 1, "1")),
    "gull-point/grebes.chick": ("differs", 1, ("pitch", 7, "3")),
    "gull-point/herons.py": ("differs", 1, ("pitch", 7, "3")),
    "gull-point/larks.chick": ("another-tune", *RIGHT),
    "gull-point/martins.mid": ("right", *RIGHT),
    "gull-point/minnows.js": ("differs", 2, ("length", 2, "1")),
    "gull-point/moths.txt": ("pitches-only", *RIGHT),
    "gull-point/newts.png": ("unreadable", *RIGHT),
    "gull-point/otters.chick": ("right", *RIGHT),
    "gull-point/perch.chick": ("differs", 1, ("added", 5, "1")),
    "gull-point/pikes.chick": ("differs", 1, ("pitch", 1, "2")),
    "gull-point/plovers.musicxml": ("differs", 1, ("missing", 3, "2")),
    "gull-point/shrews.ino": ("right", *RIGHT),
    "gull-point/swifts.json": ("scaled", *RIGHT),
    "gull-point/terns.chick": ("differs", 1, ("missing", 5, "1")),
    "gull-point/toads.chick": ("differs", 10, ("pitch", 5, "1")),
    "gull-point/voles.csv": ("moved", *RIGHT),
    "gull-point/wrens.txt": ("scaled", *RIGHT),
    "orrin-quay/dippers.chick": ("unreadable", *RIGHT),
    "orrin-quay/herons.csv": ("right", *RIGHT),
    "orrin-quay/minnows.txt": ("differs", 1, ("missing", 9, "1")),
    "orrin-quay/otters.chick": ("moved", *RIGHT),
    "orrin-quay/terns.mid": ("differs", 2, ("pitch", 3, "1")),
    "orrin-quay/voles.py": ("differs", 1, ("missing", 4, "4")),
    "reed-island/dippers.txt": ("pitches-only", *RIGHT),
    "reed-island/herons.txt": ("differs", 1, ("missing", 5, "1")),
    "reed-island/minnows.chick": ("differs", 2, ("length", 1, "1")),
    "reed-island/otters.json": ("right", *RIGHT),
    "reed-island/terns.csv": ("differs", 2, ("pitch", 1, "3")),
    "reed-island/voles.py": ("moved-scaled", *RIGHT),
}


@pytest.mark.parametrize("tune", VOICES)
def test_every_attempt_of_the_class_gets_its_verdict(run, tune):
    command = ("compare", str(SONGS / f"{tune}.chick"), str(SONGS / "classes" / tune), "--voice", VOICES[tune])
    status, out, err = run(*command, "--json")
    assert (status, err) == (1, "")
    found = json.loads(out)
    judged = {}
    for each in found["attempts"]:
        first = each["differences"][0] if each["differences"] else None
        place = (first["kind"], first["bar"], first["beat"]) if first else None
        judged[f"{tune}/{each['file']}"] = (each["verdict"], len(each["differences"]), place)
    assert judged == {name: wanted for name, wanted in EXPECTED.items() if name.startswith(tune)}
    rows = list(csv.DictReader(io.StringIO(run(*command, "--csv")[1])))
    assert [row["verdict"] for row in rows] == [each["verdict"] for each in found["attempts"]]
    cells = [
        [row[f"bar {bar + 1}"] or "" for bar in range(found["bars"])] for row in rows if row["verdict"] == "differs"
    ]
    assert cells == [each["bars"] for each in found["attempts"] if each["verdict"] == "differs"]
    lines = run(*command)[1].splitlines()
    assert [line.split(": ", 1)[1] for line in lines] == [each["sentence"] for each in found["attempts"]]


def test_the_class_tells_what_it_gets_wrong_most_often_and_where_that_stands(run):
    command = ("compare", str(SONGS / "gull-point.chick"), str(SONGS / "classes" / "gull-point"), "--json")
    found = json.loads(run(*command, "--voice", "whistle")[1])
    (common,) = found["common"]
    assert common == {"kind": "pitch", "bar": 7, "beat": "3", "found": [65], "attempts": 3}
    herons = next(each for each in found["attempts"] if each["file"].endswith("herons.py"))
    (wrong,) = herons["differences"]
    assert wrong["expected"] == {"numbers": [66], "beats": "1"} and wrong["found"] == {"numbers": [65], "beats": "1"}
    line = (SONGS / "classes" / "gull-point" / "herons.py").read_text("utf-8").splitlines()[wrong["line"] - 1]
    assert line.startswith("notes") and line[wrong["column"] - 1 :] == "65, 67]"
    assert herons["bars"] == ["same"] * 6 + ["pitch", "same"] and (herons["right"], herons["of"]) == (18, 19)


def test_what_cannot_be_compared_is_refused_in_one_line(run, tmp_path, monkeypatch):
    tune = tmp_path / "tune.chick"
    empty = tmp_path / "empty"
    tune.write_text("C4 D4\n")
    empty.mkdir()
    silent = tmp_path / "silent.chick"
    silent.write_text("rest\n")
    for words in (
        ("compare", str(tune), str(tmp_path / "gone.chick")),
        ("compare", str(tune), str(empty)),
        ("compare", str(silent), str(tune)),
        ("compare", str(tune), str(tune), "--voice", "Nobody"),
        ("compare", str(tmp_path / "gone.chick"), str(tune)),
    ):
        status, out, err = run(*words)
        assert (status, out) == (2, "") and len(err.splitlines()) == 1 and err.startswith("chickadee: ")
    assert run("compare", str(tune), str(tune))[:2] == (0, f"{tune}: Right.\n")
    monkeypatch.setattr(sys, "stdin", io.TextIOWrapper(io.BytesIO(b"C4 E4")))
    assert run("compare", str(tune), "-")[1] == "-: 1 difference, at bar 1 beat 2: E4 for D4.\n"
