"""``chickadee signals`` and ``play --osc`` together, as their contracts have them."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
from pathlib import Path

import pytest

COMMAND = Path(sys.executable).with_name("chickadee")


@pytest.fixture
def port():
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as free:
        free.bind(("127.0.0.1", 0))
        return free.getsockname()[1]


def test_what_is_played_is_printed_by_the_listener(tune, port):
    path = tune("title: Gate\ntempo: 240\nmeter: 3/4\nvoice A\n  C4 [mark gate opens] D4 E4 | F4=3 |\n")
    with subprocess.Popen(
        [COMMAND, "signals", "--osc", str(port)], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
    ) as listener:
        assert f"127.0.0.1:{port}" in listener.stderr.readline()
        played = subprocess.run([COMMAND, "play", path, "--osc", f"127.0.0.1:{port}"], capture_output=True, text=True,
                                check=False, env=os.environ | {"QT_QPA_PLATFORM": "offscreen"}, timeout=60)  # fmt: skip
        assert (played.returncode, played.stdout) == (0, "")
        listener.send_signal(signal.SIGINT)
        out, _ = listener.communicate(timeout=20)
        assert listener.returncode == 0
    lines = out.splitlines()
    assert lines[0] == "/chickadee/start Gate 1.500" and lines[-1].startswith("/chickadee/end 1.5")
    assert [line.split()[2] for line in lines if "/note" in line] == ["60", "62", "64", "65"]
    assert [line.split()[2] for line in lines if "/off" in line] == ["60", "62", "64", "65"]
    assert "/chickadee/mark gate opens 0.250" in lines and "/chickadee/bar 2 1.000" in lines


def test_refusals_are_one_sentence(run, tune, port):
    path = tune("C4 D4")
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as taken:
        taken.bind(("127.0.0.1", port))
        for words in (("play", path, "--osc", "nowhere"), ("play", path, "--midi", "no such port"), ("signals", "--midi", "no such port"),
                      ("signals", "--osc", str(port)), ("signals", "--osc", "0")):  # fmt: skip
            status, out, err = run(*words)
            assert (status, out, len(err.splitlines())) == (2, "", 1)
