"""Whatever a sheet holds, reading it neither fails nor costs more than in proportion."""

from __future__ import annotations

import gc
import sys
import tracemalloc

import pytest
from hypothesis import given
from hypothesis import strategies as st

import chickadee
from chickadee.checks import registry
from chickadee.sheet import Severity, read
from chickadee.sheet.bounds import MOST_FINDINGS
from chickadee.sheet.walk import VoiceWalk
from faulty import KINDS

pytestmark = pytest.mark.rotating

NAMES = st.sampled_from(
    ["call", "Call", "CALL", "call-2", "call-3", "Call-2", "Ca&ll", "ca|ll", "C4", "", "up", "ſong", "\nphraſe it\n"]
)


def codes(text):
    return [finding.code for finding in read(text).findings]


@given(st.lists(st.tuples(NAMES, st.lists(NAMES, max_size=3)), max_size=8), st.lists(NAMES, max_size=6))
def test_phrases_of_any_names_in_any_order_can_be_read_and_used(phrases, used):
    lines = [f"phrase {name}\n{' '.join(uses)} C4" for name, uses in phrases]
    reading = read("\n".join([*lines, "voice V", " ".join(used)]))
    names = [name.lower() for name in reading.sheet.phrases]
    assert len(set(names)) == len(names) == len(phrases)
    assert chickadee.read(reading.text).text == reading.text


@pytest.mark.parametrize(("phrases", "brackets"), [(300, 1), (30, 20), (2000, 0), (3, 30)])
def test_phrases_chained_through_brackets_are_read_or_said_to_be_too_deep(phrases, brackets):
    chain = [f"phrase p{number}x\n{'(' * brackets}p{number - 1}x D4{')' * brackets}" for number in range(1, phrases)]
    reading = read("phrase p0x\nC4\n" + "\n".join(chain) + f"\nvoice V\np{phrases - 1}x E4")
    assert [note.number for note in reading.song.notes][-2:] == [62, 64]  # what is near the use still sounds
    found = {finding.code for finding in reading.findings}
    assert found == (set() if phrases == 3 else {"too-deep"})
    assert reading.sites and reading.places


def test_phrases_that_use_each_other_are_cut_once_and_the_rest_sounds():
    reading = read("phrase one\nC4 two\nphrase two\nD4 three\nphrase three\nE4 one\nvoice V\none F4")
    assert [note.number for note in reading.song.notes] == [60, 62, 64, 65]
    assert [(finding.code, reading.text[finding.start : finding.end]) for finding in reading.findings] == [
        ("uses-itself", "one")
    ]


def test_a_mirror_of_mirrors_is_worked_out_once():
    reading = read("(C4&E4&G4 D4) " + "upside-down " * 90)
    assert [note.number for note in reading.song.notes] == [60, 64, 67, 62]
    assert codes("((C4 D4) " + "up 1 " * 60 + ") " + "down 1 " * 50) == ["too-large"]


TOO_LARGE = {
    "ten voices": "\n".join(f"voice V{number}\n(C4 D4 E4 F4) x30000" for number in range(10)),
    "phrases that nothing uses": "\n".join(f"phrase p{number}x\n(C4 D4) x90000" for number in range(8)) + "\nvoice V\nC4",
    "directions repeated to the end": "voice A\nC4=900000\nvoice B\n([mf] [p] [f] C4) to the end",
    "short notes repeated to the end": "voice A\nC4=60000\nvoice B\n(C4=1/1000 D4=1/1000) to the end",
    "chords": "({C}&D4&F#4&G#4&A#4&B4) x240000",
    "repeats of repeats": "((((C4) x999) x999) x999) x999",
    "changes of much": f"((C4 D4) x200000) {'up 1 ' * 30}",
    "a day and more": "tempo: 5\nC4=999999",
    "a broken chord": "tempo: 1000\n({C rising by 1/1000}=100) x40",
    "an end that is far away": "voice A\nC4=999999\nvoice B\n(C4=4 |) to the end",
}  # fmt: skip


@pytest.mark.parametrize("kind", TOO_LARGE)
def test_beyond_the_bounds_of_the_whole_song_there_is_one_clear_error(kind):
    reading = read(TOO_LARGE[kind])
    assert [finding.code for finding in reading.findings if finding.severity is Severity.ERROR] == ["too-large"]
    assert not reading.song.notes


def test_a_sheet_of_more_signs_than_a_song_has_is_not_even_taken_apart():
    reading = read("C4 " * 1_000_001)
    assert [finding.code for finding in reading.findings] == ["too-large"]
    assert not reading.sheet.voices


def test_very_many_findings_are_the_first_ones_and_a_word_about_the_rest():
    reading = chickadee.read("C4 " + "zzz " * (MOST_FINDINGS + 500) + "D4")
    assert len(reading.findings) == MOST_FINDINGS + 1
    assert reading.findings[-1].code == "more-findings"
    assert reading.has_errors
    assert [note.number for note in reading.song.notes] == [60, 62]


def calls(text: str) -> int:
    """How often reading and checking a text calls something: a measure that no machine's mood changes."""
    count = 0

    def called(frame, event, argument):
        nonlocal count
        count += event in ("call", "c_call")

    sys.setprofile(called)
    try:
        chickadee.read(text)
    finally:
        sys.setprofile(None)
    return count


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_wrong_all_along_costs_in_proportion(kind):
    """At ten times the length ten times the work: the same for every kind that ``make bench`` times."""
    few, many = (calls(KINDS[kind](notes) + f"\n// {notes}") for notes in (160, 1600))
    assert many <= 12 * few


def test_a_long_line_that_is_edited_is_not_kept_in_every_version():
    line = "C4 D4 E4 F4 | " * 500
    read(line)
    gc.collect()
    tracemalloc.start()
    try:
        for turn in range(40):
            chickadee.read(line + "G4 " * turn)
        gc.collect()
        grown, _ = tracemalloc.get_traced_memory()
    finally:
        tracemalloc.stop()
    assert grown < 6 << 20  # two readings are kept, of some hundred kilobytes each


def test_a_reader_or_a_check_that_fails_is_a_finding_and_the_text_stays(monkeypatch):
    def fails(*_):
        raise KeyError("a fault of ours")

    monkeypatch.setattr(registry.CHECKS[0], "findings", fails)
    reading = chickadee.read("C4 D4 H4")
    assert [note.number for note in reading.song.notes] == [60, 62]
    assert sorted(finding.code for finding in reading.findings) == ["not-read", "not-understood"]
    monkeypatch.setattr(registry, "read", fails)
    reading = chickadee.read("C4 D4\nE4")
    [finding] = reading.findings
    assert (reading.text, finding.code, finding.start, finding.end) == ("C4 D4\nE4", "not-read", 0, 8)
    assert reading.has_errors


@pytest.mark.parametrize(
    "text",
    [
        "voice A\nC4 D4 | E4=500000\nvoice B\n(C4 D4) to the end to the end",
        "voice A\nC4 D4 | E4=500000\nvoice B\n(C4 [tempo 130] D4) to the end",
        "voice A\nC4 D4 | E4=500000\nvoice B\n((C4 [slow to 60 over 1] D4) to the end C4) to the end",
    ],
)
def test_a_tune_that_cannot_fit_a_day_is_refused_before_anything_is_repeated(monkeypatch, text):
    walked = []
    item = VoiceWalk._item
    monkeypatch.setattr(VoiceWalk, "_item", lambda self, *node: walked.append(1) or item(self, *node))
    assert [finding.code for finding in read(text).findings if finding.severity is Severity.ERROR] == ["too-large"]
    assert len(walked) < 20


def test_what_is_repeated_may_quicken_a_song_until_it_fits_a_day():
    song = read("voice A\nC4=90000\nvoice B\n([tempo 4000] C4=9) to the end").song
    assert song.end == 90_000 * 8_064_000 and song.seconds < 24 * 3600
