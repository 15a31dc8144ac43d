"""A small share of the campaign of faults, with every test run; all of it is ``make hard``."""

from __future__ import annotations

import os
import time
from pathlib import Path

import pytest

from hard import clocks, doors, files, incoming, recordings, sheets, writers
from hard.__main__ import STAGES, Share
from hard.figures import Figures

SEED = int(os.environ.get("CHICKADEE_SEED", "7"))


@pytest.fixture
def figures(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", os.environ["XDG_CONFIG_HOME"])  # the settings that are tried have others
    figures = Figures(tmp_path)
    yield figures
    assert figures.faults == []


def test_fuzzed_sheets_are_read_checked_mended_and_moved(figures):
    sheets.fuzz(0, 400, SEED, figures)
    assert figures.tried["sheets"] == 400 and figures.tried["uses of them"] > 200


def test_fuzzed_tunes_of_other_forms_are_read_or_refused_in_a_sentence(figures):
    incoming.fuzz(0, 150, SEED, figures)
    assert set(figures.tried.values()) == {30} and len(figures.tried) == 5


def test_fuzzed_files_beside_tunes_keep_nothing_from_starting(figures):
    files.fuzz(0, 120, SEED, figures)
    assert figures.tried == {"journals": 40, "lists of checks": 40, "settings": 40}


def test_what_fails_is_counted_and_kept(figures, tmp_path, monkeypatch):
    monkeypatch.setattr(sheets, "read", lambda text: 1 / 0)
    sheets.fuzz(0, 3, 1, figures)
    assert len(figures.faults) == 3 and "ZeroDivisionError" in figures.faults[0]
    assert len(list(tmp_path.glob("fault-*"))) == 3
    figures.faults.clear()


def test_the_doors_of_a_class_are_tried(figures):
    doors.fuzz(0, 210, SEED, figures)
    assert set(figures.tried.values()) == {30} and len(figures.tried) == 7


def test_broken_recordings_are_heard_or_refused(figures):
    recordings.fuzz(0, 8, SEED, figures)
    assert figures.count == 8


def test_writers_are_ended_and_clocks_are_wrong(figures):
    writers.end(0, 2, SEED, figures)
    clocks.offer(0, 6, SEED, figures)
    assert figures.tried == {"commands": 2, "clocks": 6}


STANDS_STILL = """
import sys, time
from pathlib import Path
from hard import sheets
from hard.trials import Trial
real = sheets.run

def run(make, first, count, seed, figures):
    def slow(chance, index):
        trial = make(chance, index)
        return Trial(trial.what, "the hungry one", eats) if index == 2 else trial
    real(slow, first, count, seed, figures)

def eats():
    held = []
    while True:
        held.append(b'x' * (50 << 20))
        time.sleep(0.05)

sheets.run = run
"""


def test_a_process_that_takes_all_memory_is_killed_named_and_followed_by_the_next(tmp_path, monkeypatch):
    (tmp_path / "sitecustomize.py").write_text(STANDS_STILL)
    benchmarks = str(Path(sheets.__file__).parents[1])
    monkeypatch.setenv("PYTHONPATH", os.pathsep.join([str(tmp_path), benchmarks]))
    share = Share("sheets", 5, 1, Figures(tmp_path / "kept"))
    share.begin()
    while not share.done:
        share.watch()
        time.sleep(0.05)
    assert share.figures.killed == 1 and share.figures.tried["sheets"] >= 2
    [kept] = (tmp_path / "kept").glob("killed-*")
    assert "MB" in kept.read_text() and "the hungry one" in kept.read_text()
    assert STAGES["sheets"].resumes
