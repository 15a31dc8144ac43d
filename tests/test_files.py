"""Files: every fault is one sentence, and an old file is never half replaced."""

from __future__ import annotations

import subprocess
import sys

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.files import FileFault, decode, read_text, replacing, write_text


def sentence(fault) -> str:
    text = str(fault.value)
    assert text.endswith(".")
    assert "\n" not in text
    return text


def test_text_is_read_with_any_line_ends_and_mark(tmp_path):
    path = tmp_path / "a.chick"
    path.write_bytes(b"\xef\xbb\xbfC4\r\nD4\rE4\n\xe2\x99\xaf")
    assert read_text(path) == "C4\nD4\nE4\n♯"
    write_text(path, "C4\n♭")
    assert path.read_bytes() == b"C4\n\xe2\x99\xad"


@pytest.mark.parametrize(
    ("make", "said"),
    [
        (lambda path: None, "no such file"),
        (lambda path: path.mkdir(), "folder"),
        (lambda path: path.write_bytes(b"MThd\0\0\0\6"), "not a text file"),
        (lambda path: path.write_bytes(b"C4\nD4 \xff\xfe"), "line 2"),
        (lambda path: path.write_bytes(b"C4 " * (17 << 20)), "too large"),
    ],
)
def test_what_cannot_be_read_is_said_in_one_sentence(tmp_path, make, said):
    path = tmp_path / "tune.chick"
    make(path)
    with pytest.raises(FileFault) as fault:
        read_text(path)
    assert said in sentence(fault)
    assert str(path) in sentence(fault)


@pytest.mark.parametrize(
    ("goal", "said"), [("no/such/tune.chick", "no such"), (".", "folder"), ("a" * 300, "too long")]
)
def test_what_cannot_be_written_is_said_in_one_sentence(tmp_path, goal, said):
    with pytest.raises(FileFault) as fault:
        write_text(tmp_path / goal, "C4")
    assert said in sentence(fault)


def test_a_failed_write_leaves_the_old_file_and_nothing_else(tmp_path):
    path = tmp_path / "tune.chick"
    path.write_text("old")
    with pytest.raises(RuntimeError), replacing(path) as new:
        new.write_text("half")
        raise RuntimeError
    assert path.read_text() == "old"
    assert [path.name for path in tmp_path.iterdir()] == ["tune.chick"]


def test_replacing_follows_links_and_keeps_the_mode(tmp_path):
    path, link = tmp_path / "tune.chick", tmp_path / "link.chick"
    path.write_text("old")
    path.chmod(0o640)
    link.symlink_to(path)
    write_text(link, "new")
    assert link.is_symlink()
    assert path.read_text() == "new"
    assert path.stat().st_mode & 0o777 == 0o640


LIMITED = """
import resource, signal, sys
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
resource.setrlimit(resource.RLIMIT_FSIZE, (20_000, 20_000))
from chickadee.cli.main import main
main(sys.argv[1:])
"""


@pytest.mark.parametrize("suffix", ["wav", "flac", "ogg", "mp3"])
def test_a_disk_that_fills_up_leaves_the_old_sound_file(tmp_path, tune, suffix):
    """A limit on file size stands in for the full disk: writing fails in the same way, half way through."""
    goal = tmp_path / f"out.{suffix}"
    goal.write_bytes(b"old")
    source = tune("tempo: 60\nC4=60")
    done = subprocess.run(
        [sys.executable, "-c", LIMITED, "render", source, "-o", goal, "--force"],
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 2
    assert done.stderr.count("\n") == 1
    assert str(goal) in done.stderr
    assert goal.read_bytes() == b"old"
    assert sorted(path.name for path in tmp_path.iterdir()) == [f"out.{suffix}", "tune.chick"]


@given(st.binary(max_size=200))
def test_reading_any_bytes_gives_a_song_or_one_sentence(data):
    try:
        text = decode(data, "x")
    except FileFault as fault:
        assert str(fault).startswith("x: ")
        assert str(fault).endswith(".")
    else:
        assert read(text).text == text
