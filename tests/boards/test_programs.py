"""The text for each programming language is read by the language itself, and gives the tune's notes."""

from __future__ import annotations

import csv
import io
import json
import shutil
import subprocess

import pytest

from chickadee.boards.catalogue import shipped, target_called
from chickadee.boards.fitting import fitted
from chickadee.boards.packing import packed
from chickadee.sheet import read

SONG = read('title: The "slip" */ \\n way\ntempo: 120\nkey: G major\nG4 rest=1/2 F#4=1/3 Bb4=3/2 | C5&E5=4').song
TOP = [(67, 1.0), (None, 0.5), (66, 0.333333), (70, 1.5), (76, 4.0)]
LOW = [(None, 3.333333), (72, 4.0)]
SHAPES = ("numbers", "names", "pairs", "lists", "records")
NAMES = {67: "G4", 66: "F#4", 70: "Bb4", 76: "E5", 72: "C5"}


def text_for(name):
    fit = fitted(SONG, target_called(name))
    (board,) = fit.boards
    return packed(fit, board)


def checked(shape, found):
    """Two lines, as the lists of a shape give them, are those of the song."""
    for line, wanted in zip(found, (TOP, LOW), strict=True):
        if shape == "lists":
            hertz = [0 if number is None else 440 * 2 ** ((number - 69) / 12) for number, _ in wanted]
            assert [row[0] for row in line] == pytest.approx(hertz, abs=0.01)
            assert [row[1] for row in line] == pytest.approx([beats / 2 for _, beats in wanted], abs=1e-4)
            continue
        assert [row[-1] for row in line] == pytest.approx([beats for _, beats in wanted], abs=1e-5)
        silent = (None, -1, "", 0, "rest")
        for row, (number, _) in zip(line, wanted, strict=True):
            expected = {"names": [NAMES.get(number)], "records": [NAMES.get(number), number]}.get(shape, [number])
            got = [None if each in silent else each for each in row[:-1]]
            assert got == expected


def lists_in(shape, values):
    """The two lines of lists that are called notes and beats, or tune, or hertz and seconds."""
    first, second = {"numbers": ("notes", "beats"), "names": ("notes", "beats"), "lists": ("hertz", "seconds")}.get(
        shape, ("tune", None)
    )
    for suffix in ("", "_2"):
        rows = values[first + suffix]
        if second:
            yield list(zip(rows, values[second + suffix], strict=True))
        else:
            yield [tuple(row.values()) if isinstance(row, dict) else tuple(row) for row in rows]


@pytest.mark.parametrize("shape", SHAPES)
def test_python_reads_its_lists(shape):
    values: dict[str, object] = {}
    exec(text_for(f"python-{shape}"), values)
    checked(shape, list(lists_in(shape, values)))


@pytest.mark.parametrize("shape", SHAPES)
def test_json_is_json(shape):
    checked(shape, list(lists_in(shape, json.loads(text_for(f"json-{shape}")))))


@pytest.mark.parametrize("shape", SHAPES)
@pytest.mark.skipif(shutil.which("node") is None, reason="this machine has no JavaScript")
def test_javascript_reads_its_lists(shape):
    names = (
        ["notes", "beats"]
        if shape in ("numbers", "names")
        else ["hertz", "seconds"]
        if shape == "lists"
        else ["tune"]
    )
    every = ", ".join(f"{name}, {name}_2" for name in names)
    code = f"{text_for(f'javascript-{shape}')}\nconsole.log(JSON.stringify({{{every}}}))"
    out = subprocess.run(["node", "-e", code], capture_output=True, text=True, check=True).stdout
    checked(shape, list(lists_in(shape, json.loads(out))))


@pytest.mark.parametrize("shape", SHAPES)
@pytest.mark.skipif(shutil.which("cc") is None, reason="this machine has no C compiler")
def test_c_compiles_its_arrays_and_prints_them(shape, tmp_path):
    body = {
        "numbers": 'printf("[%d, %.9g]", notes{s}[i], beats{s}[i]);',
        "names": 'printf("[\\"%s\\", %.9g]", notes{s}[i] ? notes{s}[i] : "rest", beats{s}[i]);',
        "pairs": 'printf("[%d, %.9g]", (int)tune{s}[i][0], tune{s}[i][1]);',
        "lists": 'printf("[%.9g, %.9g]", hertz{s}[i], seconds{s}[i]);',
        "records": 'printf("[\\"%s\\", %d, %.9g]", tune{s}[i].name ? tune{s}[i].name : "rest", tune{s}[i].number, tune{s}[i].beats);',
    }[shape]
    size = {"numbers": "notes", "names": "notes", "lists": "hertz"}.get(shape, "tune")
    loops = 'printf(", ");'.join(
        f'printf("[");for (i = 0; i < sizeof {size}{s} / sizeof {size}{s}[0]; i++) {{ if (i) printf(", "); '
        f'{body.replace("{s}", s)} }}printf("]");'
        for s in ("", "_2")
    )
    source = tmp_path / "tune.c"
    source.write_text(f'#include <stdio.h>\n{text_for(f"c-{shape}")}\nint main(void) {{ size_t i; printf("["); {loops} '
                      'printf("]"); return 0; }\n')  # fmt: skip
    subprocess.run(["cc", "-Wall", "-Werror", "-o", str(tmp_path / "tune"), str(source)], check=True)
    checked(shape, json.loads(subprocess.run([str(tmp_path / "tune")], capture_output=True, text=True).stdout))


@pytest.mark.skipif(shutil.which("javac") is None, reason="this machine has no Java compiler")
def test_java_compiles_every_class(tmp_path):
    files = []
    for shape in SHAPES:
        source = tmp_path / shape / "Tune.java"
        source.parent.mkdir()
        source.write_text(text_for(f"java-{shape}").replace("class Tune", f"class Tune{shape.title()}"))
        files.append(str(source))
    (tmp_path / "Show.java").write_text(
        "class Show { public static void main(String[] a) {\n"
        'for (int i = 0; i < TuneNumbers.notes.length; i++) System.out.println(TuneNumbers.notes[i] + " " + TuneNumbers.beats[i]);\n'
        'for (TuneRecords.Note n : TuneRecords.tune) System.out.println(n.number() + " " + n.beats());\n'
        'for (double[] p : TunePairs.tune) System.out.println((int) p[0] + " " + p[1]); } }'
    )
    subprocess.run(["javac", "-d", str(tmp_path), *files, str(tmp_path / "Show.java")], check=True, timeout=120)
    out = subprocess.run(["java", "-cp", str(tmp_path), "Show"], capture_output=True, text=True, check=True).stdout
    rows = [(int(line.split()[0]), float(line.split()[1])) for line in out.splitlines()]
    assert rows == [(-1 if number is None else number, beats) for number, beats in TOP] * 3


@pytest.mark.parametrize("shape", SHAPES)
def test_csv_has_its_headings_and_rows(shape):
    top, low = text_for(f"csv-{shape}").split("\n\n")
    rows = list(csv.DictReader(io.StringIO(top)))
    assert len(rows) == len(TOP) and len(low.strip().splitlines()) == len(LOW)
    if "number" in rows[0]:
        assert [row["number"] for row in rows if row["number"].isdigit()] == ["67", "66", "70", "76"]
    if "beats" in rows[0]:
        assert [float(row["beats"]) for row in rows] == pytest.approx([beats for _, beats in TOP], abs=1e-5)


def test_every_target_of_every_language_ships():
    languages = ("python", "javascript", "c", "java", "json", "csv")
    assert {f"{language}-{shape}" for language in languages for shape in SHAPES} < set(shipped())
