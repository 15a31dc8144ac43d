"""Checks: what they report, and fixes that make the finding go away without making another."""

from __future__ import annotations

import os
from importlib.resources import files

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chickadee import read
from chickadee.checks import CHECKS, LIMITS, USUAL, Profile, checked_reading, profile_for, read_profile, write_profile
from chickadee.files import FileFault
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
        ("key: D major\nvoice V\nallow: E\n66", ["Use E4"]),
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
            left = 0 if "pickup" in fix.title else len(found) - 1  # which is offered where it puts all bars right
            assert len([each for each in mended.findings if each.code == "bar-length"]) == left
            assert {each.code for each in mended.findings} <= {"bar-length"}


def test_a_bar_of_doubled_lengths_is_halved_and_a_phrase_that_is_right_elsewhere_is_left_alone():
    text = "C4=2 D4=3 E4=3 | C4 D4 E4 F4 |"
    halved = next(fix for fix in read(text).findings[0].fixes if fix.title == "Halve these lengths")
    assert apply_edits(text, halved.edits) == "C4 D4=3/2 E4=3/2 | C4 D4 E4 F4 |"
    shared = "phrase call\nC4 D4 E4 F4 |\nvoice A\ncall\nvoice B\nG4 call"
    assert [fix.title for fix in read(shared).findings[0].fixes] == ["Delete G4"]


def test_a_pickup_is_told_apart_from_bars():
    assert (
        read("meter: 3/4\npickup: 1\nC4=1/2 | D4=3 |").findings[0].message
        == "The pickup holds 1/2 of a beat, it should hold 1."
    )


def test_every_rule_is_said_once_in_the_registry():
    rules = [*RULES.values(), *(check.rule for check in CHECKS)]
    assert len({rule.code for rule in rules}) == len({rule.summary for rule in rules}) == len(rules)
    assert all(check.why.endswith(".") and check.rule.summary.endswith(".") for check in CHECKS)
    assert {limit for check in CHECKS for limit in check.limits} == LIMITS.keys()


# code, a tune that trips it, the text it marks, one that does not; the profile where the rule is usually off
TRIPS = [
    ("voice-range", "voice V\nrange: C4 to C5\nC6", "C6", "voice V\nrange: C4 to C5\nC5", {}),
    ("voice-range", "C6", "C6", "C5", {"range": "C4 to C5"}),
    ("allowed", "C4 F4", "F4", "C4 E5", {"allow": "C E G"}),
    ("bar-length", "C4 D4 |", "D4 |", "C4=4 |", {}),
    ("out-of-key", "key: G major\nG4 F4", "F4", "key: G major\nG4 F#4", {}),
    ("likely-slip", "key: G major\n67 65 67", "65", "key: G major\n67 F4 66", {}),
    ("likely-slip", "key: A minor\n69 67 70", "70", "key: A minor\n69 68 66", {}),
    ("likely-slip", "C4 D4 E5 F4 E4", "E5", "C4 C5 B4 A4 A5", {}),
    ("leap", "C4 C5 D4", "C5", "C4 G4 D4", {"largest-leap": "7"}),
    ("length-set", "C4=3/4 D4=1/4 E4", "C4=3/4", "C4=1/2 D4=1/2 E4", {}),
    ("too-close", "tempo: 120\nC4=1/32 D4=1/32 E4", "D4=1/32", "tempo: 120\nC4=1/8 D4", {}),
    ("at-once", "C4&E4&G4=2 D4", "C4&E4&G4=2", "C4&E4 {C rising}=3", {"most-at-once": "2"}),
    ("unison", "E4&{C rising}=3 D4", "{C rising}", "C4 C4 {C strum}&C5", {}),
    ("waits", "C4 . D4 . E4 . F4 . G4 . A4 . B4 . C5 .", "C4", "C4 . D4 . E4 . F4 . G4 . A4 . B4 C5", {}),
    ("no-gap", "gap: 0\nC4 D4 D4 D4", "D4", "gap: 0\nC4 D4 rest D4", {}),
    ("no-gap", "voice V\ngap: 0\nC4 C4", "C4", "C4 C4", {}),
    ("loudness", "voice V\nlevel: 9\nC4 D4", "V", "voice V\nlevel: 9\n[mf] C4 [5] D4", {}),
    ("loudness", "voice V\nlevel: 127\nC4 D4", "V", "voice V\nlevel: ff\nC4", {}),
    ("voices-end-apart", "voice A\nC4=4 | D4=4 |\nvoice B\nE4=4 |", "B", "voice A\nC4=4 |\nvoice B\nE4=3 - |", {}),
    ("unused-phrase", "phrase p\nC4\n\nphrase q\nE4\n\nvoice V\nq", "p", "phrase p\nC4\nphrase q\np\nvoice V\nq", {}),
    ("same-phrase", "phrase p\nC4 D4\n\nphrase q\nC4   D4\n\nvoice V\np q (q) x2", "q",
     "phrase p\nC4\nphrase q\noctave: 5\nC4\nvoice V\np q", {}),
    ("copied-bars", "voice V\nC4 E4 G4 E4 | D4 F4 A4=2 | C4=4 | C4 E4 G4 E4 | D4 F4 A4=2 |", "C4 E4 G4 E4 | D4 F4 A4=2 |",
     "voice V\nC4 E4 G4 E4 | D4 F4 A4=2 | C4 E4 G4 E4 | D4=4 |", {}),
    ("copied-bars", "title: x\n\nC4 E4 G4 E4 | D4 F4 A4 D4 | C4 E4 G4 E4 | D4 F4 A4 D4 |", "C4 E4 G4 E4 | D4 F4 A4 D4 |",
     "C4=4 | D4=4 | C4=4 | D4=4 |", {}),
    ("midi-division", "C4=1/7 D4=1/125 E4=1/9 F4=1/128", "F4=1/128", "C4=1/7 D4=1/9", {}),
]  # fmt: skip


def by(code, limits):
    return Profile({code: True}, limits)


@pytest.mark.parametrize(("code", "trips", "marked", "passes", "limits"), TRIPS)
def test_each_rule_has_a_tune_that_trips_it_and_one_that_does_not(code, trips, marked, passes, limits):
    profile = by(code, limits)
    found = [finding for finding in checked_reading(trips, profile).findings if finding.code == code]
    assert [trips[finding.start : finding.end] for finding in found][:1] == [marked]
    assert all(finding.message.endswith(".") for finding in found)
    assert code not in {finding.code for finding in checked_reading(passes, profile).findings}
    off = Profile({code: False}, limits)
    assert code not in {finding.code for finding in checked_reading(trips, off).findings}


@pytest.mark.parametrize(("code", "trips", "marked", "passes", "limits"), TRIPS)
def test_every_fix_makes_its_finding_go_away_and_no_other_come(code, trips, marked, passes, limits):
    profile = by(code, limits)
    before = checked_reading(trips, profile)
    for finding in before.findings:
        for fix in finding.fixes:
            after = checked_reading(apply_edits(trips, fix.edits), profile)
            kinds = [each.code for each in after.findings]
            assert kinds.count(finding.code) < [each.code for each in before.findings].count(finding.code), fix.title
            assert set(kinds) <= {each.code for each in before.findings}, fix.title


def test_a_phrase_made_of_copied_bars_sounds_the_same():
    for code, text, *_ in TRIPS:
        if code in ("copied-bars", "same-phrase"):
            fix = next(each for each in read(text).findings if each.code == code).fixes[0]
            numbers = [
                (note.start, note.length, note.number) for note in read(apply_edits(text, fix.edits)).song.notes
            ]
            assert numbers == [(note.start, note.length, note.number) for note in read(text).song.notes]


def test_the_demo_tunes_have_nothing_to_mend():
    for path in (files("chickadee") / "songs").iterdir():
        assert path.suffix != ".chick" or codes(path.read_text("utf-8")) == [], path


def test_a_profile_is_kept_in_its_folder_and_read_again(tmp_path):
    profile = Profile({"leap": True, "unison": False}, {"largest-leap": "5", "allow": "C D E", "lengths": "1/2 1"})
    write_profile(tmp_path / "checks.toml", profile)
    assert profile_for(tmp_path / "tune.chick") == profile
    assert profile_for(tmp_path / "deeper" / "tune.chick") is USUAL
    assert profile_for(None) is USUAL
    found = checked_reading("C4 A4 F4=3/4", profile_for(tmp_path / "tune.chick")).findings
    assert {finding.code for finding in found} == {"allowed", "leap"}


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("leap = = true", "not a list of checks"), ("rules = 3", r"\[rules\]"), ("[rules]\nleap = 7", "true or false"),
        ('[limits]\nlargest-leap = "many"', "largest-leap cannot be “many”"), ("[limits]\nheight = 3", "height is not a limit"),
        ('[limits]\nlengths = "1 bar"', "Lengths are beats"), ('[limits]\nclosest = "-1"', "from 0 to 10"),
    ],
)  # fmt: skip
def test_a_profile_that_cannot_be_read_says_why(tmp_path, text, said):
    (tmp_path / "checks.toml").write_text(text)
    with pytest.raises(FileFault, match=said):
        read_profile(tmp_path / "checks.toml")


@settings(max_examples=25)
@given(st.dictionaries(st.sampled_from([check.rule.code for check in CHECKS]), st.booleans()),
       st.dictionaries(st.sampled_from(sorted(LIMITS)), st.just(None)))  # fmt: skip
def test_any_profile_survives_its_file(tmp_path_factory, switched, limits):
    path = tmp_path_factory.getbasetemp() / "checks.toml"
    profile = Profile(switched, {name: LIMITS[name].example for name in limits})
    write_profile(path, profile)
    assert read_profile(path) == profile


@given(st.text("CDEFG45 |=/12&{}mx()\n-", max_size=60))
def test_every_check_takes_any_sheet(text):
    everything = Profile(
        {check.rule.code: True for check in CHECKS}, {limit.name: limit.example for limit in LIMITS.values()}
    )
    reading = checked_reading(text, everything)
    for finding in reading.findings:
        assert 0 <= finding.start <= finding.end <= len(text)
        for fix in finding.fixes:
            apply_edits(text, fix.edits)


@pytest.mark.parametrize(
    "text",
    [
        "limits = " + "[" * 3000 + "]" * 3000,
        "[limits]\n" + "a." * 5000 + "b = 1",
        "[rules]\nleap = " + "9" * 5000,
        "[limits]\nlargest-leap = 1979-05-27",
        "[limits]\nlargest-leap = '²'",
        "[limits]\nlengths = {a = {b = {}}}",
        "[rules]\nleap = 'yes'",
        "x" * 70_000,
        "\ufeff[rules",
    ],
)
def test_a_list_of_checks_that_is_none_is_one_short_sentence(tmp_path, text):
    (tmp_path / "checks.toml").write_text(text, "utf-8")
    with pytest.raises(FileFault) as fault:
        profile_for(tmp_path / "tune.chick")
    assert len(str(fault.value)) < 600 and str(fault.value).isprintable()


@given(
    st.dictionaries(st.sampled_from([check.rule.code for check in CHECKS]), st.booleans()),
    st.sampled_from(["1/2 1", "1 \t2", "2"]),
)
def test_a_list_of_checks_is_written_so_that_it_can_be_read(tmp_path_factory, switched, lengths):
    path = tmp_path_factory.mktemp("checks") / "checks.toml"
    profile = Profile(switched, {"lengths": lengths})
    write_profile(path, profile)
    assert read_profile(path) == profile


@pytest.mark.parametrize(
    "text", ["[rules]\nleep = true", "[limits]\nrange = 'C4 to C5'\nleast = 2", "[rule]\nleap = true"]
)
def test_a_name_that_is_no_check_and_no_limit_is_said(tmp_path, text):
    (tmp_path / "checks.toml").write_text(text)
    with pytest.raises(FileFault, match=r"leep is not a check|least is not a limit|rule is not a part"):
        profile_for(tmp_path / "tune.chick")


def test_a_pipe_or_a_folder_in_place_of_a_list_of_checks_is_none(tmp_path):
    os.mkfifo(tmp_path / "checks.toml")
    assert profile_for(tmp_path / "tune.chick") == Profile()


@pytest.mark.parametrize(
    ("text", "left"),
    [("C4&{C there and back}=4 D4", "{C there and back}=4 D4"), ("E4&{C rising}=3", "{C rising}=3"), ("{C rising}&{Am falling}=3", None),
     ("C5&E4&{C rising}=3", "C5&{C rising}=3")],
)  # fmt: skip
def test_the_fix_of_a_unison_deletes_the_note_that_is_held(text, left):
    unisons = [each for each in read(text).findings if each.code == "unison"]
    assert [apply_edits(text, fix.edits) for each in unisons for fix in each.fixes] == ([left] if left else [])
    assert left is None or not read(left).findings


@pytest.mark.parametrize(
    ("text", "title", "after"),
    [
        ("60 62 6 65", "Make it the length before it", "60 62=6 65"), ("C4 1 D4", "Make it the length before it", "C4=1 D4"),
        ("C4 0 D4", "Make it a rest", "C4 rest D4"), ("(C4 D4 E4)2", "Make it the length before it", "(C4 D4 E4)=2"),
        ("C D E\n1 2 1\nF", "Lay the line over the notes above as lengths", "C D=2 E\nF"), ("C4 D4\n2 2", "Lay the line over the notes above as lengths", "C4=2 D4=2"),
        ("3(C4 D4 E4)=2", "Make it a rest", "rest(C4 D4 E4)=2"),
    ],
)  # fmt: skip
def test_a_number_that_nobody_hears_is_asked_about_and_becomes_what_was_meant(text, title, after):
    found = [each for each in read(text).findings if each.code == "unheard"]
    fix = next(fix for fix in found[0].fixes if fix.title == title)
    assert apply_edits(text, fix.edits) == after
    assert "unheard" not in codes(after)


def test_low_drums_and_notes_that_are_heard_are_no_unheard_numbers():
    assert "unheard" not in codes("voice V\nsound: drum kit\n10 12")
    assert "unheard" not in codes("16 21 C-1")
    assert "unheard" in codes("15")


def test_a_chromatic_note_between_two_notes_of_the_key_is_no_slip():
    assert codes("key: C major\n60 61 62 64") == []
    assert codes("key: C major\n64 63 64 60") == []
    assert "likely-slip" in codes("key: C major\n60 63 67")
