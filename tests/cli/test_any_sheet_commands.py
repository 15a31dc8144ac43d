"""Every command takes any sheet: an exit status of the contract, one line for a fault, and the song's own facts."""

from __future__ import annotations

import csv
import io
import json
from contextlib import redirect_stderr, redirect_stdout

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from chickadee import read
from chickadee.cli.main import main
from chickadee.sheet.tidy import tidy
from sheets import sheets

usual = settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])


def run(*arguments):
    """A command in this process: (status, standard output, standard error)."""
    out = io.StringIO()
    err = io.StringIO()
    with pytest.raises(SystemExit) as end, redirect_stdout(out), redirect_stderr(err):
        main([str(argument) for argument in arguments])
    assert "Traceback" not in err.getvalue()
    return end.value.code or 0, out.getvalue(), err.getvalue()


@usual
@given(sheets())
def test_check_says_what_reading_finds(tune, text):
    reading = read(text)
    path = tune(text)
    status, out, _ = run("check", path)
    assert status == (1 if reading.has_errors else 0)
    assert len(out.splitlines()) >= len(reading.findings)
    _, listed, _ = run("check", path, "--json")
    found = json.loads(listed)
    assert [each["code"] for each in found] == [finding.code for finding in reading.findings]


@usual
@given(sheets())
def test_notes_lists_every_note_in_every_form(tune, text):
    reading = read(text)
    path = tune(text)
    numbers = sorted(note.number for note in reading.song.notes)
    for form in ("--json", "--csv"):
        status, out, _ = run("notes", path, form)
        assert status == (1 if reading.has_errors else 0)
        if not out:
            continue
        rows = json.loads(out)["notes"] if form == "--json" else list(csv.DictReader(io.StringIO(out)))
        assert sorted(int(row["number"]) for row in rows) == numbers


@usual
@given(sheets(), st.sampled_from([("--semitones", 3), ("--steps", -2), ("--octaves", 1), ("--to-key", "D major")]))
def test_transpose_writes_a_sheet_or_says_why_not(tune, text, how):
    path = tune(text)
    status, out, err = run("transpose", path, *how)
    assert path.read_text("utf-8") == text
    if status == 0:
        assert len(read(out).song.notes) == len(read(text).song.notes)
    else:
        assert err.strip() and len(err.strip().splitlines()) <= 1 + len(read(text).findings)


@usual
@given(sheets())
def test_tidy_prints_a_sheet_that_is_tidy(tune, text):
    path = tune(text)
    laid_out = tidy(text) == text
    assert run("tidy", path, "--check")[0] == (0 if laid_out else 1)
    status, out, _ = run("tidy", path)
    assert (status, out) == (0, tidy(text))
    assert run("tidy", tune(out), "--check")[0] == 0
