"""What cannot be carried out is one sentence and exit status 2, whatever stands in the way; nothing half done stays."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest
import soundfile

import chickadee
from chickadee.cli.names import COMMANDS

COMMAND = str(Path(sys.executable).with_name("chickadee"))
ENDLESS = "9" * 5000


def run(*words, shell="", folder=None, environment=None):
    """Run the command, by a shell's line around it if that is wanted; its exit status and what it said."""
    command = [COMMAND, *map(str, words)]
    if shell:
        command = ["bash", "-c", f'"$@" {shell}', "bash", *command]
    done = subprocess.run(
        command, capture_output=True, text=True, check=False, timeout=60, cwd=folder,
        env=os.environ | (environment or {}),
    )  # fmt: skip
    assert "Traceback" not in done.stderr
    return done.returncode, done.stderr


def assert_refused(status, said, *words):
    assert status == 2
    assert said.startswith("chickadee: ") and said.count("\n") == 1 and len(said) < 700
    for word in words:
        assert word in said


@pytest.mark.parametrize("shell", [">/dev/full", ">&-", "</dev/null >/dev/full"])
@pytest.mark.parametrize("words", [("check",), ("notes", "--json"), ("tidy",), ("transpose", "--steps", "1")])
def test_an_output_that_cannot_be_written_is_said(tune, words, shell):
    name, *options = words
    assert_refused(*run(name, tune("C4 H4\n"), *options, shell=shell), "standard output: ")


def test_a_reader_of_our_output_who_has_enough_is_no_fault(tune):
    assert run("notes", tune("(C4 D4) x3000"), shell="| head -1 >/dev/null") == (0, "")


@pytest.mark.parametrize(("shell", "said"), [("<&-", "standard input is closed"), ("</dev/zero", "20 MB")])
def test_an_input_that_cannot_be_read_is_said(shell, said):
    assert_refused(*run("check", "-", shell=shell), said)


def test_a_pipe_is_read_where_it_is_named_and_a_device_has_an_end(tune):
    assert run("check", "/dev/stdin", shell="< <(echo C4)") == (0, "")
    assert_refused(*run("check", "/dev/zero"), "20 MB")


@pytest.mark.parametrize(
    ("options", "said"),
    [
        (("-o", "a" * 300 + ".mid"), "too long"),
        (("-o", "no/such/folder.mid"), "no such"),
        (("-o", "out.wav", "--fade", "nan"), "from 0 to 60"),
        (("-o", "out.wav", "--bars", ENDLESS), "--bars"),
        (("-o", "out.wav", "--bars", "²"), "3-8"),
        (("-o", "out.wav", "--bars", "5-3"), "before it begins"),
        (("-o", "out.wav", "--rate", ENDLESS), "--rate"),
        (("-o", "device.mid", "--force"), "device"),
        (("-o", "pipe.mid", "--force"), "pipe"),
        (("-o", "folder.mid", "--force"), "folder"),
        (("-o", "round.mid", "--force"), "loop"),
    ],
)
def test_an_output_that_is_none_is_refused_and_left_as_it_is(tmp_path, tune, options, said):
    (tmp_path / "device.mid").symlink_to("/dev/null")
    (tmp_path / "round.mid").symlink_to("round.mid")
    os.mkfifo(tmp_path / "pipe.mid")
    (tmp_path / "folder.mid").mkdir()
    before = sorted(path.name for path in tmp_path.iterdir())
    assert_refused(*run("render", tune("C4"), *options, folder=tmp_path), said)
    assert sorted(path.name for path in tmp_path.iterdir()) == sorted([*before, "tune.chick"])
    assert (tmp_path / "pipe.mid").is_fifo() and (tmp_path / "device.mid").is_char_device()


def test_a_link_stays_a_link_when_its_file_is_replaced(tmp_path, tune):
    (tmp_path / "real.mid").write_bytes(b"old")
    (tmp_path / "link.mid").symlink_to("real.mid")
    assert run("render", tune("C4"), "-o", tmp_path / "link.mid", "--force") == (0, "")
    assert (tmp_path / "link.mid").is_symlink() and (tmp_path / "real.mid").read_bytes().startswith(b"MThd")


@pytest.mark.skipif(os.geteuid() != 0, reason="only root may become somebody else")
def test_a_folder_that_may_not_be_entered_is_said_as_such(tmp_path):
    closed = tmp_path / "closed"
    closed.mkdir(mode=0o700)
    for each in (tmp_path, *tmp_path.parents):
        each.chmod(each.stat().st_mode | 0o055) if each.owner() == "root" and each != Path("/") else None
    source = tmp_path / "tune.chick"
    source.write_text("C4")
    source.chmod(0o644)
    code = (
        "import encodings.utf_8_sig, os, sys\nfrom chickadee.cli.main import main\nimport chickadee.cli.check, chickadee.cli.render\n"
        "os.setuid(65534)\nmain(sys.argv[1:])"
    )
    for words in (("render", source, "-o", closed / "a.mid"), ("check", closed / "tune.chick")):
        done = subprocess.run(
            [sys.executable, "-c", code, *map(str, words)], capture_output=True, text=True, check=False
        )
        assert_refused(done.returncode, done.stderr, "permission")


@pytest.mark.parametrize(
    "words", [("nosuch",), ("chek", "a.chick"), ("no-such.chick",), ("\x1b[31m",), ("a" * 3000,)]
)  # fmt: skip
def test_a_word_that_is_neither_a_command_nor_a_tune_is_said(words):
    status, said = run(*words)
    assert_refused(status, said, "no such tune")
    assert words[0] != "chek" or "check" in said


@pytest.mark.parametrize(
    "environment", [{"DISPLAY": ":7777"}, {"WAYLAND_DISPLAY": "nowhere"}, {"QT_QPA_PLATFORM": "nothing"}]
)
def test_a_display_that_is_not_there_is_said(environment, tmp_path):
    without = {"QT_QPA_PLATFORM": "", "DISPLAY": "", "WAYLAND_DISPLAY": "", "XDG_RUNTIME_DIR": str(tmp_path)}
    assert_refused(*run(environment=without | environment), "display")


@pytest.mark.parametrize("number", [signal.SIGTERM, signal.SIGHUP, signal.SIGINT])
def test_a_render_that_is_ended_leaves_nothing_behind(tmp_path, tune, number):
    source, goal = tune("tempo: 60\n" + "voice A\n(C4 E4 G4 {Am}) x2000\n"), tmp_path / "out.flac"
    goal.write_bytes(b"old")
    command = [COMMAND, "render", source, "-o", goal, "--force"]
    program = subprocess.Popen(command, stderr=subprocess.PIPE)
    end = time.monotonic() + 60
    while not any(path.name.startswith(".out-") for path in tmp_path.iterdir()):
        assert time.monotonic() < end and program.poll() is None
        time.sleep(0.005)
    program.send_signal(number)
    assert program.wait(60) in (128 + number, 130)
    assert program.stderr is not None and program.stderr.read().strip() == b""
    assert goal.read_bytes() == b"old"
    assert sorted(path.name for path in tmp_path.iterdir()) == ["out.flac", "tune.chick"]


TRAP = "import os, pathlib\npathlib.Path(os.environ['SPRUNG'], {name!r}).touch()\n"


@pytest.fixture
def trap(tmp_path):
    """A folder full of modules named like the standard library's, the packages' and ours: none may be run."""
    folder, sprung = tmp_path / "pupil", tmp_path / "sprung"
    folder.mkdir()
    sprung.mkdir()
    ours = [path.stem for path in Path(chickadee.__file__).parent.rglob("*.py")]
    for name in {
        *sys.stdlib_module_names,
        "chickadee",
        "numpy",
        "PyQt6",
        "click",
        "soundfile",
        "platformdirs",
        *ours,
    }:
        (folder / f"{name}.py").write_text(TRAP.format(name=name))
    (folder / "tune.chick").write_text("C4 D4 |\n")
    soundfile.write(folder / "tone.wav", np.sin(np.arange(20_000) / 20), 22_050)
    yield folder, sprung
    assert [path.name for path in sprung.iterdir()] == []


@pytest.mark.parametrize("command", sorted(set(COMMANDS) - {"demo", "play", "render", "transpose"}))
def test_no_command_runs_what_lies_in_the_folder_one_works_in(trap, command):
    folder, sprung = trap
    more = {
        "compare": ["."],
        "send": ["--to", "lantern"],
        "handout": ["--page", "tune"],
    }  # the folder is many attempts
    first = {"ideas": "steps-only", "listen": "tone.wav", "signals": "--midi=none"}.get(command, "tune.chick")
    words = (command, first, *more.get(command, []))
    expected = (2,) if command == "signals" else (0, 1)  # it would listen for ever
    assert run(*words, folder=folder, environment={"SPRUNG": str(sprung)})[0] in expected


@pytest.mark.parametrize("path", ["", ".", ":"])
def test_the_engine_runs_nothing_that_lies_in_the_folder_one_works_in(trap, path):
    folder, sprung = trap
    code = (
        "from PyQt6.QtCore import QCoreApplication\nfrom chickadee.player import Player\n"
        "app = QCoreApplication([])\nplayer = Player()\nassert player.wait_until_ready()\nplayer.close()\n"
        "import os; os._exit(0)"
    )
    environment = os.environ | {"SPRUNG": str(sprung), "PYTHONPATH": path}
    subprocess.run([sys.executable, "-P", "-c", f"import os\nos.chdir({str(folder)!r})\n{code}"],
                   env=environment | {"PYTHONPATH": ""}, check=True, timeout=60)  # fmt: skip
    named = f"import os\nos.environ['PYTHONPATH'] = {path!r}\nos.chdir({str(folder)!r})\n{code}"
    subprocess.run([sys.executable, "-P", "-c", named], env=environment | {"PYTHONPATH": ""}, check=True, timeout=60)
