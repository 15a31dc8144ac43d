"""Faults of ours are logged with where they came from, and with nothing of a tune."""

from __future__ import annotations

import subprocess
import sys

import pytest

from chickadee.checks import checked_reading, registry
from chickadee.fault_log import log_file, logged, report


@pytest.fixture(autouse=True)
def state(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))


def fail(text):
    try:
        raise KeyError(text)
    except KeyError as fault:
        raise ValueError(text) from fault


def test_a_fault_is_logged_with_its_cause_and_its_lines_but_not_with_what_it_says():
    assert "No internal error" in report()
    with pytest.raises(ValueError) as caught:
        fail("G4 B4 secret")
    assert logged(caught.value) == "ValueError in fail"
    log = log_file().read_text()
    assert log.index("KeyError") < log.index("and then") < log.index("ValueError")
    assert "test_fault_log.py" in log and "in fail" in log and "secret" not in log
    assert log_file().stat().st_mode & 0o777 == 0o600
    assert "Python" in report() and "KeyError" in report()


def test_the_log_is_turned_over_and_does_not_grow_for_ever(monkeypatch):
    monkeypatch.setattr("chickadee.fault_log._MOST_BYTES", 2_000)
    for _ in range(60):
        with pytest.raises(ValueError) as caught:
            fail("x")
        logged(caught.value)
    sizes = [file.stat().st_size for file in log_file().parent.iterdir()]
    assert len(sizes) > 1 and max(sizes) <= 2_000


def test_a_reader_or_a_check_that_fails_is_logged(monkeypatch):
    monkeypatch.setattr(registry, "read", fail)
    assert checked_reading("C4").findings[0].code == "not-read"
    assert "ValueError" in log_file().read_text()


def test_a_log_that_cannot_be_written_hides_no_sentence(tmp_path, monkeypatch):
    (tmp_path / "file").write_text("")
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "file"))
    assert logged(ValueError("x")) == "ValueError"


def test_a_command_that_fails_names_the_log():
    code = "import chickadee.cli.main as main; main._run = lambda words: 1 / 0; main.main(['check'])"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.returncode == 2 and done.stderr.count("\n") == 1
    assert "ZeroDivisionError" in done.stderr and str(log_file()) in done.stderr
    assert "main.py" in log_file().read_text()
