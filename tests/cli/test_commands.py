"""The command line as its contract has it: output, exit status, files."""

from __future__ import annotations

import csv
import io
import json
import os
import subprocess
import sys
from fractions import Fraction

import pytest
import soundfile

EXAMPLE = """title: Gull Point landing
tempo: 92
meter: 3/4
key: G major

voice Whistle
  sound: flute
  G4 B4 A4 | E4=2 D4 | 67 A4 C5 | B4 - - |
voice Buoys
  sound: glass bell
  level: p
  {body}
"""
TUNE = EXAMPLE.format(body="G3&B3=bar | C3=bar | D3=bar | 66=1/2 rest=5/2 |")


def test_notes_as_json_by_hand_calculation(run, tune):
    status, out, err = run("notes", tune(TUNE), "--json")
    song = json.loads(out)
    assert (status, err) == (0, "")
    assert {name: song[name] for name in ("title", "tempo", "meter", "key", "beats", "seconds", "voices")} == {
        "title": "Gull Point landing", "tempo": 92.0, "meter": "3/4", "key": "G major", "beats": "12", "seconds": 7.826,
        "voices": [{"name": "Whistle", "sound": "flute"}, {"name": "Buoys", "sound": "glass bell"}],
    }  # fmt: skip
    assert song["notes"][0] == {
        "voice": "Whistle", "bar": 1, "beat": "1", "start_beats": "0", "length_beats": "1", "start_seconds": 0.0,
        "length_seconds": 0.652, "name": "G4", "number": 67, "hz": 391.9954, "loudness": 80, "line": 8, "column": 3,
    }  # fmt: skip
    assert [(note["name"], note["number"], note["start_beats"], note["length_beats"]) for note in song["notes"]] == [
        ("G4", 67, "0", "1"), ("G3", 55, "0", "3"), ("B3", 59, "0", "3"), ("B4", 71, "1", "1"), ("A4", 69, "2", "1"),
        ("E4", 64, "3", "2"), ("C3", 48, "3", "3"), ("D4", 62, "5", "1"), ("G4", 67, "6", "1"), ("D3", 50, "6", "3"),
        ("A4", 69, "7", "1"), ("C5", 72, "8", "1"), ("B4", 71, "9", "3"), ("F#4", 66, "9", "1/2"),
    ]  # fmt: skip
    last = song["notes"][-1]
    assert (last["bar"], last["beat"], last["loudness"], last["line"], last["column"]) == (4, "1", 49, 12, 33)


def test_notes_as_csv_and_as_a_table(run, tune):
    path = tune(TUNE)
    rows = list(csv.DictReader(io.StringIO(run("notes", path, "--csv")[1])))
    assert [row["name"] for row in rows][:4] == ["G4", "G3", "B3", "B4"]
    assert Fraction(rows[-1]["length_beats"]) == Fraction(1, 2)
    table = run("notes", path)[1].splitlines()
    assert len(table) == 15
    assert table[0].split()[:5] == ["bar", "beat", "voice", "name", "number"]


def test_check_prints_a_line_a_finding_and_tells_errors_by_its_status(run, tune):
    bad = tune("C4 H4\nC4=5 |", "bad.chick")
    good = tune(TUNE, "good.chick")
    hint = tune("C4=0.33", "hint.chick")
    assert run("check", good) == (0, "", "")
    assert run("check", hint)[0] == 0
    status, out, _ = run("check", good, bad, hint)
    assert status == 1
    assert out.splitlines() == [
        f"{bad}:1:4: error not-understood: “H4” is not a note or sign that Chickadee knows.",
        f"{bad}:2:1: error bar-length: Bar 1 holds 7 beats, the meter asks for 4.",
        f"{hint}:1:4: hint third: 0.33 is not quite a third; 1/3 is exact.",
    ]


def test_check_as_json(run, tune):
    path = tune("\nC4 H4")
    status, out, _ = run("check", "--json", path)
    assert status == 1
    assert json.loads(out) == [
        {
            "file": str(path), "line": 2, "column": 4, "end_line": 2, "end_column": 6, "severity": "error",
            "code": "not-understood", "message": "“H4” is not a note or sign that Chickadee knows.",
            "fixes": [{"title": "Use B4"}, {"title": "Make it a rest"}],
        }
    ]  # fmt: skip
    assert json.loads(run("check", "--json", tune("C4"))[1]) == []


def test_one_unreadable_file_does_not_hide_the_others(run, tune, tmp_path):
    status, out, err = run("check", tmp_path / "none.chick", tune("H"))
    assert status == 2
    assert out.count("\n") == 1
    assert err.count("\n") == 1


@pytest.mark.parametrize("command", ["check", "notes", "render", "play"])
def test_an_unreadable_file_is_one_line_and_status_2(run, tmp_path, command):
    more = ["-o", tmp_path / "a.mid"] if command == "render" else []
    for name, data in (("none", None), ("binary", b"\0\1"), ("large", b"C4 " * (17 << 20))):
        path = tmp_path / name
        if data:
            path.write_bytes(data)
        status, out, err = run(command, path, *more)
        assert (status, out) == (2, "")
        assert err.count("\n") == 1
        assert str(path) in err
    status, _, err = run(command, tmp_path, *more)
    assert status == 2
    assert "folder" in err


@pytest.mark.parametrize(
    "arguments",
    [["render"], ["check"], ["notes", "--xml", "x"], ["render", "x", "-o", "a.xyz"], ["render", "x", "-o", "a.wav", "--rate", "5"],
     ["render", "x", "-o", "a.wav", "--bars", "b"], ["play", "x", "--speed", "900%"], ["--nonsense"]],
)  # fmt: skip
def test_bad_usage_is_one_line_and_status_2(run, arguments):
    status, _, err = run(*arguments)
    assert status == 2
    assert err.count("\n") == 1


def test_render_writes_each_format(run, tune, tmp_path):
    path = tune(TUNE)
    for suffix, subtype in (("wav", "PCM_16"), ("flac", "PCM_16"), ("ogg", "VORBIS"), ("mp3", "MPEG_LAYER_III")):
        goal = tmp_path / f"out.{suffix}"
        assert run("render", path, "-o", goal)[::2] == (0, "")
        found = soundfile.info(goal)
        assert (found.samplerate, found.channels, found.subtype) == (48_000, 2, subtype)
        assert found.duration == pytest.approx(8, abs=1.5)
    for bits, subtype in (("24", "PCM_24"), ("32f", "FLOAT")):
        goal = tmp_path / f"out{bits}.wav"
        assert run("render", path, "-o", goal, "--bits", bits, "--rate", 44100)[0] == 0
        assert (soundfile.info(goal).subtype, soundfile.info(goal).samplerate) == (subtype, 44_100)
    assert run("render", path, "-o", tmp_path / "out.mid")[0] == 0
    assert (tmp_path / "out.mid").read_bytes()[:4] == b"MThd"


def test_render_takes_a_voice_and_some_bars(run, tune, tmp_path):
    goal = tmp_path / "part.wav"
    assert run("render", tune(TUNE), "-o", goal, "--voice", "Whistle", "--bars", "2-3")[0] == 0
    assert soundfile.info(goal).duration == pytest.approx(6 * 60 / 92, abs=0.2)
    for more, said in ((["--voice", "Drum"], "Whistle, Buoys"), (["--bars", "3-9"], "bars 1 to 4")):
        status, _, err = run("render", tune(TUNE), "-o", tmp_path / "no.wav", *more)
        assert status == 2
        assert said in err
        assert not (tmp_path / "no.wav").exists()


def test_render_replaces_a_file_only_by_force(run, tune, tmp_path):
    goal = tmp_path / "out.mid"
    goal.write_bytes(b"old")
    status, _, err = run("render", tune(TUNE), "-o", goal)
    assert status == 2
    assert "--force" in err
    assert goal.read_bytes() == b"old"
    assert run("render", tune(TUNE), "-o", goal, "--force")[0] == 0
    assert goal.read_bytes() != b"old"


def test_render_says_what_a_format_cannot_hold(run, tune, tmp_path):
    for more in (["-o", tmp_path / "a.flac", "--bits", "32f"], ["-o", tmp_path / "a.mp3", "--rate", "96000"]):
        status, _, err = run("render", tune("C4"), *more)
        assert status == 2
        assert err.count("\n") == 1
        assert "FLAC" in err or "MP3" in err
    status, _, err = run("render", tune("C4=1/1024 D4=1/125 E4=1/9"), "-o", tmp_path / "a.mid")
    assert status == 2
    assert "MIDI" in err
    assert list(tmp_path.glob("a.*")) == []


def test_music_with_errors_is_still_rendered_and_said(run, tune, tmp_path):
    status, _, err = run("render", tune("C4 H4"), "-o", tmp_path / "a.mid")
    assert status == 1
    assert "error" in err
    assert (tmp_path / "a.mid").exists()


def chickadee(*arguments, **more):
    return subprocess.run(
        [sys.executable, "-m", "chickadee", *arguments], capture_output=True, text=True, check=False, **more
    )


def test_standard_input_is_a_minus():
    done = chickadee("notes", "-", "--json", input="60 62=1/2")
    assert done.returncode == 0
    assert [note["name"] for note in json.loads(done.stdout)["notes"]] == ["C4", "D4"]


def test_without_a_display_the_desk_says_so_and_the_demo_goes_on_in_words(tmp_path):
    bare = {
        name: value
        for name, value in os.environ.items()
        if name not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    }
    done = chickadee(env=bare)
    assert done.returncode == 2
    assert "no display" in done.stderr
    done = chickadee("demo", env=bare | {"XDG_DATA_HOME": str(tmp_path / "data")}, cwd=tmp_path)
    assert done.returncode == 0, done.stderr
    for title in ("Orrin Quay", "Gull Point", "Mill Reach", "Reed Island", "Night Boat", "Fogbank Round"):
        assert title in done.stdout
    assert (tmp_path / "demo.png").stat().st_size > 20_000
    (tmp_path / "demo.png").write_text("mine")
    again = chickadee("demo", env=bare | {"XDG_DATA_HOME": str(tmp_path / "data")}, cwd=tmp_path)
    assert (tmp_path / "demo.png").read_text() == "mine" and (tmp_path / "demo-2.png").exists()
    assert "demo-2.png" in again.stdout


def test_a_shell_is_told_what_a_word_could_become():
    asked = {"_CHICKADEE_COMPLETE": "bash_complete", "COMP_WORDS": "chickadee tran", "COMP_CWORD": "1"}
    assert chickadee(env=os.environ | asked).stdout.split() == ["plain,transpose"]
    assert "complete" in chickadee(env=os.environ | {"_CHICKADEE_COMPLETE": "bash_source"}).stdout


def test_without_a_sound_device_play_says_so(tune):
    done = chickadee(
        "play", str(tune("C4")), env=os.environ | {"PULSE_SERVER": "none", "XDG_RUNTIME_DIR": "/nonexistent"}
    )
    assert done.returncode == 2
    assert "no sound device" in done.stderr.splitlines()[-1]


def test_tidy_prints_the_sheet_laid_out_and_checks_it(run, tune):
    path = tune("C4=0.5   D4 |")
    assert run("tidy", path)[:2] == (0, "C4=1/2 D4 |\n")
    assert path.read_text() == "C4=0.5   D4 |"
    status, out, err = run("tidy", path, "--check")
    assert (status, out) == (1, "")
    assert "tidy" in err
    assert run("tidy", tune("C4=1/2 D4 |\n"), "--check") == (0, "", "")
    assert run("tidy", path.parent / "none.chick")[0] == 2


def test_transpose_moves_the_sheet_and_leaves_the_rest_of_the_text(run, tune, tmp_path):
    path = tune("title: Reeds // calm\nkey: C major\n\nC4  E4=1/2 |\n  62 // two\n")
    expected = "title: Reeds // calm\nkey: D major\n\nD4  F#4=1/2 |\n  64 // two\n"
    assert run("transpose", path, "--semitones", 2)[1] == expected
    assert run("transpose", path, "--to-key", "D major")[1] == expected
    assert run("transpose", path, "--interval", "up a major second")[1] == expected
    assert run("transpose", path, "--steps", -1)[1].split("\n")[3:5] == ["B3  D4=1/2 |", "  60 // two"]
    assert run("transpose", path, "--octaves", 1)[1].split("\n")[3:5] == ["C5  E5=1/2 |", "  74 // two"]
    goal = tmp_path / "out.chick"
    assert run("transpose", path, "--semitones", 2, "-o", goal)[1] == ""
    assert goal.read_text() == expected
    status, _, err = run("transpose", path, "--octaves", 1, "-o", goal)
    assert status == 2 and "--force" in err and goal.read_text() == expected
    assert run("transpose", path, "--semitones", 0, "-o", goal, "--force")[0] == 1  # the bar is not full
    assert goal.read_text() == path.read_text()


@pytest.mark.parametrize(
    ("options", "said"),
    [
        ((), "one of"), (("--semitones", 1, "--steps", 1), "one of"), (("--semitones", "x"), "integer"),
        (("--semitones", 200), "range of MIDI"), (("--to-key", "H major"), "not a tonic"),
        (("--interval", "big third"), "not an interval"),
    ],
)  # fmt: skip
def test_transposing_that_cannot_be_is_one_line_and_status_2(run, tune, options, said):
    path = tune("C4 E4")
    status, out, err = run("transpose", path, *options)
    assert (status, out) == (2, "") and said in err and err.count("\n") == 1
