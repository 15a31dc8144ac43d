"""``chickadee staff`` as its contract has it: what is written as JSON, and pictures of it, with no display."""

from __future__ import annotations

import json
from fractions import Fraction
from importlib.resources import files

import pytest

from chickadee.handout.pages import class_set, pages_of
from chickadee.handout.request import Gaps, HandoutFault, Request
from chickadee.handout.shapes import Filled, Line, Text
from chickadee.handout.staff_tasks import StaffTask
from chickadee.incoming import read as read_file
from chickadee.sheet import read

SONGS = files("chickadee.songs")
TYPES = {"whole": 4, "half": 2, "quarter": 1, "eighth": Fraction(1, 2), "16th": Fraction(1, 4), "32nd": Fraction(1, 8),
         "64th": Fraction(1, 16)}  # fmt: skip


def quarters(item):
    plain = TYPES[item["type"]] * (2 - Fraction(1, 2 ** item["dots"]))
    actual, normal = item["tuplet"] or (1, 1)
    return Fraction(plain) * normal / actual


@pytest.mark.parametrize(
    "name", ["gull-point", "mill-reach", "night-boat", "orrin-quay", "reed-island", "fogbank-round"]
)
def test_each_tune_of_the_demo_adds_up_in_json(name, run):
    status, out, err = run("staff", str(SONGS / f"{name}.chick"), "--json")
    assert (status, err) == (0, "")
    for voice in json.loads(out)["voices"]:
        assert (
            voice["clef"] in ("treble", "treble-8", "treble+8", "bass", "alto", "percussion") and voice["staves"] == 1
        )
        for bar in voice["bars"]:
            upper, lower = map(int, bar["meter"].split("/"))
            assert sum(quarters(item) for item in bar["items"]) == Fraction(4 * upper, lower) or bar["bar"] == 0
            assert [Fraction(item["start"]) for item in bar["items"]] == [
                sum((Fraction(before["length"]) for before in bar["items"][:place]), Fraction(0))
                for place in range(len(bar["items"]))
            ]


def test_what_is_asked_for_is_written(run, tmp_path):
    tune = tmp_path / "t.chick"
    tune.write_text(
        "key: D major\nvoice High\n  C#5=3/2 F5=1/2 F5=2 | F#5=4\nvoice Low\n  (D4 E4 F#4)=1 D4=3 | C4=1/1000 D4=2999/1000 E4\n"
    )
    status, out, err = run("staff", str(tune), "--json", "--voice", "low", "--bars", "1-1")
    (voice,) = json.loads(out)["voices"]
    assert (status, err, voice["name"], len(voice["bars"])) == (0, "", "Low", 1)
    triplet = voice["bars"][0]["items"][0]
    assert (triplet["type"], triplet["tuplet"], triplet["beam"]) == ("eighth", [3, 2], "begin")
    assert triplet["pitches"] == [
        {"name": "D4", "number": 62, "place": -1, "accidental": None, "courtesy": False, "tie": False}
    ]
    high = json.loads(run("staff", str(tune), "--json", "--voice", "High", "--clef", "alto")[1])["voices"][0]
    items = [item for bar in high["bars"] for item in bar["items"]]
    assert high["clef"] == "alto" and high["bars"][0]["key"] == 2
    assert [item["pitches"][0]["accidental"] for item in items] == [None, "natural", None, "sharp"]
    assert [item["pitches"][0]["courtesy"] for item in items] == [False, False, False, True]
    both = json.loads(run("staff", str(tune), "--json", "--voice", "High", "--with", "Low")[1])["voices"]
    assert [line["line"] for line in both[0]["bars"]] == [1, 2, 1, 2] and len(both) == 1
    err = run("staff", str(tune), "--json")[2]
    assert err == f"{tune}: Low: what has no notation is written as its nearest in bar 2.\n"


def test_pictures_are_written_once_and_faults_are_said(run, tmp_path):
    tune = tmp_path / "t.chick"
    tune.write_text("title: Pier\nC4 D4 E4 F4\n")
    for suffix in ("svg", "pdf", "png"):
        goal = tmp_path / f"t.{suffix}"
        assert run("staff", str(tune), "--names", "-o", str(goal))[0] == 0 and goal.stat().st_size > 3000
    drawn = (tmp_path / "t.svg").read_text()
    assert ">Pier</text>" in drawn and ">F4</text>" in drawn and "Date" not in drawn and "<path" in drawn
    for words in (("-o", str(tmp_path / "t.svg")), ("-o", str(tmp_path / "t.doc")), ("--bars", "7-9"), ("--voice", "x"),
                  ("--with", "x"), ("--clef", "tenor")):  # fmt: skip
        status, out, err = run("staff", str(tune), *words)
        assert status == 2 and not out and err.count("\n") == 1, words
    tune.write_text("rest=4")
    assert run("staff", str(tune), "-o", str(tmp_path / "r.svg"))[0] == 2


# Worksheets


SONG = read_file(SONGS / "gull-point.chick").song


def marks(pages, kind):
    return [shape for page in pages for shape in page.shapes if isinstance(shape, kind)]


@pytest.mark.parametrize("task", list(StaffTask))
def test_a_sheet_lacks_what_its_answers_have(task):
    sheet, answers = (
        pages_of("staff-worksheet", SONG, Request(task=task.value, answers=each)) for each in (False, True)
    )
    counts = [[len(marks(pages, kind)) for kind in (Filled, Line, Text)] for pages in (sheet, answers)]
    if task is StaffTask.CLAP:
        assert counts[0][:2] == counts[1][:2]
    elif task is StaffTask.RESTS:
        assert counts[0] <= counts[1]
    else:
        assert sum(counts[0]) < sum(counts[1])
    names = {"G4", "B4", "A4", "E4", "D4", "C5", "F♯4"}
    if task in (StaffTask.NAMES, StaffTask.NUMBERS, StaffTask.STEMS, StaffTask.MATCH):
        assert not names & {text.text for text in marks(sheet, Text)}
    if task is StaffTask.DRAW:
        assert {text.text for text in marks(sheet, Text)} & names


@pytest.mark.parametrize("task", ["names", "draw", "stems", "match"])
def test_each_pupil_has_a_sheet_of_her_own_and_the_same_again(task):
    sets = class_set(SONG, Request(task=task), 12, 5, "staff-worksheet")
    shapes = [
        tuple(shape for page in pages for shape in page.shapes if not isinstance(shape, Text)) for pages in sets
    ]
    assert len(set(shapes)) > 6
    assert sets == class_set(SONG, Request(task=task), 12, 5, "staff-worksheet")


def test_cards_and_charts_are_of_any_range_and_backs_lie_behind_their_fronts():
    front, back = pages_of("flashcards", SONG, Request(reach=(60, 66)))
    names = [text for text in marks([back], Text) if text.size == 26]
    assert [text.text for text in names] == ["C4", "C♯4", "D4", "D♯4", "E4", "F4", "F♯4"]
    lefts = [text.left for text in names[:3]]
    assert lefts == sorted(lefts, reverse=True)
    chart = marks(pages_of("chart", SONG, Request(reach=(48, 84))), Text)
    numbers = [int(text.text) for text in chart if text.text.isdigit() and int(text.text) > 40]
    assert numbers and sorted(numbers) == list(range(48, 85))
    assert len(marks([front], Filled)) >= 2 * 7
    with pytest.raises(HandoutFault, match="Drums"):
        pages_of("flashcards", read("sound: drum kit\nkick").song, Request())
    with pytest.raises(HandoutFault, match="two bars"):
        pages_of("staff-worksheet", read("C4=4 | C4=4").song, Request(task="match", gaps=Gaps(seed=2)))
