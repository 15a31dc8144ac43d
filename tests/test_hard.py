"""A small share of the campaign of faults, with every test run; all of it is ``make hard``."""

from __future__ import annotations

import os

import pytest

from hard import files, incoming, sheets
from hard.figures import Figures


@pytest.fixture
def figures(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", os.environ["XDG_CONFIG_HOME"])  # the settings that are tried have others
    figures = Figures(tmp_path)
    yield figures
    assert figures.faults == []


def test_fuzzed_sheets_are_read_checked_mended_and_moved(figures):
    sheets.fuzz(400, int(os.environ.get("CHICKADEE_SEED", "7")), figures)
    assert figures.tried["sheets"] == 400 and figures.tried["uses of them"] > 200


def test_fuzzed_tunes_of_other_forms_are_read_or_refused_in_a_sentence(figures):
    incoming.fuzz(150, int(os.environ.get("CHICKADEE_SEED", "7")), figures)
    assert set(figures.tried.values()) == {30} and len(figures.tried) == 5


def test_fuzzed_files_beside_tunes_keep_nothing_from_starting(figures):
    files.fuzz(120, int(os.environ.get("CHICKADEE_SEED", "7")), figures)
    assert figures.tried == {"journals": 40, "lists of checks": 40, "settings": 40}


def test_what_fails_is_counted_and_kept(figures, tmp_path, monkeypatch):
    monkeypatch.setattr(sheets, "read", lambda text: 1 / 0)
    sheets.fuzz(3, 1, figures)
    assert len(figures.faults) == 3 and "ZeroDivisionError" in figures.faults[0]
    assert len(list(tmp_path.glob("fault-*"))) == 3
    figures.faults.clear()
