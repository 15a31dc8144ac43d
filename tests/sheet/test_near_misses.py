"""What is nearly the language is understood, alone and beside other near misses, and its fixes write just that."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.sheet import apply_edits
from chickadee.sheet.finding import alike, fixes_of_all
from chickadee.sheet.rules import NEAR_MISS

NEARLY = {
    "C4:2,": "C4=2",
    "D4,": "D4",
    "R:1,": "rest=1",
    "Gs4:2": "G#4=2",
    "Es4": "Eb4",
    "As3=2;": "Ab3=2",
    "C4.": "C4=3/2",
    "C4=8th": "C4=eighth",
    "C4=0,5,": "C4=0.5",
    "CEG": "C E G",
    "CEG=2,": "C E G=2",
    "cc:2": "c c=2",
    "c4d4e4": "c4 d4 e4",
    "C,E,G": "C E G",
    "C4-E4-G4": "C4 E4 G4",
    "[60, 62=2, r]": "60 62=2 rest",
    "E4 = 2": "E4=2",
    "A 4": "A4",
}
PLAIN = ["C4", "D4=2", "{Am}", "rest", "|", "(E4 F4)=1", "^1", "64&67"]


def sounding(text):
    return [(note.start, note.length, note.number, note.loudness) for note in read(text).song.notes]


def fixed(text):
    """A sheet with its near misses written as they were understood, one after the other."""
    for _ in range(60):
        hint = next((each for each in read(text).findings if each.code == NEAR_MISS.code), None)
        if hint is None:
            return text
        text = apply_edits(text, hint.fixes[0].edits)
    raise AssertionError(f"the fixes do not come to an end: {text}")


@given(st.lists(st.sampled_from([*NEARLY, *PLAIN]), min_size=1, max_size=6), st.sampled_from(["", "ticks: 4\n"]))
def test_near_misses_together_mean_what_each_means_alone(words, head):
    words = [word if not head or word != "C4." else "C4" for word in words]  # a beat and a half is no plain number
    text = head + " / ".join(words).replace(" / ", "  ")
    meant = head + " ".join(NEARLY.get(word, word) for word in words)
    assert sounding(text) == sounding(meant)
    assert not [each for each in read(text).findings if each.code == "not-understood"]
    assert sounding(fixed(text)) == sounding(meant)


@pytest.mark.parametrize(
    ("text", "numbers"),
    [
        ("|: C4 D4 :|", [60, 62, 60, 62]),
        ("C4 D4 :| E4 :|", [60, 62, 60, 62, 64, 64]),
        ("|: C4 :|: D4:| E4", [60, 60, 62, 62, 64]),
        ("C4 |: D4\nE4 :|", [60, 62, 64, 62, 64]),
    ],
)
def test_repeat_signs_are_read_as_groups_and_written_so(text, numbers):
    assert [note.number for note in read(text).song.notes] == numbers
    assert [note.number for note in read(fixed(text)).song.notes] == numbers
    assert ":" not in fixed(text) and "x2" in fixed(text)


def test_a_repeat_without_its_end_is_a_bar_line():
    (finding,) = [each for each in read("|: C4 (D4) E4").findings if each.code == "group"]
    assert "no :|" in finding.message
    assert apply_edits("|: C4 (D4) E4", finding.fixes[0].edits) == "| C4 (D4) E4"


def test_punctuation_alone_is_no_note():
    assert [finding.code for finding in read(";; ,").findings] == ["not-understood", "not-understood"]


def test_one_bad_letter_in_a_run_leaves_the_good_ones():
    reading = read("CEGXEC")
    assert [(note.start // 8_064_000, note.number) for note in reading.song.notes] == [
        (0, 60), (1, 64), (2, 67), (4, 64), (5, 60)]  # fmt: skip
    (finding,) = reading.findings
    assert (finding.start, finding.end) == (3, 4)
    assert apply_edits("CEGXEC", finding.fixes[0].edits) == "C E G rest E C"


def test_flats_beside_letters_that_are_read_one_by_one_are_said():
    assert [finding.message for finding in read("gab ab").findings] == [
        "A space keeps notes apart.",
        "“ab” is A flat; two notes have a space between them.",
    ]
    assert read("ab bb eb").findings == ()


def test_an_unclosed_bracket_costs_no_more_than_its_own_words():
    for text, numbers in (("[mf C4 D4 |", [60, 62]), ("{Am C4 D4", [60, 62]), ("[tempo 90 C4 (D4 E4)", [60, 62, 64])):
        reading = read(text)
        assert [note.number for note in reading.song.notes] == numbers
        (finding,) = [each for each in reading.findings if each.code != "bar-length"]
        assert {each.code for each in read(apply_edits(text, finding.fixes[0].edits)).findings} <= {"bar-length"}


@pytest.mark.parametrize(
    ("text", "fixed"),
    [
        ("tempo 100\nC4 D4", "tempo: 100\nC4 D4"),
        ("voice Low\nmeter 3/4\nC4", "voice Low\n[meter 3/4]\nC4"),
        ("[C4 E4 G4] D4", "C4&E4&G4 D4"),
        ("[C4=2 E4]", "C4=2 E4"),
        ("# by the quay\nC4", "// by the quay\nC4"),
        ("Do Re Mi", "names: do re mi\nDo Re Mi"),
        ("C4 Cmaj7", "C4 {Cmaj7}"),
        ("C4 H4", "C4 B4"),
        ("C4=0.34", "C4=1/3"),
    ],
)
def test_the_first_fix_is_what_was_meant(text, fixed):
    first = read(text).findings[0].fixes[0]
    assert apply_edits(text, first.edits) == fixed
    assert not read(fixed).findings


def test_what_lacks_its_colon_or_is_a_comment_sounds_nothing():
    assert [note.number for note in read("tempo 100\n# 60 62\nC4").song.notes] == [60]


def test_all_of_one_kind_are_mended_together():
    text = "C4 R H4 R: | R D4"
    findings = [each for each in read(text).findings if each.message.startswith("A rest")]
    assert apply_edits(text, fixes_of_all(alike(findings, findings[0]))).count("rest") == len(findings) == 2
