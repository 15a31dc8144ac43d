"""Files: every fault is one sentence, and an old file is never half replaced."""

from __future__ import annotations

import os
import stat
import subprocess
import sys
from pathlib import Path

import pytest
import soundfile
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.files import FileFault, decode, read_text, replacing, storable, write_text
from chickadee.sound.audio_file import write_audio


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
        (lambda path: path.write_bytes(b"C4\nD4 \x01\xff\xfe"), "not a text file"),
        (lambda path: path.write_bytes(b"C4 " * (7 << 20)), "the most is 20 MB"),
        (os.mkfifo, "pipe"),
        (lambda path: path.symlink_to("/dev/zero"), "device"),
        (lambda path: path.symlink_to(path), "loop"),
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
    path = tmp_path / "tune.chick"
    link = tmp_path / "link.chick"
    path.write_text("old")
    path.chmod(0o640)
    link.symlink_to(path)
    write_text(link, "new")
    assert link.is_symlink()
    assert path.read_text() == "new"
    assert path.stat().st_mode & 0o777 == 0o640


def test_the_disk_has_the_file_and_then_its_name(tmp_path, monkeypatch):
    """After a pulled plug there is the old file or the new one: the file is synced, renamed, and the folder synced."""
    done = []
    sync = os.fsync
    rename = Path.replace
    monkeypatch.setattr(
        os,
        "fsync",
        lambda handle: done.append("folder" if stat.S_ISDIR(os.fstat(handle).st_mode) else "file") or sync(handle),
    )
    monkeypatch.setattr(Path, "replace", lambda path, goal: done.append("name") or rename(path, goal))
    write_text(tmp_path / "tune.chick", "C4")
    assert done == ["file", "name", "folder"]


@given(st.text(st.sampled_from("C4 \n\r\0\u00a0\u2028\u2029\ufdd0\ud800\udc00♯😀"), max_size=12))
def test_what_is_written_is_what_is_read(text):
    assert decode(storable(text).encode(), "x") == storable(text) == storable(storable(text))
    assert text.count("\u00a0") == storable(text).count("\u00a0")


def test_a_path_that_is_no_name_is_one_sentence(tmp_path):
    for attempt in (
        lambda: read_text("a\0b"),
        lambda: write_text("a\0b", "C4"),
        lambda: read_text(tmp_path / ("x" * 300)),
    ):
        with pytest.raises(FileFault) as fault:
            attempt()
        sentence(fault)


def test_a_wav_file_too_large_for_its_lengths_is_an_rf64(tmp_path, monkeypatch):
    monkeypatch.setattr("chickadee.sound.audio_file._LARGEST_WAV", 40_000)
    for text, head in (("C4=1/10", b"RIFF"), ("C4", b"RF64")):
        write_audio(tmp_path / "a.wav", read(text).song)
        assert (tmp_path / "a.wav").read_bytes()[:4] == head
        assert abs(soundfile.info(tmp_path / "a.wav").duration - read(text).song.seconds) < 0.1


LIMITED = """
import resource, signal, sys
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
most = int(sys.argv[1])
resource.setrlimit(resource.RLIMIT_FSIZE, (most, most))
from chickadee.cli.main import main
main(sys.argv[2:])
"""


@pytest.mark.parametrize("missing", [1, 700, 100_000_000])
@pytest.mark.parametrize("suffix", ["wav", "flac", "ogg", "mp3"])
def test_a_disk_that_fills_up_leaves_the_old_sound_file(tmp_path, tune, suffix, missing):
    """A limit on file size stands in for the full disk: writing fails in the same way, half way through, or at the
    last page, which libsndfile says nothing of."""
    goal = tmp_path / f"out.{suffix}"
    source = tune("tempo: 60\nC4=3")
    write_audio(goal, read(source.read_text()).song)
    most = max(20_000, goal.stat().st_size - missing)
    goal.write_bytes(b"old")
    done = subprocess.run(
        [sys.executable, "-c", LIMITED, str(most), "render", source, "-o", goal, "--force"],
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
