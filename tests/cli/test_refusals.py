"""What cannot be carried out is one sentence and exit status 2, whatever stands in the way; nothing half done stays."""

from __future__ import annotations

import csv
import fcntl
import io
import os
import re
import signal
import subprocess
import sys
import time
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest
import soundfile

import chickadee
from chickadee import read
from chickadee.cli.names import COMMANDS
from chickadee.incoming import read as read_any

pytestmark = pytest.mark.rotating

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


ENDS = [signal.SIGTERM, signal.SIGHUP, signal.SIGINT]


@pytest.mark.parametrize(
    ("words", "number"),
    [
        *((("render", "out.flac"), number) for number in ENDS),
        *((("render", f"out{suffix}"), number) for suffix in (".mp3", ".ogg") for number in ENDS[::2]),
        *((("handout", "out.pdf", "--page", "worksheet", "--pupils", "400"), number) for number in ENDS),
    ],
)
def test_a_writer_that_is_ended_leaves_the_old_file_whole_and_nothing_behind(tmp_path, tune, words, number):
    source = tune("tempo: 60\n" + "voice A\n" + "(C4 E4 G4 {Am}) x1000\n")
    goal = tmp_path / words[1]
    if words[0] == "handout":
        source.write_text("C4 E4 G4 A4 | " * 60)
    goal.write_bytes(b"old")
    command = [COMMAND, words[0], source, "-o", goal, "--force", *words[2:]]
    program = subprocess.Popen(  # who runs the tests in the background may ignore the signal
        command, stderr=subprocess.PIPE, preexec_fn=lambda: signal.signal(number, signal.SIG_DFL)
    )
    end = time.monotonic() + 60
    if words[0] == "render":
        while not any(path.name.startswith(".chickadee-half-") for path in tmp_path.iterdir()):
            assert time.monotonic() < end and program.poll() is None
            time.sleep(0.005)
        time.sleep(0.05)
    else:
        time.sleep(1.2)  # it draws by now
    assert program.poll() is None
    program.send_signal(number)
    assert program.wait(60) in (128 + number, 130)
    assert program.stderr is not None and program.stderr.read().strip() == b""
    assert goal.read_bytes() == b"old"
    assert sorted(path.name for path in tmp_path.iterdir()) == [words[1], "tune.chick"]


@pytest.mark.parametrize("number", [signal.SIGHUP, signal.SIGINT])
def test_a_signal_that_is_ignored_ends_no_writer(tmp_path, tune, number):
    """A hangup is ignored under nohup, and an interrupt in the background of a script."""
    goal = tmp_path / "out.pdf"
    command = [COMMAND, "handout", tune("C4 E4 G4 A4 | " * 20), "-o", goal, "--page", "worksheet", "--pupils", "60"]
    program = subprocess.Popen(command, preexec_fn=lambda: signal.signal(number, signal.SIG_IGN))
    while program.poll() is None:
        program.send_signal(number)
        time.sleep(0.05)
    assert program.returncode == 0 and goal.read_bytes().startswith(b"%PDF")


def test_what_a_killed_writer_left_is_swept_at_the_next_writing_there_and_no_other_writers(tmp_path, tune):
    source = tune("C4 D4 E4")
    abandoned, alive = (tmp_path / f".chickadee-half-{number:012x}-a.wav" for number in (1, 2))
    other = tmp_path / ".half-of-somebody"
    for path in (abandoned, alive, other):
        path.write_bytes(b"half")
    with alive.open("rb") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        assert run("render", source, "-o", tmp_path / "a.mid") == (0, "")
    assert sorted(path.name for path in tmp_path.iterdir()) == sorted([alive.name, other.name, "a.mid", "tune.chick"])


@pytest.mark.parametrize("suffix", [".svg", ".png"])
def test_all_pages_are_asked_for_before_the_first_is_written(tmp_path, tune, suffix):
    source = tune("C4 E4 G4 A4 | " * 120)
    second = tmp_path / f"pg 2{suffix}"
    second.write_text("mine")
    assert_refused(*run("handout", source, "--page", "tune", "-o", tmp_path / f"pg{suffix}"), "pg 2", "--force")
    assert second.read_text() == "mine" and not (tmp_path / f"pg{suffix}").exists()
    assert run("handout", source, "--page", "tune", "-o", tmp_path / f"pg{suffix}", "--force")[0] == 0
    assert second.read_bytes() != b"mine"


def test_a_page_of_a_title_with_control_characters_is_well_formed(tmp_path, tune):
    source = tune("title: Gull \x1b[31m\x07 Point\nvoice A\x1b\nC4 D4\nwords: a\x1b b")
    for page in ("tune", "keys", "strip"):
        goal = tmp_path / f"{page}.svg"
        assert run("handout", source, "--page", page, "-o", goal)[0] == 0
        ElementTree.parse(goal)
    assert run("render", source, "-o", tmp_path / "a.musicxml")[0] in (0, 1)
    ElementTree.parse(tmp_path / "a.musicxml")


FORMULAS = ("=1+1", "-2+3")


def test_no_cell_of_a_table_is_a_formula_and_each_is_read_back_as_it_was(tmp_path):
    tunes = [f"title: {text}\nvoice {text}\nC4 D4 E4 F4\nwords: {text.replace(' ', '')} x y z\n" for text in FORMULAS]
    model = tmp_path / "model.chick"
    model.write_text("C4 D4 E4 F4")
    tables = []
    for place, text in enumerate(tunes):
        source = tmp_path / f"{FORMULAS[place].replace('/', '')}.chick"
        source.write_text(text)
        goal = tmp_path / f"{place}.csv"
        assert run("render", source, "-o", goal)[0] == 0
        tables.append(goal.read_text())
        back = read_any(goal)
        assert [voice.name for voice in back.song.voices] == [read(text).song.voices[0].name]
        assert [note.syllable for note in back.song.notes] == [note.syllable for note in read(text).song.notes]
        for words in (
            ("notes", source, "--csv"),
            ("send", source, "--to", "csv-names"),
            ("compare", "--csv", "--", model, source.name),
        ):
            done = subprocess.run(
                [COMMAND, *map(str, words)], capture_output=True, text=True, check=False, cwd=tmp_path
            )
            assert done.returncode in (0, 1), done.stderr
            tables.append(done.stdout)
    cells = [cell for table in tables for row in csv.reader(io.StringIO(table)) for cell in row]
    number = re.compile(r"[-+]?[0-9.]+(/[0-9]+)?")
    assert not [cell for cell in cells if cell[:1] in tuple("=+-@\t\r") and cell and not number.fullmatch(cell)]
    assert any(cell.startswith("'=") for cell in cells)


def test_no_name_or_word_forges_a_line_or_moves_the_cursor(tmp_path, tune):
    model = tune("C4 D4 E4")
    forged = tmp_path / "x\nanna.chick: Right.\x1b[2J.chick"
    forged.write_text("title: \x1b[31mred\nvoice A\x1b]0;x\x07\nC4 D4 F4\nwords: a\x1b[1m b c\nzz\x9b")
    for words in (("compare", model, forged), ("notes", forged), ("check", forged), ("send", forged, "--to", "bollard", "--simulate"),
                  ("render", forged, "-o", tmp_path / "a.nothing"), ("import", tmp_path / "no\x1b[2Jthing.mid")):  # fmt: skip
        done = subprocess.run([COMMAND, *map(str, words)], capture_output=True, check=False)
        out = (done.stdout + done.stderr).decode()
        assert out and not re.search("[\x00-\x09\x0b-\x1f\x7f-\x9f]", out), (words, out)
        assert not re.search("(?m)^anna", out)


def test_nobody_at_home_is_a_sentence(tune):
    source = tune("C4 D4")
    for home in ({"HOME": ""}, {"HOME": "/nowhere/at/all"}):
        assert run("check", source, environment=home | {"XDG_CONFIG_HOME": "", "XDG_STATE_HOME": ""})[0] == 0
    script = "import os, pwd\npwd.getpwuid = lambda number: (_ for _ in ()).throw(KeyError(number))\nos.environ.pop('HOME', None)\nfrom chickadee.cli.main import main\nmain([])"
    nowhere = {name: value for name, value in os.environ.items() if not name.startswith(("XDG", "HOME"))}
    done = subprocess.run(
        [sys.executable, "-c", script],
        capture_output=True,
        text=True,
        check=False,
        env=nowhere | {"QT_QPA_PLATFORM": "offscreen"},
        timeout=60,
    )
    assert_refused(done.returncode, done.stderr, "home folder")


TRAP = "import os, pathlib\npathlib.Path(os.environ['SPRUNG'], {name!r}).touch()\n"


@pytest.fixture
def trap(tmp_path):
    """A folder full of modules named like the standard library's, the packages' and ours: none may be run."""
    folder = tmp_path / "pupil"
    sprung = tmp_path / "sprung"
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
    (folder / "attempt.py.txt").write_text("play(60, 1)\nplay(62, 1)\n")
    others = {"ideas": "steps-only", "listen": "tone.wav", "signals": "--midi=none", "trace": "attempt.py.txt"}
    first = others.get(command, "tune.chick")
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
