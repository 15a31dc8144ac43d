"""Faults are findings with a place, a sentence and a way out; everything else still sounds."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chickadee import read
from chickadee.checks import CHECKS
from chickadee.sheet import RULES, Severity, TextEdit, apply_edits
from chickadee.song import TICKS_PER_QUARTER as Q

FAULTS = [
    # text, code, the text it marks, the text after its first fix
    ("C4 H4=2 D4", "not-understood", "H4", "C4 B4=2 D4"),
    ("C4 blah D4", "not-understood", "blah", "C4 rest D4"),
    ("C4&X4&G4", "not-understood", "X4", None),
    ("C4& D4", "not-understood", "&", "C4 D4"),
    ("=2 C4", "not-understood", "=2", " C4"),
    ("C4 =2 D4", "near-miss", "C4 =2", "C4=2 D4"),
    ("A 4=2 D4", "near-miss", "A 4=2", "A4=2 D4"),
    ("CEG#4C D4", "near-miss", "CEG#4C", "C E G#4 C D4"),
    ("C4, D4", "near-miss", "C4,", "C4 D4"),
    ("R=2 D4", "near-miss", "R=2", "rest=2 D4"),
    ("Gs4=2", "near-miss", "Gs4=2", "G#4=2"),
    ("C4:2", "near-miss", "C4:2", "C4=2"),
    ("C4=0,5", "near-miss", "C4=0,5", "C4=0.5"),
    ("’C4", "near-miss", "’C4", "'C4"),
    ("C4\tD4", "near-miss", "\t", "C4  D4"),
    ("{Hm} C4", "not-understood", "{Hm}", None),
    ("{Am", "not-understood", "{Am", "{Am}"),
    ("(C4 D4", "group", "(", "(C4 D4 )"),
    ("C4) D4", "group", ")", "C4 D4"),
    ("()=2 C4", "group", "()=2", None),
    ("(C4 D4)=x", "length", "=x", "(C4 D4)"),
    ("(C4 D4 E4 F4 G4 A4 B4 C5 D5 E5 F5)=2", "length-fit", "C4", None),
    ("(C4) up C4", "change", "up", "(C4)  C4"),
    ("(C4) to D4", "change", "to", "(C4)  D4"),
    ("(C4) to the end", "to-the-end", "(C4) to the end", None),
    ("phrase a2\nC4\nvoice V\na2", "block-name", "a2", "phrase phrase-a2\nC4\nvoice V\nphrase-a2"),
    ("phrase up\nC4", "block-name", "up", "phrase phrase-up\nC4"),
    ("phrase call C4\nvoice V\ncall D4", "block-name", "call C4", "phrase callC4\nvoice V\ncall D4"),
    ("phrase Call\nC4\nphrase call\nD4\nvoice V\ncall", "not-understood", "call",
     "phrase Call\nC4\nphrase call\nD4\nvoice V\nCall"),
    ("phrase call\nC4 call\nvoice V\ncall", "uses-itself", "call", None),
    ("phrase call\nC4\nvoice V\ncal", "not-understood", "cal", "phrase call\nC4\nvoice V\ncall"),
    ("450Hz", "cents", "450Hz", "A4"),
    ("kick C4", "drum", "kick", None),
    ("meter: 4/4\nvoice A\n[tempo 90] C4\nvoice B\n[tempo 80] C4", "direction-conflict", "[tempo 80]", None),
    ("C4 D4\nwords: one two three", "words", "one two three", None),
    ("voice A\nallow: C D E\nF4", "allowed", "F4", "voice A\nallow: C D E\nE4"),
    ("[tempo fast] C4", "direction", "[tempo fast]", " C4"),
    ("[slow to 60] C4", "direction", "[slow to 60]", " C4"),
    ("swing: 95%\nC4", "value", "95%", "// swing: 95%\nC4"),
    ("C4 ? D4", "not-understood", "?", "C4 rest D4"),
    ("C4 } D4", "not-understood", "}", "C4  D4"),
    (">rest", "not-understood", ">", "rest"),
    ("C4=huge D4", "length", "=huge", "C4 D4"),
    ("C4=0 D4", "length", "=0", "C4 D4"),
    ("C4=1/0 D4", "length", "=1/0", "C4 D4"),
    ("C4=2&E4 G4", "length", "=2", "C4&E4=2 G4"),
    ("C4=1/11", "length-fit", "1/11", "C4=1/12"),
    ("C4=0.3333", "length-fit", "0.3333", "C4=1/3"),
    ("C4=1.33", "third", "1.33", "C4=4/3"),
    ("C4=0.67", "third", "0.67", "C4=2/3"),
    ("128 C4", "pitch-range", "128", "127 C4"),
    ("C10", "pitch-range", "C10", "C9"),
    ("octave: 9\nA", "pitch-range", "A", "octave: 9\nA8"),
    ("C4&60", "same-pitch-twice", "60", "C4"),
    ("- C4", "nothing-to-hold", "-", "rest C4"),
    ("meter: 3/4\nC4 D4 E4 F4 |", "bar-length", "F4 |", "meter: 3/4\nC4 D4 E4 |"),
    ("meter: 3/4\nC4 D4=3 |", "bar-length", "D4=3 |", "meter: 3/4\nD4=3 |"),
    ("meter: 3/4\nC4 D4 |", "bar-length", "D4 |", "meter: 3/4\nC4 D4=2 |"),
    ("C4 D4 E4 F4 G4 A4 B4 C5 |", "bar-length", "C5 |", "C4 D4 E4 F4 | G4 A4 B4 C5 |"),
    ("voice A\nrange: D4 to B4\nC5", "voice-range", "C5", "voice A\nrange: D4 to B4\nB4"),
    ("voice A\nrange: C4 to C5\n>86=2", "voice-range", ">86=2", "voice A\nrange: C4 to C5\n>62=2"),
    ("temp: 90\nC4", "property", "temp", "tempo: 90\nC4"),
    ("voice A\ntempo: 90\nC4", "property", "tempo", "voice A\n// tempo: 90\nC4"),
    ("pan: left\nvoice A\nC4", "property", "pan", "// pan: left\nvoice A\nC4"),
    ("tempo: 90\ntempo: 80\nC4", "property-twice", "tempo", "tempo: 90\n\nC4"),
    ("pickup: 5\nC4", "value", "5", "pickup: 1\nC4"),
    ("pickup: 1/11\nC4", "value", "1/11", "pickup: 1/12\nC4"),
    ("tempo: 92bpm\nC4", "value", "92bpm", "tempo: 92\nC4"),
    ("meter: 3-4\nC4", "value", "3-4", "meter: 3/4\nC4"),
    ("key: G mjr\nC4", "value", "G mjr", "key: G major\nC4"),
    ("gap: 0,1\nC4", "value", "0,1", "gap: 0.1\nC4"),
    ("time: 3/4\nC4", "property", "time", "meter: 3/4\nC4"),
    ("voice A\nsound: piano\nC4", "sound", "piano", "voice A\nsound: hammered string\nC4"),
    ("voice A\nsound: tin trumpet\nC4", "sound", "tin trumpet", "voice A\nsound: brass horn\nC4"),
    ("664 C4", "pitch-range", "664", "66 C4"),
    ("C44", "pitch-range", "C44", "C4"),
    ("C4 = 2 D4", "near-miss", "C4 = 2", "C4=2 D4"),
    ("C4= 1/2 D4", "near-miss", "C4= 1/2", "C4=1/2 D4"),
    ("{Am C4 D4", "not-understood", "{Am", "{Am} C4 D4"),
    ("tempo: fast\nC4", "value", "fast", "// tempo: fast\nC4"),
    ("tempo:\nC4", "value", "tempo", "// tempo:\nC4"),
    ("meter: 3/5\nC4", "value", "3/5", "// meter: 3/5\nC4"),
    ("key: H major\nC4", "value", "H major", "// key: H major\nC4"),
    ("octave: 12\nC4", "value", "12", "// octave: 12\nC4"),
    ("tuning: 4400\nC4", "value", "4400", "// tuning: 4400\nC4"),
    ("gap: 5\nC4", "value", "5", "// gap: 5\nC4"),
    ("voice A\npan: up\nC4", "value", "up", "voice A\n// pan: up\nC4"),
    ("voice A\nlevel: loud\nC4", "value", "loud", "voice A\n// level: loud\nC4"),
    ("voice A\nrange: low\nC4", "value", "low", "voice A\n// range: low\nC4"),
    ("voice A\nsound: flut\nC4", "sound", "flut", "voice A\nsound: flute\nC4"),
    ("[loud] C4", "direction", "[loud]", " C4"),
    ("C4 [mf", "direction", "[mf", "C4 [mf]"),
    ("voice\nC4", "block-name", "voice", "voice Voice\nC4"),
    ("voice A\nC4\nvoice a\nD4", "block-name", "a", "voice A\nC4\nvoice a 2\nD4"),
]  # fmt: skip


SEVERITY = {rule.code: rule.severity for rule in (*RULES.values(), *(check.rule for check in CHECKS))}


@pytest.mark.parametrize(("text", "code", "marked", "fixed"), FAULTS)
def test_a_fault_is_marked_where_it_stands_and_its_fix_mends_it(text, code, marked, fixed):
    finding = next(finding for finding in read(text).findings if finding.code == code)
    assert text[finding.start : finding.end] == marked
    assert finding.message[-1] == "."
    assert finding.severity is SEVERITY[code]
    if fixed is None:
        assert finding.fixes == ()
        return
    mended = apply_edits(text, finding.fixes[0].edits)
    assert mended == fixed
    assert code not in [other.code for other in read(mended).findings]


def test_what_cannot_be_read_is_silent_for_the_length_it_asks():
    notes = read("C4 H4=2 D4 C4&X4=3 E4").song.notes
    assert [(note.start // Q, note.number) for note in notes] == [(0, 60), (3, 62), (4, 60), (7, 64)]


def test_a_faulty_bar_stays_as_written_and_checks_go_on_at_the_next_line():
    reading = read("meter: 3/4\nC4 D4 | C4 D4 E4 | C4 D4 E4 F4 | G4 A4 B4")
    assert [finding.message for finding in reading.findings] == [
        "Bar 1 holds 2 beats, the meter asks for 3.",
        "Bar 3 holds 4 beats, the meter asks for 3.",
    ]
    assert [(bar.number, bar.full) for bar in reading.bars] == [(1, False), (2, True), (3, False)]


@pytest.mark.parametrize(
    "text", ["C4=4 | | D4=4 ||", "| C4=4 |", "rest=4bars | C4=bar |", "C4=2 - - | D4=12 |", "C4 D4"]
)
def test_full_bars_have_no_finding(text):
    assert read(text).findings == ()


def test_short_bars_say_parts_of_a_beat():
    text = "C4=1/2 |"
    finding = read(text).findings[0]
    assert finding.message == "Bar 1 holds 1/2 of a beat, the meter asks for 4."
    assert [fix.title for fix in finding.fixes] == ["Lengthen C4 to 4 beats", "Add a rest of 7/2 beats"]
    assert apply_edits(text, finding.fixes[1].edits) == "C4=1/2 rest=7/2 |"


def test_a_tune_beyond_its_bounds_is_one_clear_error():
    for text in ("C4 " * 1_000_001, "C4=9999999 " * 2, "C4=999999bars " * 9, "(((( C4 ) x999) x999) x999) x999"):
        reading = read(text)
        assert [finding.code for finding in reading.findings] == ["too-large"]
        assert reading.song.notes == ()


def test_lengths_too_fine_for_midi_are_found_at_the_first_that_is():
    text = "C4=1/1024 D4=1/125 E4=1/9 F4=1/7"
    finding = next(finding for finding in read(text).findings if finding.code == "midi-division")
    assert text[finding.start : finding.end] in ("D4=1/125", "E4=1/9")
    assert {finding.code for finding in read("C4=1/1000 D4=1/7 E4=1/3").findings} == {"too-close"}


def test_a_short_bar_across_phrases_is_marked_at_its_line():
    text = "phrase p\n|\nvoice V\nC4 p"
    found = read(text).findings[0]
    assert (found.code, text[found.start : found.end]) == ("bar-length", "|")


def test_one_finding_a_place():
    reading = read("voice A\nrange: C4 to C5\nC6 C6")
    assert len(reading.findings) == 2


WORDS = st.sampled_from(
    ["C4", "60", "E", "rest", ".", "-", "|", "||", "H4", "=2", "C4=1/3", ">'D4&F#4=0.33", "[mf]", "[", "]", "(", ")", "x3",
     "{Am}", "{G7/B rising}", "{C rising by 1/3}=3", "{", "x9", "up 5", "down 2 steps", "on ^3 ^1", "to the end", "backwards", "upside-down", "stretched 3/2", "squeezed 0.3", ")=2", "call", "phrase call", "^5", "^11#", "440Hz", "kick", "[louder]", "[softer]", "[vary 9]", "[slow to 60 over 4]", "[meter 3/8]", "[key D blues]", "[swing 66%]", "[pedal]", "[sound sine]", "words: a b-c _", "ticks: 4", "pickup: 1/2", "stress: 90 60", "CEG", "R", "voice", "voice A", "tempo: 92", "meter: 3/4", "key: Eb blues", "octave: 9", "range: C4 to D4", "// note",
     "999999999", "C4=999999999bars", "C4=0", "♭", "\t", "\n", "\r", "\u2028", "𝄞", "\ud800", "'", "&", "=", "C4&&E4", "9" * 40]
)  # fmt: skip


@given(st.lists(WORDS, max_size=30).map(" ".join) | st.text(max_size=80))
def test_no_text_makes_reading_fail(text):
    reading = read(text)
    for finding in reading.findings:
        assert 0 <= finding.start <= finding.end <= len(text)
        assert finding.severity in Severity
        for fix in finding.fixes:
            read(apply_edits(text, fix.edits))
    for note in reading.song.notes:
        assert 0 <= note.number <= 127
        assert 1 <= note.loudness <= 127
        assert note.length > 0
        assert all(0 <= start < end <= len(text) for start, end in note.spans)


@given(st.data())
def test_a_mutated_tune_never_makes_reading_fail(data):
    text = "meter: 3/4\nvoice A\n  range: C4 to C6\n  C4 D4=2 | E4&G4=1/2 -=3/2 'F4 | [f] 60=bar |\n"
    for _ in range(data.draw(st.integers(1, 6))):
        at = data.draw(st.integers(0, len(text)))
        end = data.draw(st.integers(at, min(len(text), at + 4)))
        text = text[:at] + data.draw(st.text("C4=|&-[]()'/>. \n", max_size=3)) + text[end:]
    reading = read(text)
    assert reading.text == text


def test_edits_that_overlap_are_refused():
    assert apply_edits("abc", [TextEdit(2, 3, "z"), TextEdit(0, 1, "x")]) == "xbz"
    with pytest.raises(ValueError, match="overlap"):
        apply_edits("abc", [TextEdit(0, 2, ""), TextEdit(1, 3, "")])


def test_a_first_bar_that_is_short_may_be_a_pickup():
    text = "meter: 3/4\nG4 | C4 D4 E4 | F4=2 |"
    fix = next(fix for fix in read(text).findings[0].fixes if "pickup" in fix.title)
    assert read(apply_edits(text, fix.edits)).findings == ()
    assert not any("pickup" in fix.title for fix in read("meter: 3/4\nG4 | C4 D4 | E4=3 |").findings[0].fixes)


def test_what_is_repeated_to_the_end_alone_is_played_once():
    assert [note.number for note in read("(C4 D4 E4 F4 |) to the end").song.notes] == [60, 62, 64, 65]
    assert [note.length // 8_064_000 for note in read("C3=bar | (-=bar |) to the end").song.notes] == [8]


def test_a_note_held_under_a_broken_chord_sounds_for_its_whole_length():
    notes = read("{C rising}&G4=3 D4").song.notes
    assert (0, 3, 67) in [(note.start // 8_064_000, note.length // 8_064_000, note.number) for note in notes]


@pytest.mark.parametrize(("word", "meant"), [
    ("C4:2,", "C4=2"), ("Gs4:2", "G#4=2"), ("Gs4:2,", "G#4=2"), ("R:2,", "rest=2"), ("’Gs4:1/2;", "'G#4=1/2"), ("Es4", "Eb4"), ("As", "Ab"),
    ("C4=8th", "C4=eighth"), ("Cis4:0,5", "C#4=0.5"),
])  # fmt: skip
def test_several_slips_in_one_word_are_put_right_together(word, meant):
    (hint,) = [each for each in read(f"{word} C4").findings if each.code == "near-miss"]
    assert apply_edits(f"{word} C4", hint.fixes[0].edits) == f"{meant} C4"
    sounds = [[note[:6] for note in read(f"{each} C4").song.notes] for each in (word, meant)]
    assert sounds[0] == sounds[1]


def test_stress_counts_a_pickup_as_the_end_of_a_bar():
    song = read("meter: 3/4\npickup: 1\nvoice V\nstress: 90 60 70\nG4 | C4 D4 E4 |").song
    assert [note.loudness for note in song.notes] == [70, 90, 60, 70]
