"""The checks take any sheet, and every fix of every finding does what it says on it."""

from __future__ import annotations

from collections import Counter

from hypothesis import example, given, settings

from chickadee.checks import CHECKS, LIMITS, Profile, checked_reading
from chickadee.sheet import Severity, apply_edits
from chickadee.sheet.rules import NEAR_MISS
from sheets import faulty_sheets, sheets

EVERYTHING = Profile(
    {check.rule.code: True for check in CHECKS},
    {"largest-leap": "7", "most-at-once": "2", "lengths": "1/2 1 2 3", "closest": "0.1", "range": "C3 to C6"},
)
PITCHES = {"out-of-key", "voice-range", "allowed", "leap", "likely-slip"}
CODES = {check.rule.code for check in CHECKS}


@settings(max_examples=120, deadline=None)
@given(sheets())
@example("phrase p\n|\nphrase q\n\nvoice V0\np C4 C4 p\n")
def test_a_fix_takes_its_finding_away_and_makes_no_error(text):
    before = checked_reading(text, EVERYTHING)
    errors = {finding.code for finding in before.findings if finding.severity is Severity.ERROR}
    for finding in before.findings:
        if finding.code not in CODES or (finding.code in PITCHES and "upside" in text):
            continue  # a mirrored phrase turns round whatever its first note becomes
        marked = text[finding.start : finding.end]
        for fix in finding.fixes:
            after = checked_reading(apply_edits(text, fix.edits), EVERYTHING)
            same = [sum(each.message == finding.message for each in reading.findings) for reading in (after, before)]
            assert same[0] < same[1], (finding.code, marked, fix.title)
            if finding.code == "unused-phrase":
                continue  # what is played now may have faults of its own
            new = {each.code for each in after.findings if each.severity is Severity.ERROR} - errors
            assert not new, (finding.code, marked, fix.title, new)


@settings(max_examples=50, deadline=None)
@given(sheets())
def test_findings_stand_in_the_text_in_order_and_say_a_sentence(text):
    found = checked_reading(text, EVERYTHING).findings
    assert [finding.start for finding in found] == sorted(finding.start for finding in found)
    for finding in found:
        assert 0 <= finding.start <= finding.end <= len(text)
        assert finding.message[-1] in ".:" and "\n" not in finding.message
    assert set(EVERYTHING.limits) <= set(LIMITS)


STRICT = {"near-miss", "length", "third", "same-pitch-twice", "sound", "other-way", "property-twice", "unheard"}
"""Findings whose fixes bring nothing that was hidden to light."""


@settings(max_examples=150, deadline=None)
@given(faulty_sheets())
def test_a_fix_of_any_finding_takes_it_away_and_a_near_miss_changes_no_note(text):
    before = checked_reading(text)
    codes = Counter(finding.code for finding in before.findings)
    for finding in before.findings:
        for fix in finding.fixes:
            after = checked_reading(apply_edits(text, fix.edits))
            left = Counter(each.code for each in after.findings)
            told = finding.code, text[finding.start : finding.end], fix.title
            if finding.code != NEAR_MISS.code:
                assert left[finding.code] < codes[finding.code] or sounds(after) != sounds(before), told
            elif " flat; " not in finding.message:
                assert sounds(after) == sounds(before), told
            if finding.code in STRICT:
                errors = {each.code for each in after.findings if each.severity is Severity.ERROR}
                assert errors <= set(codes) | {"bar-length", "change", "property"}, told


def sounds(reading):
    return [(note.voice, note.start, note.length, note.number, note.loudness) for note in reading.song.notes]
