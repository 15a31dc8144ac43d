"""Checks: what they report, and fixes that make the finding go away without making another."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.checks import CHECKS
from chickadee.sheet import RULES, apply_edits


def codes(text):
    return [finding.code for finding in read(text).findings]


@pytest.mark.parametrize(
    ("text", "titles"),
    [
        ("voice V\nrange: D4 to B4\nC6", ["Use B4"]),
        ("voice V\nrange: C4 to C6\n'36=2", ["Use C4"]),
        ("voice V\nrange: C4 to C6\nD3", ["Use D4", "Use C4"]),
        ("voice V\nrange: C4 to C5\n{Am}", []),
        ("phrase p\nC4\nvoice V\nrange: C4 to D4\np up 5", []),
        ("voice V\nallow: C E G\nF#4", ["Use G4"]),
        ("voice V\nallow: C4 60 G9\nC5", ["Use C4"]),
        ("key: D major\nvoice V\nallow: F\n66", ["Use F4"]),
    ],
)
def test_a_note_out_of_place_is_offered_what_fits(text, titles):
    finding = read(text).findings[0]
    offered = [fix.title for fix in finding.fixes]
    assert offered[: len(titles)] == titles
    assert bool(offered) == bool(titles)
    for fix in finding.fixes:
        assert codes(apply_edits(text, fix.edits)) == []


@pytest.mark.parametrize(
    "text",
    [
        "voice V\nrange: C4 to C5\nC4 C5 rest",
        "voice V\nallow: C D E\nC1 D9 E4",
        "voice V\nrange: 60 to 72\nallow: C4 C5\n60 72",
        "C-1 G9",
    ],
)
def test_notes_in_their_place_have_no_finding(text):
    assert codes(text) == []


BARS = st.lists(
    st.lists(st.sampled_from(["C4", "D4=2", "E4=1/2", "rest", "F4=3", "G4=3/2"]), min_size=1, max_size=5),
    min_size=1,
    max_size=4,
)


@given(BARS, st.sampled_from(["3/4", "4/4", "6/8"]))
def test_every_fix_of_a_bar_mends_that_bar_and_no_other(bars, meter):
    text = f"meter: {meter}\n" + " ".join(f"{' '.join(bar)} |" for bar in bars)
    found = [finding for finding in read(text).findings if finding.code == "bar-length"]
    for finding in found:
        for fix in finding.fixes:
            mended = read(apply_edits(text, fix.edits))
            assert len([each for each in mended.findings if each.code == "bar-length"]) == len(found) - 1
            assert {each.code for each in mended.findings} <= {"bar-length"}


def test_a_pickup_is_told_apart_from_bars():
    assert (
        read("meter: 3/4\npickup: 1\nC4=1/2 | D4=3 |").findings[0].message
        == "The pickup holds 1/2 of a beat, it should hold 1."
    )


def test_every_rule_is_said_once_in_the_registry():
    assert len({rule.summary for rule in RULES.values()}) == len(RULES)
    assert len(CHECKS) == 4
